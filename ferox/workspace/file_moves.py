"""A workspace's files renamed and removed; what is removed can be put back."""

from __future__ import annotations

import re
from pathlib import Path

from ferox.workspace.load import NAME_KEYS, path_within
from ferox.workspace.write import (
    SETTINGS,
    Conflict,
    WriteError,
    edit_document,
    read_text,
    workspace_file,
    write_text,
)

REMOVED = ".ferox/removed"
"""Where removed files wait, beside the results; the last of each name."""


def rename_file(root: Path, name: str, to: str, seen: str) -> tuple[str, str, str]:
    """Give a file, and what it describes, another name; its new file, text and stamp.

    What other files say of it stays as it is. `to` is a bare name, such as `pilots`.

    Raises:
        Conflict: it changed on disk since `seen`, or the new name is taken.
        WriteError: it cannot be read or written, or does not hold keys and values.
    """
    old = _movable_file(root, name)
    folder = name.partition("/")[0]
    text = _as_seen(root, name, seen)
    new_name = f"{folder}/{to}{old.suffix}"
    if old.suffix == ".yaml":
        text = _with_name(text, NAME_KEYS[folder], to)
    stamp = write_text(root, new_name, text, None)
    _unlink(name, old)
    return new_name, text, stamp


def remove_file(root: Path, name: str, seen: str) -> None:
    """Take a file out of the workspace; `restore_file` puts it back.

    Raises:
        Conflict: it changed on disk since `seen`.
        WriteError: it cannot be read or moved.
    """
    _movable_file(root, name)
    _as_seen(root, name, seen)
    place = _place_removed(root, name)
    try:
        place.parent.mkdir(parents=True, exist_ok=True)
        workspace_file(root, name).replace(place)
    except OSError as error:
        raise WriteError(f"{name}: cannot be removed: {error.strerror}") from None


def restore_file(root: Path, name: str) -> None:
    """Put back the file of this name that was removed last.

    Raises:
        Conflict: there is another file of this name by now.
        WriteError: none of this name was removed, or it cannot be moved.
    """
    path = workspace_file(root, name)
    if path.exists():
        raise Conflict(f"{name} is there already; rename it first")
    try:
        _place_removed(root, name).replace(path)
    except FileNotFoundError:
        raise WriteError(f"no {name} was removed") from None
    except OSError as error:
        raise WriteError(f"{name}: cannot be put back: {error.strerror}") from None


def _movable_file(root: Path, name: str) -> Path:
    """The path of a file that may go elsewhere.

    Raises:
        WriteError: it is the workspace's own, without which there is none.
    """
    if name == SETTINGS:
        raise WriteError(f"{SETTINGS} stays where it is: without it there is no workspace")
    return workspace_file(root, name)


def _with_name(text: str, key: str, name: str) -> str:
    """A document that says its own name otherwise; where it can be, every other byte stays."""
    written, count = re.subn(
        rf"(?m)^({key}:[ \t]*)(\"[^\"\n]*\"|'[^'\n]*'|[^\s#]+)", rf"\g<1>{name}", text, count=1
    )
    return written if count else edit_document(text, lambda document: document.update({key: name}))


def _as_seen(root: Path, name: str, seen: str) -> str:
    text, stamp = read_text(root, name)
    if stamp != seen:
        raise Conflict(f"{name} changed on disk since it was read; read it again")
    return text


def _place_removed(root: Path, name: str) -> Path:
    workspace_file(root, name)
    try:
        return path_within(root, f"{REMOVED}/{name}")
    except ValueError as error:
        raise WriteError(str(error)) from None


def _unlink(name: str, path: Path) -> None:
    try:
        path.unlink()
    except OSError as error:
        raise WriteError(f"{name}: cannot be removed: {error.strerror}") from None
