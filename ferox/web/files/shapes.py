"""What the interface of files takes and gives."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from ferox.web.shapes import ProblemShape


class FormatPath(BaseModel):
    """A format's name in an address."""

    format: str


class FormatShape(BaseModel):
    """A format's JSON Schema."""

    format: str
    definition: dict[str, Any]


class FileQuery(BaseModel):
    """A workspace's file, such as `servers/tides.yaml`."""

    name: str


class FileShape(BaseModel):
    """A file's text, and the stamp by which a change on disk is noticed."""

    name: str
    text: str
    stamp: str


class FileRequest(BaseModel):
    """A file to be written; `stamp` is that it was read with, None for a new one."""

    name: str
    text: str
    stamp: str | None = None


class StampShape(BaseModel):
    """What tells one state of a file from another; None if it is not there."""

    stamp: str | None


class TextShape(BaseModel):
    """A text."""

    text: str


class CheckRequest(BaseModel):
    """A text to be checked as if it stood in the file."""

    name: str
    text: str


class ProblemList(BaseModel):
    """What is wrong with a text."""

    problems: list[ProblemShape]


class SeenFile(BaseModel):
    """A file as it was read: `stamp` tells whether it changed on disk since."""

    name: str
    stamp: str


class RenameRequest(SeenFile):
    """A file's new name: a bare one, such as `pilots`, for `servers/pilots.yaml`."""

    to: str


class MovedFile(BaseModel):
    """Where a file is now, and what is wrong in the workspace that was not before."""

    name: str
    stamp: str | None
    problems: list[ProblemShape]
