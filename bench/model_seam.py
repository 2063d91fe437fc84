"""What the model gateway adds to an answer, plain and streamed, against the endpoint itself."""

from __future__ import annotations

import asyncio
import time
from collections.abc import AsyncIterator
from statistics import median
from typing import Any

import httpx2
from starlette.requests import Request
from starlette.responses import JSONResponse, StreamingResponse
from starlette.types import Receive, Scope, Send

from ferox.core.tool_names import ToolNames
from ferox.formats.workspace import ModelSource
from ferox.gateway.gateway import Gateway
from ferox.gateway.listening import listen_on
from ferox.gateway.model_seam.chat_interface import ChatInterface, completion_of
from ferox.gateway.model_seam.endpoint import Endpoint
from ferox.gateway.model_seam.own_calls import OwnCalls
from ferox.gateway.model_seam.passed_on import PassedOnModel
from ferox.gateway.model_seam.recorded_requests import RecordedRequests
from ferox.gateway.model_seam.seam import ModelSeam
from ferox.gateway.model_seam.seen_by_model import SeenByModel
from ferox.gateway.recorder import Recorder

ROUNDS = 150
WORDS = " ".join(["tide"] * 60)
THINKS_S = 0.02
"""How long the endpoint takes to its first word; a quick one, so that what is added shows."""


async def _endpoint(scope: Scope, receive: Receive, send: Send) -> None:
    body = await Request(scope, receive).json()
    completion = completion_of("m", "1", WORDS, [], {"input": 10, "output": 60})
    await asyncio.sleep(THINKS_S)
    response: Any = JSONResponse(completion)
    if body.get("stream"):
        pieces: AsyncIterator[bytes] = ChatInterface().stream_answer(completion, {})
        response = StreamingResponse(pieces, media_type="text/event-stream")
    await response(scope, receive, send)


async def _one(http: httpx2.AsyncClient, base: str, stream: bool) -> tuple[float, float]:
    """Seconds to the first piece, and in all."""
    body = {"model": "m", "messages": [{"role": "user", "content": "?"}], "stream": stream}
    begun = time.perf_counter()
    first = 0.0
    async with http.stream("POST", f"{base}/chat/completions", json=body) as answer:
        async for _ in answer.aiter_raw():
            first = first or time.perf_counter() - begun
    return first, time.perf_counter() - begun


def _seam(endpoint: Endpoint, recorder: Recorder) -> ModelSeam:
    seen = SeenByModel(ToolNames({}), {})
    own = OwnCalls(recorder, seen)
    recorded = RecordedRequests(model="main", recorder=recorder, seen=seen, own=own)
    return ModelSeam("m", PassedOnModel("m", endpoint, recorder), recorded)


async def measure() -> str:
    """Medians of requests taken in turn."""
    recorder = Recorder(lambda n, event: None, 10**6, 10**6)
    async with listen_on(_endpoint) as base, Gateway().serve() as gateway:
        source = ModelSource(base_url=base)
        seam = _seam(Endpoint(source, "m"), recorder)
        async with (
            gateway.open_seams({}, {"main": seam}) as addresses,
            httpx2.AsyncClient(timeout=None) as http,
        ):
            times: dict[tuple[str, bool], list[tuple[float, float]]] = {}
            for turn in range(ROUNDS):
                for where, url in (("direct", base), ("seam", addresses.main_model)):
                    for stream in (False, True):
                        took = await _one(http, url, stream)
                        if turn >= 10:
                            times.setdefault((where, stream), []).append(took)

    def ratio(stream: bool, part: int) -> str:
        direct, seam_ = (
            median(t[part] for t in times[where, stream]) for where in ("direct", "seam")
        )
        return f"{seam_ * 1000:.1f} ms against {direct * 1000:.1f} ms, ratio {seam_ / direct:.2f}"

    return (
        f"an answer through the model gateway: plain {ratio(False, 1)}; streamed, first token "
        f"{ratio(True, 0)}, total {ratio(True, 1)} (the endpoint takes {THINKS_S * 1000:g} ms)"
    )
