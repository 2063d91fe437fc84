"""Messages of the link protocol, validated where they come in.

What an agent sends that is a message and breaks the protocol is the agent's fault, and told so;
a line that is not a message at all is kept in its log and harms nothing.
"""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationError

from ferox.intake.json_text import read_json_noting
from ferox.intake.limits import IntakeError, Limits

LONGEST_LINE = 32 * 1024 * 1024
"""Bytes of the longest message taken from an agent; beyond it the process is ended."""
LINE = Limits(max_bytes=LONGEST_LINE)
LONGEST_NAME = 400


class BrokenProtocol(ValueError):
    """A message that breaks the link protocol; the message says how."""


class _Message(BaseModel):
    model_config = ConfigDict(strict=True, extra="allow")


class _FailedMessage(_Message):
    reason: str | None = None


class _ApprovalMessage(_Message):
    id: str | int
    tool: str
    args: dict[str, Any] | None = None


class _LocalCallMessage(_Message):
    tool: str
    args: Any = None
    is_error: bool | None = None
    ms: int | float | None = None
    by: str | None = None


class _PartialMessage(_Message):
    text: str | None = None


_KNOWN: dict[str, type[_Message]] = {
    "failed": _FailedMessage,
    "ask": _ApprovalMessage,
    "local_call": _LocalCallMessage,
    "partial": _PartialMessage,
}
"""Operations whose fields have to be of a kind. A reply may hold anything: it is judged."""


def link_message(line: bytes) -> tuple[dict[str, Any] | None, bool]:
    """The message of a line, and whether half characters in it were replaced.

    The message is None if the line is none.

    Raises:
        BrokenProtocol: it is a message that the protocol does not allow.
    """
    text = line.strip()
    try:
        message, mended = read_json_noting(text, LINE)
    except IntakeError as error:
        if text.startswith(b'{"op"') or text.startswith(b'{ "op"'):
            raise BrokenProtocol(f"the agent sent a message that cannot be read: {error}") from None
        return None, False
    if not isinstance(message, dict):
        return None, False
    op = message.get("op")
    known = _KNOWN.get(op) if isinstance(op, str) else None
    if known is not None:
        try:
            known.model_validate(message)
        except ValidationError as error:
            raise BrokenProtocol(_broken_by(str(op), error)) from None
    return message, mended


def _broken_by(op: str, error: ValidationError) -> str:
    fault = error.errors(include_url=False)[0]
    field = ".".join(map(str, fault["loc"]))
    found = repr(fault.get("input"))[:60]
    said = str(fault["msg"])
    return f"the agent broke the link protocol: `{op}`: `{field}`: {said} (found {found})"
