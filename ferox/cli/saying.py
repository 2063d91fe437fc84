"""What every command shares: its folder, its exit statuses, and how it says what is wrong."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import NoReturn

import click

CHECKS_FAILED, WRONG_USE, COULD_NOT_RUN = 1, 2, 3

folder_argument = click.argument(
    "workspace", type=click.Path(path_type=Path, file_okay=False), default="."
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


def fail(status: int, *lines: object) -> NoReturn:
    """Say what is wrong on standard error and leave."""
    for line in lines:
        click.echo(str(line), err=True)
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
