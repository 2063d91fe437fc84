"""Stored trials, played back to real agents: the same again, and what a change of theirs does."""

from __future__ import annotations

import asyncio
import shutil
import sys
import textwrap
from collections.abc import Collection
from typing import Any
from unittest.mock import patch

from click.testing import CliRunner, Result
from sqlalchemy.orm import Session

from ferox.cli.main import main
from ferox.core.replay_verdict import Replayed
from ferox.runs.records import plan_run
from ferox.runs.replay.replay_run import (
    ReplayChoice,
    RunReplay,
    chosen_trials,
    replay_trials,
)
from ferox.runs.replay.stored_trial import NotReplayable, read_stored
from ferox.store import tables
from ferox.store.results import read_result
from ferox.store.traces import read_wire
from ferox.workspace.load import load_workspace
from tests.test_runs import QUICK_TIDES, RunCase
from tests.workspaces import FEROX, PLAIN, SUITE


class ReplayCase(RunCase):
    def python_agent(self, code: str, name: str = "coded", **fields: object) -> None:
        """As ever; what was compiled of the code before it is removed, for it may be as long, and
        of the same second."""
        shutil.rmtree(self.root / "agents/__pycache__", ignore_errors=True)
        super().python_agent(code, name, **fields)

    def finished(self, *agents: str, repeats: int = 1) -> int:
        run = self.plan(list(agents) or ["plain"], repeats)
        self.carry_out(run)
        return run

    def replayed(self, run: int, trials: Collection[int] = ()) -> RunReplay:
        """A run's trials, played back to the workspace as it is now."""

        async def play() -> RunReplay:
            workspace, numbers = load_workspace(self.root), chosen_trials(
                self.engine, run, ReplayChoice(trials)
            )  # fmt: skip
            came = RunReplay()
            async for trial in replay_trials(self.engine, workspace, run, numbers):
                came.trials.append(trial)
            return came

        return asyncio.run(play())

    def came(self, run: int) -> Replayed:
        (only,) = self.replayed(run).trials
        return only.came

    def event(self, run: int, kind: str) -> Any:
        (trial,) = self.trials(run)
        return next(e for e in self.trace(trial.id)["events"] if e["kind"] == kind)


class Same(ReplayCase):
    def test_the_same_agent_does_the_same_and_asks_no_model_and_no_server(self) -> None:
        run = self.finished(repeats=3)
        # Neither would say now what it said then.
        self.change("stand_ins/desk.yaml", "High water is at", "I cannot tell")
        self.change("servers/tides.yaml", '"14:31"', '"03:30"')
        found = self.replayed(run)
        self.assertEqual([one.came for one in found.trials], [Replayed("same")] * 3)
        self.assertEqual(found.sentence, "3 of 3 trials the same")

    def test_nothing_of_a_replay_is_kept_among_the_runs_trials(self) -> None:
        run = self.finished()
        (trial,) = self.trials(run)
        with Session(self.engine) as session:
            before = read_result(session, trial.id)
        self.replayed(run)
        with Session(self.engine) as session:
            self.assertEqual(session.query(tables.Trial).count(), 1)
            self.assertEqual(read_result(session, trial.id), before)

    def test_faults_come_again(self) -> None:
        for fault, there in (
            ("{do: tool_error, server: tides, tool: high_water, call: 1}", "call"),
            ("{do: protocol_error, server: tides, tool: high_water, call: 1}", "call"),
            ("{do: timeout, server: tides, tool: high_water, call: 1, after_ms: 40}", "call"),
            ("{do: drop, server: tides, tool: high_water, call: 1}", "call"),
            ("{do: lost_session, server: tides, tool: high_water, call: 1}", "call"),
            ("{do: status, server: tides, tool: high_water, call: 1, status: 500}", "call"),
            ("{do: garbled, server: tides, tool: high_water, call: 1}", "call"),
            ("{do: empty, server: tides, tool: high_water, call: 1}", "call"),
            ("{do: slow, server: tides, tool: high_water, call: 1, ms: 20}", "call"),
            (
                "{do: planted_text, server: tides, tool: high_water, call: 1, text: Call me.}",
                "call",
            ),
            ("{do: model_status, call: 1, status: 503}", "model"),
            ("{do: model_bad_arguments, call: 1}", "model"),
            ("{do: model_unknown_tool, call: 1}", "model"),
            ("{do: model_cut_off, call: 1}", "model"),
            ("{do: model_slow, call: 1, ms: 5}", "model"),
            ("{do: wrong_shape, server: tides, tool: high_water, call: 1}", "call"),
            ("{do: huge, server: tides, tool: high_water, call: 1, bytes: 90000}", "call"),
            ("{do: missing_tool, server: tides, tool: high_water, call: 1}", "call"),
            ("{do: tools_changed, server: tides, tool: high_water, call: 1}", "call"),
        ):
            with self.subTest(fault):
                self.write("tasks/small.yaml", SUITE)
                line = f"    faults: [{fault}]\n    expect:"
                self.change("tasks/small.yaml", "    expect:", line)
                run = self.finished()
                self.assertIsNotNone(self.event(run, there).get("fault"))
                self.assertEqual(self.came(run), Replayed("same"))

    def test_approvals_are_decided_as_they_were(self) -> None:
        asks = """
            for day in ("mon", "tue", "wed"):
                ok, args = await trial.ask_approval("tides/high_water", {"day": day})
                if ok:
                    await asyncio.to_thread(call, trial.servers["tides"]["url"], args["day"])
        """
        lines = textwrap.indent(textwrap.dedent(asks).strip(), " " * 8)
        code = coded("mon", times=0).replace(
            '"arguments": {"day": \'mon\'}', '"arguments": {"day": number}'
        )
        self.python_agent(
            code.replace("        return 'Done.'", f"{lines}\n        return 'Done.'")
        )
        decisions = "[{tool: tides/high_water, decision: deny, at_most: 1}, " \
            "{tool: tides/high_water, decision: approve, edit: {day: sun}, at_most: 1}, " \
            "{tool: tides/high_water, decision: approve}]"  # fmt: skip
        line = f"    approvals: {decisions}\n    expect:"
        self.change("tasks/small.yaml", "    expect:", line)
        run = self.finished("coded")
        (trial,) = self.trials(run)
        events = self.trace(trial.id)["events"]
        asked = [e["decision"] for e in events if e["kind"] == "ask"]
        self.assertEqual(asked, ["deny", "approve", "approve"])
        went = [(e["args"]["day"], bool(e["error"])) for e in events if e["kind"] == "call"]
        self.assertEqual(went, [("mon", True), ("sun", False), ("wed", False)])
        self.assertEqual(self.came(run), Replayed("same"))
        self.change("tasks/small.yaml", "decision: deny", "decision: approve")
        # The task is the run's: today's file decides nothing.
        self.assertEqual(self.came(run), Replayed("same"))

    def test_answers_take_as_long_as_they_took_if_that_is_asked_for(self) -> None:
        self.change("stand_ins/desk.yaml", "latency: {ms: 0}", "latency: {ms: 300}")
        run = self.finished()
        waited: list[float] = []

        async def sleep(seconds: float) -> None:
            waited.append(seconds)

        with patch("ferox.runs.replay.played_back.sleep", sleep):
            told = CliRunner().invoke(main, ["replay", str(self.root), str(run), "--in-time"])
        self.assertIn("1 of 1 trial the same", told.output)
        (trial,) = self.trials(run)
        took = [e["s"] for e in self.trace(trial.id)["events"] if e["kind"] in ("model", "call")]
        self.assertEqual([seconds for seconds in waited if seconds in took], took)

    def test_a_live_server_is_neither_asked_nor_started(self) -> None:
        live = f"live: {{command: [{sys.executable}, {QUICK_TIDES}]}}\n"
        path = self.root / "servers/tides.yaml"
        path.write_text(path.read_text().replace("mock:", f"{live}mock:", 1))
        self.change("tasks/small.yaml", "tides: mock", "tides: live")
        run = self.finished()
        self.change("servers/tides.yaml", str(QUICK_TIDES), "/nowhere/tides.py")
        self.assertEqual(self.came(run), Replayed("same"))


class Changed(ReplayCase):
    def test_an_edited_prompt_is_other_words_to_the_model(self) -> None:
        self.write("agents/desk.md", "Look it up.\n")
        self.change(
            "agents/plain.yaml", "model: steady", "model: steady\ninstructions: agents/desk.md"
        )
        run = self.finished(repeats=2)
        self.write("agents/desk.md", "Look it up, always.\n")
        found = self.replayed(run)
        self.assertEqual(found.sentence, "0 of 2 trials the same; 2 tell the model something else")
        ((verdict, first, trials),) = found.groups()
        self.assertEqual((verdict, first), ("other words", "a system message is reworded"))
        self.assertEqual(len(trials), 2)
        # Each request repeats it, and it is told once.
        (difference,) = trials[0].came.differences
        self.assertEqual(difference.lines, ("-Look it up.", "+Look it up, always."))

    def test_a_parameter_and_a_tool_no_longer_offered(self) -> None:
        run = self.finished()
        with (self.root / "agents/plain.yaml").open("a") as file:
            file.write("params: {temperature: 0.5}\noffer: {tides: [high_water]}\n")
        came = self.came(run)
        self.assertEqual(came.verdict, "other words")
        self.assertEqual(
            [d.what for d in came.differences],
            [
                "the model is not shown the tool low_water",
                "the parameter temperature is another",
            ],
        )

    def test_code_that_calls_otherwise_parts_where_it_does(self) -> None:
        self.python_agent(coded("mon"))
        run = self.finished("coded")
        self.assertEqual(self.came(run), Replayed("same"))
        self.python_agent(coded("tue"))
        came = self.came(run)
        self.assertEqual(came.verdict, "parted")
        assert came.parted is not None
        self.assertEqual(came.parted.at, "c1")
        self.assertEqual(came.first, "tides/high_water is called with other arguments")
        self.python_agent(coded("mon", times=2))
        self.assertEqual(self.came(run).first, "tides/high_water is called once more")
        self.python_agent(coded("mon", times=0))
        self.assertEqual(self.came(run).first, "tides/high_water is not called")
        self.python_agent(coded("mon", says="So be it."))
        self.assertEqual(self.came(run).first, "the reply is another")
        self.python_agent(coded("mon").replace("return 'Done.'", "raise RuntimeError('dry')"))
        self.assertEqual(self.came(run).first, "crashes, which it did not")

    def test_an_agent_that_does_not_start_is_not_played_back(self) -> None:
        self.python_agent(coded("mon"))
        run = self.finished("coded")
        self.python_agent("raise ImportError('no such framework')\n")
        came = self.came(run)
        self.assertEqual(came.verdict, "not replayed")
        self.assertIn("no such framework", came.reason or "")

    def test_an_agent_that_is_no_more_is_not_played_back(self) -> None:
        self.write("agents/other.yaml", PLAIN.replace("plain", "other", 1))
        run = self.finished("plain", "other")
        (self.root / "agents/other.yaml").unlink()
        came = {one.order.agent: one.came for one in self.replayed(run).trials}
        self.assertEqual(came["plain"].verdict, "same")
        self.assertEqual(came["other"].reason, "the workspace has no agent other any more")

    def test_a_model_that_is_asked_once_more_ends_the_trial(self) -> None:
        self.python_agent(asking(1))
        run = self.finished("coded")
        self.assertEqual(self.came(run), Replayed("same"))
        self.python_agent(asking(2))
        self.assertEqual(self.came(run).first, "asks the model once more")
        self.python_agent(asking(0))
        came = self.came(run)
        self.assertEqual((came.verdict, came.first), ("other words", "asks the model less often"))
        self.python_agent(asking(1, stream=True))
        self.assertEqual(self.came(run).first, "asks for a stream")

    def test_streams_are_streams_again(self) -> None:
        self.python_agent(asking(2, stream=True))
        run = self.finished("coded")
        self.assertEqual(self.came(run), Replayed("same"))

    def test_a_conversation_that_the_responses_interface_remembers(self) -> None:
        for stream in (False, True):
            with self.subTest(stream=stream):
                self.python_agent(responding(stream=stream))
                run = self.finished("coded")
                asked = self.event(run, "model")
                self.assertIsNone(asked["error"])
                self.assertEqual(self.came(run), Replayed("same"))


class NotKept(ReplayCase):
    def stored(self, run: int) -> None:
        with Session(self.engine) as session:
            (trial,) = session.query(tables.Trial).where(tables.Trial.run_id == run)
            read_stored(session, trial)

    def test_a_trial_that_is_not_finished(self) -> None:
        with self.assertRaisesRegex(NotReplayable, "not finished"):
            self.stored(self.plan(["plain"], 1))

    def test_a_trial_that_could_not_run(self) -> None:
        self.change("servers/tides.yaml", "mock:", "live: {command: [/nowhere]}\nmock:")
        self.change("tasks/small.yaml", "tides: mock", "tides: live")
        with self.assertRaisesRegex(NotReplayable, "did not come to its end"):
            self.stored(self.finished())

    def test_answers_too_long_to_keep_are_said_to_be(self) -> None:
        self.change("stand_ins/desk.yaml", "High water is at {{", "x" * 90_000 + " {{")
        self.enterContext(patch("ferox.gateway.model_seam.model_requests.LONGEST_PIECE", 50_000))
        with self.assertRaisesRegex(NotReplayable, r"too long to keep \(90,\d{3}\)"):
            self.stored(self.finished())

    def test_what_is_kept_is_bounded_by_the_workspace(self) -> None:
        self.write(
            "tasks/two.yaml", SUITE.replace("suite: small", "suite: two").replace("14:31", "9")
        )
        for keep, kept in (("all", {"small", "two"}), ("failing", {"two"}), ("none", set())):
            with self.subTest(keep):
                self.write("ferox.yaml", FEROX)
                with (self.root / "ferox.yaml").open("a") as file:
                    file.write(f"defaults: {{keep: {keep}}}\n")
                suites = ["small", "two"]  # the second fails
                workspace = load_workspace(self.root)
                run = plan_run(self.engine, workspace, suites, ["plain"], 1, 2)
                self.carry_out(run)
                self.assertEqual({t.verdict for t in self.trials(run)}, {"pass", "fail"})
                found = self.replayed(run)
                same = {one.order.suite for one in found.trials if one.came.verdict == "same"}
                self.assertEqual(same, kept)
                for one in found.trials:
                    if one.order.suite not in kept:
                        self.assertIn("was not kept", one.came.reason or "")
                for trial in self.trials(run):
                    with Session(self.engine) as session:
                        there = read_wire(session, trial.id, "c1")
                    self.assertEqual(there is not None, trial.suite in kept)


class Command(ReplayCase):
    def command(self, *words: str) -> Result:
        return CliRunner().invoke(main, ["replay", str(self.root), *words])

    def test_statuses_and_words(self) -> None:
        self.python_agent(coded("mon"))
        run = str(self.finished("coded", "plain", repeats=2))
        came = self.command(run)
        self.assertEqual(came.exit_code, 0)
        self.assertIn("4 of 4 trials the same\n\n2 trials asked no model at Ferox", came.output)
        self.python_agent(coded("tue"))
        came = self.command(run)
        self.assertEqual(came.exit_code, 1)
        self.assertIn("2 of 4 trials the same; 2 part", came.output)
        self.assertIn("high_water is called with other arguments (2 trials)", came.output)
        self.assertIn('    - tides/high_water {"day":"mon"}', came.output)
        self.assertIn('    + tides/high_water {"day":"tue"}', came.output)
        self.assertEqual(self.command(run, "--agent", "plain").exit_code, 0)
        first = next(t.id for t in self.trials(int(run)) if t.agent == "plain")
        came = self.command(run, "--trial", str(first))
        self.assertEqual(came.output, "1 of 1 trial the same\n")
        self.python_agent("raise ImportError('gone')\n")
        came = self.command(run, "--agent", "coded")
        self.assertEqual(came.exit_code, 3)
        self.assertIn("0 of 0 trials the same; 2 could not be played back", came.output)

    def test_what_is_not_there_is_said(self) -> None:
        came = self.command("7")
        self.assertEqual(came.exit_code, 2)
        self.assertIn("there is no run 7", came.output)
        run = str(self.finished())
        came = self.command(run, "--agent", "nobody")
        self.assertIn(f"run {run} has no finished trial of these", came.output)


def coded(day: str, times: int = 1, says: str = "Done.") -> str:
    """An agent without a model that calls for high water of a day so many times."""
    return textwrap.dedent(f"""
        import asyncio, json, urllib.request
        from contextlib import asynccontextmanager

        HEADERS = {{"Content-Type": "application/json",
                   "Accept": "application/json, text/event-stream"}}

        def post(url, body, **headers):
            request = urllib.request.Request(
                url, json.dumps(body).encode(), {{**HEADERS, **headers}})
            with urllib.request.urlopen(request, timeout=10) as answer:
                answer.read()
                return answer.headers.get("mcp-session-id")

        def call(url, number):
            hello = {{"protocolVersion": "2025-06-18", "capabilities": {{}},
                     "clientInfo": {{"name": "coded", "version": "1"}}}}
            session = post(url, {{"jsonrpc": "2.0", "id": 1, "method": "initialize",
                                 "params": hello}})
            asked = {{"name": "high_water", "arguments": {{"day": {day!r}}}}}
            post(url, {{"jsonrpc": "2.0", "id": 2, "method": "tools/call", "params": asked}},
                 **{{"Mcp-Session-Id": session}})

        @asynccontextmanager
        async def open_desk(trial):
            async def say(text):
                for number in range({times}):
                    await asyncio.to_thread(call, trial.servers["tides"]["url"], number)
                return {says!r}
            yield say
        """)


def asking(times: int, *, stream: bool = False) -> str:
    """An agent that asks its model so many times, and calls nothing."""
    return textwrap.dedent(f"""
        import asyncio, json, urllib.request
        from contextlib import asynccontextmanager

        def ask(url, text):
            body = {{"model": "steady", "stream": {stream},
                    "messages": [{{"role": "user", "content": text}}]}}
            request = urllib.request.Request(
                url + "/chat/completions", json.dumps(body).encode(),
                {{"Content-Type": "application/json"}})
            with urllib.request.urlopen(request, timeout=10) as answer:
                return answer.read()

        @asynccontextmanager
        async def open_desk(trial):
            async def say(text):
                for number in range({times}):
                    await asyncio.to_thread(ask, trial.models["main"]["base_url"], text)
                return "Done."
            yield say
        """)


def responding(*, stream: bool) -> str:
    """An agent that asks its model twice by the responses interface, going on from its first
    answer, and calls nothing."""
    return textwrap.dedent(f"""
        import asyncio, json, urllib.request
        from contextlib import asynccontextmanager

        def ask(url, text, before):
            body = {{"model": "steady", "input": text, "stream": {stream}}}
            if before:
                body["previous_response_id"] = before
            request = urllib.request.Request(
                url + "/responses", json.dumps(body).encode(),
                {{"Content-Type": "application/json"}})
            with urllib.request.urlopen(request, timeout=10) as answer:
                words = answer.read().decode()
            if not {stream}:
                return json.loads(words)["id"]
            events = [json.loads(l[5:]) for l in words.splitlines() if l.startswith("data: {{")]
            return next(e["response"]["id"] for e in events if "response" in e)

        @asynccontextmanager
        async def open_desk(trial):
            async def say(text):
                first = await asyncio.to_thread(ask, trial.models["main"]["base_url"], text, None)
                await asyncio.to_thread(ask, trial.models["main"]["base_url"], "And?", first)
                return "Done."
            yield say
        """)
