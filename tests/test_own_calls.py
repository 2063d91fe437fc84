"""Calls inside the agent: reported over the link, inferred at the model seam, refused, hiding a
served tool, or only the framework's way to reply."""

from __future__ import annotations

import asyncio
from typing import Any

from ferox.core.scoring import score_trial
from ferox.core.tool_names import ToolNames
from ferox.gateway.model_seam.own_calls import OwnCalls, looks_refused
from ferox.gateway.model_seam.seen_by_model import SeenByModel
from ferox.gateway.recorder import Recorder
from tests.async_case import AsyncCase
from tests.traces import checks, reply, script, trace, turn

FARES = "fares/get_fare"
SCHEMA = {
    "type": "object",
    "properties": {"text": {"type": "string"}},
    "required": ["text"],
}
TOOLS = {"get_fare": ("Fares.", {"type": "object"}), "note_down": ("Notes it.", SCHEMA)}


class OwnCallsCase(AsyncCase):
    async def asyncSetUp(self) -> None:
        await super().asyncSetUp()
        self.recorder = Recorder(lambda n, event: None, 50, 50)
        offered = {FARES: {"input": {"type": "object"}, "description": "Fares."}}
        self.seen = SeenByModel(ToolNames({FARES: "get_fare"}), offered)  # type: ignore[arg-type]
        self.own = OwnCalls(self.recorder, self.seen)

    def propose(self, name: str, args: Any, id: str = "p1", tools: Any = TOOLS) -> None:
        self.seen.note_tools(tools)
        tool = self.seen.find_address(name)
        self.recorder.remember_proposal(id, tool, args)
        self.own.note_proposals([{"id": id, "tool": tool, "args": args}], "main")

    @property
    def calls(self) -> list[Any]:
        return [e for e in self.recorder.events if e["kind"] == "call"]


class OwnCallsTest(OwnCallsCase):
    def test_one_reported_twice_is_one_call(self) -> None:
        self.propose("note_down", {"text": "x"})
        self.own.report_call({"tool": "note_down", "args": {"text": "x"}, "result": "noted"}, 0.0)
        self.own.came_back("p1", "noted")
        (call,) = self.calls
        self.assertEqual((call["seam"], call["tool"]), ("local", "own/note_down"))
        self.assertEqual((call["result"], call["proposal"]), ("noted", "p1"))

    def test_results_that_are_json_are_read_as_json(self) -> None:
        self.propose("note_down", {"text": "x"})
        self.own.came_back("p1", '{"note": 7}')
        self.own.report_call({"tool": "look", "args": {}, "result": '["N1"]'}, 0.0)
        self.assertEqual([c["result"] for c in self.calls], [{"note": 7}, ["N1"]])

    def test_one_that_the_framework_refused(self) -> None:
        self.propose("note_down", {"words": "x"})
        self.own.came_back("p1", "1 validation error: text: Field required")
        (call,) = self.calls
        self.assertEqual((call["seam"], call["error"]["kind"]), ("model", "rejected"))
        self.assertIn("Field required", call["error"]["message"])

    def test_an_error_that_the_tool_itself_gave_is_its_result(self) -> None:
        self.propose("note_down", {"text": "x"})
        self.own.came_back("p1", "error: the notebook is full")
        self.assertEqual(self.calls[0]["seam"], "local")

    def test_one_reported_at_the_start_of_the_clock_keeps_its_time(self) -> None:
        self.own.report_call({"tool": "look", "args": {}, "ms": 60_000}, 0.0)
        (call,) = self.calls
        self.assertEqual(call["t"], 0.0)
        self.assertGreater(call["s"], 0)

    def test_one_reported_longer_than_the_turn_begins_with_it(self) -> None:
        self.own.report_call({"tool": "look", "args": {}, "ms": 60_000}, 0.25)
        self.assertEqual(self.calls[0]["t"], 0.25)

    def test_a_served_tool_s_proposal_that_was_answered_inside(self) -> None:
        self.propose("get_fare", {"to": "Ness"}, tools={"get_fare": ("Ours.", SCHEMA)})
        self.own.came_back("p1", '{"fare": 4}')
        (call,) = self.calls
        self.assertEqual((call["tool"], call["hides"]), ("own/get_fare", FARES))
        self.assertEqual((call["proposal"], call["result"]), ("p1", {"fare": 4}))
        self.assertEqual(self.own.shown_tools()["own/get_fare"]["description"], "Ours.")
        self.assertNotIn(FARES, self.seen.tools)

    def test_one_that_was_refused_or_answered_once_is_not(self) -> None:
        self.propose("get_fare", {"to": 7})
        self.own.came_back("p1", "Error: invalid arguments")
        self.assertEqual(self.calls, [])
        self.recorder.call(FARES, {"to": "Ness"})
        self.propose("get_fare", {"to": "Ness"}, "p2")
        self.own.came_back("p2", '{"fare": 4}')
        self.assertEqual(len(self.calls), 1)

    def test_the_link_tells_of_one_that_hides_a_served_tool(self) -> None:
        self.propose("get_fare", {"to": "Ness"})
        self.own.report_call(
            {"tool": "get_fare", "args": {"to": "Ness"}, "result": {"fare": 4}}, 0.0
        )
        (call,) = self.calls
        self.assertEqual((call["hides"], call["proposal"]), (FARES, "p1"))
        self.assertFalse(self.recorder.is_open("p1"))

    def test_a_declared_tool_has_its_own_address_from_the_start(self) -> None:
        self.own = OwnCalls(self.recorder, self.seen, ["get_fare"])
        self.propose("get_fare", {"to": "Ness"})
        (call,) = self.calls
        self.assertEqual((call["tool"], call["hides"]), ("own/get_fare", FARES))

    def test_its_schema_is_the_one_that_the_model_was_shown(self) -> None:
        self.propose("note_down", {"text": "x"})
        self.assertEqual(self.own.shown_tools(), {
            "own/note_down": {"input": SCHEMA, "description": "Notes it."}
        })  # fmt: skip

    def test_a_way_to_reply_is_recognised(self) -> None:
        for args, text, data in (
            ({"answer": "At 14:31. "}, "At 14:31.", None),
            ({"at": "14:31"}, '{"at": "14:31"}', None),
            ({"answer": {"at": "14:31"}}, "At 14:31.", {"at": "14:31"}),
        ):
            own = OwnCalls(self.recorder, self.seen)
            self.own = own
            self.propose("final_answer", args, tools={"final_answer": ("", {})})
            own.note_reply(text, data)
            self.assertEqual(own.reply_tools, {"final_answer"}, text)
            self.assertNotIn("own/final_answer", own.shown_tools())

    def test_other_words_or_an_answered_call_are_no_way_to_reply(self) -> None:
        self.propose("note_down", {"text": "At 14:31."})
        self.own.note_reply("At 15:00.", None)
        self.propose("note_down", {"text": "At 14:31."}, "p2")
        self.own.came_back("p2", "noted")
        self.own.note_reply("At 14:31.", None)
        self.propose("get_fare", {"to": "Ness"}, "p3")
        self.own.note_reply("Ness", None)
        self.assertEqual(self.own.reply_tools, set())

    def test_declared_ways_to_reply_make_no_call(self) -> None:
        self.own = OwnCalls(self.recorder, self.seen, reply_tools={"final_answer"})
        self.propose("final_answer", {"answer": "x"}, tools={"final_answer": ("", {})})
        self.assertEqual(self.calls, [])

    def test_whether_calls_inside_the_agent_would_show(self) -> None:
        def asked(*offered: str) -> None:
            self.recorder.model(voice="main", offered=list(offered))

        self.assertTrue(self.own.would_show(model_seen=True))  # it called nothing, as a tool-less
        self.assertFalse(self.own.would_show(model_seen=False))
        self.recorder.call(FARES, {})
        asked()
        self.assertFalse(self.own.would_show(model_seen=True))  # it acts by code
        asked(FARES)
        self.assertTrue(self.own.would_show(model_seen=True))
        self.own.report_call({"tool": "look", "args": {}}, 0.0)
        self.assertTrue(self.own.would_show(model_seen=False))

    def test_words_of_refusal(self) -> None:
        self.assertTrue(looks_refused("Tool `x` does not exist"))
        self.assertFalse(looks_refused("Noted at 14:31." + " " * 300 + "error"))


class OwnApprovals(OwnCallsCase):
    """An approval that is asked for inside a tool of the agent's own: one approval, one call."""

    async def decide(self, tool: str, args: Any, *, approve: bool) -> None:
        """What a trial does with an approval."""
        decision: Any = "approve" if approve else "deny"
        self.recorder.approval("1", tool, args, decision=decision, edited=None)
        if approve:
            self.own.approved(tool, args)
        elif not self.own.denied(tool, args):
            self.recorder.deny_call(tool, args)

    def judged(self) -> Any:
        expect = {"calls": [{"as": "note", "tool": "own/note_down"}]}
        approvals = [{"tool": "own/note_down", "decision": "approve"}]
        spec = script(expect, approvals=approvals)
        events = [turn(0.0), *self.recorder.events, reply(99.0)]
        return score_trial(spec, trace(*events, model_seam=True))

    async def test_a_proposed_call_begins_once_it_is_approved(self) -> None:
        self.recorder.start_clock()
        self.propose("note_down", {"text": "x"})
        await asyncio.sleep(0.002)
        await self.decide("own/note_down", {"text": "x"}, approve=True)
        self.own.came_back("p1", "noted")
        (call,) = self.calls
        (asked,) = [e for e in self.recorder.events if e["kind"] == "ask"]
        self.assertGreaterEqual(call["t"], asked["t"])
        result = self.judged()
        self.assertIs(checks(result)["order.approval.note"], True)
        self.assertEqual(result["verdict"], "pass")

    async def test_a_proposed_call_that_is_denied_never_ran(self) -> None:
        self.recorder.start_clock()
        self.propose("note_down", {"text": "x"})
        await self.decide("own/note_down", {"text": "x"}, approve=False)
        self.own.came_back("p1", "the user said no")
        (call,) = self.calls
        self.assertEqual((call["error"]["kind"], call["s"]), ("denied", 0))
        found = checks(self.judged())
        self.assertIs(found["denied.own/note_down"], True)
        self.assertIs(found["note.called"], False)

    async def test_a_reported_call_that_asked_inside_begins_with_the_approval(self) -> None:
        self.recorder.start_clock()
        await asyncio.sleep(0.005)
        await self.decide("own/note_down", {"text": "x"}, approve=True)
        message = {"tool": "note_down", "args": {"text": "x"}, "result": "noted", "ms": 60_000}
        self.own.report_call(message, 0.0)
        (call,) = self.calls
        self.assertGreater(call["t"], 0.004)
        self.assertIs(checks(self.judged())["order.approval.note"], True)

    async def test_a_reported_call_that_was_denied_inside_is_no_second_one(self) -> None:
        self.recorder.start_clock()
        await self.decide("own/note_down", {"text": "x"}, approve=False)
        message = {"tool": "note_down", "args": {"text": "x"}, "result": "no", "ms": 60_000}
        self.own.report_call(message, 0.0)
        (call,) = self.calls
        self.assertEqual(call["error"]["kind"], "denied")
        self.assertIs(checks(self.judged())["denied.own/note_down"], True)

    async def test_a_call_after_an_earlier_approval_keeps_its_time(self) -> None:
        self.recorder.start_clock()
        await self.decide("own/note_down", {"text": "x"}, approve=True)
        await asyncio.sleep(0.01)
        self.own.report_call({"tool": "note_down", "args": {"text": "x"}, "ms": 1}, 0.0)
        (call,) = self.calls
        self.assertGreater(call["t"], 0.005)
