"""What every interface at the model seam has: how a request is read and an answer told.

Inside, an answer is always a chat completion; a form turns it into what its clients expect.
"""

from __future__ import annotations

from collections.abc import AsyncIterator
from dataclasses import dataclass
from typing import Any, Protocol

from ferox.formats.trace import Usage

Tools = dict[str, tuple[str, Any]]
"""Name at the model seam → description and input schema."""


class UnreadableRequest(ValueError):
    """A request that is none of the interface; the message says why."""


@dataclass(frozen=True)
class ParsedRequest:
    """What a request says: the conversation so far, and the tools on offer.

    `required`: even the reply must be a call.
    """

    messages: list[dict[str, Any]]
    tools: Tools
    required: bool = False


class StreamAssembly(Protocol):
    """A streamed answer that is put together again from its lines."""

    finish: str | None
    usage: Usage | None

    def take_line(self, line: str) -> None:
        """Take one line of the stream; what is none of the format is passed over."""

    @property
    def message(self) -> dict[str, Any]:
        """The message as a chat completion holds it."""


class ModelInterface(Protocol):
    """One interface. One object serves one trial, so it may remember a conversation."""

    path: str

    def parse_request(self, body: dict[str, Any]) -> ParsedRequest:
        """What a request says.

        Raises:
            UnreadableRequest: it is none of the interface.
        """

    def remember_answer(self, body: dict[str, Any], answer: dict[str, Any]) -> None:
        """Remember an answer, if a later request may refer to it."""

    def write_answer(self, completion: dict[str, Any], body: dict[str, Any]) -> dict[str, Any]:
        """A chat completion as this interface gives it."""

    def stream_answer(
        self, completion: dict[str, Any], body: dict[str, Any]
    ) -> AsyncIterator[bytes]:
        """A chat completion as this interface streams it."""

    def parse_answer(self, answer: dict[str, Any]) -> tuple[dict[str, Any], Usage | None]:
        """The message of an endpoint's answer, as a chat completion holds it, and its usage."""

    def assemble_stream(self) -> StreamAssembly:
        """What puts a streamed answer together again."""
