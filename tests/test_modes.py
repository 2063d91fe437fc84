"""Trials against live and recorded servers, and under another wording."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from mcp import Client

from ferox.agents.links.link import AgentHooks, AgentSetup
from ferox.core.rewording import Rewording
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.server import ToolWording
from ferox.gateway.gateway import Gateway
from ferox.recordings.recording import read_recording
from ferox.runs.captures import Captures
from ferox.runs.cell_setup import cell_setup
from ferox.runs.overrides import Overrides
from ferox.runs.records import RunError, plan_run
from ferox.runs.snapshot import take_snapshot
from ferox.runs.trial import TrialRun, TrialSurroundings
from ferox.runs.trial_seams import SeamTaps
from ferox.store.database import open_database
from ferox.workspace import load_workspace
from ferox.workspace.load import load_loosely
from tests.test_recording import HEADER, LINES, call
from tests.test_trial import PuppetLink, TrialCase

TIDES = Path(__file__).parent / "servers/quick_tides.py"
LIVE = f"live: {{command: [{sys.executable}, {TIDES}]}}"


async def asks(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
    """Calls the tool as it is named at the seam, and says what came."""
    async with Client(setup.servers["tides"]) as client:
        tools = {t.name: t for t in (await client.list_tools()).tools}
        name = next(n for n in tools if n in ("high_water", "flood_times"))
        schema = tools[name].input_schema
        argument = next(iter(schema.get("properties") or ["day"]))
        given: Any = await client.call_tool(name, {argument: "2031-03-14"})
    return f"{name} says {given.content[0].text}"


class ModesCase(TrialCase):
    def serve_tides(self, *lines: str) -> None:
        """The server's file with more ways, its mock kept."""
        path = self.root / "servers/tides.yaml"
        text = path.read_text().replace("mock:", "\n".join([*lines, "mock:"]), 1)
        path.write_text(text)

    def record(self, *lines: Any) -> None:
        text = "\n".join(json.dumps(x) for x in [HEADER, *LINES, *lines])
        self.write("recordings/calm.jsonl", text + "\n")
        self.serve_tides("recording: recordings/calm.jsonl")

    async def run_in(self, mode: str, capture: bool = False) -> Any:
        self.change("tasks/small.yaml", "tides: mock", f"tides: {mode}")
        job = self.job()
        captures = Captures(self.root, 1, job.snapshot)
        async with Gateway().serve() as gateway:
            link = PuppetLink(asks)
            heard = (
                (lambda server: captures.line_listener(server, mode)) if capture else lambda _: None
            )
            surroundings = TrialSurroundings(
                gateway=gateway, link=link, folder=self.root, taps=SeamTaps(capture=heard)
            )
            trace = await TrialRun(job, surroundings).carry_out()
        captures.close()
        return trace

    def called(self, trace: Any) -> Any:
        (event,) = [e for e in trace["events"] if e["kind"] == "call"]
        return event


class Modes(ModesCase):
    async def test_recorded(self) -> None:
        self.record(*call(7, {"day": "2031-03-14"}, "14:31", 4))
        trace = await self.run_in("recorded")
        self.assertEqual(self.called(trace)["result"], "14:31")
        self.assertNotIn("tides", trace["state"])
        self.assertEqual(trace["modes"], {"tides": "recorded"})
        self.assertGreaterEqual(self.called(trace)["s"], 0.01)  # as long as it took then
        suite = self.job().snapshot.suites["small"]
        result = score_trial(compile_script(suite, suite.tasks[0]), trace)
        self.assertEqual(result["scores"]["choice"], 1.0)

    async def test_the_clock_is_the_recording_s_own_unless_the_suite_sets_one(self) -> None:
        self.record()
        self.change("tasks/small.yaml", "tides: mock", "tides: recorded")
        self.assertEqual(self.job().snapshot.suites["small"].clock, HEADER["captured_at"])
        self.change(
            "tasks/small.yaml", "suite: small", 'suite: small\nclock: "2032-01-01T00:00:00Z"'
        )
        self.assertEqual(self.job().snapshot.suites["small"].clock, "2032-01-01T00:00:00Z")

    async def test_another_suite_of_the_run_changes_neither_clock_nor_setup(self) -> None:
        self.record()
        played = (self.root / "tasks/small.yaml").read_text().replace("suite: small", "suite: two")
        self.write("tasks/two.yaml", played.replace("tides: mock", "tides: recorded"))
        workspace = load_workspace(self.root)
        agent = next(iter(workspace.agents))
        alone, beside = (
            take_snapshot(workspace, s, [agent]) for s in (["small"], ["small", "two"])
        )
        self.assertEqual(beside.suites["small"].clock, alone.suites["small"].clock)
        self.assertEqual(beside.suites["two"].clock, HEADER["captured_at"])
        of = [cell_setup(s, "small", agent, Overrides(), None) for s in (alone, beside)]
        self.assertEqual(*of)

    async def test_another_recording_is_another_set_of_servers(self) -> None:
        self.record()
        self.change("tasks/small.yaml", "tides: mock", "tides: recorded")
        workspace = load_workspace(self.root)
        agent = next(iter(workspace.agents))
        before = take_snapshot(workspace, ["small"], [agent])
        path = self.root / "recordings/calm.jsonl"
        path.write_text(path.read_text().replace("14:31", "14:32"))
        after = take_snapshot(workspace, ["small"], [agent])
        one, two = (cell_setup(s, "small", agent, Overrides(), None) for s in (before, after))
        self.assertEqual({part for part in one if one[part] != two[part]}, {"servers"})

    async def test_a_nearest_answer_is_marked(self) -> None:
        self.record()
        self.serve_tides("replay: {match: nearest}")
        trace = await self.run_in("recorded")
        self.assertTrue(self.called(trace)["nearest"])

    async def test_what_was_not_recorded_is_an_error_of_the_protocol(self) -> None:
        self.record()
        trace = await self.run_in("recorded")
        self.assertEqual(self.called(trace)["error"]["kind"], "protocol_error")
        self.assertIn("not recorded", self.called(trace)["error"]["message"])

    async def test_a_miss_goes_to_the_live_server_and_is_captured(self) -> None:
        self.record()
        self.serve_tides(LIVE, "replay: {miss: live}")
        trace = await self.run_in("recorded", capture=True)
        self.assertEqual(self.called(trace)["result"], {"result": "14:31 on 2031-03-14"})
        captured = read_recording(self.root / ".ferox/captures/run-1/tides.jsonl")
        self.assertEqual(captured.calls[0].args, {"day": "2031-03-14"})

    async def test_live_is_captured_as_a_recording(self) -> None:
        self.serve_tides(LIVE)
        trace = await self.run_in("live", capture=True)
        self.assertEqual(self.called(trace)["result"], {"result": "14:31 on 2031-03-14"})
        self.assertIn("tides/sound", trace["tools"])
        captured = read_recording(self.root / ".ferox/captures/run-1/tides.jsonl")
        self.assertEqual([c.tool for c in captured.calls], ["high_water"])
        self.assertEqual(captured.header.server, "tides")

    async def test_faults_strike_whatever_answers(self) -> None:
        self.record(*call(7, {"day": "2031-03-14"}, "14:31", 4))
        self.serve_tides(LIVE)
        self.add("    faults: [{server: tides, call: 1, do: tool_error, text: The book is wet.}]\n")
        for mode in ("recorded", "live"):
            trace = await self.run_in(mode)
            self.change("tasks/small.yaml", f"tides: {mode}", "tides: mock")
            event = self.called(trace)
            self.assertEqual((event["fault"], event["fault_n"]), ("tool_error", 0))
            self.assertEqual(event["error"]["message"], "The book is wet.")

    async def test_what_is_not_offered_does_not_exist_in_any_mode(self) -> None:
        self.serve_tides(LIVE)
        self.change("agents/plain.yaml", "model: steady", "model: steady\noffer: {tides: [high_*]}")
        trace = await self.run_in("live")
        self.assertEqual(list(trace["tools"]), ["tides/high_water"])

    async def test_a_variant(self) -> None:
        self.serve_tides(f"variants: {{near: {LIVE.removeprefix('live: ')}}}")
        trace = await self.run_in("near")
        self.assertEqual(self.called(trace)["result"], {"result": "14:31 on 2031-03-14"})

    async def test_a_server_out_of_reach_is_never_the_agent_s_fault(self) -> None:
        self.serve_tides("live: {command: [no-such-command]}")
        trace = await self.run_in("live")
        end = trace["events"][-1]
        self.assertEqual(end["why"], "could_not_run")
        self.assertIn("`no-such-command` was not found", end["reason"])
        suite = self.job().snapshot.suites["small"]
        self.assertEqual(
            score_trial(compile_script(suite, suite.tasks[0]), trace)["verdict"], "error"
        )

    async def test_truth_is_looked_up_in_a_recording_and_takes_no_turn(self) -> None:
        found = [*call(7, {"day": "2031-03-14"}, "1", 4), *call(8, {"day": "2031-03-14"}, "2", 5)]
        self.record(*found)
        self.add('    truth: [{as: real, tool: tides/high_water, args: {day: "2031-03-14"}}]\n')
        trace = await self.run_in("recorded")
        self.assertEqual(trace["truth"]["real"]["result"], 1)
        self.assertEqual(self.called(trace)["result"], 1)


class Wording(ModesCase):
    WORDING = (
        "wording: {high_water: {name: flood_times, description: When it is full., "
        "arguments: {day: {name: date, description: Which date.}}}}"
    )

    async def test_calls_are_mapped_back_in_any_mode(self) -> None:
        self.serve_tides(LIVE, self.WORDING)
        for mode in ("mock", "live"):
            trace = await self.run_in(mode)
            self.change("tasks/small.yaml", f"tides: {mode}", "tides: mock")
            event = self.called(trace)
            self.assertEqual(event["tool"], "tides/high_water")
            self.assertEqual(event["args"], {"day": "2031-03-14"})
            self.assertEqual(event["sent"], {"date": "2031-03-14"})
            shown = trace["tools"]["tides/high_water"]
            self.assertEqual(
                (shown["name"], shown["description"]), ("flood_times", "When it is full.")
            )
            self.assertEqual(shown["input"]["properties"]["date"]["description"], "Which date.")
            self.assertIn("flood_times says", trace["events"][-2]["text"])

    async def test_the_change_is_part_of_the_snapshot(self) -> None:
        self.serve_tides(self.WORDING)
        wording = self.job().snapshot.servers["tides"].wording
        self.assertEqual(wording["high_water"].name, "flood_times")

    def test_the_own_name_is_gone_and_swapped_names_are_distinguished(self) -> None:
        words = {"a": ToolWording(name="b"), "b": ToolWording(name="a"), "c": ToolWording(name="d")}
        names = Rewording(words)
        self.assertEqual([names.own_name(n) for n in ("b", "a", "d")], ["a", "b", "c"])
        self.assertNotEqual(names.own_name("c"), "c")

    def test_a_wording_that_fits_nothing_is_refused_with_its_place(self) -> None:
        self.serve_tides("wording: {high_watr: {name: x}, low_water: {name: high_water}}")
        _, problems = load_loosely(self.root)
        found = " ".join(str(p) for p in problems)
        self.assertIn("`high_watr`: no such tool", found)
        self.assertIn("two tools would be called `high_water`", found)


class Checking(ModesCase):
    def problem_text(self) -> str:
        return " ".join(str(p) for p in load_loosely(self.root)[1])

    async def test_modes_that_a_server_has_not(self) -> None:
        self.change("tasks/small.yaml", "tides: mock", "tides: recorded")
        self.assertIn("`tides` has no `recorded`", self.problem_text())
        workspace = load_loosely(self.root)[0]
        engine = open_database(self.root)
        for modes, words in (
            ({"tides": "live"}, "no such mode of this server; there is mock"),
            ({"harbour": "mock"}, "`harbour`: no such server"),
        ):
            with self.assertRaises(RunError) as caught:
                plan_run(
                    engine, workspace, ["small"], ["plain"], 1, 1, overrides=Overrides(modes=modes)
                )
            self.assertIn(words, str(caught.exception))

    async def test_recordings_and_policies(self) -> None:
        self.serve_tides("recording: recordings/none.jsonl", "replay: {miss: live}")
        self.assertIn("none.jsonl", self.problem_text())
        self.assertIn("`miss: live` needs a `live`", self.problem_text())
        self.change("servers/tides.yaml", "recordings/none.jsonl", "../outside.jsonl")
        self.assertIn("leaves the workspace", self.problem_text())

    async def test_a_run_may_override_the_suite(self) -> None:
        self.record(*call(7, {"day": "2031-03-14"}, "14:31", 4))
        loaded = load_workspace(self.root)
        engine = open_database(self.root)
        self.assertEqual(
            plan_run(
                engine,
                loaded,
                ["small"],
                ["plain"],
                1,
                1,
                overrides=Overrides(modes={"tides": "recorded"}),
            ),
            1,
        )

    async def test_mocks_are_checked_to_the_expression(self) -> None:
        self.change(
            "servers/tides.yaml",
            'give: {high_water: "14:31"}',
            'error: both\n          give: {high_water: "{{ args. }}"}',
        )
        self.change("servers/tides.yaml", "{type: object, properties: {day: {type: string}}}",
                    "{type: object, properties: {day: {type: sting}}}")  # fmt: skip
        found = self.problem_text()
        self.assertIn("one of give, give_in_turn, content, error; here: `error`, `give`", found)
        self.assertIn("`{{ args. }}`", found)
        self.assertIn("not JSON Schema", found)
