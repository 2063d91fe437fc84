"""What is wrong with a file: where, what was found, and the likely intent."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from difflib import get_close_matches


@dataclass(frozen=True, order=True)
class Problem:
    """One error in a file. Lines and columns count from 1.

    A `note` is no error: something may be meant so, and is more likely not.
    """

    file: str
    line: int
    column: int
    message: str
    note: bool = False

    def __str__(self) -> str:
        told = "note: " if self.note else ""
        return f"{self.file}:{self.line}:{self.column}: {told}{self.message}"


class WorkspaceError(Exception):
    """A workspace that does not load; `problems` holds every error found."""

    def __init__(self, problems: Iterable[Problem]) -> None:
        self.problems = sorted(set(problems))
        super().__init__("\n".join(str(p) for p in self.problems))


def did_you_mean(word: str, known: Iterable[str]) -> str:
    """`; did you mean …?` for a near miss, or what there is to choose from."""
    known = sorted(known)
    near = get_close_matches(word, known, n=1, cutoff=0.6)
    if near:
        return f"; did you mean `{near[0]}`?"
    if known:
        listed = ", ".join(f"`{k}`" for k in known[:8]) + (", …" if len(known) > 8 else "")
        return f"; there is {listed}"
    return ""
