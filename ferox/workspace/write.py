"""Writing a workspace's files: never outside it, never over a change, never half."""

from __future__ import annotations

import hashlib
import io
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

from ruamel.yaml import YAML
from ruamel.yaml.scalarstring import DoubleQuotedScalarString

from ferox.intake.files import read_text as read_file
from ferox.intake.files import write_whole
from ferox.intake.limits import FILE, IntakeError, storable_text
from ferox.intake.yaml_text import read_yaml_text
from ferox.workspace.load import path_within

FOLDERS = {
    "servers": (".yaml",),
    "tasks": (".yaml",),
    "agents": (".yaml", ".md", ".txt", ".py", ".js"),
    "plans": (".yaml",),
    "recordings": (".jsonl",),
    "stand_ins": (".yaml",),
}
"""Where files may be written, and their endings there."""
SETTINGS = "ferox.yaml"
"""The workspace's own file, at its root."""


class WriteError(ValueError):
    """A file that is not written; nothing has changed."""


class Conflict(WriteError):
    """The file changed on disk since it was read."""


def text_stamp(text: str) -> str:
    """What tells one state of a file from another."""
    return hashlib.blake2b(text.encode(), digest_size=12).hexdigest()


def workspace_file(root: Path, name: str) -> Path:
    """The path of a workspace's file, such as `servers/tides.yaml`.

    Raises:
        WriteError: it is not a place where files are written.
    """
    folder, _, file = name.partition("/")
    if name == SETTINGS:
        return root / SETTINGS
    if not re.fullmatch(r"[A-Za-z0-9][A-Za-z0-9_.-]*", file) or Path(
        file
    ).suffix not in FOLDERS.get(folder, ()):
        raise WriteError(f"`{name}` is not a place for a file of a workspace")
    try:
        return path_within(root, name)
    except ValueError as error:
        raise WriteError(str(error)) from None


def read_text(root: Path, name: str) -> tuple[str, str]:
    """A file's text and its stamp.

    Raises:
        WriteError: it cannot be read.
    """
    text = _as_it_is(name, workspace_file(root, name))
    if text is None:
        raise WriteError(f"{name}: no such file")
    return text, text_stamp(text)


def stamp_on_disk(root: Path, name: str) -> str | None:
    """A file's stamp; None if there is no such file.

    Raises:
        WriteError: it cannot be read.
    """
    text = _as_it_is(name, workspace_file(root, name))
    return None if text is None else text_stamp(text)


def _as_it_is(name: str, path: Path) -> str | None:
    """A file's text; None if there is no such file.

    Raises:
        WriteError: it cannot be read.
    """
    try:
        return read_file(path)
    except FileNotFoundError:
        return None
    except (OSError, IntakeError) as error:
        raise WriteError(f"{name}: cannot be read: {error}") from None


def write_text(root: Path, name: str, text: str, seen: str | None) -> str:
    """Write a file whole; its new stamp. `seen` is the stamp it was read with, None if new.

    Raises:
        Conflict: it changed on disk meanwhile, or is there already.
        WriteError: it cannot be written.
    """
    path = workspace_file(root, name)
    if len(text.encode(errors="replace")) > FILE.max_bytes:
        raise WriteError(f"{name}: larger than {FILE.max_bytes:,} bytes")
    if storable_text(text) != text:
        raise WriteError(f"{name}: the text holds half of a character, which no file takes")
    # Between this look and the write another program may still write; the time is short, and a
    # lock would bind only those who ask for it.
    there = _as_it_is(name, path)
    if seen is None and there is not None:
        raise Conflict(f"{name} is there already; take another name")
    if seen is not None and (there is None or text_stamp(there) != seen):
        raise Conflict(f"{name} changed on disk since it was read; read it again")
    try:
        write_whole(path, lambda file: file.write(text))
    except OSError as error:
        raise WriteError(f"{name}: cannot be written: {error.strerror}") from None
    return text_stamp(text)


_BREAKS = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u2028\u2029\ufeff]")
"""Signs that YAML takes for a line's end or for nothing, unless they are quoted."""


def as_yaml(value: Any) -> Any:
    """A value that is written so that it is read back as it is."""
    if isinstance(value, dict):
        return {as_yaml(key): as_yaml(item) for key, item in value.items()}
    if isinstance(value, list):
        return [as_yaml(item) for item in value]
    if isinstance(value, str) and _BREAKS.search(value):
        return DoubleQuotedScalarString(value)
    return value


def yaml_text(document: dict[str, Any]) -> str:
    """A document as YAML, as a person would write it."""
    out = io.StringIO()
    _round_trip().dump(as_yaml(document), out)
    return out.getvalue()


def edit_document(text: str, change: Callable[[Any], None]) -> str:
    """A YAML text with its document changed in place, comments and order kept.

    Raises:
        WriteError: the text is not a YAML document of keys and values.
    """
    faults = read_yaml_text(text).faults
    if faults:
        raise WriteError(str(faults[0]))
    yaml = _round_trip()
    try:
        document = yaml.load(text)
    except Exception as error:
        raise WriteError(f"not YAML: {error}") from None
    if not isinstance(document, dict):
        raise WriteError("the file must hold keys and values")
    change(document)
    out = io.StringIO()
    yaml.dump(document, out)
    return out.getvalue()


def _round_trip() -> YAML:
    yaml = YAML(typ="rt")
    # Lines are not folded: a person's long line stays one.
    yaml.width = 4096
    yaml.preserve_quotes = True
    yaml.indent(mapping=2, sequence=4, offset=2)
    return yaml
