"""What every command shares: its folder, its exit statuses, and the one way to print.

Much of what commands print comes from agents, tools and files. A terminal obeys control
characters, so they are shown and not sent (`ferox.intake.visible`).
"""

from __future__ import annotations

import json
import sys
import traceback
from pathlib import Path
from typing import Any, NoReturn

import click
from rich.console import Console
from sqlalchemy.exc import DatabaseError

from ferox.intake.visible import visible, visible_json
from ferox.store.database import StoreError, explain
from ferox.workspace.vault import open_vault

CHECKS_FAILED, WRONG_USE, COULD_NOT_RUN = 1, 2, 3


def _with_its_secrets(context: click.Context, parameter: click.Parameter, given: Path) -> Path:
    """A workspace, whose secrets the command then takes."""
    open_vault(given)
    return given


folder_argument = click.argument(
    "workspace",
    type=click.Path(path_type=Path, file_okay=False),
    default=".",
    callback=_with_its_secrets,
)


class WorkspaceFirst(click.Command):
    """A command whose first argument, the workspace, may be left out: it is then this folder."""

    def parse_args(self, ctx: click.Context, args: list[str]) -> list[str]:
        """Take the arguments; if the last is missing, the first was left out."""
        try:
            return super().parse_args(ctx, list(args))
        except click.MissingParameter:
            ctx.params.clear()
            return super().parse_args(ctx, [".", *args])


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
        except (StoreError, DatabaseError) as error:
            fail(COULD_NOT_RUN, explain(error))
        except OSError as error:
            where = f"{error.filename}: " if error.filename else ""
            fail(COULD_NOT_RUN, f"{where}{error.strerror or error}")
        except Exception as error:
            say(traceback.format_exc(), err=True)
            fail(COULD_NOT_RUN, f"Ferox itself failed ({type(error).__name__}): please report it")


def say(text: object, *, err: bool = False, nl: bool = True) -> None:
    """Print a text, whoever wrote it."""
    click.echo(visible(str(text)), err=err, nl=nl)


def say_json(value: Any, indent: int | None = None) -> None:
    """Print a value as JSON that reads back the same, with nothing in it that steers a terminal."""
    click.echo(visible_json(json.dumps(value, indent=indent, ensure_ascii=False)))


def new_console() -> Console:
    """A console for tables and progress, whose cells hold names and numbers only."""
    console = Console()
    return console if console.is_terminal else Console(width=NOT_A_TERMINAL)


def fail(status: int, *lines: object) -> NoReturn:
    """Say what is wrong on standard error and leave."""
    for line in lines:
        say(line, err=True)
    sys.exit(status)


def pairs(option: str, given: tuple[str, ...], example: str) -> dict[str, str]:
    """Options written NAME=VALUE; ends the command if one is not."""
    found = {}
    for pair in given:
        name, equals, value = pair.partition("=")
        if not (name and equals and value):
            fail(WRONG_USE, f"{option} {pair}: write NAME=MODE, as in {option} {example}")
        found[name] = value
    return found
