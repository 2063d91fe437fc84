"""The interfaces at the model seam besides chat: responses, embeddings; voices told apart."""

from __future__ import annotations

import base64
import json
import struct
import unittest
from typing import Any

import httpx2
from hypothesis import given
from hypothesis import strategies as st

from ferox.gateway.model_seam.chat_interface import completion_of
from ferox.gateway.model_seam.model_faults import alter_completion
from ferox.gateway.model_seam.responses_interface import AssembledResponse, ResponsesInterface
from ferox.gateway.model_seam.voices import Voices
from ferox.stand_in.embedding import SIZE, embed_text
from tests.async_case import AsyncCase
from tests.test_gateway import opened

TOOL = {"type": "function", "name": "high_water", "description": "Times of high water on one day.",
        "parameters": {"type": "object", "properties": {"day": {"type": "string"}}}}  # fmt: skip
ASKS = "When is high water?"


class Responses(AsyncCase):
    async def ask(self, seams: Any, **body: Any) -> Any:
        async with httpx2.AsyncClient() as http:
            url = f"{seams.addresses.main_model}/responses"
            return await http.post(url, json={"model": "steady", "tools": [TOOL], **body})

    async def test_a_turn_with_a_call_and_its_result(self) -> None:
        async with opened() as seams:
            first = (await self.ask(seams, input=ASKS)).json()
            (call,) = first["output"]
            self.assertEqual((call["type"], call["name"]), ("function_call", "high_water"))
            document = {"type": "function_call_output", "call_id": call["call_id"],
                    "output": '{"at": "14:31"}'}  # fmt: skip
            items = [{"role": "user", "content": ASKS}, call, document]
            last = (await self.ask(seams, input=items)).json()
        self.assertEqual(last["output"][0]["content"][0]["text"], "At 14:31.")
        self.assertEqual((last["status"], last["object"]), ("completed", "response"))
        first_event, last_event = (e for e in seams.recorder.events if e["kind"] == "model")
        self.assertEqual(first_event["proposed"][0]["tool"], "tides/high_water")
        self.assertEqual(last_event["usage"]["input"], last["usage"]["input_tokens"])

    async def test_a_request_may_refer_to_the_answer_before(self) -> None:
        async with opened() as seams:
            first = (await self.ask(seams, input=ASKS)).json()
            document = {"type": "function_call_output", "call_id": first["output"][0]["call_id"],
                    "output": '{"at": "14:31"}'}  # fmt: skip
            last = await self.ask(seams, input=[document], previous_response_id=first["id"])
        self.assertIn("14:31", last.json()["output"][0]["content"][0]["text"])

    async def test_a_stream_ends_with_the_whole_and_its_pieces_add_up(self) -> None:
        async with opened() as seams:
            whole = (await self.ask(seams, input=ASKS)).json()
        async with opened() as seams:
            answer = await self.ask(seams, input=ASKS, stream=True)
        events = [json.loads(x[5:]) for x in answer.text.splitlines() if x.startswith("data:")]
        self.assertEqual([e["sequence_number"] for e in events], list(range(len(events))))
        last = events[-1]["response"]
        self.assertEqual(last["output"][0]["arguments"], whole["output"][0]["arguments"])
        pieces = [e["delta"] for e in events if e["type"].endswith("arguments.delta")]
        self.assertEqual("".join(pieces), last["output"][0]["arguments"])
        gathered = AssembledResponse()
        for line in answer.text.splitlines():
            gathered.take_line(line)
        self.assertEqual(gathered.finish, "completed")
        self.assertEqual(gathered.message["tool_calls"][0]["function"]["name"], "high_water")

    async def test_what_is_no_request_is_refused_in_words(self) -> None:
        async with opened() as seams:
            for body in ({}, {"input": [3]}, {"input": "x", "tools": [{"type": "function"}]}):
                async with httpx2.AsyncClient() as http:
                    answer = await http.post(f"{seams.addresses.main_model}/responses", json=body)
                self.assertEqual(answer.status_code, 400, body)
                self.assertIn("responses request", answer.json()["error"]["message"])

    def test_a_cut_answer_is_incomplete(self) -> None:
        usage = {"input": 1, "output": 1}
        cut = alter_completion(completion_of("m", "1", "High water", [], usage), "model_cut_off")
        found = ResponsesInterface().write_answer(cut, {})
        self.assertEqual(found["status"], "incomplete")
        self.assertEqual(found["output"][0]["content"][0]["text"], "High ")

    @given(
        st.text(min_size=1, max_size=60),
        st.lists(st.dictionaries(st.text(max_size=5), st.integers(), max_size=3), max_size=3),
    )
    def test_a_message_comes_back_as_it_was_sent(self, text: str, args: list[Any]) -> None:
        calls = [
            {"id": f"p{i}", "name": "t", "arguments": json.dumps(a)} for i, a in enumerate(args)
        ]
        usage = {"input": 3, "output": 4}
        completion = completion_of("m", "1", text, calls, usage)
        form = ResponsesInterface()
        message, counted = form.parse_answer(form.write_answer(completion, {}))
        self.assertEqual((message["content"], counted), (text, usage))
        found = [(c["id"], c["function"]["arguments"]) for c in message["tool_calls"]]
        self.assertEqual(found, [(c["id"], c["arguments"]) for c in calls])


class Embeddings(AsyncCase):
    async def test_vectors_as_numbers_and_as_text(self) -> None:
        async with opened() as seams, httpx2.AsyncClient() as http:
            url = f"{seams.addresses.main_model}/embeddings"
            body = {"model": "steady", "input": ["high water", "low water"]}
            plain = (await http.post(url, json=body)).json()["data"]
            packed = (await http.post(url, json={**body, "encoding_format": "base64"})).json()
            bad = await http.post(url, json={"model": "steady"})
        self.assertEqual([len(d["embedding"]) for d in plain], [SIZE, SIZE])
        raw = base64.b64decode(packed["data"][0]["embedding"])
        found = struct.unpack(f"<{SIZE}f", raw)
        for one, other in zip(found, plain[0]["embedding"], strict=True):
            self.assertAlmostEqual(one, other, places=6)
        self.assertEqual(bad.status_code, 400)
        self.assertEqual([e["kind"] for e in seams.recorder.events], ["embed", "embed"])
        self.assertEqual(seams.recorder.events[0]["texts"], 2)

    def test_like_texts_lie_near(self) -> None:
        asked = embed_text("times of high water")
        near = float(asked @ embed_text("When is high water at the harbour?"))
        far = float(asked @ embed_text("Order a pilot for the evening"))
        self.assertGreater(near, far + 0.2)

    @given(st.text(max_size=80))
    def test_every_text_has_one_direction_of_length_one(self, text: str) -> None:
        vector = embed_text(text)
        self.assertEqual(vector.shape, (SIZE,))
        self.assertAlmostEqual(float(vector @ vector), 1.0, places=4)
        self.assertTrue((vector == embed_text(text)).all())


class VoicesTest(unittest.TestCase):
    TOOLS: dict[str, tuple[str, Any]] = {"a": ("", {})}

    def test_parts_are_distinguished_by_their_instructions(self) -> None:
        voices = Voices()
        plan = "You are the planner of the duty desk. Make a plan."
        self.assertEqual(voices.voice_of("main", plan, self.TOOLS), "planner")
        self.assertEqual(voices.voice_of("main", "You are a pilot clerk. Call.", {}), "pilot-clerk")
        self.assertEqual(voices.voice_of("main", "Write it up nicely.", {}), "main-3")
        self.assertEqual(voices.voice_of("main", plan, {}), "planner")
        self.assertEqual(voices.voice_of("search", plan, {}), "planner-2")
        self.assertEqual(voices.voice_of("rank", "Order them.", {}), "rank")
        names = ["planner", "pilot-clerk", "main-3", "planner-2", "rank"]
        self.assertEqual(list(voices.by_name), names)
        self.assertEqual(voices.by_name["planner"]["tools"], ["a"])

    def test_instructions_that_go_on_differently_are_one_voice(self) -> None:
        voices = Voices()
        start = "You are the duty officer. " * 10
        self.assertEqual(voices.voice_of("main", f"{start} It is 06:30.", {}), "duty-officer")
        self.assertEqual(voices.voice_of("main", f"{start} It is 06:31.", {}), "duty-officer")

    def test_without_instructions_the_tools_tell_them_apart(self) -> None:
        voices = Voices()
        self.assertEqual(voices.voice_of("main", "", self.TOOLS), "main")
        self.assertEqual(voices.voice_of("main", "", {}), "main-2")
        self.assertEqual(voices.voice_of("main", "", self.TOOLS), "main")
