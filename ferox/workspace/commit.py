"""Which commit of a repository a workspace stands at, read from the repository's own files: git
itself would run what their settings name."""

from __future__ import annotations

import re
from pathlib import Path

from ferox.intake.files import read_text
from ferox.intake.limits import IntakeError

_ID = re.compile(r"[0-9a-f]{40}(?:[0-9a-f]{24})?")


def find_commit(root: Path) -> str | None:
    """The commit that was checked out last; None if there is no repository, or it cannot be read.
    Files may differ from it."""
    here = root.resolve()
    for folder in (here, *here.parents):
        if (folder / ".git").exists():
            return _commit_of(folder / ".git")
    return None


def _commit_of(place: Path) -> str | None:
    try:
        if place.is_file():  # a work tree, or a submodule
            place = (place.parent / read_text(place).removeprefix("gitdir:").strip()).resolve()
        head = read_text(place / "HEAD").strip()
        if not head.startswith("ref:"):
            return _as_id(head)
        name = head.removeprefix("ref:").strip()
        common = place / "commondir"
        shared = (place / read_text(common).strip()).resolve() if common.is_file() else place
        return _find_reference(place, name) or _find_reference(shared, name)
    except (OSError, IntakeError, ValueError):
        return None


def _find_reference(place: Path, name: str) -> str | None:
    path = (place / name).resolve()
    if path.is_relative_to(place) and path.is_file():
        return _as_id(read_text(path).strip())
    packed = place / "packed-refs"
    for line in read_text(packed).splitlines() if packed.is_file() else ():
        id, _, of = line.partition(" ")
        if of == name:
            return _as_id(id)
    return None


def _as_id(text: str) -> str | None:
    return text if _ID.fullmatch(text) else None
