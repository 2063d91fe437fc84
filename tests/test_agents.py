"""Links over processes: agents that start, fail, flood, hang and crash."""

from __future__ import annotations

import asyncio
import sys
import unittest
from pathlib import Path
from typing import Any

from ferox.agents.links.link import (
    AgentCrashed,
    AgentDidNotStart,
    AgentHooks,
    AgentSetup,
    ApprovalDecision,
)
from ferox.agents.links.process import ProcessLink, PythonLink
from ferox.formats.agent import AgentFile
from ferox.formats.base import Secret
from ferox.workspace import load_workspace
from ferox.workspace.environment import process_environment, resolve_variables
from tests.async_case import AsyncCase
from tests.waiting import until
from tests.workspaces import WorkspaceCase, know_secrets

SETUP = AgentSetup(
    "t",
    "2031-03-14T06:30:00Z",
    {},
    {"main": {"base_url": "x", "api_key": "k", "name": "m"}},
    "Be brief.",
)

ECHO = """
    from contextlib import asynccontextmanager
    print("rubbish on standard output")

    @asynccontextmanager
    async def open_desk(trial):
        print('{"op": "ready"}')
        async def say(text):
            print("more rubbish", flush=True)
            return f"{trial.instructions} {text}"
        yield say
"""


def desk(body: str) -> str:
    """An agent's code with this body of a turn."""
    lines = "\n".join(f"                {line}" for line in body.splitlines())
    return f"""
        import asyncio, os, sys, time, subprocess
        from contextlib import asynccontextmanager

        @asynccontextmanager
        async def open_desk(trial):
            async def say(text):
{lines}
            yield say
    """


async def no_asking(id: str, tool: str, args: dict[str, Any]) -> ApprovalDecision:
    raise AssertionError("nothing should be asked")


HOOKS = AgentHooks(no_asking, lambda message: None)


def running(pid: int) -> bool:
    """Whether a process is there and not a zombie."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().split(")")[1].split()[0] != "Z"
    except FileNotFoundError:
        return False


class PythonLinkTest(WorkspaceCase, AsyncCase):
    def link(self, code: str = ECHO, **fields: object) -> PythonLink:
        self.python_agent(code, **fields)
        agent = load_workspace(self.root).agents["coded"]
        link = PythonLink(agent, self.root, asyncio.Semaphore(2))
        self.addAsyncCleanup(link.shut_down)
        return link

    async def test_turns_and_another_trial_in_the_same_process(self) -> None:
        link = self.link()
        pids = []
        for _ in range(2):
            conversation = await link.open_conversation(SETUP, 20)
            for text in ("one", "two"):
                reply = await conversation.send_turn(text, HOOKS)
                self.assertEqual(reply.text, f"Be brief. {text}")
            pids.append(conversation._process.pid)  # type: ignore[attr-defined]
            await conversation.close()
        self.assertEqual(pids[0], pids[1])
        await link.shut_down()
        self.assertFalse(running(pids[0]))

    async def test_structured_data_approvals_and_local_calls(self) -> None:
        body = (
            "ok, args = await trial.ask_approval('tides/x', {'a': 1})\n"
            "trial.report_call('note', {'n': 1}, result='kept', ms=2.5)\n"
            "return f'{ok} {args}', {'done': ok}"
        )
        conversation = await self.link(desk(body)).open_conversation(SETUP, 20)
        heard: list[Any] = []

        async def decide(id: str, tool: str, args: dict[str, Any]) -> ApprovalDecision:
            heard.append((tool, args))
            return ApprovalDecision(True, {"a": 2})

        reply = await conversation.send_turn("go", AgentHooks(decide, heard.append))
        self.assertEqual((reply.text, reply.data), ("True {'a': 2}", {"done": True}))
        self.assertEqual(heard[0], ("tides/x", {"a": 1}))
        self.assertEqual((heard[1]["tool"], heard[1]["ms"]), ("note", 2.5))
        await conversation.close()

    async def test_each_way_of_not_starting_says_what_to_do(self) -> None:
        for fields, code, wanted in [
            ({"python": "nowhere/python"}, ECHO, "interpreter `nowhere/python` does not exist"),
            ({}, "import no_such_module_here", "No module named 'no_such_module_here'"),
            ({}, "x = 1", "has no `open_desk`"),
            (
                {"env": "{KEY: {secret: FEROX_TEST_UNSET}}"},
                ECHO,
                "FEROX_TEST_UNSET, which is not set",
            ),
            ({}, "import os; os._exit(7)", "ended with status 7"),
            (
                {},
                "def open_desk(trial):\n        raise OSError('no server')",
                "no server (coded.py, line",
            ),
        ]:
            with self.subTest(wanted), self.assertRaises(AgentDidNotStart) as caught:
                await self.link(code, **fields).open_conversation(SETUP, 20)  # type: ignore[arg-type]
            self.assertIn(wanted, str(caught.exception))

    async def test_a_slow_start_is_reported_with_the_log(self) -> None:
        code = "import time\nprint('still loading')\ntime.sleep(30)"
        with self.assertRaises(AgentDidNotStart) as caught:
            await self.link(code).open_conversation(SETUP, 1)
        self.assertIn("not loaded within 1 s", str(caught.exception))
        self.assertIn("still loading", str(caught.exception))

    async def test_an_error_in_a_turn_names_its_line_and_the_process_goes_on(self) -> None:
        link = self.link(desk("if text == 'bad': raise ValueError('no tide')\nreturn text"))
        conversation = await link.open_conversation(SETUP, 20)
        with self.assertRaises(AgentCrashed) as caught:
            await conversation.send_turn("bad", HOOKS)
        self.assertRegex(str(caught.exception), r"ValueError: no tide \(coded.py, line \d+\)")
        await conversation.close()
        again = await link.open_conversation(SETUP, 20)
        self.assertEqual((await again.send_turn("good", HOOKS)).text, "good")
        await again.close()

    async def test_a_process_that_dies_in_a_turn(self) -> None:
        body = "print('out of memory', file=sys.stderr, flush=True)\nos._exit(3)"
        conversation = await self.link(desk(body)).open_conversation(SETUP, 20)
        with self.assertRaises(AgentCrashed) as caught:
            await conversation.send_turn("x", HOOKS)
        self.assertIn("status 3: out of memory", str(caught.exception))
        await conversation.close()

    async def test_a_hang_and_what_it_started_are_ended(self) -> None:
        body = (
            "child = subprocess.Popen(['sleep', '60'])\n"
            "open('child.pid', 'w').write(str(child.pid))\n"
            "time.sleep(60)"
        )
        conversation = await self.link(desk(body)).open_conversation(SETUP, 20)
        turn = asyncio.ensure_future(conversation.send_turn("x", HOOKS))
        written = self.root / "child.pid"
        await asyncio.to_thread(until, lambda: written.exists() and written.read_text())
        turn.cancel()
        await asyncio.gather(turn, return_exceptions=True)
        pid = conversation._process.pid  # type: ignore[attr-defined]
        await conversation.close()
        child = int(written.read_text())
        await asyncio.to_thread(until, lambda: not running(pid) and not running(child))

    async def test_a_turn_is_given_up_at_once_on_close(self) -> None:
        link = self.link(desk("await asyncio.sleep(60)"))
        conversation = await link.open_conversation(SETUP, 20)
        with self.assertRaises(TimeoutError):
            async with asyncio.timeout(0.5):
                await conversation.send_turn("x", HOOKS)
        pid = conversation._process.pid  # type: ignore[attr-defined]
        await conversation.close()
        self.assertTrue(running(pid))  # it closed well, and is kept warm

    async def test_a_flood_of_output_is_drained_and_bounded(self) -> None:
        body = "for _ in range(20): sys.stdout.write('x' * 10**6)\nreturn 'dry'"
        conversation = await self.link(desk(body)).open_conversation(SETUP, 20)
        self.assertEqual((await conversation.send_turn("x", HOOKS)).text, "dry")
        log = conversation._process.log  # type: ignore[attr-defined]
        self.assertLess(sum(map(len, log)), 10**6)
        await conversation.close()

    async def test_rubbish_on_the_channel_itself_is_counted(self) -> None:
        body = (
            "channel = trial._channel._stream\n"
            "channel.write('not json\\n[1]\\n')\n"
            "channel.flush()\n"
            "return 'fine'"
        )
        conversation = await self.link(desk(body)).open_conversation(SETUP, 20)
        self.assertEqual((await conversation.send_turn("x", HOOKS)).text, "fine")
        self.assertEqual(conversation._process.unreadable_lines, 2)  # type: ignore[attr-defined]
        await conversation.close()


class Environment(unittest.TestCase):
    def test_only_the_harmless_and_the_named(self) -> None:
        know_secrets(self, FEROX_TEST_SECRET="x")
        named = {"NAMED": "1", "KEY": Secret(secret="FEROX_TEST_SECRET", prefix="Bearer ")}
        env = process_environment(named, "the agent desk")
        self.assertNotIn("FEROX_TEST_SECRET", env)
        self.assertEqual((env["NAMED"], env["KEY"]), ("1", "Bearer x"))
        (key,) = [
            v for v in resolve_variables({"KEY": Secret(secret="FEROX_TEST_SECRET")}) if v.secret
        ]
        self.assertNotIn("x", key.shown)
        self.assertIn("PATH", env)


class ProcessLinkTest(WorkspaceCase, AsyncCase):
    """Any command that speaks the link protocol."""

    AGENT = Path(__file__).parent / "servers/link_agent.py"

    def link(self, how: str = "well", **fields: object) -> ProcessLink:
        command = [sys.executable, "-u", str(self.AGENT), how]
        body = {"ferox": 1, "agent": "any", "link": "process", "model": "steady",
                "command": command, **fields}  # fmt: skip
        link = ProcessLink(AgentFile.model_validate(body), self.root, asyncio.Semaphore(2))
        self.addAsyncCleanup(link.shut_down)
        return link

    async def test_turns_and_another_trial_in_the_same_process(self) -> None:
        link = self.link()
        for _ in range(2):
            conversation = await link.open_conversation(SETUP, 20)
            reply = await conversation.send_turn("Ahoy.", HOOKS)
            self.assertEqual((reply.text, reply.data), ("Be brief. Ahoy.", {"n": 1}))
            await conversation.close()
        self.assertEqual(len(link._all), 1)

    async def test_rubbish_on_the_channel_harms_nothing(self) -> None:
        conversation = await self.link("rubbish").open_conversation(SETUP, 20)
        self.assertEqual((await conversation.send_turn("x", HOOKS)).text, "Be brief. x")

    async def test_approvals_and_its_own_calls(self) -> None:
        heard: list[Any] = []

        async def decide(id: str, tool: str, args: dict[str, Any]) -> ApprovalDecision:
            heard.append((id, tool, args))
            return ApprovalDecision(True, {"berth": "N2"})

        conversation = await self.link("asks").open_conversation(SETUP, 20)
        reply = await conversation.send_turn("x", AgentHooks(decide, heard.append))
        self.assertEqual(reply.text, "Be brief. approve")
        self.assertEqual(heard[0], ("7", "harbour/assign_berth", {"berth": "N1"}))
        self.assertEqual((heard[1]["result"], heard[1]["by"]), ({"berth": "N2"}, "clerk"))

    async def test_a_failed_turn_leaves_the_process_and_a_death_does_not(self) -> None:
        link = self.link("fails")
        conversation = await link.open_conversation(SETUP, 20)
        with self.assertRaisesRegex(AgentCrashed, "the book is closed"):
            await conversation.send_turn("x", HOOKS)
        await conversation.close()
        self.assertEqual(len(link._idle), 1)
        conversation = await self.link("dies").open_conversation(SETUP, 20)
        with self.assertRaisesRegex(AgentCrashed, "status 4: no book"):
            await conversation.send_turn("x", HOOKS)

    async def test_each_way_of_not_starting(self) -> None:
        for fields, words in (
            ({"command": ["no-such-command"]}, "`no-such-command` was not found"),
            ({"cwd": "nowhere"}, "`nowhere` does not exist"),
            ({"env": {"A": {"secret": "FEROX_TEST_UNSET"}}}, "FEROX_TEST_UNSET"),
        ):
            with self.assertRaises(AgentDidNotStart) as caught:
                await self.link(**fields).open_conversation(SETUP, 5)
            self.assertIn(words, str(caught.exception))
        with self.assertRaisesRegex(AgentDidNotStart, "no desk today"):
            await self.link("refuses").open_conversation(SETUP, 20)
        with self.assertRaisesRegex(AgentDidNotStart, "not ready within 1 s"):
            await self.link("slow").open_conversation(SETUP, 1)

    async def test_close_in_a_turn_ends_what_does_not_heed_it(self) -> None:
        link = self.link("hangs")
        conversation = await link.open_conversation(SETUP, 20)
        turn = asyncio.ensure_future(conversation.send_turn("x", HOOKS))
        await asyncio.sleep(0.2)
        turn.cancel()
        await asyncio.gather(turn, return_exceptions=True)
        self.assertFalse(await conversation.close())
        self.assertEqual((len(link._idle), len(link._all)), (0, 0))
