"""A recorded model behind the model seam: each request gets the answer it once had."""

from __future__ import annotations

from collections import Counter
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from typing import Any

from ferox.formats.recording import ModelExchange
from ferox.gateway.model_seam.endpoint import Endpoint, EndpointUnreachable, ModelAnswer
from ferox.recordings.model_recording import ModelRecording, request_key


class RecordedModel:
    """One trial's view of a recording; the same request again gets its next answer.

    The last answer stays. A request that was never recorded goes to `live`, if there is one.
    """

    def __init__(self, recording: ModelRecording, live: Endpoint | None = None) -> None:
        self._recording = recording
        self._live = live
        self._played: Counter[str] = Counter()

    @asynccontextmanager
    async def ask_model(self, path: str, body: dict[str, Any]) -> AsyncIterator[ModelAnswer]:
        """The recorded answer.

        Raises:
            EndpointUnreachable: there is none, and no endpoint to ask instead.
        """
        key = request_key(path, body)
        there = self._recording.answers(key)
        if there:
            one = there[min(self._played[key], len(there) - 1)]
            self._played[key] += 1
            yield _RecordedAnswer(one, bool(body.get("stream")))
            return
        if self._live is None:
            raise EndpointUnreachable(
                f"{self._recording.name} holds no answer to this request; record it again, or "
                "let `miss: live` ask the endpoint"
            )
        async with self._live.ask_model(path, body) as answer:
            yield answer


class _RecordedAnswer:
    """A recorded answer, told as it was: a stream as its lines, another whole."""

    def __init__(self, exchange: ModelExchange, streamed: bool) -> None:
        self.status = exchange.status
        self.waited_s = 0.0
        kind = "text/event-stream" if streamed else "application/json"
        self.headers = {"content-type": kind}
        self._exchange = exchange

    async def read_whole(self) -> bytes:
        """The body."""
        return self._exchange.answer.encode()

    async def stream_lines(self) -> AsyncIterator[str]:
        """The lines of a stream."""
        for line in self._exchange.answer.split("\n"):
            yield line
