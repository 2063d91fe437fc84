"""Trials that go on from a point of another, with real agents: the past as it was, then live."""

from __future__ import annotations

import json
import sys
from typing import Any

from click.testing import CliRunner, Result
from pydantic import ValidationError
from sqlalchemy.orm import Session

from ferox.cli.main import main
from ferox.core.replay_verdict import Replayed
from ferox.runs.fork.change import ForkChange
from ferox.runs.fork.fork_results import ForkedTrials, fork_sentence, read_forks
from ferox.runs.fork.fork_run import ForkWish, plan_forks
from ferox.runs.records import RunError, make_ready_again, start_worker
from ferox.runs.rescoring import rescore_next
from ferox.store.board import read_cells
from ferox.store.ledger import read_ledger
from ferox.store.past_trials import read_past_rates
from ferox.store.pieces import read_pieces
from ferox.store.results import read_result
from ferox.store.runs import newest_run_number, newest_runs, run_before_with
from ferox.store.tables import Trial
from ferox.store.traces import gather_beside, keep_trace, read_trace
from ferox.workspace.load import load_workspace
from tests.test_replay import ReplayCase, asking, coded
from tests.test_runs import QUICK_TIDES
from tests.waiting import until
from tests.workers import work_in_threads

TIDES = """
    ferox: 1
    server: tides
    mock:
      state: {asked: 0}
      tools:
        - name: high_water
          description: Times of high water on one day.
          input: {type: object, properties: {day: {type: string}}, required: [day]}
          answers:
            - give: {high_water: "14:31", asked: "{{ state.asked + 1 }}"}
              change: [{op: replace, path: /asked, value: "{{ state.asked + 1 }}"}]
        - name: low_water
          description: Low water.
          input: {type: object, properties: {day: {type: string}}}
          answers: [{error: There is no table.}]
"""
DESK = """
    ferox: 1
    stand_in: desk
    latency: {ms: 0}
    manners: {slips: {from_memory: 0.5}}
    scenes:
      - request: when is high water today
        does:
          - {as: high, intent: times of high water on one day, values: {day: {day: 0}}}
          - {say: "High water is at {{ high.high_water }}.", from_memory: High water is at 03:30.}
      - request: and tomorrow then
        does:
          - {as: high, intent: times of high water on one day, values: {day: {day: 1}}}
          - {say: "Tomorrow it is at {{ high.high_water }}, asked {{ high.asked }}."}
"""
SUITE = """
    ferox: 1
    suite: small
    servers: {tides: mock}
    tasks:
      - task: high
        say: When is high water today?
        user:
          - {if_reply: {matches: High water}, say: And tomorrow then?, at_most: 1}
        expect:
          calls:
            - {as: high, tool: tides/high_water, args: {day: {day: today}}}
            - {as: next, tool: tides/high_water}
          state: [{server: tides, path: $.asked, is: 2}]
"""


class ForkCase(ReplayCase):
    def setUp(self) -> None:
        super().setUp()
        self.write("servers/tides.yaml", TIDES)
        self.write("stand_ins/desk.yaml", DESK)
        self.write("tasks/small.yaml", SUITE)

    def parent(self) -> Trial:
        run = self.plan(["plain"], 1)
        self.carry_out(run)
        (trial,) = self.trials(run)
        return trial

    def forks(self, trial: int, at: str, repeats: int = 1, **change: Any) -> ForkedTrials:
        wish = ForkWish(trial, at, ForkChange.model_validate(change), repeats)
        run = plan_forks(self.engine, load_workspace(self.root), wish, at_once=2)
        self.carry_out(run)
        with Session(self.engine) as session:
            return read_forks(session, self.root, trial)[-1]

    def fork(self, trial: int, at: str, **change: Any) -> Any:
        """The trace of one fork."""
        (only,) = self.forks(trial, at, **change).trials
        return self.trace(only.id)

    def calls(self, trace: Any) -> list[Any]:
        return [event for event in trace["events"] if event["kind"] == "call"]

    def timeless(self, events: list[Any]) -> list[Any]:
        return [{k: v for k, v in e.items() if k not in ("t", "s")} for e in events]


class Unchanged(ForkCase):
    def test_at_each_point_the_past_is_the_parents_in_all_but_times(self) -> None:
        parent = self.parent()
        self.assertEqual(parent.verdict, "pass")
        events = self.trace(parent.id)["events"]
        points = [e["id"] for e in events if e["kind"] in ("call", "model")] + ["t1", "t2"]
        self.assertEqual(points, ["m1", "c1", "m2", "m3", "c2", "m4", "t1", "t2"])
        for at in points:
            with self.subTest(at):
                trace = self.fork(parent.id, at)
                facts = trace["fork"]
                past = [event for event in trace["events"] if event["t"] < facts["t"]]
                turns = [n for n, e in enumerate(events) if e["kind"] == "turn"]
                place = (
                    turns[int(at[1:]) - 1]
                    if at[0] == "t"
                    else next(n for n, e in enumerate(events) if e.get("id") == at)
                )
                self.assertEqual(self.timeless(past), self.timeless(events[:place]))
                # The stand-in is as steady as the mock: what follows is the same too.
                self.assertEqual(self.timeless(trace["events"]), self.timeless(events))
                self.assertEqual(
                    (facts["trial"], facts["at"], facts["unlike"], facts["not_repeated"]),
                    (parent.id, at, [], []),
                )
                self.assertEqual(trace["state"]["tides"]["asked"], 2)

    def test_from_there_on_chance_is_another_and_the_same_for_all_changes(self) -> None:
        self.change("agents/plain.yaml", "model: steady", "model: slips")
        self.write(
            "ferox.yaml",
            """
            ferox: 1
            name: Skerrow test desk
            models: {slips: {stand_in: stand_ins/desk.yaml, manner: slips}}
            """,
        )
        run = self.plan(["plain"], 8)
        self.carry_out(run)
        failed = next(trial for trial in self.trials(run) if trial.verdict == "fail")
        found = self.forks(failed.id, "m1", repeats=12)
        self.assertEqual(found.judged, 12)
        self.assertTrue(0 < found.passed < 12, found)
        again = self.forks(failed.id, "m1", repeats=12)
        verdicts = [[trial.verdict for trial in each.trials] for each in (found, again)]
        self.assertEqual(verdicts[0], verdicts[1])
        self.assertEqual(found.words, f"unchanged: {found.passed} of 12 passed")

    def test_forks_of_forks_and_of_what_is_not_there_are_refused(self) -> None:
        parent = self.parent()
        (fork,) = self.forks(parent.id, "c1").trials
        for trial, at, change, why in (
            (fork.id, "c1", {}, f"it is a fork itself: go on from trial {parent.id}"),
            (parent.id, "c7", {}, "no such place in the trial"),
            (parent.id, "t3", {}, "the trial has 2 turns"),
            (parent.id, "c1", {"say": "x"}, "`say` is for a model's answer or the user's words"),
            (parent.id, "m1", {"fault": {"do": "timeout"}}, "does not strike a request to a model"),
            (parent.id, "m1", {"model": "nobody"}, "`nobody`: no such model"),
            (99, "m1", {}, "there is no trial 99"),
        ):
            with self.subTest(at), self.assertRaises(RunError) as refused:
                self.forks(trial, at, **change)
            self.assertIn(why, str(refused.exception))
        with self.assertRaises(ValidationError):
            ForkChange.model_validate({"say": "x", "error": "y"})

    def test_what_was_not_kept_cannot_be_gone_on_from(self) -> None:
        self.change("ferox.yaml", "name:", "defaults: {keep: none}\nname:")
        parent = self.parent()
        with self.assertRaisesRegex(RunError, "was not kept"):
            self.forks(parent.id, "c2")
        # Before the first request there is nothing to play back.
        self.assertEqual(self.forks(parent.id, "m1").passed, 1)


class Changes(ForkCase):
    def setUp(self) -> None:
        super().setUp()
        self.parent_id = self.parent().id

    def reply(self, trace: Any) -> str:
        return str([e for e in trace["events"] if e["kind"] == "reply"][-1]["text"])

    def test_another_answer_and_the_call_is_carried_out_all_the_same(self) -> None:
        trace = self.fork(self.parent_id, "c2", answer={"high_water": "02:00", "asked": 9})
        self.assertEqual(self.calls(trace)[1]["result"], {"high_water": "02:00", "asked": 9})
        self.assertEqual(self.reply(trace), "Tomorrow it is at 02:00, asked 9.")
        self.assertEqual(trace["state"]["tides"]["asked"], 2)
        self.assertEqual(trace["fork"]["change"], "with another answer")

    def test_an_emptied_answer(self) -> None:
        trace = self.fork(self.parent_id, "c1", answer="")
        self.assertEqual(self.calls(trace)[0]["result"], "")
        self.assertEqual(trace["fork"]["change"], "with the answer emptied")

    def test_an_error_in_its_place_and_the_call_is_not_carried_out(self) -> None:
        trace = self.fork(self.parent_id, "c2", error="The table is being printed.")
        self.assertEqual(self.calls(trace)[1]["error"]["message"], "The table is being printed.")
        carried_out = [call for call in self.calls(trace) if not call["error"]]
        self.assertEqual(trace["state"]["tides"]["asked"], len(carried_out))

    def test_faults_strike_the_call_of_the_point_and_no_other(self) -> None:
        for do, given in (("empty", {}), ("protocol_error", {}), ("planted_text", {"text": "Hm."})):
            with self.subTest(do):
                trace = self.fork(self.parent_id, "c2", fault={"do": do, **given})
                self.assertEqual([c["fault"] for c in self.calls(trace)[:2]], [None, do])
                self.assertEqual(trace["fork"]["t"], self.calls(trace)[1]["t"])
        trace = self.fork(self.parent_id, "m3", fault={"do": "model_status"})
        self.assertIsNotNone(trace["fork"]["t"])
        struck = [e["fault"] for e in trace["events"] if e["kind"] == "model"]
        self.assertEqual(struck[:3], [None, None, "model_status"])

    def test_faults_of_the_model_come_again_before_the_point(self) -> None:
        for fault in (
            "{do: model_status, call: 1, status: 503}",
            "{do: model_bad_arguments, call: 1}",
            "{do: model_slow, call: 1, ms: 5}",
        ):
            with self.subTest(fault):
                self.write("tasks/small.yaml", SUITE)
                self.change("tasks/small.yaml", "    user:", f"    faults: [{fault}]\n    user:")
                parent = self.parent()
                events = self.trace(parent.id)["events"]
                self.assertIsNotNone(events[1]["fault"])
                last = [e["id"] for e in events if e["kind"] == "model"][-1]
                trace = self.fork(parent.id, last)
                self.assertEqual(self.timeless(trace["events"]), self.timeless(events))

    def test_faults_of_the_task_come_again_before_the_point(self) -> None:
        fault = "{do: planted_text, server: tides, tool: high_water, call: 1, text: Hello.}"
        self.change("tasks/small.yaml", "    user:", f"    faults: [{fault}]\n    user:")
        parent = self.parent()
        trace = self.fork(parent.id, "c2", fault={"do": "empty"})
        struck = [(c["fault"], c.get("fault_n")) for c in self.calls(trace)[:2]]
        self.assertEqual(struck, [("planted_text", 0), ("empty", 1)])
        self.assertEqual(self.calls(trace)[0]["result"]["note"], "Hello.")
        self.assertEqual(trace["fork"]["unlike"], [])

    def test_other_words_of_the_model_and_another_call(self) -> None:
        trace = self.fork(self.parent_id, "m2", say="High water is at noon.")
        replies = [e["text"] for e in trace["events"] if e["kind"] == "reply"]
        self.assertEqual(replies[0], "High water is at noon.")
        call = {"tool": "tides/low_water", "args": {"day": "2026-05-04"}}
        trace = self.fork(self.parent_id, "m3", call=call)
        self.assertEqual(self.calls(trace)[1]["tool"], "tides/low_water")
        self.assertEqual(self.calls(trace)[1]["args"], call["args"])

    def test_a_tool_that_the_model_is_no_longer_shown(self) -> None:
        trace = self.fork(self.parent_id, "m3", without=["tides/high_water"])
        offered = [e["offered"] for e in trace["events"] if e["kind"] == "model"]
        both = ["tides/high_water", "tides/low_water"]
        self.assertEqual(offered[:3], [both, both, ["tides/low_water"]])
        self.assertEqual(trace["fork"]["change"], "without tides/high_water")
        self.assertNotEqual(self.calls(trace)[1:2], self.calls(self.trace(self.parent_id))[1:2])

    def test_a_tool_with_another_description(self) -> None:
        wording = {"tool": "tides/low_water", "description": "Times of high water on one day."}
        (only,) = self.forks(self.parent_id, "t2", wording=wording).trials
        with Session(self.engine) as session:
            requests = gather_beside(session, only.id).requests
            shown = [
                {tool["name"]: tool["description"] for tool in
                 read_pieces(session, tools).values()}
                for body in requests.values()
                for tools in [read_pieces(session, [body["tools"]])[body["tools"]]]
            ]  # fmt: skip
        texts = [tools["low_water"] for tools in shown]
        self.assertEqual(texts[:3], ["Low water."] * 2 + ["Times of high water on one day."])

    def test_a_change_that_changed_nothing_does_not_count(self) -> None:
        found = self.forks(self.parent_id, "m3", without=["tides/nowhere"])
        self.assertEqual((found.judged, found.errors), (0, 1))
        self.assertIn("so nothing was changed", found.trials[0].reason or "")

    def test_other_words_of_the_user(self) -> None:
        trace = self.fork(self.parent_id, "t2", say="Thank you.")
        said = [e["text"] for e in trace["events"] if e["kind"] == "turn"]
        self.assertEqual(said, ["When is high water today?", "Thank you."])
        self.assertEqual(len(self.calls(trace)), 1)

    def test_another_model_and_what_it_costs_is_not_told(self) -> None:
        trace = self.fork(self.parent_id, "m2", model="hasty")
        self.assertEqual(trace["fork"]["change"], "with the model hasty")
        self.assertEqual(trace["prices"], {})


class Apart(ForkCase):
    """Forks that do not get to their point, and pasts that are not brought about again."""

    def coded_parent(self, code: str) -> int:
        self.python_agent(code)
        run = self.plan(["coded"], 1)
        self.carry_out(run)
        (trial,) = self.trials(run)
        return trial.id

    def test_an_agent_that_does_something_else_parts_and_does_not_count(self) -> None:
        parent = self.coded_parent(coded("mon", times=2))
        self.assertEqual(self.forks(parent, "c2").parted, 0)
        self.python_agent(coded("tue", times=2))
        found = self.forks(parent, "c2", repeats=2)
        self.assertEqual((found.judged, found.parted, found.errors), (0, 2, 0))
        self.assertEqual(found.words, "unchanged: 2 parted")
        reason = "parted before its point at c1: tides/high_water is called with other arguments"
        self.assertEqual(found.trials[0].reason, reason)
        self.assertIsNone(self.trace(found.trials[0].id)["fork"]["t"])
        self.python_agent(coded("mon", times=1))
        found = self.forks(parent, "c2")
        self.assertEqual(found.trials[0].reason, "parted before its point: it ended before c2")

    def test_the_agents_own_calls_are_made_again_and_compared(self) -> None:
        noting = coded("mon", times=2).replace(
            "    await asyncio.to_thread(call,",
            "    trial.report_call('note', {'n': number}, result='kept', ms=2.5)\n"
            "            await asyncio.to_thread(call,",
        )
        parent = self.coded_parent(noting)
        events = self.trace(parent)["events"]
        own = [e["id"] for e in events if e["kind"] == "call" and e["tool"] == "own/note"]
        self.assertEqual(len(own), 2)
        run = self.trials(1)[0].run_id
        self.assertEqual(self.came(run), Replayed("same"))
        with self.assertRaisesRegex(RunError, "did not pass a tool server"):
            self.forks(parent, own[0])
        last = [e["id"] for e in events if e["kind"] == "call" and e["seam"] == "tool"][-1]
        self.assertEqual(self.forks(parent, last).parted, 0)
        self.python_agent(noting.replace("'n': number", "'n': 7"))
        self.assertEqual(self.came(run).first, "own/note is called with other arguments")

    def test_other_words_to_the_model_part(self) -> None:
        parent = self.coded_parent(asking(2))
        self.assertEqual(self.forks(parent, "m2").parted, 0)
        self.python_agent(asking(2).replace('"content": text', '"content": text + "!"'))
        found = self.forks(parent, "m2")
        self.assertIn("a user message is reworded", found.trials[0].reason or "")

    def test_a_mock_that_answers_otherwise_than_it_did_is_said_to(self) -> None:
        parent = self.parent()
        with Session(self.engine) as session, session.begin():
            trace = read_trace(session, parent.id)
            assert trace is not None
            beside = gather_beside(session, parent.id)
            self.calls(trace)[0]["result"] = {"high_water": "13:00", "asked": 1}
            answer = beside.wire["c1"].answer.replace("14:31", "13:00")
            beside.wire["c1"] = beside.wire["c1"]._replace(answer=answer)
            keep_trace(session, parent.id, trace, beside)
        trace = self.fork(parent.id, "c2", error="No.")
        self.assertEqual(self.calls(trace)[0]["result"]["high_water"], "13:00")
        (unlike,) = trace["fork"]["unlike"]
        self.assertIn('c1 tides/high_water: it says {"asked":1,"high_water":"14:31"}', unlike)

    def test_a_live_server_goes_on_as_it_is_and_its_past_calls_are_not_made(self) -> None:
        live = f"live: {{command: [{sys.executable}, {QUICK_TIDES}]}}\n"
        path = self.root / "servers/tides.yaml"
        path.write_text(path.read_text().replace("mock:", f"{live}mock:", 1))
        self.change("tasks/small.yaml", "tides: mock", "tides: live")
        parent = self.parent()
        trace = self.fork(parent.id, "m2")
        self.assertEqual(trace["fork"]["not_repeated"], ["tides"])
        self.assertEqual(self.timeless(self.calls(trace))[:1], self.timeless(
            self.calls(self.trace(parent.id)))[:1])  # fmt: skip

    def test_times_of_a_fork_are_not_told(self) -> None:
        self.change("tasks/small.yaml", "    expect:", "    budget: {turn_ms: 60000}\n    expect:")
        parent = self.parent()
        (only,) = self.forks(parent.id, "c2").trials
        with Session(self.engine) as session:
            whole, fork = (read_result(session, trial) for trial in (parent.id, only.id))
        assert whole is not None and fork is not None
        self.assertEqual(whole["scores"]["latency"], 1.0)
        self.assertIsNone(fork["scores"]["latency"])
        self.assertEqual(fork["latency"]["turn_ms"], [None, None])
        self.assertIsNone(only.turn_ms)


class Runs(ForkCase):
    def test_forks_are_compared_with_those_of_the_same_change_only(self) -> None:
        parent = self.parent()
        first = self.forks(parent.id, "c2", repeats=2)
        other = self.forks(parent.id, "c2", repeats=2, error="No table.")
        again = self.forks(parent.id, "c2", repeats=2)
        with Session(self.engine) as session:
            bases = [
                read_ledger(session, found.run, read_cells(session, found.run)).bases
                for found in (first, other, again)
            ]
        self.assertEqual(bases, [[], [], [first.run]])

    def test_forks_are_no_run_among_the_others(self) -> None:
        parent = self.parent()
        found = self.forks(parent.id, "c2", repeats=2)
        with Session(self.engine) as session:
            self.assertEqual([run.id for run in newest_runs(session)], [parent.run_id])
            self.assertEqual(newest_run_number(session), parent.run_id)
            self.assertEqual(run_before_with(session, "plain", 9), parent.run_id)
            rates = read_past_rates(session, ["small"], ["plain"])
            sentence = fork_sentence(session, parent.id, [found])
        self.assertEqual(rates, {("small", "high", "plain"): 1.0})
        self.assertEqual(sentence, "as it was: passes; from here unchanged: 2 of 2 passed")

    def test_a_worker_that_is_killed_in_the_middle_of_forks_resumes(self) -> None:
        parent = self.parent()
        self.change("stand_ins/desk.yaml", "latency: {ms: 0}", "latency: {ms: 150}")
        slow = self.parent()
        wish = ForkWish(slow.id, "t2", ForkChange(), 6)
        run = plan_forks(self.engine, load_workspace(self.root), wish, at_once=1)
        worker = start_worker(self.root, run)
        until(lambda: any(trial.state == "done" for trial in self.trials(run)))
        worker.kill()
        worker.wait()
        self.assertEqual(self.state(run), "interrupted")
        make_ready_again(self.engine, self.root, run)
        self.carry_out(run)
        self.assertEqual([trial.verdict for trial in self.trials(run)], ["pass"] * 6)
        first, last = self.trials(run)[0], self.trials(run)[-1]
        whole = self.trace(parent.id)["events"]
        for trial in (first, last):
            self.assertEqual(self.timeless(self.trace(trial.id)["events"]), self.timeless(whole))

    def test_scoring_a_fork_again_keeps_what_struck_it(self) -> None:
        parent = self.parent()
        found = self.forks(parent.id, "c2", fault={"do": "protocol_error"})
        (only,) = found.trials
        with Session(self.engine) as session:
            before = read_result(session, only.id)
        workspace = load_workspace(self.root)
        rescore_next(self.engine, workspace.suites["small"], workspace.suites["small"].tasks)
        with Session(self.engine) as session:
            after = read_result(session, only.id)
        assert before is not None and after is not None
        self.assertEqual(before["verdict"], after["verdict"])


class Command(ForkCase):
    def setUp(self) -> None:
        super().setUp()
        work_in_threads(self)

    def command(self, *words: str) -> Result:
        return CliRunner().invoke(main, ["fork", str(self.root), *words])

    def test_what_came_of_it_is_one_sentence_and_a_line_for_each_fork(self) -> None:
        parent = self.parent()
        first = self.command(str(parent.id), "--at", "c2", "--repeats", "2")
        self.assertEqual(first.exit_code, 0, first.output)
        file = self.write("answer.json", '{"high_water": "02:00", "asked": 3}')
        told = self.command(str(parent.id), "--at", "c2", "--answer", str(file))
        self.assertEqual(told.exit_code, 0, told.output)
        sentence = (
            "as it was: passes; from here unchanged: 2 of 2 passed; "
            "from here with another answer: 1 of 1 passed"
        )
        self.assertIn(sentence, told.output)
        self.assertIn(": pass", told.output)

    def test_each_change_has_an_option(self) -> None:
        parent = self.parent()
        for at, words, change in (
            ("c2", ("--error", "No table."), "with an error in place of the answer"),
            ("c2", ("--fault", "planted_text", "--text", "Hm."), "with a planted text"),
            ("m3", ("--say", "Hm."), "with other words"),
            ("m3", ("--call", "tides/low_water", json.dumps({"day": "x"})), "with tides/low_water"),
            ("m3", ("--model", "hasty"), "with the model hasty"),
            ("m3", ("--without", "tides/low_water"), "without tides/low_water"),
            ("t2", ("--wording", "tides/low_water", "Low."), "with another description of tides"),
        ):
            with self.subTest(words):
                told = self.command(str(parent.id), "--at", at, *words)
                self.assertIn(f"from here {change}", told.output)

    def test_what_cannot_be_wished_for(self) -> None:
        parent = str(self.parent().id)
        for words, why in (
            (("--at", "c9"), "no such place"),
            (("--at", "c1", "--text", "x"), "--text is of a fault"),
            (("--at", "c1", "--error", "x", "--model", "hasty"), "one thing at the most"),
            (("--at", "c1", "--fault", "sunshine"), "/fault/do"),
            (("--at", "c1", "--fault", "planted_text"), "`planted_text` needs `text`"),
            (("--at", "m1", "--call", "nowhere", "{}"), "/call/tool"),
            (("--at", "m1", "--call", "a/b", "[]"), "/call/args"),
        ):
            with self.subTest(words):
                told = self.command(parent, *words)
                self.assertEqual(told.exit_code, 2, told.output)
                self.assertIn(why, told.output)
