"""What every command shares: its exit statuses, and the one way to print.

Much of what commands print comes from agents, tools and files. A terminal obeys control
characters, so they are shown and not sent (`ferox.intake.visible`).
"""

from __future__ import annotations

import json
import sys
import traceback
from typing import TYPE_CHECKING, Any, NoReturn

import click

from ferox.intake.visible import visible_json, visible_text

if TYPE_CHECKING:
    from rich.console import Console

CHECKS_FAILED, WRONG_USE, COULD_NOT_RUN = 1, 2, 3
STOPPED = 130
"""The exit status of a command that Ctrl-C stopped, where nothing else follows from that."""


NOT_A_TERMINAL = 240
"""Columns of a table that goes into a file or a pipe."""


class Guarded(click.Group):
    """A group of commands in which no failure ends in a raw traceback."""

    def invoke(self, ctx: click.Context) -> Any:
        """Run a command; what it cannot get over is said, with what to do."""
        try:
            return super().invoke(ctx)
        except (click.ClickException, click.exceptions.Exit, click.Abort):
            raise
        except OSError as error:
            where = f"{error.filename}: " if error.filename else ""
            fail(COULD_NOT_RUN, f"{where}{error.strerror or error}")
        except Exception as error:
            explained = _explain_failure(error)
            if explained:
                fail(COULD_NOT_RUN, explained)
            say(traceback.format_exc(), err=True)
            fail(COULD_NOT_RUN, f"Ferox itself failed ({type(error).__name__}): please report it")


def _explain_failure(error: Exception) -> str | None:
    """What a failure of the database means; None for any other failure."""
    if "sqlalchemy" not in sys.modules:  # importing it takes longer than most commands
        return None
    from sqlalchemy.exc import DatabaseError

    from ferox.store.database import StoreError, explain_failure

    return explain_failure(error) if isinstance(error, StoreError | DatabaseError) else None


def say(text: object, *, err: bool = False, nl: bool = True) -> None:
    """Print a text, whoever wrote it."""
    click.echo(visible_text(str(text)), err=err, nl=nl)


MARKS = {True: "well", None: "doubt", False: "broken"}


def finding_line(ok: bool | None, about: str, message: str) -> str:
    """What was found of one thing; `ok`: None if that is doubtful."""
    return f"{MARKS[ok]:<7}{about}: {message}"


def say_json(value: Any, indent: int | None = None) -> None:
    """Print a value as JSON that reads back the same, with nothing in it that steers a terminal."""
    click.echo(visible_json(json.dumps(value, indent=indent, ensure_ascii=False)))


def new_console() -> Console:
    """A console for tables and progress, whose cells hold names and numbers only."""
    from rich.console import Console

    console = Console()
    return console if console.is_terminal else Console(width=NOT_A_TERMINAL)


def fail(status: int, *lines: object) -> NoReturn:
    """Say what is wrong on standard error and leave."""
    for line in lines:
        say(line, err=True)
    sys.exit(status)
