"""Completion in a shell: its script, and the names of a workspace's things."""

from __future__ import annotations

import re
from itertools import islice
from pathlib import Path
from typing import Any

import click
from click.shell_completion import CompletionItem, get_completion_class

from ferox.cli.output import say
from ferox.workspace.load import NAME_KEYS

LONGEST_LINE, MOST_LINES = 400, 50
"""Of a file, what is looked at for its name."""
SHELLS = ("bash", "zsh", "fish")


@click.command("completion")
@click.argument("shell", type=click.Choice(SHELLS))
def print_completion(shell: str) -> None:
    """Print what completes `ferox` in SHELL: commands, options, and a workspace's names.

    \b
    bash:  eval "$(ferox completion bash)"   in ~/.bashrc
    zsh:   eval "$(ferox completion zsh)"    in ~/.zshrc
    fish:  ferox completion fish | source    in config.fish
    """
    from ferox.cli.main import main

    found = get_completion_class(shell)
    assert found is not None
    say(found(main, {}, "ferox", "_FEROX_COMPLETE").source())


def complete_names(folder: str) -> Any:
    """What completes a parameter by the names that a folder's files say: agents, tasks, plans."""

    def complete(
        context: click.Context, parameter: click.Parameter, incomplete: str
    ) -> list[CompletionItem]:
        # Behind an option that waits for its value, the workspace is not yet sorted in.
        given = (*context.args, context.params.get("workspace") or ".")
        root = next((Path(w) for w in given if (Path(w) / "ferox.yaml").exists()), Path())
        return [
            CompletionItem(name) for name in _names_in(root, folder) if name.startswith(incomplete)
        ]

    return complete


def _names_in(root: Path, folder: str) -> list[str]:
    """The names that a folder's files say, read in haste: whoever completes does not wait."""
    line = re.compile(rf"^{NAME_KEYS[folder]}:\s*[\"']?([\w.-]+)")
    found = set()
    for path in (root / folder).glob("*.yaml"):
        with path.open(encoding="utf-8", errors="replace") as file:
            first = (line.match(text[:LONGEST_LINE]) for text in islice(file, MOST_LINES))
            found |= {match[1] for match in first if match}
    return sorted(found)
