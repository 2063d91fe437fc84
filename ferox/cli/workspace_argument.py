"""The workspace that a command works on, which may be left out, and options of its parts."""

from __future__ import annotations

from pathlib import Path

import click

from ferox.cli.output import WRONG_USE, fail
from ferox.workspace.vault import open_vault


def _open_vault(context: click.Context, parameter: click.Parameter, given: Path) -> Path:
    """A workspace, whose secrets the command then takes."""
    open_vault(given)
    return given


workspace_argument = click.argument(
    "workspace",
    type=click.Path(path_type=Path, file_okay=False),
    default=".",
    callback=_open_vault,
)


def split_workspace(paths: tuple[Path, ...]) -> tuple[Path, list[Path]]:
    """The workspace and the files of a command that takes many: the first path is the workspace
    if it is a folder, else that is this one; its secrets are the command's."""
    here = not paths[0].is_dir()
    workspace = Path() if here else paths[0]
    files = list(paths if here else paths[1:])
    if not files:
        fail(WRONG_USE, "give at least one file")
    open_vault(workspace)
    return workspace, files


modes_by_hand = click.option(
    "--server", "modes", multiple=True, metavar="NAME=MODE",
    help="Have a server live, recorded, mock, or one of its variants; else mocked if it can be.",
)  # fmt: skip
"""How servers are reached when an agent is probed, or talked to, by hand."""


class WorkspaceFirst(click.Command):
    """A command whose first argument, the workspace, may be left out: it is then this folder."""

    def parse_args(self, ctx: click.Context, args: list[str]) -> list[str]:
        """Take the arguments; if the last is missing, the first was left out."""
        try:
            return super().parse_args(ctx, list(args))
        except click.MissingParameter:
            ctx.params.clear()
            return super().parse_args(ctx, [".", *args])


def parse_pairs(option: str, given: tuple[str, ...], example: str) -> dict[str, str]:
    """Options written NAME=VALUE; ends the command if one is not."""
    found = {}
    for pair in given:
        name, equals, value = pair.partition("=")
        if not (name and equals and value):
            fail(WRONG_USE, f"{option} {pair}: write NAME=MODE, as in {option} {example}")
        found[name] = value
    return found
