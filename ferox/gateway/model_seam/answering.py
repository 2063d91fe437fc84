"""What answers a model's requests: one interface for stand-ins, recordings and endpoints."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Protocol

from starlette.responses import JSONResponse, Response

from ferox.formats.trace import CallError, EmbedEvent, ModelEvent, Usage
from ferox.gateway.model_seam.model_interface import ModelInterface, ParsedRequest


class RequestNotes(Protocol):
    """Takes what became of a request, for the trace."""

    def note_answer(
        self,
        request: ModelRequest,
        message: dict[str, Any],
        usage: Usage | None,
        error: CallError | None = None,
    ) -> None:
        """The model said this, whole or until it broke off with an error."""

    def note_failure(self, request: ModelRequest, kind: str, message: str) -> None:
        """The model said nothing."""

    def note_waiting(self, request: ModelRequest, seconds: float) -> None:
        """A rate limit was waited out."""

    def note_first_piece(self, request: ModelRequest) -> float:
        """The first piece of a stream came; seconds since the request."""

    def note_reply_tool(self, name: str, text: str) -> None:
        """A stand-in was made to reply by a call of this tool."""

    def seconds_since(self, request: ModelRequest) -> float:
        """How long ago a request came."""

    def is_own_tool(self, name: str) -> bool:
        """Whether a tool is none of a server's."""


@dataclass
class ModelRequest:
    """A request while it is answered.

    `size` is the body's length in bytes; `voice` the part of the agent that asks; `altering` the
    fault that alters the answer, if one does.
    """

    interface: ModelInterface
    body: dict[str, Any]
    parsed: ParsedRequest
    size: int
    voice: str
    event: ModelEvent
    notes: RequestNotes
    altering: str | None = None
    said: dict[str, Any] | None = None
    """The model's message, once there is one."""

    @property
    def event_id(self) -> str:
        """Its id in the trace."""
        return self.event["id"]

    @property
    def is_streamed(self) -> bool:
        """Whether the client wants the answer in pieces."""
        return bool(self.body.get("stream"))


@dataclass
class EmbedRequest:
    """A request for embeddings while it is answered."""

    body: dict[str, Any]
    texts: list[str]
    event: EmbedEvent


@dataclass(frozen=True)
class EmbedAnswer:
    """An answer to a request for embeddings, and its usage where it is Ferox that counts."""

    response: Response
    usage: Usage | None = None


class ModelAnswering(Protocol):
    """Answers requests, or passes them on to what does."""

    simulated: bool

    async def answer(self, request: ModelRequest) -> Response:
        """Answer a request, and note what was said."""

    async def answer_embeddings(self, request: EmbedRequest) -> EmbedAnswer:
        """Answer a request for embeddings.

        Raises:
            EndpointUnreachable: nobody answers.
        """

    def forget_conversation(self) -> None:
        """A new conversation begins: the next request follows none before it."""


def error_response(status: int, message: str) -> JSONResponse:
    """An error as clients of a model know it."""
    body = {"error": {"message": message, "type": "invalid_request_error", "code": None}}
    return JSONResponse(body, status_code=status)
