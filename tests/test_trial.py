"""A trial as it is carried out: the scripted user, approvals, truth, limits and Stop."""

from __future__ import annotations

import asyncio
import unittest
from collections import Counter
from collections.abc import Callable
from contextlib import AbstractAsyncContextManager, nullcontext
from typing import Any
from unittest.mock import patch

from ferox.agents.links.link import (
    AgentCrashed,
    AgentDidNotStart,
    AgentHooks,
    AgentReply,
    AgentSetup,
    Conversation,
)
from ferox.core.clock import real_now
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.suite import UserRule
from ferox.gateway.gateway import Gateway
from ferox.runs.scripted_user import next_rule
from ferox.runs.snapshot import Snapshot, script_hash, take_snapshot
from ferox.runs.trial import TrialJob, TrialRun, TrialSurroundings
from ferox.workspace import load_workspace
from tests.async_case import AsyncCase
from tests.workspaces import WorkspaceCase

Say = Callable[[str, AgentHooks, AgentSetup], Any]


class Puppet(Conversation):
    """An agent whose every turn is a function of the test's."""

    def __init__(self, say: Say, setup: AgentSetup, closed: list[str]) -> None:
        self.say, self.setup, self.closed = say, setup, closed

    async def send_turn(self, text: str, hooks: AgentHooks) -> AgentReply:
        answer = await self.say(text, hooks, self.setup)
        return answer if isinstance(answer, AgentReply) else AgentReply(str(answer))

    async def close(self) -> None:
        self.closed.append(self.setup.trial)


class PuppetLink:
    """Opens puppets; `opening` may fail."""

    def __init__(self, say: Say, opening: Exception | None = None) -> None:
        self.say, self.opening = say, opening
        self.closed: list[str] = []
        self.setups: list[AgentSetup] = []

    def hold_place(self) -> AbstractAsyncContextManager[None]:
        return nullcontext()

    async def open_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        self.setups.append(setup)
        if self.opening:
            raise self.opening
        return Puppet(self.say, setup, self.closed)

    async def shut_down(self) -> None:
        return None


async def echo(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
    return f"You said {text}"


class TrialCase(WorkspaceCase, AsyncCase):
    def job(self) -> TrialJob:
        loaded = load_workspace(self.root)
        snapshot = take_snapshot(loaded, ["small"], ["plain"])
        return TrialJob(
            Snapshot.model_validate(snapshot.document()), "small", "high", "plain", 1, 7
        )

    async def trial(self, link: PuppetLink, stop_after: float | None = None) -> Any:
        async with Gateway().serve() as gateway:
            surroundings = TrialSurroundings(gateway=gateway, link=link)
            if stop_after is not None:
                asyncio.get_running_loop().call_later(stop_after, surroundings.stop.set)
            return await TrialRun(self.job(), surroundings).carry_out()

    def kinds(self, trace: Any) -> list[str]:
        return [e["kind"] for e in trace["events"]]

    def add(self, lines: str) -> None:
        """Add lines to the task."""
        self.change("tasks/small.yaml", "    say: When", f"{lines}    say: When")


class Conversing(TrialCase):
    async def test_the_agent_learns_what_it_needs(self) -> None:
        self.change("agents/plain.yaml", "model: steady", "model: steady\nparams: {depth: 3}")
        self.change(
            "agents/plain.yaml", "model:", 'instructions: "It is {{ now }}, {{ today }}."\nmodel:'
        )
        link = PuppetLink(echo)
        trace = await self.trial(link)
        (setup,) = link.setups
        self.assertEqual(setup.instructions, "It is 2031-03-14T06:30:00Z, 2031-03-14.")
        self.assertEqual(trace["instructions"], setup.instructions)
        self.assertEqual(setup.params, {"depth": 3})
        message = setup.open_message()
        self.assertEqual(message["servers"]["tides"]["transport"], "http")
        self.assertRegex(message["models"]["main"]["base_url"], r"^http://127.0.0.1:\d+/t/.+/v1$")
        self.assertEqual(link.closed, ["small/high#1"])

    async def test_the_real_clock_is_that_of_the_runs_planning(self) -> None:
        self.change("tasks/small.yaml", "suite: small", "suite: small\nclock: now")
        before = real_now()
        job = self.job()
        after = real_now()
        link = PuppetLink(echo)
        async with Gateway().serve() as gateway:
            surroundings = TrialSurroundings(gateway=gateway, link=link)
            with patch("ferox.core.clock.real_now", lambda: "2099-01-01T00:00:00Z"):
                traces = [await TrialRun(job, surroundings).carry_out() for _ in range(2)]
        clocks = {trace["clock"] for trace in traces} | {setup.now for setup in link.setups}
        self.assertEqual(len(clocks), 1)
        self.assertTrue(before <= clocks.pop() <= after)
        on_disk = load_workspace(self.root).suites["small"]
        kept = script_hash(*job.snapshot.script_of("small", "high"))
        self.assertEqual(kept, script_hash(on_disk, on_disk.tasks[0]))

    async def test_without_a_rule_the_reply_ends_it_and_time_begins_with_the_turn(self) -> None:
        trace = await self.trial(PuppetLink(echo))
        self.assertEqual(self.kinds(trace), ["turn", "reply", "end"])
        self.assertLess(trace["events"][0]["t"], 0.01)
        self.assertEqual(trace["events"][-1]["why"], "done")
        self.assertEqual(trace["state"], {"tides": {"asked": 0}})
        self.assertEqual(set(trace["tools"]), {"tides/high_water", "tides/low_water"})

    async def test_parts_follow_each_other_and_a_fresh_one_opens_anew(self) -> None:
        text = (self.root / "tasks/small.yaml").read_text()
        parts = (
            "    user:\n"
            '      - {if_reply: {matches: "One"}, say: Whole task., at_most: 1}\n'
            "    parts:\n"
            "      - say: One.\n"
            '        user: [{if_reply: {matches: "Whole"}, say: Own., at_most: 1}]\n'
            "      - {say: One again.}\n"
            "      - {say: Anew., fresh: true}\n"
        )
        self.write("tasks/small.yaml", text[: text.index("    say:")] + parts)
        link = PuppetLink(echo)
        trace = await self.trial(link)
        turns = [(e["part"], e["text"], e["rule"]) for e in trace["events"] if e["kind"] == "turn"]
        self.assertEqual(
            turns,
            [(0, "One.", None), (0, "Whole task.", 1), (0, "Own.", 0), (1, "One again.", None),
             (2, "Anew.", None)],
        )  # fmt: skip
        self.assertEqual((len(link.setups), len(link.closed)), (2, 2))

    async def test_the_scripted_user_answers_by_the_first_rule_that_fits(self) -> None:
        self.add(
            "    user:\n"
            '      - {if_reply: {matches: "water"}, say: Go on., grants: more, at_most: 1}\n'
            '      - {if_reply: {matches: "Go on|water"}, say: Enough., at_most: 1}\n'
        )
        trace = await self.trial(PuppetLink(echo))
        turns = [(e["text"], e["rule"]) for e in trace["events"] if e["kind"] == "turn"]
        self.assertEqual(turns[1:], [("Go on.", 0), ("Enough.", 1)])

    async def test_approvals_are_decided_by_the_script_and_edited(self) -> None:
        self.add("    approvals: [{tool: tides/*, decision: approve, edit: {day: later}}]\n")

        async def ask(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
            yes = await hooks.ask("1", "tides/high_water", {"day": "now", "n": 1})
            no = await hooks.ask("2", "harbour/assign_berth", {})
            return f"{yes.approved} {yes.args} {no.approved}"

        trace = await self.trial(PuppetLink(ask))
        reply = next(e for e in trace["events"] if e["kind"] == "reply")
        self.assertEqual(reply["text"], "True {'day': 'later', 'n': 1} False")
        first, second = [e for e in trace["events"] if e["kind"] == "ask"]
        self.assertEqual(first["edited"], {"day": "later", "n": 1})
        self.assertEqual((second["decision"], second["edited"]), ("deny", None))
        denied = next(e for e in trace["events"] if e["kind"] == "call")
        self.assertEqual((denied["error"]["kind"], denied["s"]), ("denied", 0))

    async def test_calls_inside_the_agent_are_kept_as_local(self) -> None:
        async def note(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
            hooks.local_call({"tool": "note", "args": {"n": 1}, "result": "kept", "ms": 20})
            hooks.local_call({"tool": "note", "args": {}, "result": "full", "is_error": True})
            return "Noted."

        trace = await self.trial(PuppetLink(note))
        good, bad = [e for e in trace["events"] if e["kind"] == "call"]
        self.assertEqual(
            (good["seam"], good["tool"], good["result"]), ("local", "own/note", "kept")
        )
        self.assertEqual(bad["error"], {"kind": "tool_error", "message": "full"})
        suite = load_workspace(self.root).suites["small"]
        result = score_trial(compile_script(suite, suite.tasks[0]), trace)
        self.assertEqual(result["extra"], ["c1", "c2"])

    async def test_truth_is_looked_up_before_and_after_and_counts_for_nothing(self) -> None:
        self.add(
            "    truth:\n"
            "      - {as: real, tool: tides/high_water, args: {day: x}}\n"
            "      - {as: none, tool: tides/low_water, when: after}\n"
        )
        trace = await self.trial(PuppetLink(echo))
        self.assertEqual(trace["truth"]["real"], {"result": {"high_water": "14:31"}, "error": None})
        self.assertEqual(trace["truth"]["none"]["error"]["kind"], "tool_error")
        self.assertEqual(trace["state"]["tides"]["asked"], 0)

    async def test_given_comes_on_top_of_the_mock(self) -> None:
        self.add("    given: {tides: {change: [{op: replace, path: /asked, value: 40}]}}\n")
        trace = await self.trial(PuppetLink(echo))
        self.assertEqual(trace["state"], {"tides": {"asked": 40}})

    async def test_an_offer_of_nothing_leaves_no_server(self) -> None:
        self.change("agents/plain.yaml", "model:", "offer: {}\nmodel:")
        link = PuppetLink(echo)
        trace = await self.trial(link)
        self.assertEqual((link.setups[0].servers, trace["tools"]), ({}, {}))


class Ending(TrialCase):
    async def ends(self, link: PuppetLink, stop_after: float | None = None) -> tuple[str, str]:
        trace = await self.trial(link, stop_after)
        end = trace["events"][-1]
        self.assertEqual(end["kind"], "end")
        return end["why"], end["reason"]

    async def test_each_way_a_trial_ends(self) -> None:
        self.change(
            "agents/plain.yaml",
            "model:",
            "timeouts: {turn_s: 0.3}\nlimits: {trial_s: 1.5}\nmodel:",
        )

        async def crash(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
            raise AgentCrashed("ValueError: no tide (desk.py, line 3)")

        async def broken(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
            raise ZeroDivisionError("in Ferox")

        async def sleep(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
            await asyncio.sleep(30)
            return ""

        self.assertEqual(
            await self.ends(PuppetLink(crash)), ("crash", "ValueError: no tide (desk.py, line 3)")
        )
        not_there = PuppetLink(echo, AgentDidNotStart("no interpreter"))
        self.assertEqual(await self.ends(not_there), ("did_not_start", "no interpreter"))
        slow = PuppetLink(sleep)
        self.assertEqual(await self.ends(slow), ("no_reply", "no reply within 0.3 s"))
        self.assertEqual(slow.closed, ["small/high#1"])
        why, reason = await self.ends(PuppetLink(broken))
        self.assertEqual(why, "could_not_run")
        self.assertIn("ZeroDivisionError: in Ferox", reason)
        self.assertEqual(await self.ends(PuppetLink(sleep), 0.1), ("stopped", "stopped by hand"))
        self.change("agents/plain.yaml", "turn_s: 0.3", "turn_s: 9")
        self.assertEqual(await self.ends(PuppetLink(sleep)), ("limit", "longer than 1.5 s"))

    async def test_after_the_end_nothing_more_is_noted(self) -> None:
        late: list[AgentHooks] = []

        async def keep(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
            late.append(hooks)
            return "Done."

        trace = await self.trial(PuppetLink(keep))
        before = len(trace["events"])
        late[0].local_call({"tool": "ghost", "args": {}})
        self.assertEqual(len(trace["events"]), before)


class Rules(unittest.TestCase):
    def test_a_rule_used_up_is_passed_over(self) -> None:
        rules = [
            UserRule.model_validate({"if_reply": {"matches": "a"}, "say": "1", "at_most": 2}),
            UserRule.model_validate({"if_reply": {"matches": "a|b"}, "say": "2"}),
        ]
        used: Counter[int] = Counter()
        found = [next_rule(rules, used, text) for text in ("a", "b", "a", "a", "c")]
        self.assertEqual(found, [0, 1, 0, 1, None])
