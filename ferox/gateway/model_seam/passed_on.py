"""A model beyond the seam: its requests passed on to an endpoint, or to a recording of one."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import AsyncExitStack
from typing import Any

from starlette.responses import Response, StreamingResponse

from ferox.gateway.model_seam.answering import (
    EmbedAnswer,
    EmbedRequest,
    ModelRequest,
    error_response,
)
from ferox.gateway.model_seam.completions import (
    altered_for,
    as_completion,
    as_response,
    message_of,
)
from ferox.gateway.model_seam.embeddings import PATH as EMBEDDINGS
from ferox.gateway.model_seam.endpoint import AnswerSource, EndpointUnreachable, ModelAnswer
from ferox.gateway.recorder import Recorder
from ferox.intake.json_text import read_json
from ferox.recordings.model_recording import ExchangeListener

NOT_STREAMED = ("stream", "stream_options")


class PassedOnModel:
    """Passes requests on, and the answers back as they come.

    `capture` takes what passes, to be recorded.
    """

    simulated = False

    def __init__(
        self,
        name: str,
        source: AnswerSource,
        recorder: Recorder,
        capture: ExchangeListener | None = None,
    ) -> None:
        self._name, self._source = name, source
        self._recorder, self._capture = recorder, capture

    def forget_conversation(self) -> None:
        """What is beyond the seam remembers for itself."""

    async def answer(self, request: ModelRequest) -> Response:
        """Pass a request on, and the answer back, or what a fault leaves of it."""
        body = request.body
        if request.altering:  # a fault alters an answer whole, so it is asked for whole
            body = {k: v for k, v in body.items() if k not in NOT_STREAMED}
        stack = AsyncExitStack()
        try:
            source = self._source.ask_model(request.interface.path, body)
            answer = await stack.enter_async_context(source)
        except EndpointUnreachable as error:
            return self._note_loss(request, "out_of_reach", error)
        if answer.waited_s:
            request.notes.note_waiting(request, answer.waited_s)
        if body.get("stream") and answer.status < 400:
            lines = self._pass_stream(stack, answer, request)
            return StreamingResponse(lines, answer.status, answer.headers)
        async with stack:
            try:
                came = await answer.read_whole()
            except EndpointUnreachable as error:
                return self._note_loss(request, "dropped", error)
        return self._pass_whole(answer, came, request)

    def _pass_whole(self, answer: ModelAnswer, came: bytes, request: ModelRequest) -> Response:
        """An answer that came in one piece."""
        self._capture_answer(request, answer.status, came.decode(errors="replace"))
        if answer.status >= 400:
            start = came[:300].decode(errors="replace")
            request.notes.note_failure(request, "status", f"HTTP {answer.status}: {start}")
            return Response(came, answer.status, answer.headers)
        body = _object_in(came)
        message, usage = request.interface.parse_answer(body)
        request.interface.remember_answer(request.body, body)
        if request.altering:
            completion = as_completion(self._name, request.event_id, message, usage)
            completion = altered_for(request, completion)
            request.notes.note_answer(request, message_of(completion), usage)
            return as_response(request, completion)
        request.notes.note_answer(request, message, usage)
        return Response(came, answer.status, answer.headers)

    async def _pass_stream(
        self, stack: AsyncExitStack, answer: ModelAnswer, request: ModelRequest
    ) -> AsyncIterator[bytes]:
        """An event stream, line by line, while it is put together for the trace."""
        assembled = request.interface.assemble_stream()
        came: list[str] = []
        first_s: float | None = None
        async with stack:
            async for line in answer.stream_lines():
                if first_s is None and line.startswith("data:"):
                    first_s = request.notes.note_first_piece(request)
                assembled.take_line(line)
                came.append(line)
                yield line.encode() + b"\n"  # at once: the agent's time to first token is real
        if assembled.finish is None:
            request.notes.note_answer(
                request,
                assembled.message,
                assembled.usage,
                {"kind": "dropped", "message": "the model's stream broke off"},
            )
            return
        self._capture_answer(request, answer.status, "\n".join(came), first_s)
        if isinstance(response := getattr(assembled, "response", None), dict):
            request.interface.remember_answer(request.body, response)
        request.notes.note_answer(request, assembled.message, assembled.usage)

    def _note_loss(self, request: ModelRequest, kind: str, error: EndpointUnreachable) -> Response:
        """No answer, or half of one: that is nobody's fault in the trial."""
        self._recorder.out_of_reach = str(error)
        request.notes.note_failure(request, kind, str(error))
        return error_response(502, str(error))

    def _capture_answer(
        self, request: ModelRequest, status: int, answer: str, first_s: float | None = None
    ) -> None:
        """Record what passed, if it is to be recorded."""
        if self._capture and status < 400:
            seconds = request.notes.seconds_since(request)
            path = request.interface.path
            self._capture.note_exchange(path, request.body, status, answer, seconds, first_s)

    async def answer_embeddings(self, request: EmbedRequest) -> EmbedAnswer:
        """Pass a request for embeddings on.

        Raises:
            EndpointUnreachable: nobody answers.
        """
        async with self._source.ask_model(EMBEDDINGS, request.body) as answer:
            came = await answer.read_whole()
        if self._capture and answer.status < 400:
            seconds = round(self._recorder.now() - request.event["t"], 6)
            text = came.decode(errors="replace")
            self._capture.note_exchange(
                EMBEDDINGS, request.body, answer.status, text, seconds, None
            )
        return EmbedAnswer(Response(came, answer.status, answer.headers))


def _object_in(body: bytes) -> dict[str, Any]:
    """An endpoint's answer; empty if it is not of the format."""
    try:
        answer = read_json(body)
    except ValueError:
        return {}
    return answer if isinstance(answer, dict) else {}
