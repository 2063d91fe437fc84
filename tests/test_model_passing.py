"""Interfaces besides chat, passed on to an endpoint: as they come, noted, recorded, altered."""

from __future__ import annotations

import json
import tempfile
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

import httpx2

from ferox.core.masking import Masker
from ferox.core.tool_names import ToolNames
from ferox.formats.fault import Fault
from ferox.formats.workspace import ModelSource
from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.gateway import Gateway
from ferox.gateway.model_seam.chat_interface import completion_of
from ferox.gateway.model_seam.endpoint import Endpoint
from ferox.gateway.model_seam.passed_on import PassedOnModel
from ferox.gateway.model_seam.recorded_model import RecordedModel
from ferox.gateway.model_seam.responses_interface import ResponsesInterface
from ferox.gateway.model_seam.seen_by_model import SeenByModel
from ferox.gateway.recorder import Recorder
from ferox.recordings.model_recording import ModelCapture, ModelRecording
from tests.async_case import AsyncCase
from tests.seams import model_seam
from tests.test_models import endpoint

CALL = {"id": "p1", "name": "high_water", "arguments": '{"day": "today"}'}
WHOLE = ResponsesInterface().write_answer(
    completion_of("gull-9", "1", None, [CALL], {"input": 7, "output": 3}), {}
)
ASKED = {"model": "big", "input": "When is high water?", "store": False}
VECTOR = {"object": "list", "data": [{"index": 0, "embedding": [0.5]}], "model": "e",
          "usage": {"prompt_tokens": 2}}  # fmt: skip


class Passing(AsyncCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "model.jsonl"
        self.recorder: Any = None

    @asynccontextmanager
    async def seam(self, source: Any, faults: Any = ()) -> AsyncIterator[Any]:
        """The address of a seam before a source, and a client."""
        self.recorder = Recorder(lambda n, event: None, 50, 50)
        capture = ModelCapture(self.path, "gull-9", Masker())
        plan = FaultPlan([Fault.model_validate(f) for f in faults], 1)
        seen = SeenByModel(ToolNames({"tides/high_water": "high_water"}), {})
        passed_on = PassedOnModel("big", source, self.recorder, capture)
        seam = model_seam("big", passed_on, self.recorder, seen, plan)
        async with (
            Gateway().serve() as gateway,
            gateway.open_seams({}, {"main": seam}) as addresses,
            httpx2.AsyncClient(base_url=addresses.main_model) as http,
        ):
            yield http
        capture.close()

    def source(self, base: str) -> Endpoint:
        return Endpoint(ModelSource(base_url=base, name="gull-9"), "big")

    async def test_a_response_is_passed_on_and_read(self) -> None:
        with endpoint(WHOLE) as (base, asked):
            async with self.seam(self.source(base)) as http:
                answer = (await http.post("/responses", json=ASKED)).json()
        self.assertEqual(answer, WHOLE)
        self.assertEqual((asked[0][0], asked[0][2]["model"]), ("/v1/responses", "gull-9"))
        (event,) = self.recorder.events
        self.assertEqual(event["usage"], {"input": 7, "output": 3})
        self.assertEqual(event["proposed"][0]["args"], {"day": "today"})

    async def test_a_streamed_response_is_passed_on_recorded_and_replayed(self) -> None:
        pieces = [p async for p in ResponsesInterface().stream_answer(
            completion_of("gull-9", "1", "At 14:31.", [], {"input": 7, "output": 3}), {}
        )]  # fmt: skip
        lines = [p.decode() for p in pieces]
        body = {**ASKED, "stream": True}
        with endpoint(lines) as (base, _):
            async with self.seam(self.source(base)) as http:
                first = (await http.post("/responses", json=body)).text
        (event,) = self.recorder.events
        self.assertEqual((event["text"], event["error"]), ("At 14:31.", None))
        self.assertGreater(event["first_s"], 0)
        played = RecordedModel(ModelRecording.parse("model.jsonl", self.path.read_text()))
        async with self.seam(played) as http:
            again = (await http.post("/responses", json={**body, "user": "other"})).text
            other = await http.post("/responses", json={**body, "input": "And low water?"})
        self.assertEqual(again.strip(), first.strip())
        self.assertEqual(self.recorder.events[0]["usage"], {"input": 7, "output": 3})
        self.assertEqual(other.status_code, 502)
        self.assertIn("holds no answer", other.json()["error"]["message"])

    async def test_a_response_is_altered_by_a_fault(self) -> None:
        fault = {"do": "model_unknown_tool", "call": 1}
        with endpoint(WHOLE) as (base, _):
            async with self.seam(self.source(base), [fault]) as http:
                answer = (await http.post("/responses", json=ASKED)).json()
        self.assertNotEqual(answer["output"][0]["name"], "high_water")
        self.assertEqual(self.recorder.events[0]["fault"], "model_unknown_tool")

    async def test_embeddings_are_passed_on_under_the_name_that_is_asked_for(self) -> None:
        with endpoint(VECTOR) as (base, asked):
            async with self.seam(self.source(base)) as http:
                answer = (await http.post("/embeddings", json={"model": "e", "input": "x"})).json()
                await http.post("/embeddings", json={"model": "big", "input": "x"})
        self.assertEqual(answer, VECTOR)
        self.assertEqual([a[2]["model"] for a in asked], ["e", "gull-9"])
        kept = [json.loads(line) for line in self.path.read_text().splitlines()[1:]]
        self.assertEqual([k["path"] for k in kept], ["embeddings", "embeddings"])

    async def test_what_is_not_served_is_refused_in_words(self) -> None:
        with endpoint(WHOLE) as (base, _):
            async with self.seam(self.source(base)) as http:
                answer = await http.post("/audio", json={})
                listed = (await http.get("/models")).json()["data"]
        self.assertEqual(answer.status_code, 404)
        self.assertIn("responses", answer.json()["error"]["message"])
        self.assertEqual((listed[0]["id"], listed[0]["owned_by"]), ("big", "ferox"))
