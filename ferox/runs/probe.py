"""Probing an agent: is its model there, does it start, which tools does it see, does it reply?"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from ferox.agents.diagnosis import next_to_try
from ferox.agents.links.link import ApprovalDecision
from ferox.core.naming import counted_noun
from ferox.core.remarks import Remark, trial_remarks
from ferox.formats.trace import ReplyEvent, Trace, end_of
from ferox.gateway.answering_questions import AnsweredQuestion
from ferox.gateway.holding import FAIL, Hold, HoldDecision
from ferox.gateway.model_seam.model_check import look_at_model
from ferox.runs.linking import open_link
from ferox.runs.snapshot import Snapshot
from ferox.runs.trial import TrialRun, TrialSurroundings
from ferox.runs.trial_by_hand import job_by_hand
from ferox.runs.trial_user import UserWords
from ferox.servers.sources.source import Definition, QuestionAnswer, ServerQuestion

WORDS = "This is a test of the line. Please reply with the one word: ready."
"""The one harmless turn. No tool is called whatever the agent does."""


@dataclass(frozen=True)
class ProbeStep:
    """One thing that was looked at: well, doubtful or broken (`ok` True, None, False)."""

    about: str
    ok: bool | None
    message: str
    advice: str = ""


@dataclass(frozen=True)
class SeenTool:
    """A tool that the agent was offered, and how its model saw it: by which name, or None."""

    address: str
    as_name: str | None
    rewritten: bool


@dataclass
class Probe:
    """What is found of an agent; `listener` hears whenever there is more."""

    snapshot: Snapshot
    agent: str
    root: Path
    without: Mapping[str, str] = field(default_factory=dict)
    """Servers whose files do not load, and why."""
    listener: Callable[[], None] = lambda: None
    steps: list[ProbeStep] = field(default_factory=list)
    tools: list[SeenTool] = field(default_factory=list)
    remarks: list[Remark] = field(default_factory=list)
    own_tools: list[str] = field(default_factory=list)
    reply: str | None = None
    log: list[str] = field(default_factory=list)
    doing: str | None = None

    async def carry_out(self) -> None:
        """Look at everything, one after another."""
        try:
            for called, model in self.snapshot.agents[self.agent].thinks_with.items():
                await self._check_model(called, model)
            for server, reason in self.without.items():
                self._report_lost_server(server, reason)
            await self._converse_once()
        finally:
            self._set_doing(None)

    def _set_doing(self, doing: str | None) -> None:
        self.doing = doing
        self.listener()

    def failed(self, message: str) -> None:
        """Say that the probe itself could not go on."""
        self._add_finding("probe", False, message, "see the log of `ferox serve`")

    def _add_finding(self, about: str, ok: bool | None, message: str, advice: str = "") -> None:
        self.steps.append(ProbeStep(about, ok, message, advice))
        self.listener()

    async def _check_model(self, called: str, model: str) -> None:
        self._set_doing(f"looking at its model {model}")
        about = "model" if called == "main" else f"model {called}"
        async for finding in look_at_model(model, self.snapshot.models[model]):
            self._add_finding(about, finding.ok, finding.message, finding.advice)

    async def _converse_once(self) -> None:
        agent = self.snapshot.agents[self.agent]
        self._set_doing("starting it" if agent.link != "plain" else "asking it")
        user = _ProbingUser(lambda: self._set_doing("one harmless turn"))
        async with open_link(self.snapshot, self.agent, self.root) as (gateway, link):
            surroundings = TrialSurroundings(
                gateway=gateway,
                link=link,
                folder=self.root,
                go_without_any=True,
                leaves_servers_alone=True,
                note_missing_server=self._report_lost_server,
            )
            running = TrialRun(job_by_hand(self.snapshot, self.agent), surroundings, user)
            trace = await running.carry_out()
        self.log = running.log[-40:]
        self._judge_trace(trace)

    def _report_lost_server(self, server: str, reason: str) -> None:
        advice = "put right what it says, or choose another mode; the probe goes on without it"
        self._add_finding(f"server {server}", False, reason, advice)

    def _judge_trace(self, trace: Trace) -> None:
        end = end_of(trace)
        why, reason = end.get("why"), str(end.get("reason") or "")
        agent = self.snapshot.agents[self.agent]
        if why == "could_not_run":
            self._add_finding(
                "servers", False, reason, "put right what it says, or choose another mode"
            )
            return
        if why == "did_not_start":
            self._add_finding("start", False, reason, next_to_try(agent, self.root, reason))
            return
        seconds = trace["link"]["start_s"]
        started = f"it opened in {seconds:.1f} s" if agent.link != "plain" else "Ferox's own loop"
        self._add_finding("start", True, started)
        self._judge_tools(trace)
        reply = next((e for e in trace["events"] if e["kind"] == "reply"), None)
        if reply is None:
            advice = next_to_try(agent, self.root, reason)
            self._add_finding("turn", False, f"it gave no reply: {reason}", advice)
        else:
            self._judge_reply(reply)
        for name in trace.get("reply_tools") or ():
            message = f"it replies by its tool {name}"
            advice = (
                f"write `reply_tools: [{name}]` in its file, so that it is never taken for a call"
            )
            known = name in agent.reply_tools
            self._add_finding("reply", True, message, "" if known else advice)
        self.remarks = [r for r in trial_remarks(trace) if r.kind not in ("held", "replies_by")]
        self.listener()

    def _judge_reply(self, reply: ReplyEvent) -> None:
        self.reply = reply.get("text")
        of = reply.get("of")
        if of:
            advice = "have it return text, or a pair of text and data"
            self._add_finding("turn", False, f"its reply was not text but a {of}", advice)
        elif not (self.reply or "").strip():
            self._add_finding("turn", None, "its reply was empty")
        else:
            self._add_finding("turn", True, "it replied")

    def _judge_tools(self, trace: Trace) -> None:
        """Which tools it was offered, and by which names its model saw them."""
        models = [e for e in trace["events"] if e["kind"] == "model"]
        shown = {a for e in models for a in e.get("offered") or ()}
        differs = trace.get("seen_by_model") or {}
        served = {a: t for a, t in trace["tools"].items() if not a.startswith("own/")}
        for address, tool in served.items() if shown else ():
            name = tool.get("name") or address.split("/", 1)[1]
            as_name = differs.get(address, {}).get("name", name) if address in shown else None
            rewritten = "input" in differs.get(address, {})
            self.tools.append(SeenTool(address, as_name, rewritten))
        self.own_tools = sorted(a for a in shown if a.startswith("own/"))
        count = counted_noun(len(served), "tool")
        lists = sum(t["lists"] for t in trace["traffic"].values())
        if not served:
            self._add_finding("tools", None, "it is offered no tools of any server")
        elif not trace["model_seam"]:
            message = f"it is offered {count}; its model's requests do not pass Ferox: not seen"
            self._add_finding("tools", True if lists else None, message)
        elif not shown:
            message = f"it is offered {count}; the requests to its model define none"
            self._add_finding("tools", None, message)
        else:
            seen = sum(t.as_name is not None for t in self.tools)
            message = f"it is offered {count}, and its model saw {seen} of them"
            self._add_finding("tools", True if seen == len(served) else None, message)


@dataclass
class _ProbingUser:
    """Says one harmless thing, and lets no call through: a probe changes nothing."""

    on_turn: Callable[[], None]

    @property
    def hold(self) -> Hold:
        """It holds every call."""
        return self

    async def opening_words(self, part: int) -> UserWords | None:
        """The one turn."""
        self.on_turn()
        return UserWords(WORDS)

    async def answer_reply(self, part: int, reply: str) -> UserWords | None:
        """Nothing more."""
        return None

    async def approve_call(self, tool: str, args: dict[str, Any]) -> ApprovalDecision:
        """Deny it."""
        return ApprovalDecision(approved=False)

    def wants_call(self, address: str, tool: Definition, first: bool) -> bool:
        """Every call."""
        return True

    async def wait_for_decision(self, address: str, args: dict[str, Any]) -> HoldDecision:
        """Refuse it."""
        return HoldDecision(FAIL, "This is only a test of the line; no tool is called.")

    async def answer_question(self, server: str, question: ServerQuestion) -> AnsweredQuestion:
        """Nobody is there to be asked."""
        return AnsweredQuestion(QuestionAnswer("decline", {}), "script")
