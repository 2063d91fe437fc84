"""What a user lets secrets do: which variables are read, and what goes where."""

from __future__ import annotations

import sys
from collections.abc import Iterable
from pathlib import Path

import click

from ferox.cli.output import WRONG_USE, fail, say
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.workspace.vault import SecretUse, Settings, current_vault, settings_path


@click.command("agree", cls=WorkspaceFirst)
@workspace_argument
@click.argument("secret")
@click.argument("to")
def agree(workspace: Path, secret: str, to: str) -> None:
    """Let SECRET go to TO, an address, in WORKSPACE from now on.

    Ferox says the line to write when a secret would go somewhere for the first time.
    """
    current_vault().agree_use(secret, to)
    say(f"{secret} may go to {to} from {workspace.resolve().name}; kept in {settings_path()}")


@click.command("allow")
@click.argument("names", metavar="VARIABLE...", nargs=-1, required=True)
def allow(names: tuple[str, ...]) -> None:
    """Let workspaces use VARIABLE of Ferox's environment as a secret.

    All others are theirs only by their own `.env`.
    """
    settings = Settings.read()
    settings.variables |= set(names)
    settings.write()
    say(f"{', '.join(names)}: read where a workspace names it; kept in {settings_path()}")


def ask_to_agree(uses: Iterable[SecretUse]) -> None:
    """Ask whoever sits at the terminal; without anybody there, refuse with the lines that agree."""
    uses = list(uses)
    if not uses:
        return
    if not sys.stdin.isatty():
        lines = [f"  ferox agree {use.secret} '{use.to}'" for use in uses]
        fail(WRONG_USE, "secrets would go somewhere for the first time; agree by:", *lines)
    for use in uses:
        say(f"The secret {use.secret} would go to {use.to} for the first time.")
        if not click.confirm("May it?", default=False):
            fail(WRONG_USE, f"{use.secret} does not go there")
        current_vault().agree_use(use.secret, use.to)
