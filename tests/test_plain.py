"""The plain loop against a model that misbehaves, over real servers."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator
from contextlib import AsyncExitStack, asynccontextmanager
from typing import Any

from ferox.agents.links.link import (
    AgentCrashed,
    AgentDidNotStart,
    AgentHooks,
    AgentSetup,
    Conversation,
)
from ferox.agents.links.plain import PlainLink
from ferox.core.matcher import MatchContext
from ferox.formats.fault import Fault
from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.gateway import Gateway
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.chain import SeamSettings
from ferox.gateway.tool_seam.seam import ToolSeam
from ferox.servers.sources.mock import MockServer
from tests.async_case import AsyncCase
from tests.endpoint import endpoint
from tests.test_agents import no_asking
from tests.test_gateway import CLOCK, MOCK

HOOKS = AgentHooks(no_asking, lambda message: None)


def says(text: str) -> dict[str, Any]:
    return {"role": "assistant", "content": text}


def proposes(name: str, arguments: str = "{}") -> dict[str, Any]:
    call = {"id": "p", "type": "function", "function": {"name": name, "arguments": arguments}}
    return {"role": "assistant", "content": None, "tool_calls": [call]}


class Opening(AsyncCase):
    async def test_nothing_goes_on_once_opening_was_broken_off(self) -> None:
        asked = asyncio.Event()

        async def never_answer(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            asked.set()
            await reader.read()
            writer.close()

        async with await asyncio.start_server(never_answer, "127.0.0.1", 0) as server:
            url = f"http://127.0.0.1:{server.sockets[0].getsockname()[1]}/mcp"
            setup = AgentSetup("t", "2031-03-14T06:30:00Z", {"tides": url}, {}, "", {})
            before = asyncio.all_tasks()
            opening = asyncio.create_task(PlainLink().open_conversation(setup, 10))
            await asked.wait()
            opening.cancel()
            await asyncio.gather(opening, return_exceptions=True)
            left = {task for task in asyncio.all_tasks() - before if "_live" in repr(task)}
            self.assertEqual(left, set())


class PlainLoop(AsyncCase):
    @asynccontextmanager
    async def opened(
        self, *answers: Any, servers: tuple[str, ...] = ("tides",), fault: Fault | None = None
    ) -> AsyncIterator[tuple[Conversation, list[Any]]]:
        """A conversation with an endpoint that gives these answers in turn."""
        self.recorder = Recorder(lambda n, event: None, 50, 50)
        seams = {
            name: ToolSeam(
                MockServer(name, MOCK, 1, MatchContext(CLOCK)),
                self.recorder,
                SeamSettings(faults=FaultPlan([fault], 1)) if fault else None,
            )
            for name in servers
        }
        async with AsyncExitStack() as stack:
            base, asked = stack.enter_context(endpoint(list(answers)))
            gateway = await stack.enter_async_context(Gateway().serve())
            addresses = await stack.enter_async_context(gateway.open_seams(seams, {}))
            models = {"main": {"base_url": base, "api_key": "k", "name": "m"}}
            setup = AgentSetup("t", CLOCK.now, addresses.servers, models, "Be brief.", {"seed": 3})
            conversation = await PlainLink().open_conversation(setup, 5)
            try:
                yield conversation, asked
            finally:
                await conversation.close()

    async def test_it_offers_calls_and_replies(self) -> None:
        turns = [proposes("high_water", '{"day": "x"}'), says("At 14:31."), says("Goodbye.")]
        async with self.opened(*turns) as (conversation, asked):
            self.assertEqual((await conversation.send_turn("When?", HOOKS)).text, "At 14:31.")
            self.assertEqual((await conversation.send_turn("Thanks.", HOOKS)).text, "Goodbye.")
        first, second, third = asked
        self.assertEqual((first["model"], first["seed"]), ("m", 3))
        names = [t["function"]["name"] for t in first["tools"]]
        self.assertEqual(names, ["high_water", "low_water"])
        self.assertEqual(first["messages"][0], {"role": "system", "content": "Be brief."})
        result = second["messages"][-1]
        self.assertEqual((result["role"], json.loads(result["content"])), ("tool", {"at": "14:31"}))
        self.assertEqual(len(third["messages"]), 6)
        self.assertEqual([e["tool"] for e in self.recorder.events], ["tides/high_water"])

    async def test_errors_reach_the_model_and_never_end_the_turn(self) -> None:
        for proposal, words in [
            (proposes("no_water"), "there is no tool named no_water"),
            (proposes("high_water", "{"), "the arguments are not JSON"),
            (proposes("low_water"), "Error: There is no table."),
            (proposes("high_water", '{"day": 5}'), "Invalid arguments for high_water"),
        ]:
            with self.subTest(words):
                async with self.opened(proposal, says("Sorry.")) as (conversation, asked):
                    self.assertEqual((await conversation.send_turn("?", HOOKS)).text, "Sorry.")
                self.assertIn(words, asked[-1]["messages"][-1]["content"])

    async def test_a_connection_that_breaks_is_told_and_made_once_more(self) -> None:
        turns = [proposes("high_water"), proposes("high_water"), says("At 14:31."), says("Bye.")]
        fault = Fault(do="drop", call=1)
        async with self.opened(*turns, fault=fault) as (conversation, asked):
            self.assertEqual((await conversation.send_turn("?", HOOKS)).text, "At 14:31.")
            self.assertEqual((await conversation.send_turn("Bye.", HOOKS)).text, "Bye.")
        lost, found = (asked[n]["messages"][-1]["content"] for n in (1, 2))
        self.assertEqual(lost, "Error: the connection to the server was lost")
        self.assertEqual(json.loads(found), {"at": "14:31"})

    async def test_a_tool_of_the_same_name_on_two_servers_keeps_both(self) -> None:
        servers = ("tides", "moons")
        turns = [proposes("moons_high_water"), proposes("high_water"), says("Both.")]
        async with self.opened(*turns, servers=servers) as (conversation, asked):
            await conversation.send_turn("?", HOOKS)
        names = [t["function"]["name"] for t in asked[0]["tools"]]
        self.assertEqual(names, ["high_water", "low_water", "moons_high_water", "moons_low_water"])
        called = [e["tool"] for e in self.recorder.events]
        self.assertEqual(called, ["moons/high_water", "tides/high_water"])

    async def test_a_model_that_fails_ends_the_turn_with_its_words(self) -> None:
        async with self.opened(500) as (conversation, _):
            with self.assertRaises(AgentCrashed) as caught:
                await conversation.send_turn("?", HOOKS)
        self.assertIn("the model answered 500", str(caught.exception))

    async def test_a_server_that_is_not_there(self) -> None:
        setup = AgentSetup("t", CLOCK.now, {"tides": "http://127.0.0.1:9/mcp"}, {}, "")
        with self.assertRaises(AgentDidNotStart):
            await PlainLink().open_conversation(setup, 5)
