"""What is worth knowing of a trial: each remark from a trace that calls for it, and from one
that does not."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.remarks import schema_changes, trial_remarks

TIDES = {"tides/high_water": {"input": {"type": "object"}, "description": "x"},
         "tides/low_water": {"input": {"type": "object"}, "description": "y"}}  # fmt: skip
TURN = {"t": 0.0, "kind": "turn", "part": 0, "text": "When?", "rule": None}
REPLY = {"t": 2.0, "kind": "reply", "text": "At 14:31.", "data": None}
END = {"t": 2.1, "kind": "end", "why": "done", "reason": None}
CALL = {"t": 1.0, "kind": "call", "id": "c1", "seam": "tool", "tool": "tides/high_water",
        "args": {}, "s": 0.1, "result": {}, "error": None, "fault": None, "proposal": "p1",
        }  # fmt: skip


def model(t: float = 0.5, offered: Any = tuple(TIDES), **fields: Any) -> dict[str, Any]:
    proposed = [{"id": "p1", "tool": "tides/high_water", "args": {}}]
    return {"t": t, "kind": "model", "id": "m1", "s": 0.1, "voice": "main",
            "offered": list(offered), "proposed": proposed, "text": None, "usage": None,
            "error": None, "fault": None, **fields}  # fmt: skip


def trace(*events: Any, **fields: Any) -> Any:
    document = {"ferox_trace": 1, "agent": "a", "suite": "s", "task": "t", "trial": 1,
            "clock": "2031-03-14T06:30:00Z", "zone": "UTC", "model_seam": True, "tools": TIDES,
            "traffic": {"tides": {"sessions": 1, "lists": 1, "protocol": None, "client": None}},
            "events": list(events) or [TURN, model(), CALL, REPLY, END]}  # fmt: skip
    return {**document, **fields}


class Remarks(unittest.TestCase):
    def kinds(self, words: Any) -> list[str]:
        return [r.kind for r in trial_remarks(words)]

    def test_an_ordinary_trial_calls_for_none(self) -> None:
        self.assertEqual(trial_remarks(trace()), [])

    def test_tools_that_were_never_asked_for(self) -> None:
        quiet = {"tides": {"sessions": 0, "lists": 0, "protocol": None, "client": None}}
        self.assertEqual(self.kinds(trace(TURN, model(offered=()), REPLY, END, traffic=quiet)),
                         ["never_listed"])  # fmt: skip

    def test_tools_that_were_listed_and_not_shown(self) -> None:
        self.assertEqual(self.kinds(trace(TURN, model(offered=()), REPLY, END)), ["none_shown"])
        some = trace(TURN, model(offered=["tides/high_water"]), CALL, REPLY, END)
        (remark,) = trial_remarks(some)
        self.assertIn("1 of the 2 tools of tides: it may read only the first page", remark.text)

    def test_an_agent_that_acts_by_writing_code(self) -> None:
        call = {**CALL, "proposal": None}
        traced = trace(TURN, model(offered=(), proposed=[]), call, REPLY, END, own_seen=False)
        texts = {r.kind: r.text for r in trial_remarks(traced)}
        self.assertEqual(list(texts), ["not_proposed", "own_not_seen"])
        self.assertIn("may act by code that its model wrote", texts["not_proposed"])

    def test_tools_shown_otherwise_from_request_to_request(self) -> None:
        one, other = model(offered=["tides/high_water"]), model(1.5, ["tides/low_water"], id="m2")
        texts = {r.kind: r.text for r in trial_remarks(trace(TURN, one, CALL, other, REPLY, END))}
        self.assertIn("at most 1 at once, 2 in all", texts["retrieved"])
        self.assertTrue(texts["retrieved"].startswith("Its model was shown"), texts["retrieved"])
        self.assertNotIn("retrieved", self.kinds(trace(TURN, model(), model(1.5), REPLY, END)))

    def test_a_session_that_was_never_closed(self) -> None:
        document = {"sessions": 3, "left_open": 2, "lists": 1, "protocol": None, "client": None}
        (remark,) = trial_remarks(trace(traffic={"tides": document}))
        self.assertEqual(remark.text, "The agent never closed 2 of its 3 sessions with tides.")

    def test_ways_of_replying(self) -> None:
        self.assertEqual(self.kinds(trace(reply_tools=["final_answer"])), ["replies_by"])
        odd = {**REPLY, "of": "dict"}
        self.assertEqual(self.kinds(trace(TURN, model(), CALL, odd, END)), ["reply_no_text"])
        written = {**REPLY, "text": '{"name": "high_water", "arguments": {"day": "today"}}'}
        (remark,) = trial_remarks(trace(TURN, model(), CALL, written, END))
        self.assertEqual(remark.kind, "call_as_text")
        self.assertIn("a call to tides/high_water written as text", remark.text)

    def test_a_tool_that_hides_a_served_one(self) -> None:
        own = {**CALL, "seam": "local", "tool": "own/high_water", "hides": "tides/high_water"}
        (remark,) = trial_remarks(trace(TURN, model(), own, REPLY, END))
        self.assertEqual(
            remark.text,
            "own/high_water ran inside the agent; it hides tides/high_water, which has the same "
            "name.",
        )

    def test_two_tools_of_the_same_name(self) -> None:
        tools = {**TIDES, "harbour/low_water": {"input": {}, "description": ""}}
        traced = trace(TURN, model(offered=["tides/high_water"]), CALL, REPLY, END, tools=tools)
        self.assertIn(
            "hides one of two tools of the same name (low_water)", trial_remarks(traced)[0].text
        )

    def test_calls_of_the_agents_own_code(self) -> None:
        traced = trace(TURN, model(), {**CALL, "proposal": None}, REPLY, END)
        (remark,) = trial_remarks(traced)
        self.assertIn("1 call came from the agent's own code", remark.text)
        denied = {"kind": "denied", "message": "no"}
        call = {**CALL, "proposal": None, "error": denied}
        self.assertEqual(self.kinds(trace(TURN, model(), call, REPLY, END)), [])

    def test_arguments_that_were_no_json(self) -> None:
        proposed = [{"id": "p1", "tool": "tides/high_water", "args": '{"day": '}]
        traced = trace(TURN, model(proposed=proposed), CALL, REPLY, END)
        self.assertIn("the agent sent {} in their place", trial_remarks(traced)[0].text)

    def test_an_agent_that_hangs(self) -> None:
        end = {"t": 60.0, "kind": "end", "why": "no_reply", "reason": "no reply within 60 s"}
        dropped = {**CALL, "error": {"kind": "dropped", "message": "x"}, "result": None}
        self.assertEqual(self.kinds(trace(TURN, model(), dropped, end)), ["hangs_after_error"])
        never = {**CALL, "s": None, "result": None}
        self.assertEqual(self.kinds(trace(TURN, model(), never, end)), ["waits_for_ever"])
        later = model(t=5.0, id="m2", proposed=[])
        self.assertEqual(self.kinds(trace(TURN, model(), dropped, later, end)), [])

    def test_rewritten_tools(self) -> None:
        seen = {"tides/high_water": {"name": "highWater", "description": "z",
                                     "input": {"type": "object", "required": ["day"]}}}  # fmt: skip
        found = {r.kind: r.text for r in trial_remarks(trace(seen_by_model=seen))}
        self.assertIn("tides/high_water as highWater", found["renamed"])
        self.assertIn("optional arguments made required (1)", found["schema_rewritten"])
        self.assertIn("descriptions of 1 tool", found["described_otherwise"])

    def test_three_renamed_tools_are_named_and_the_others_counted(self) -> None:
        for count, end in ((3, "tides/t2 as x2."), (4, "tides/t2 as x2 and 1 more."),
                           (6, "tides/t2 as x2 and 3 more.")):  # fmt: skip
            tools = {f"tides/t{i}": {"input": {}, "description": ""} for i in range(count)}
            seen = {f"tides/t{i}": {"name": f"x{i}"} for i in range(count)}
            remarks = trial_remarks(trace(tools=tools, seen_by_model=seen))
            text = next(r.text for r in remarks if r.kind == "renamed")
            self.assertTrue(text.endswith(end), text)

    def test_one_voice_is_no_remark(self) -> None:
        voice = {"instructions": "", "tools": []}
        self.assertNotIn("voices", self.kinds(trace(voices={"main": voice})))
        self.assertIn("voices", self.kinds(trace(voices={"main": voice, "clerk": voice})))

    def test_each_voice_is_watched_by_itself(self) -> None:
        one = model(offered=["tides/high_water"])
        other = model(1.5, ["tides/low_water"], id="m2", voice="clerk")
        self.assertNotIn("retrieved", self.kinds(trace(TURN, one, CALL, other, REPLY, END)))
        more = model(1.6, ["tides/high_water"], id="m3", voice="clerk")
        texts = [r.text for r in trial_remarks(trace(TURN, one, CALL, other, more, REPLY, END))]
        self.assertIn("The model as clerk was shown other tools", " ".join(texts))

    def test_one_call_is_it_and_two_are_them(self) -> None:
        alone = {**CALL, "proposal": None}
        two = {**alone, "id": "c2", "t": 1.2, "tool": "tides/low_water"}
        (one,) = trial_remarks(trace(TURN, model(), alone, REPLY, END))
        self.assertIn("no model proposed it: tides/high_water.", one.text)
        (both,) = trial_remarks(trace(TURN, model(), alone, two, REPLY, END))
        self.assertIn("2 calls came from the agent's own code; no model proposed them: ", both.text)

    def test_voices_waits_links_and_holds(self) -> None:
        voice = {"instructions": "", "tools": []}
        hold = {"t": 0.9, "kind": "hold", "call": "c1", "s": 0.1}
        link = {"start_s": 1.0, "rubbish": 3, "closed": False}
        traced = trace(TURN, model(waited_s=2.5), hold, CALL, REPLY, END,
                     voices={"main": voice, "clerk": voice}, link=link)  # fmt: skip
        found = {r.kind: r.text for r in trial_remarks(traced)}
        self.assertEqual(
            list(found), ["voices", "rate_limit", "close_not_heeded", "rubbish", "held"]
        )
        self.assertIn("main, clerk", found["voices"])
        self.assertIn("2.5 s", found["rate_limit"])
        self.assertIn("3 lines", found["rubbish"])

    def test_a_model_that_is_not_seen(self) -> None:
        traced = trace(TURN, {**CALL, "proposal": None}, REPLY, END, model_seam=False)
        self.assertEqual(self.kinds(traced), ["model_not_seen"])


class Changes(unittest.TestCase):
    def test_how_a_schema_was_rewritten(self) -> None:
        day = {"type": "string", "pattern": "^2", "format": "date"}
        before = {"properties": {"day": day, "n": {}}, "additionalProperties": False}
        after = {"properties": {"day": {"anyOf": [{"type": "string"}, {"type": "null"}]}},
                 "required": ["day"]}  # fmt: skip
        self.assertEqual(
            list(schema_changes(before, after)),
            ["optional arguments made required", "arguments left out", "format, pattern lost",
             "additionalProperties lost"],
        )  # fmt: skip
        self.assertEqual(list(schema_changes({}, {"additionalProperties": False})),
                         ["additionalProperties set"])  # fmt: skip
        self.assertEqual(list(schema_changes({"title": "a"}, {"title": "b"})),
                         ["titles or forms of types changed"])  # fmt: skip

    @given(st.recursive(st.none() | st.integers() | st.text(max_size=4),
                        lambda x: st.dictionaries(st.text(max_size=9), x, max_size=3)))  # fmt: skip
    def test_the_same_schema_has_no_changes(self, schema: Any) -> None:
        found = {"properties": schema} if isinstance(schema, dict) else {}
        self.assertEqual(list(schema_changes(found, found)), [])


class SchemaChanges(unittest.TestCase):
    """How a framework rewrote a schema, in words."""

    DAY = {"type": "object", "properties": {"day": {"type": "string", "pattern": "^2"}},
           "required": ["day"]}  # fmt: skip

    def changed(self, after: Any, before: Any = None) -> list[str]:
        return list(schema_changes(self.DAY if before is None else before, after))

    def test_each_change(self) -> None:
        self.assertEqual(self.changed(self.DAY), [])
        self.assertEqual(self.changed({**self.DAY, "title": "x"}),
                         ["titles or forms of types changed"])  # fmt: skip
        self.assertEqual(self.changed({**self.DAY, "required": []}),
                         ["titles or forms of types changed"])  # fmt: skip
        self.assertEqual(self.changed({**self.DAY, "required": ["day", "n"]}),
                         ["optional arguments made required"])  # fmt: skip
        self.assertEqual(self.changed({"type": "object", "required": ["day"]}),
                         ["arguments left out"])  # fmt: skip
        loose = {**self.DAY, "properties": {"day": {"type": "string"}}}
        self.assertEqual(self.changed(loose), ["pattern lost"])
        closed = {**self.DAY, "additionalProperties": False}
        self.assertEqual(self.changed(closed), ["additionalProperties set"])
        self.assertEqual(self.changed(self.DAY, closed), ["additionalProperties lost"])
        typed = {**self.DAY, "additionalProperties": {"type": "string"}}
        same = {**self.DAY, "title": "x", "additionalProperties": {"type": "string"}}
        self.assertEqual(self.changed(same, typed), ["titles or forms of types changed"])
        self.assertEqual(self.changed(None, None), ["arguments left out"])
        self.assertEqual(self.changed([], {}), [])
