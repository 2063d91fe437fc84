"""The files that connect an agent: each is run as it is, with its real framework."""

from __future__ import annotations

import asyncio
import shutil
import sys
from pathlib import Path
from typing import Any

from ferox.core.remarks import trial_remarks
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.gateway.gateway import Gateway
from ferox.making.connecting import CONNECTIONS, connection_files, find_connection
from ferox.runs.linking import link_of
from ferox.runs.snapshot import take_snapshot
from ferox.runs.trial import TrialJob, TrialRun, TrialSurroundings
from ferox.workspace import load_workspace
from tests.workspaces import WorkspaceCase

DEMO = Path(__file__).resolve().parents[1] / "demo"
OLD, NEW = (str(DEMO / f".venv-agents{end}/bin/python") for end in ("", "-mcp2"))
PIPELINE = """
    from contextlib import AsyncExitStack, asynccontextmanager
    from agents import Agent, OpenAIChatCompletionsModel, Runner, set_tracing_disabled
    from agents.mcp import MCPServerStreamableHttp
    from openai import AsyncOpenAI

    set_tracing_disabled(True)

    @asynccontextmanager
    async def open_desk(trial):
        model_seam = trial.models["main"]
        client = AsyncOpenAI(base_url=model_seam["base_url"], api_key=model_seam["api_key"])
        model = OpenAIChatCompletionsModel(model_seam["name"], client)
        async with AsyncExitStack() as stack:
            tides = MCPServerStreamableHttp({"url": trial.servers["tides"]["url"]}, name="tides")
            await stack.enter_async_context(tides)
            clerk = Agent(name="clerk", instructions="You are the tide clerk.", model=model,
                          mcp_servers=[tides])
            look_up = clerk.as_tool("ask_clerk", "Looks up times of high water on one day.")
            head = Agent(name="head", instructions="You are the head of the desk.", model=model,
                         tools=[look_up])

            async def say(text):
                return (await Runner.run(head, text)).final_output

            yield say
"""
DESK = """
    ferox: 1
    stand_in: desk
    latency: {ms: 0}
    scenes:
      - request: when is high water today
        does:
          - as: high
            intent: looks up times of high water on one day
            values: {input: {constant: When is the tide highest this day?}, day: {day: 0}}
          - {say: "The clerk says: {{ high }}"}
      - request: when is the tide highest this day
        does:
          - {as: high, intent: times of high water on one day, values: {day: {day: 0}}}
          - {say: "High water is at {{ high.high_water }}."}
"""


class RunCase(WorkspaceCase):
    def trial(self, agent: str) -> tuple[Any, Any]:
        snapshot = take_snapshot(load_workspace(self.root), ["small"], [agent])
        job = TrialJob(snapshot, "small", "high", agent, 1, 1)

        async def carry_out() -> Any:
            link = link_of(snapshot, agent, self.root)
            async with Gateway().serve() as gateway:
                try:
                    surroundings = TrialSurroundings(gateway=gateway, link=link)
                    return await TrialRun(job, surroundings).carry_out()
                finally:
                    await link.shut_down()

        trace = asyncio.run(carry_out())
        script = compile_script(snapshot.suites["small"], snapshot.find_task("small", "high"))
        return trace, score_trial(script, trace)


class Connections(RunCase):
    def connect(self, name: str, python: str = "") -> tuple[Any, Any]:
        found = find_connection(name)
        assert found is not None
        for file, text in connection_files(found, "new-desk", "steady").items():
            self.write(file, text.replace(".venv/bin/python", python))
        return self.trial("new-desk")

    def test_each_framework_as_it_is_written(self) -> None:
        for name, python in (
            ("langgraph", OLD), ("smolagents", OLD), ("openai-agents", NEW),
            ("pydantic-ai", NEW), ("plain", ""),
        ):  # fmt: skip
            with self.subTest(name):
                trace, result = self.connect(name, python)
                self.assertEqual(result["verdict"], "pass", (result, trace["events"]))
                self.assertTrue(trace["model_seam"])
                self.assertTrue(trace["link"]["closed"])

    def test_javascript_over_the_process_link(self) -> None:
        (self.root / "agents").mkdir(exist_ok=True)
        (self.root / "agents/node_modules").symlink_to(DEMO / "agents/js/node_modules")
        shutil.copy(DEMO / "agents/js/package.json", self.root / "agents/package.json")
        _, result = self.connect("process")
        self.assertEqual(result["verdict"], "pass")

    def test_any_python_needs_no_package(self) -> None:
        trace, result = self.connect("python", sys.executable)
        self.assertEqual(result["verdict"], "pass", (result, trace["events"]))
        self.assertTrue(trace["model_seam"])

    def test_every_connection_makes_files_that_load(self) -> None:
        for found in CONNECTIONS:
            with self.subTest(found.name):
                for file, text in connection_files(found, "new-desk", "steady").items():
                    self.write(file, text)
                self.assertEqual(load_workspace(self.root).agents["new-desk"].link, found.link)


class Pipelines(RunCase):
    def test_the_parts_of_one_agent_are_distinguished(self) -> None:
        self.write("stand_ins/desk.yaml", DESK)
        self.python_agent(PIPELINE, python=NEW, own_tools="[ask_clerk]",
                          timeouts="{start_s: 60, turn_s: 30}")  # fmt: skip
        trace, _ = self.trial("coded")
        spoken = [e["voice"] for e in trace["events"] if e["kind"] == "model"]
        self.assertEqual(spoken, ["head", "tide-clerk", "tide-clerk", "head"])
        self.assertEqual(trace["voices"]["head"]["tools"], ["ask_clerk"])
        self.assertEqual(trace["voices"]["tide-clerk"]["tools"], ["high_water", "low_water"])
        own, tool = (e for e in trace["events"] if e["kind"] == "call")
        self.assertEqual((own["seam"], own["tool"], own["by"]), ("local", "own/ask_clerk", "head"))
        self.assertEqual((tool["seam"], tool["tool"]), ("tool", "tides/high_water"))
        self.assertIsNotNone(tool["proposal"])
        self.assertEqual(own["result"], {"high_water": "14:31"})
        self.assertIn("voices", [r.kind for r in trial_remarks(trace)])
