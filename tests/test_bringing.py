"""Traces from elsewhere, brought in: what spans tell, and what is done with faulty ones."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from typing import Any

from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from ferox.bringing.bringing import (
    BringingError,
    BringingOptions,
    BringingOutcome,
    bring_files,
)
from ferox.bringing.conversations import sort_conversations
from ferox.bringing.messages import tool_result
from ferox.bringing.span_traces import SpanTrace, trace_of
from ferox.bringing.spans import SpanError, plain_value, read_spans
from ferox.bringing.task_matching import NoTask, find_task
from ferox.cli.main import main
from ferox.core.scoring import score_trial
from ferox.core.story import read_story
from ferox.formats.suite import Suite
from ferox.store.board import read_cells
from ferox.store.database import read_session
from ferox.store.ledger import read_ledger
from ferox.store.results import read_results
from ferox.store.runs import get_run
from ferox.store.tables import Run
from ferox.store.traces import read_traces
from ferox.store.trials import finished_numbers, read_trials
from ferox.workspace.load import load_workspace
from tests.spans import BEGAN, SECOND, chat, document, pairs, said, span, tool
from tests.test_store import StoreCase
from tests.traces import script
from tests.workspaces import know_secrets

ASK = "When is high water today?"
SYSTEM = said("system", "You are the desk.")
HIGH = ("p1", "high_water", {"day": "2031-03-14"})


def traces(*documents: Any) -> list[SpanTrace]:
    spans = [one for body in documents for one in read_spans(body)]
    return [trace_of(c, lambda name: f"tides/{name}") for c in sort_conversations(spans)]


def trace(*scopes: Any, **resource: Any) -> SpanTrace:
    (one,) = traces(document(*scopes, **resource))
    return one


def calls(one: SpanTrace) -> list[tuple[Any, ...]]:
    return [(c.tool, c.args, c.result, sorted(c.unseen)) for c in read_story(one.trace).calls]


def two_chats(**more: Any) -> list[Any]:
    """A question, a call that only the messages tell, and the reply."""
    asked = [SYSTEM, said("user", ASK)]
    proposed = said("assistant", calls=[HIGH])
    told = said("tool", responses=[("p1", {"high_water": "14:31"})])
    return [
        chat("c1", 0.0, asked, proposed, **more),
        chat("c2", 1.0, [*asked, proposed, told], said("assistant", "At 14:31."), **more),
    ]


class Spans(unittest.TestCase):
    def test_a_run_of_an_agent_is_a_turn_with_its_requests_and_calls(self) -> None:
        one = trace(
            span("a1", "invoke_agent Desk", 0.0, 3.0, gen_ai__operation__name="invoke_agent",
                 gen_ai__agent__name="Desk"),
            chat("c1", 0.1, [SYSTEM, said("user", ASK)], said("assistant", calls=[HIGH]),
                 parent="a1", gen_ai__usage__input_tokens=10, gen_ai__usage__output_tokens=2),
            tool("t1", 0.5, "high_water", HIGH[2], {"high_water": "14:31"}, parent="a1",
                 gen_ai__tool__call__id="p1", scope="pydantic-ai"),
            chat("c2", 1.0, [said("user", ASK)], said("assistant", "At 14:31."), parent="a1",
                 gen_ai__usage__input_tokens=20, gen_ai__usage__output_tokens=3),
        )  # fmt: skip
        self.assertEqual((one.agent, one.words), ("Desk", ASK))
        self.assertEqual(one.trace["instructions"], "You are the desk.")
        self.assertEqual(one.trace["clock"], "2023-11-14T22:13:20Z")
        story = read_story(one.trace)
        (turn,) = story.turns
        self.assertEqual((turn.text, turn.reply, turn.replied), (ASK, "At 14:31.", 3_000_000))
        self.assertEqual(calls(one), [("tides/high_water", HIGH[2], {"high_water": "14:31"}, [])])
        self.assertEqual((story.calls[0].start, story.calls[0].end), (500_000, 600_000))
        self.assertEqual(story.undispatched, [])
        self.assertEqual(story.unseen, {"approvals", "truth", "data", "rules", "offers"})
        usage = [m["usage"] for m in story.models]
        self.assertEqual(usage, [{"input": 10, "output": 2}, {"input": 20, "output": 3}])

    def test_requests_in_traces_of_their_own_are_joined_by_their_messages(self) -> None:
        first, second = (two_chats(trace=name)[n] for n, name in enumerate(("aa", "bb")))
        one = trace(second, first)
        self.assertEqual(
            calls(one),
            [("tides/high_water", HIGH[2], {"high_water": "14:31"}, ["outcomes", "times"])],
        )
        story = read_story(one.trace)
        self.assertEqual([(t.text, t.reply) for t in story.turns], [(ASK, "At 14:31.")])
        self.assertLessEqual({"turns", "times", "outcomes", "usage"}, story.unseen)

    def test_trials_that_say_the_same_are_joined_one_to_one(self) -> None:
        bodies = []
        for one, other in (("aa", "bb"), ("cc", "dd")):
            first, second = two_chats(trace=one)[0], two_chats(trace=other)[1]
            bodies += [document(first), document(second)]
        self.assertEqual([len(calls(one)) for one in traces(*bodies)], [1, 1])

    def test_a_conversations_id_joins_whatever_the_messages_say(self) -> None:
        named = {"gen_ai__conversation__id": "one"}
        (one,) = traces(
            document(chat("c1", 0.0, [said("user", "A?")], said("assistant", "a"), **named)),
            document(
                chat("c2", 5.0, [said("user", "B?")], said("assistant", "b"), trace="bb", **named)
            ),
        )
        turns = [(t.text, t.reply) for t in read_story(one.trace).turns]
        self.assertEqual(turns, [("A?", "a"), ("B?", "b")])

    def test_messages_in_events_say_the_same_as_in_attributes(self) -> None:
        in_attributes = trace(*two_chats())
        logged = []
        for scope in two_chats():
            body = scope["spans"][0]
            told = [a for a in body["attributes"] if "messages" in a["key"]]
            body["attributes"] = [a for a in body["attributes"] if "messages" not in a["key"]]
            record = {
                "traceId": body["traceId"],
                "spanId": body["spanId"],
                "eventName": "gen_ai.client.inference.operation.details",
                "attributes": told,
            }
            logged.append((scope, record))
        logs = {"resourceLogs": [{"scopeLogs": [{"logRecords": [r for _, r in logged]}]}]}
        (in_logs,) = traces(logs, document(*(scope for scope, _ in logged)))
        for scope, record in logged:
            scope["spans"][0]["events"] = [{"name": record["eventName"], **record}]
        (in_events,) = traces(document(*(scope for scope, _ in logged)))
        self.assertEqual(in_logs.trace, in_attributes.trace)
        self.assertEqual(in_events.trace, in_attributes.trace)

    def test_messages_of_earlier_conventions(self) -> None:
        function = {"name": "high_water", "arguments": json.dumps(HIGH[2])}
        proposed = {"id": "p1", "type": "function", "function": function}
        asked = [("gen_ai.system.message", {"content": "You are the desk."}),
                 ("gen_ai.user.message", {"content": ASK})]  # fmt: skip
        choice = ("gen_ai.choice", {"message": {"role": "assistant", "tool_calls": [proposed]}})
        history = [
            ("gen_ai.assistant.message", {"tool_calls": [proposed]}),
            ("gen_ai.tool.message", {"id": "p1", "content": '{"high_water": "14:31"}'}),
        ]
        reply = ("gen_ai.choice", {"message": {"role": "assistant", "content": "At 14:31."}})
        one = trace(
            span("c1", "chat m", 0.0, gen_ai__operation__name="chat", events=[*asked, choice]),
            span("c2", "chat m", 1.0, gen_ai__operation__name="chat",
                 events=[*asked, *history, reply]),
        )  # fmt: skip
        self.assertEqual(one.trace["instructions"], "You are the desk.")
        self.assertEqual([c[:3] for c in calls(one)],
                         [("tides/high_water", HIGH[2], {"high_water": "14:31"})])  # fmt: skip
        self.assertEqual(read_story(one.trace).turns[0].reply, "At 14:31.")

    def test_a_clients_span_inside_a_frameworks_is_the_same_call(self) -> None:
        inner = span("m1", "tools/call high_water", 0.2, mcp__method__name="tools/call",
                     parent="t1", scope="fastmcp", failed="The table is wet.",
                     error__type="tool_error")  # fmt: skip
        one = trace(tool("t1", 0.1, "high_water", {"day": "x"}, "Error"), inner)
        (call,) = read_story(one.trace).calls
        self.assertEqual(call.error, {"kind": "tool_error", "message": "The table is wet."})
        alone = trace(span("m1", "MCP send tools/call high_water", mcp__method__name="tools/call"))
        self.assertEqual(
            calls(alone), [("tides/high_water", {}, None, ["arguments", "outcomes", "results"])]
        )
        self.assertLessEqual({"words", "reply", "turns"}, read_story(alone.trace).unseen)

    def test_only_those_that_mark_failures_tell_that_a_call_did_not_fail(self) -> None:
        for scope, unseen in (("pydantic-ai", []), ("other", ["outcomes"])):
            one = trace(tool("t1", 0.1, "high_water", {}, "14:31", scope=scope))
            self.assertEqual(calls(one)[0][3], unseen)

    def test_a_proposal_that_nobody_carried_out_was_refused(self) -> None:
        asked = [said("user", ASK)]
        one = trace(
            chat("c1", 0.0, asked, said("assistant", calls=[HIGH, ("p2", "low_water", {})])),
            tool("t1", 0.5, "high_water", HIGH[2], "14:31"),
            chat("c2", 1.0, asked, said("assistant", "At 14:31.")),
        )
        (lost,) = read_story(one.trace).undispatched
        self.assertEqual(lost.tool, "tides/low_water")

    def test_where_proposals_are_not_told_nothing_is_said_of_them(self) -> None:
        asked = [said("user", ASK)]
        one = trace(
            chat("c1", 0.0, asked, said("assistant", "{'tool_calls': …}")),
            tool("t1", 0.5, "high_water", HIGH[2], "14:31"),
        )
        self.assertIn("proposals", read_story(one.trace).unseen)
        result = score_trial(script({"calls": [{"tool": "tides/low_water"}]}), one.trace)
        self.assertEqual(result["missing"][0]["why"], "not_seen")

    def test_without_messages_and_calls_neither_is_tested(self) -> None:
        one = trace(span("c1", "chat m", gen_ai__operation__name="chat"))
        unseen = read_story(one.trace).unseen
        self.assertLessEqual({"calls", "words", "reply", "instructions", "offers"}, unseen)
        demand = {"calls": [{"tool": "tides/low_water"}], "answer": [{"matches": "x"}]}
        result = score_trial(script(demand), one.trace)
        self.assertEqual((result["verdict"], result["judged"]), ("pass", False))

    def test_an_agent_that_failed_is_a_crash(self) -> None:
        one = trace(
            span("a1", "invoke_agent x", 0.0, 2.0, gen_ai__operation__name="invoke_agent",
                 failed="boom", events=[("exception", {"exception.message": "the tide is out"})])
        )  # fmt: skip
        end = {"t": 2.0, "kind": "end", "why": "crash", "reason": "the tide is out"}
        self.assertEqual(one.trace["events"][-1], end)

    def test_traces_that_hold_nothing_of_an_agent_are_passed_over(self) -> None:
        self.assertEqual(traces(document(span("x", "GET /health"))), [])

    def test_what_is_written_as_json_is_read_within_limits(self) -> None:
        for text in ("[" * 100_000, "9" * 100_000, '{"a":' * 5_000, "\ud800"):
            one = trace(tool("t1", 0.1, "high_water", text, text))
            ((_, args, _, unseen),) = calls(one)
            self.assertEqual((args, "arguments" in unseen), ({}, True))

    def test_parents_in_a_circle_end(self) -> None:
        one = trace(
            tool("t1", 0.1, "high_water", {}, "a", parent="t2"),
            span("t2", "x", 0.0, parent="t1"),
        )
        self.assertEqual(len(calls(one)), 1)

    def test_what_is_no_span_is_refused_with_its_reason(self) -> None:
        good = span("a", "x")["spans"][0]
        for change, why in (
            ({"traceId": ""}, "lacks its `traceId`"),
            ({"startTimeUnixNano": "-5"}, "`startTimeUnixNano` is no time"),
            ({"endTimeUnixNano": "9" * 24}, "`endTimeUnixNano` is no time"),
            ({"startTimeUnixNano": True}, "is no time"),
        ):
            body = document({"scope": {}, "spans": [{**good, **change}]})
            with self.subTest(change), self.assertRaisesRegex(SpanError, why):
                list(read_spans(body))

    def test_results_are_read_as_a_trace_has_them(self) -> None:
        for given_result, wanted in (
            ('{"a": 1}', {"a": 1}),
            ("plain", "plain"),
            ({"type": "text", "text": '{"a": 1}'}, {"a": 1}),
            ([{"type": "text", "text": "x"}, {"type": "text", "text": "y"}], "x\ny"),
            ({"content": [{"type": "text", "text": "7"}], "isError": False}, 7),
            ({"content": [], "structuredContent": {"a": 1}}, {"a": 1}),
            ([1, 2], [1, 2]),
            (None, None),
        ):
            with self.subTest(given_result):
                self.assertEqual(tool_result(given_result), wanted)

    JSON = st.recursive(
        st.none() | st.booleans() | st.integers() | st.text(),
        lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner),
        max_leaves=10,
    )

    @given(JSON, JSON)
    def test_whatever_stands_in_a_document_it_is_read_or_refused(
        self, one: Any, other: Any
    ) -> None:
        good = span("a", "x")["spans"][0]
        for body in (
            {"resourceSpans": one, "resourceLogs": other},
            {"resourceSpans": [{"resource": one, "scopeSpans": [{"scope": other, "spans": one}]}]},
            document({"scope": one, "spans": [{**good, "attributes": one, "events": other}]}),
            document({"scope": {}, "spans": [{**good, "attributes": pairs(
                {"gen_ai.operation.name": "chat", "gen_ai.output.messages": one,
                 "gen_ai.input.messages": other, "gen_ai.tool.definitions": other})}]}),
        ):  # fmt: skip
            try:
                traces(body)
            except SpanError:
                continue
        plain_value(one)


def suite(*says: str) -> Suite:
    tasks = [{"task": f"t{n}", "say": words} for n, words in enumerate(says)]
    return Suite.model_validate({"ferox": 1, "suite": "s", "tasks": tasks})


class Tasks(unittest.TestCase):
    SUITE = suite(
        "When is high water today?",
        "Find a berth for the vessel Calder Finch on the north side.",
        "Find a berth for the vessel Brackwater on the south side.",
    )

    def found(self, **given_names: Any) -> tuple[str, float, str]:
        names = {"suite": None, "task": None, "words": None, **given_names}
        match = find_task([self.SUITE], **names)
        return match.task.task, match.sure, match.by

    def test_a_name_is_certain(self) -> None:
        self.assertEqual(self.found(task="t1"), ("t1", 1.0, "name"))
        self.assertEqual(self.found(task="s/t1", words="When?"), ("t1", 1.0, "name"))
        for names in ({"task": "t9"}, {"task": "t1", "suite": "x"}, {"task": "x/t1"}):
            with self.assertRaisesRegex(NoTask, "there is no task"):
                self.found(**names)

    def test_the_same_words_are_certain_and_like_ones_are_as_sure_as_alike(self) -> None:
        self.assertEqual(self.found(words="  when is HIGH water today "), ("t0", 1.0, "words"))
        # Stems of the two: {high, water, today, pleas} and {high, water, today}: 3 / √(4 · 3).
        task, sure, _ = self.found(words="When is high water today, please?")
        self.assertEqual((task, sure), ("t0", 0.87))

    def test_what_is_like_none_or_two_is_not_guessed(self) -> None:
        with self.assertRaisesRegex(NoTask, "no task begins with words like “Good morning”"):
            self.found(words="Good morning")
        with self.assertRaisesRegex(NoTask, "is as like s/t. and s/t."):
            self.found(words="Find a berth for the vessel on the side.")
        with self.assertRaisesRegex(NoTask, "neither its task nor the user's words"):
            self.found()


class BringingCase(StoreCase):
    def bring(self, *lines: Any, **how: Any) -> BringingOutcome:
        text = "\n".join(one if isinstance(one, str) else json.dumps(one) for one in lines)
        path = self.write("in.jsonl", text)
        return bring_files(self.engine, load_workspace(self.root), [path], BringingOptions(**how))

    def trials(self, run: int | None) -> list[tuple[Any, Any, Any]]:
        assert run is not None
        with read_session(self.engine) as session:
            numbers = finished_numbers(session, run)
            lines = read_trials(session, numbers)
            told, results = read_traces(session, numbers), read_results(session, numbers)
            return [(lines[n], told[n], results[n]) for n in numbers]

    def run_record(self, run: int | None) -> Run:
        assert run is not None
        with read_session(self.engine) as session:
            return get_run(session, run)


class Bringing(BringingCase):
    def test_spans_become_a_trial_of_their_task_judged_by_its_script(self) -> None:
        brought = self.bring(document(*two_chats()), agent="desk elsewhere", clock="suite")
        self.assertEqual((brought.trials, brought.passes, brought.left_out), (1, 1, []))
        ((line, told, result),) = self.trials(brought.run)
        self.assertEqual((line.suite, line.task, line.agent), ("small", "high", "desk-elsewhere"))
        self.assertEqual(line.started_at, BEGAN / SECOND)
        self.assertEqual((result["verdict"], result["scores"]["choice"]), ("pass", 1.0))
        self.assertEqual(told["clock"], "2031-03-14T06:30:00Z")
        checks = {c["id"]: c["passed"] for c in result["checks"]}
        self.assertEqual((checks["high.args.day"], checks["state.0"]), (True, None))
        record = self.run_record(brought.run)
        self.assertEqual((record.origin, record.state), ("brought in", "done"))

    def test_today_is_the_day_of_the_trace_unless_it_is_said(self) -> None:
        brought = self.bring(document(*two_chats()))
        ((_, told, result),) = self.trials(brought.run)
        self.assertEqual((told["clock"], result["verdict"]), ("2023-11-14T22:13:20Z", "fail"))
        with self.assertRaisesRegex(BringingError, "`noon` is no time with an offset"):
            self.bring(document(*two_chats()), clock="noon")

    def test_a_task_that_is_named_or_given_needs_no_words(self) -> None:
        call = tool("t1", 0.1, "high_water", {"day": "2031-03-14"}, {"high_water": "14:31"})
        with self.assertRaisesRegex(BringingError, "neither its task nor the user's words"):
            self.bring(document(call))
        self.assertEqual(self.bring(document(call), task="high").trials, 1)
        self.assertEqual(self.bring(document(call, ferox__task="small/high")).trials, 1)
        with self.assertRaisesRegex(
            BringingError, "there is no task `hihg`; there is `small/high`"
        ):
            self.bring(document(call), task="hihg")

    def test_a_rough_match_says_how_sure_it_is(self) -> None:
        chats = json.dumps(document(*two_chats())).replace(ASK, f"{ASK} Please")
        (line,) = self.bring(chats).by_words
        self.assertRegex(line, r"trace aa is taken for small/high: \d\d % alike")

    def test_half_broken_files_bring_in_what_is_whole(self) -> None:
        whole = document(*two_chats())
        broken = document({"scope": {}, "spans": [{"traceId": "x"}]})
        brought = self.bring("{not json}", whole, broken, '{"other": 1}', '{"ferox_trace": 1}')
        self.assertEqual(brought.trials, 1)
        places = [line.partition(": ")[0].rpartition("/")[2] for line in brought.left_out]
        self.assertEqual(places, ["in.jsonl:1", "in.jsonl:3", "in.jsonl:4", "in.jsonl:5"])
        with self.assertRaisesRegex(BringingError, "nothing was brought in: .*in.jsonl:1"):
            self.bring("{not json}")
        with self.assertRaisesRegex(BringingError, "there is no trace in it"):
            self.bring("")

    def test_one_document_over_many_lines_is_read_too(self) -> None:
        self.assertEqual(self.bring(json.dumps(document(*two_chats()), indent=1)).trials, 1)

    def test_own_traces_come_back_as_they_were_judged(self) -> None:
        run = self.run_of("w")
        result = CliRunner().invoke(main, ["run", str(self.root), "--trials", "2"])
        self.assertEqual(result.exit_code, 0, result.output)
        for form in ("traces", "otlp"):
            with self.subTest(form):
                words = ["export", str(self.root), str(run + 1), "--format", form]
                exported = CliRunner().invoke(main, words).stdout
                brought = self.bring(*exported.splitlines())
                self.assertEqual((brought.trials, brought.left_out), (2, []))
                self.assertEqual(self.seen_in(brought.run), self.seen_in(run + 1))

    def seen_in(self, run: int | None) -> list[Any]:
        """The calls of each trial, how long they took, and its checks but for the state's."""
        found = []
        for line, told, result in self.trials(run):
            self.assertEqual(line.verdict, "pass")
            calls = [(c.tool, c.args, c.result, c.end) for c in read_story(told).calls]
            checks = {c["id"]: c["passed"] for c in result["checks"] if c["id"] != "state.0"}
            self.assertNotIn(False, checks.values())
            found.append((calls, result["latency"]["tool_ms"], checks))
        return sorted(found, key=str)

    def test_secrets_are_masked(self) -> None:
        know_secrets(self, KEY="hunter2hunter2")
        chats = json.dumps(document(*two_chats())).replace("At 14:31.", "At 14:31, hunter2hunter2.")
        ((_, told, _),) = self.trials(self.bring(chats).run)
        self.assertNotIn("hunter2", json.dumps(told))

    def test_the_next_ones_of_the_same_agent_have_a_predecessor(self) -> None:
        for answer in ("At 14:31.", "At noon."):
            chats = json.dumps(document(*two_chats())).replace("At 14:31.", answer)
            brought = self.bring(chats, clock="suite")
        assert brought.run is not None
        with read_session(self.engine) as session:
            ledger = read_ledger(session, brought.run, read_cells(session, brought.run))
        self.assertEqual([group.kind for group in ledger.groups], ["broke"])

    def test_at_the_terminal(self) -> None:
        path = self.write("in.jsonl", json.dumps(document(*two_chats())) + "\n{broken}\n")
        words = ["bring", str(self.root), str(path), "--clock", "suite"]
        done = CliRunner().invoke(main, [*words, "--fail-under", "pass=1"])
        self.assertEqual(done.exit_code, 0, done.output)
        self.assertIn("run 1: 1 trial brought in", done.stdout)
        self.assertIn("--fail-under pass=1 holds", done.stdout)
        self.assertRegex(done.stderr, r"left out: \S+in.jsonl:2: no JSON")
        done = CliRunner().invoke(main, ["bring", str(self.root)])
        self.assertEqual((done.exit_code, "give at least one file" in done.stderr), (2, True))
        done = CliRunner().invoke(main, ["bring", str(self.root), str(Path("/nowhere"))])
        self.assertEqual(done.exit_code, 2)
        self.assertIn("/nowhere: No such file", done.stderr)
