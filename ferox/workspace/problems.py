"""What is wrong with a file: where, what was found, and the likely intent."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from difflib import get_close_matches
from itertools import islice


@dataclass(frozen=True, order=True)
class Problem:
    """One error in a file. Lines and columns count from 1.

    A `note` is not an error: something may be meant so, and is more likely not.
    """

    file: str
    line: int
    column: int
    message: str
    note: bool = False

    def __str__(self) -> str:
        prefix = "note: " if self.note else ""
        return f"{self.file}:{self.line}:{self.column}: {prefix}{self.message}"


class WorkspaceError(Exception):
    """A workspace that does not load; `problems` holds every error found."""

    def __init__(self, problems: Iterable[Problem]) -> None:
        self.problems = sorted(set(problems))
        super().__init__("\n".join(str(p) for p in self.problems))


MOST_PROBLEMS = 200
"""Problems of one file that are looked for: whoever has more begins with these."""
MOST_LIKENED = 2_000
"""Names among which a near one is looked for."""


def first_of(problems: Iterable[Problem]) -> list[Problem]:
    """The first problems of a file, and a word on it if there are more."""
    found = list(islice(problems, MOST_PROBLEMS + 1))
    if len(found) <= MOST_PROBLEMS:
        return found
    last = found.pop()
    message = f"more than {MOST_PROBLEMS} problems; the others are told when these are mended"
    return [*found, Problem(last.file, last.line, last.column, message)]


def did_you_mean(word: str, known: Iterable[str]) -> str:
    """`; did you mean …?` for a near miss, or what there is to choose from."""
    known = sorted(known)
    near = get_close_matches(word[:200], known[:MOST_LIKENED], n=1, cutoff=0.6)
    if near:
        return f"; did you mean `{near[0]}`?"
    if known:
        listed = ", ".join(f"`{k}`" for k in known[:8]) + (", …" if len(known) > 8 else "")
        return f"; there is {listed}"
    return ""
