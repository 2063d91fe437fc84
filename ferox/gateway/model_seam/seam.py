"""The model seam: one trial's model, by the chat-completions and the responses interface.

A request is recorded, then passes the faults, then is answered by a stand-in (simulated), a
recording or an endpoint.
"""

from __future__ import annotations

from collections.abc import AsyncIterator, Callable
from typing import Any

from starlette.requests import Request
from starlette.responses import AsyncContentStream, JSONResponse, Response, StreamingResponse

from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.model_seam.answering import (
    EmbedRequest,
    ModelAnswering,
    ModelRequest,
    error_response,
)
from ferox.gateway.model_seam.chat_interface import PATH as CHAT
from ferox.gateway.model_seam.chat_interface import ChatInterface
from ferox.gateway.model_seam.embeddings import PATH as EMBEDDINGS
from ferox.gateway.model_seam.embeddings import texts_of
from ferox.gateway.model_seam.endpoint import EndpointUnreachable
from ferox.gateway.model_seam.model_faults import FaultedModel
from ferox.gateway.model_seam.model_interface import ModelInterface, UnreadableRequest
from ferox.gateway.model_seam.model_requests import SentAnswer
from ferox.gateway.model_seam.recorded_requests import RecordedRequests
from ferox.gateway.model_seam.responses_interface import PATH as RESPONSES
from ferox.gateway.model_seam.responses_interface import ResponsesInterface
from ferox.intake.json_text import read_json_noting


class ModelSeam:
    """One of a trial's models. `name` is the model's in the workspace; `alter` changes what it is
    shown in a request."""

    def __init__(
        self,
        name: str,
        answering: ModelAnswering,
        recorded: RecordedRequests,
        faults: FaultPlan | None = None,
        alter: Callable[[dict[str, Any]], dict[str, Any]] = lambda body: body,
    ) -> None:
        self._name, self._recorded, self._alter = name, recorded, alter
        self._recorder = recorded.recorder
        self._chain: ModelAnswering = answering
        if faults is not None:
            self._chain = FaultedModel(answering, faults, self._recorder)
        self._interfaces: dict[str, ModelInterface] = {
            CHAT: ChatInterface(),
            RESPONSES: ResponsesInterface(),
        }

    def forget_conversation(self) -> None:
        """A new conversation begins: a stand-in's next request follows none before it."""
        self._chain.forget_conversation()

    async def handle(self, path: str, request: Request) -> Response:
        """Answer a request at a path under the seam's address."""
        if path == "models" and request.method == "GET":
            return self._list_models()
        kind = request.headers.get("content-type", "").partition(";")[0].strip().lower()
        if request.method == "POST" and kind != "application/json":
            return error_response(415, "send application/json")
        if path in self._interfaces and request.method == "POST":
            return await self._answer_completion(self._interfaces[path], request)
        if path == EMBEDDINGS and request.method == "POST":
            return await self._answer_embeddings(request)
        return error_response(
            404, f"only {CHAT}, {RESPONSES}, {EMBEDDINGS} and models are served here"
        )

    def _list_models(self) -> Response:
        """The models on offer: just this one."""
        owner = "ferox (simulated)" if self._chain.simulated else "ferox"
        entry = {"id": self._name, "object": "model", "created": 0, "owned_by": owner}
        return JSONResponse({"object": "list", "data": [entry]})

    def _read_body(self, text: bytes) -> Any:
        """The body of a request.

        Raises:
            IntakeError: it is not JSON, or more than a model could be shown.
        """
        body, mended = read_json_noting(text)
        self._recorder.repaired_texts += mended
        return body

    async def _answer_completion(self, interface: ModelInterface, request: Request) -> Response:
        try:
            text = await request.body()
            body = self._read_body(text)
            body = self._alter(body) if isinstance(body, dict) else body
            parsed = interface.parse_request(body)
        except UnreadableRequest as error:
            return error_response(400, str(error))
        except (ValueError, TypeError) as error:
            return error_response(400, f"the request is not JSON: {error}")
        begun = self._recorded.begin_request(interface, body, parsed, len(text))
        return self._keeping(begun, await self._chain.answer(begun))

    def _keeping(self, request: ModelRequest, response: Response) -> Response:
        """A response, kept as it is sent."""

        def keep(body: bytes) -> None:
            sent = SentAnswer(
                response.status_code,
                response.headers.get("content-type", "application/json").partition(";")[0],
                body.decode(errors="replace"),
                response.headers.get("retry-after"),
            )
            self._recorded.keep_exchange(request, sent)

        if isinstance(response, StreamingResponse):
            response.body_iterator = _heard(response.body_iterator, keep)
        else:
            keep(bytes(response.body))
        return response

    async def _answer_embeddings(self, request: Request) -> Response:
        try:
            body = self._read_body(await request.body())
            texts = texts_of(body)
        except (ValueError, KeyError, TypeError) as error:
            return error_response(400, f"not an embeddings request: {error!r}")
        event = self._recorder.embed(voice=self._recorded.model, texts=len(texts))
        try:
            answer = await self._chain.answer_embeddings(EmbedRequest(body, texts, event))
        except EndpointUnreachable as error:
            self._recorder.out_of_reach = str(error)
            self._recorder.finish_embed(
                event, error={"kind": "out_of_reach", "message": str(error)}
            )
            return error_response(502, str(error))
        self._recorder.finish_embed(event, usage=answer.usage)
        return answer.response


async def _heard(pieces: AsyncContentStream, keep: Callable[[bytes], None]) -> AsyncIterator[bytes]:
    """Pieces of a stream as they come, kept together at its end, or where it is broken off."""
    came = bytearray()
    try:
        async for piece in pieces:
            part = piece.encode() if isinstance(piece, str) else bytes(piece)
            came.extend(part)
            yield part
    finally:
        keep(bytes(came))
