"""Links to running services, each built with a real framework, and their standing addresses."""

from __future__ import annotations

import asyncio
import json
import shutil
import socket
from pathlib import Path
from typing import Any

import httpx2
from mcp import Client
from mcp.client.streamable_http import streamable_http_client
from mcp.shared.exceptions import MCPError

from ferox.agents import standing_addresses as standing
from ferox.agents.links.link import AgentSetup
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.gateway.gateway import Gateway
from ferox.making.connecting import CODE
from ferox.runs.linking import link_of
from ferox.runs.snapshot import Snapshot, take_snapshot
from ferox.runs.standing_addresses import serve_standing_addresses
from ferox.runs.trial import TrialJob, TrialRun, TrialSurroundings
from ferox.store.database import results_folder
from ferox.workspace import WorkspaceError, load_workspace
from tests.async_case import AsyncCase
from tests.endpoint import endpoint
from tests.workspaces import WorkspaceCase

ROOT = Path(__file__).resolve().parents[1]
OLD, NEW = (str(ROOT / f"demo/.venv-agents{end}/bin/python") for end in ("", "-mcp2"))
TWO_TURNS = """
    ferox: 1
    suite: small
    servers: {tides: mock}
    tasks:
      - task: high
        say: When is high water today?
        user: [{if_reply: {matches: "14:31"}, say: "And when is high water today, again?", at_most: 1}]
        expect:
          calls: [{as: high, tool: tides/high_water, args: {day: {day: today}}, times: {min: 1, max: 2}}]
          answer: [{mentions: "14:31"}]
          at_most: {turns: 2}
"""  # noqa: E501


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port


class ServiceCase(WorkspaceCase, AsyncCase):
    def setUp(self) -> None:
        super().setUp()
        self.standing = free_port()
        with (self.root / "ferox.yaml").open("a") as file:
            file.write(f"defaults: {{standing_port: {self.standing}}}\n")
        self.write("tasks/small.yaml", TWO_TURNS)

    def agent(self, **fields: Any) -> Snapshot:
        document = {"ferox": 1, "agent": "desk", "model": "steady", "timeouts": {"start_s": 60}}
        self.write("agents/desk.yaml", json.dumps({**document, **fields}))
        return take_snapshot(load_workspace(self.root), ["small"], ["desk"])

    async def trials(self, snapshot: Snapshot, count: int = 2) -> list[Any]:
        """Trials one after another, by one link."""
        link = link_of(snapshot, "desk", self.root)
        script = compile_script(snapshot.suites["small"], snapshot.find_task("small", "high"))
        found = []
        async with Gateway().serve() as gateway, serve_standing_addresses(self.root, snapshot):
            try:
                for number in range(count):
                    job = TrialJob(snapshot, "small", "high", "desk", number + 1, 1)
                    async with link.hold_place():
                        surroundings = TrialSurroundings(gateway=gateway, link=link)
                        trace = await TrialRun(job, surroundings).carry_out()
                    found.append((trace, score_trial(script, trace)))
            finally:
                await link.shut_down()
        return found

    def well(self, found: list[Any]) -> None:
        for trace, result in found:
            self.assertEqual(result["verdict"], "pass", (result, trace["events"]))
            kinds = [e["kind"] for e in trace["events"]]
            self.assertEqual(kinds.count("turn"), 2)
            self.assertGreaterEqual(kinds.count("model"), 3)
            self.assertTrue(trace["model_seam"])


class RealServices(ServiceCase):
    def code(self, name: str) -> str:
        """A connection's code by itself: beside the others it would import them as frameworks."""
        shutil.copy(CODE / name, self.root / f"desk_{name}")
        return str(self.root / f"desk_{name}")

    async def test_a_chat_service(self) -> None:
        port = free_port()
        url = f"http://127.0.0.1:{port}/v1"
        command = [NEW, "-u", self.code("chat.py"), str(port)]
        self.well(await self.trials(self.agent(link="chat", url=url, command=command)))
        snapshot = self.agent(link="chat", url=url, command=command, params={"stream": True})
        (one,) = await self.trials(snapshot, 1)
        self.well([one])
        partial = [e["text"] for e in one[0]["events"] if e["kind"] == "partial"]
        self.assertIn("14:31", partial[0])

    async def test_an_agent_that_is_a_tool_over_stdio(self) -> None:
        command = [OLD, "-u", self.code("tool.py")]
        (one,) = await self.trials(self.agent(link="tool", command=command), 1)
        self.well([one])
        partial = [e["text"] for e in one[0]["events"] if e["kind"] == "partial"]
        self.assertEqual(partial, ["Looking it up.", "Looking it up."])

    async def test_an_agent_that_is_a_tool_of_a_service(self) -> None:
        port = free_port()
        url = f"http://127.0.0.1:{port}/mcp"
        command = [OLD, "-u", self.code("tool.py"), str(port)]
        self.well(await self.trials(self.agent(link="tool", url=url, command=command)))

    async def test_an_agent2agent_service(self) -> None:
        port = free_port()
        url = f"http://127.0.0.1:{port}"
        command = [NEW, "-u", self.code("a2a.py"), str(port)]
        self.well(await self.trials(self.agent(link="a2a", url=url, command=command)))


class NotThere(ServiceCase):
    async def end(self, **fields: Any) -> str:
        ((trace, result),) = await self.trials(self.agent(**fields), 1)
        self.assertEqual(result["verdict"], "fail")
        return str(trace["events"][-1]["reason"])

    async def test_each_way_of_not_starting(self) -> None:
        dead = f"http://127.0.0.1:{free_port()}"
        for link in ("chat", "a2a"):
            self.assertIn(f"nothing listens at {dead}", await self.end(link=link, url=dead))
        self.assertIn("nothing listens", await self.end(link="tool", url=f"{dead}/mcp"))
        found = await self.end(link="chat", url=dead, command=[NEW, "-c", "print('no desk')"])
        self.assertIn("it ended; its log ends: no desk", found)
        found = await self.end(
            link="chat", url=dead, command=[NEW, "-c", "import time; time.sleep(60)"],
            timeouts={"start_s": 1},
        )  # fmt: skip
        self.assertIn("not within 1 s", found)
        found = await self.end(link="tool", command=[NEW, "-c", "1"])
        self.assertIn("ended", found)
        headers = {"Authorization": {"secret": "FEROX_TEST_UNSET"}}
        self.assertIn("FEROX_TEST_UNSET", await self.end(link="chat", url=dead, headers=headers))
        async with serve_standing_addresses(self.root, self.agent(link="chat", url=dead)):
            door = f"http://127.0.0.1:{self.standing}"  # something that is not an agent
            self.assertIn("no agent card", await self.end(link="a2a", url=door))
            found = await self.end(link="chat", url=door)
            self.assertIn("`url` must be what stands before /chat/completions", found)

    def test_the_files_are_checked(self) -> None:
        for fields, words in (
            ({"link": "chat"}, "the chat link needs the service's address"),
            ({"link": "tool"}, "needs `url` or `command`"),
            ({"link": "a2a", "url": "desk"}, "is not a valid address"),
            ({"link": "plain", "model": None}, "`model` is missing"),
            ({"link": "chat", "url": "http://x", "model": None, "models": {"a": "steady"}},
             "needs a `model` too"),
        ):  # fmt: skip
            with self.assertRaises(WorkspaceError) as caught:
                self.agent(**fields)
            self.assertIn(words, str(caught.exception.problems))


class Standing(ServiceCase):
    """The door, between trials and in one."""

    def setUp(self) -> None:
        super().setUp()
        self.snapshot = self.agent(link="chat", url="http://127.0.0.1:9", offer={"tides": "all"})
        self.url = f"http://127.0.0.1:{self.standing}/a/desk"

    async def test_between_trials_tools_are_listed_and_calls_refused(self) -> None:
        async with serve_standing_addresses(self.root, self.snapshot), httpx2.AsyncClient() as http:
            async with Client(streamable_http_client(f"{self.url}/tides/mcp")) as client:
                names = [t.name for t in (await client.list_tools()).tools]
                self.assertEqual(names, ["high_water", "low_water"])
                with self.assertRaisesRegex(MCPError, "no trial is going on"):
                    await client.call_tool("high_water", {"day": "2031-03-14"})
            answer = await http.post(f"{self.url}/model/v1/chat/completions", json={})
            self.assertEqual(answer.status_code, 503)
            for path in ("/a/desk/harbour/mcp", "/a/other/tides/mcp", "/x"):
                answer = await http.post(f"http://127.0.0.1:{self.standing}{path}", json={})
                self.assertEqual(answer.status_code, 404, path)
            headers = {"Host": "evil.example"}
            answer = await http.post(f"{self.url}/tides/mcp", json={}, headers=headers)
            self.assertEqual(answer.status_code, 403)

    async def test_a_second_process_takes_over_when_the_first_ends(self) -> None:
        async with serve_standing_addresses(self.root, self.snapshot):
            first = serve_standing_addresses(self.root, self.snapshot)
            async with first:
                pass
            async with httpx2.AsyncClient() as http:
                answer = await http.get(f"{self.url}/model/v1/models")
        self.assertEqual(answer.status_code, 503)

    async def test_one_trial_at_a_time_holds_an_agent(self) -> None:
        place, order = results_folder(self.root), []

        async def trial(name: str) -> None:
            async with standing.hold_addresses(place, "desk"):
                order.append(f"{name} in")
                await asyncio.sleep(0.2)
                order.append(f"{name} out")

        await asyncio.gather(trial("one"), trial("two"))
        self.assertEqual([step.split()[1] for step in order], ["in", "out", "in", "out"])

    def test_a_holder_whose_process_is_gone_holds_nothing(self) -> None:
        place = results_folder(self.root)
        setup = AgentSetup("t", "", {"tides": "http://x"}, {"main": {"base_url": "http://y"}}, "")
        standing.point_addresses(place, "desk", setup)
        found = standing.address_holder(place, "desk")
        assert found is not None
        self.assertEqual((found.servers, found.models), (setup.servers, {"main": "http://y"}))
        path = place / "standing/desk.json"
        path.write_text(path.read_text().replace(str(found.pid), "4194304"))
        self.assertIsNone(standing.address_holder(place, "desk"))
        standing.release_addresses(place, "desk")
        self.assertIsNone(standing.address_holder(place, "desk"))

    async def test_an_agent_whose_model_is_not_seen_is_scored_all_the_same(self) -> None:
        with endpoint([{"content": "High water is at 14:31."}]) as (url, asked):
            snapshot = self.agent(link="chat", url=url, model=None, instructions="Be brief.")
            ((trace, result),) = await self.trials(snapshot, 1)
        self.assertFalse(trace["model_seam"])
        self.assertEqual(result["missing"], [{"name": "high", "why": "not_seen"}])
        self.assertIsNone(result["tokens"])
        self.assertEqual(asked[0]["messages"][0], {"role": "system", "content": "Be brief."})
        self.assertEqual(
            [m["role"] for m in asked[1]["messages"]][1:], ["user", "assistant", "user"]
        )
