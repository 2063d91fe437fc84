"""One trial: (snapshot, task, agent, number, seed) → trace."""

from __future__ import annotations

import asyncio
import time
from collections import Counter
from collections.abc import Callable
from contextlib import AsyncExitStack, suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, cast

from ferox.agents.links.link import (
    AgentCrashed,
    AgentDidNotStart,
    AgentHooks,
    AgentReply,
    AgentSetup,
    ApprovalDecision,
    Conversation,
    Link,
)
from ferox.core.clock import Clock
from ferox.core.expressions import ExpressionError, render
from ferox.core.matchers import MatchContext
from ferox.core.script import parts_of
from ferox.core.story import fits_any
from ferox.formats.agent import AgentFile
from ferox.formats.suite import Given, Suite, Task
from ferox.formats.trace import Event, LinkFacts, Trace, TruthValue
from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.gateway import Gateway, SeamAddresses
from ferox.gateway.holding import Hold
from ferox.gateway.model_seam.model_requests import ModelRequests
from ferox.gateway.model_seam.own_calls import OwnCalls
from ferox.gateway.model_seam.seam import ModelSeam
from ferox.gateway.model_seam.seen_by_model import SeenByModel
from ferox.gateway.model_seam.tool_names import ToolNames
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.seam import ToolSeam, WireHeard
from ferox.intake.limits import GivenUp
from ferox.recordings.model_recording import ModelCapture
from ferox.recordings.recording import RecordingError
from ferox.runs.models import open_models
from ferox.runs.patience import Patience, PatientHold
from ferox.runs.scripted_user import conversations, next_rule
from ferox.runs.snapshot import Snapshot
from ferox.runs.truth import looked_up
from ferox.servers.connection.diagnosis import ServerUnreachable
from ferox.servers.connection.tap import LineListener
from ferox.servers.opening import TrialContext, open_source
from ferox.servers.sources.source import Source
from ferox.workspace.vault import UnsetSecret


@dataclass(frozen=True)
class TrialJob:
    """A trial to carry out: self-contained, so that any worker can."""

    snapshot: Snapshot
    suite: str
    task: str
    agent: str
    number: int
    seed: int


@dataclass
class _TrialOver(Exception):
    """The trial ends here, for this reason."""

    why: str
    reason: str | None = None


@dataclass
class TrialRun:
    """A trial while it goes on. `listener` hears of every event; `stop` ends it early.

    `folder` is the workspace, where live servers start; `capture` gives who hears the
    messages to and from one of them, by its name; `model_capture` the same for a model;
    `hold` may stop calls before they go out; `wire` is told their raw messages; `requests` takes
    what the models were shown.
    """

    job: TrialJob
    gateway: Gateway
    link: Link
    listener: Callable[[int, Event], None]
    stop: asyncio.Event = field(default_factory=asyncio.Event)
    folder: Path = Path()
    capture: Callable[[str], LineListener | None] = lambda server: None
    model_capture: Callable[[str], ModelCapture | None] = lambda model: None
    hold: Hold | None = None
    wire: WireHeard | None = None
    requests: ModelRequests | None = None

    def __post_init__(self) -> None:
        job = self.job
        self.suite: Suite = job.snapshot.suites[job.suite]
        self.task: Task = job.snapshot.task(job.suite, job.task)
        self.agent: AgentFile = job.snapshot.agents[job.agent]
        self.clock = Clock(self.suite.clock, self.suite.zone)
        limits = self.agent.limits
        self.recorder = Recorder(self.listener, limits.calls, limits.model_calls)
        self.parts = parts_of(self.task)
        self._used: Counter[int] = Counter()
        self._turn_began = 0.0
        self.faults = FaultPlan(self.task.faults, self.job.seed)
        self.sources: dict[str, Source] = {}
        self.seams: dict[str, ToolSeam] = {}
        self.model_seams: dict[str, ModelSeam] = {}
        self.truth: dict[str, TruthValue] = {}
        self.patience = Patience()
        self.log: list[str] = []
        """The last lines of the agent's own log, once the trial is over."""
        self.link_facts: LinkFacts = {"start_s": 0.0, "rubbish": 0, "closed": True}
        self.seen = SeenByModel(ToolNames({}), {})
        self.own = self._own_calls()

    async def carry_out(self) -> Trace:
        """The trial's trace. Whatever the agent does, there is one, and it has an end."""
        why: str
        reason: str | None
        async with AsyncExitStack() as stack:
            try:
                await self._open_sources(stack)
                self._models = open_models(self.job.snapshot, self.agent, self.job.seed, self.clock)
            except (ServerUnreachable, RecordingError, UnsetSecret) as error:
                why, reason = "could_not_run", str(error)  # never the agent's fault
            else:
                self._open_seams()
                self.seen = self._seen_by_model()
                self.own = self._own_calls()
                thinks_with = self.agent.thinks_with.items()
                self.model_seams = {c: self._model_seam(m, c) for c, m in thinks_with}
                opened_at = self.gateway.open(self.seams, self.model_seams)
                addresses = await stack.enter_async_context(opened_at)
                await self._look_up_truth("before")
                why, reason = await self._within_limits(self._converse(addresses))
                await self._look_up_truth("after")
                if why in ("crash", "no_reply") and self.recorder.out_of_reach:
                    why, reason = "could_not_run", self.recorder.out_of_reach
            self.recorder.add("end", why=why, reason=reason)
            self.recorder.closed = True
        return self.trace()

    def failed_trace(self, reason: str) -> Trace:
        """The trace of a trial that Ferox could not carry out or keep: nothing but its end."""
        end = {"t": 0.0, "kind": "end", "why": "could_not_run", "reason": reason}
        return {
            "ferox_trace": 1,
            "agent": self.job.agent,
            "suite": self.job.suite,
            "task": self.job.task,
            "trial": self.job.number,
            "clock": self.suite.clock,
            "zone": self.suite.zone,
            "instructions": "",
            "model_seam": False,
            "tools": {},
            "truth": {},
            "events": [cast(Event, end)],
        }

    def trace(self) -> Trace:
        """The trace as it stands."""
        tools = {a: t for seam in self.seams.values() for a, t in seam.offered().items()}
        trace = self.failed_trace("")
        trace.update(
            {
                "instructions": self._instructions(),
                "model_seam": self._model_seam_was_seen(),
                "tools": {**tools, **self.own.tools()},
                "truth": self.truth,
                "events": self.recorder.events,
                "state": {
                    name: source.state
                    for name, source in self.sources.items()
                    if source.state is not None
                },
                "modes": dict(self.suite.servers),
                "traffic": {name: seam.traffic for name, seam in self.seams.items()},
                "link": self.link_facts,
                "voices": self.seen.voices.told,
                "seen_by_model": self.seen.tools,
            }
        )
        if self.recorder.mended:
            trace["mended"] = self.recorder.mended
        if self.own.reply_tools:
            trace["reply_tools"] = sorted(self.own.reply_tools)
        if not self._own_was_seen():
            trace["own_seen"] = False
        return trace

    def _own_calls(self) -> OwnCalls:
        agent = self.agent
        return OwnCalls(self.recorder, self.seen, agent.own_tools, set(agent.reply_tools))

    def _own_was_seen(self) -> bool:
        """Whether calls inside the agent would have been seen: as its file says, else by what
        passed."""
        if self.agent.own_seen is not None:
            return self.agent.own_seen
        return self.agent.link == "plain" or self.own.would_show(self._model_seam_was_seen())

    def _model_seam_was_seen(self) -> bool:
        """Whether the model's traffic passed here; an agent that replied without any thinks
        elsewhere."""
        kinds = {event["kind"] for event in self.recorder.events}
        return self.agent.model is not None and ("model" in kinds or "reply" not in kinds)

    async def _open_sources(self, stack: AsyncExitStack) -> None:
        """Open what stands behind the seams: mocks, recordings and live servers."""
        for name, way in self.suite.servers.items():
            await self._open_source(stack, name, way)

    async def _open_source(self, stack: AsyncExitStack, name: str, way: str) -> None:
        """Open what stands behind one seam.

        Raises:
            OutOfReach, RecordingError, UnsetSecret: it cannot be opened.
        """
        stage = TrialContext(
            folder=self.folder,
            seed=self.job.seed,
            situation=MatchContext(self.clock),
            recording=self.job.snapshot.recording,
            given=self.task.given.get(name, Given()),
            heard=self.capture(name),
        )
        source = open_source(self.job.snapshot.servers[name], way, stage)
        self.sources[name] = await stack.enter_async_context(source)

    def _open_seams(self) -> None:
        for name, source in self.sources.items():
            offer = self._offer(name)
            if offer:
                wording = self.job.snapshot.servers[name].wording
                self.seams[name] = ToolSeam(
                    source,
                    offer,
                    self.recorder,
                    self.faults,
                    wording,
                    self.agent.standing,
                    PatientHold(self.hold, self.patience) if self.hold else None,
                    self.wire,
                )

    def _offer(self, server: str) -> str | list[str]:
        offer = self.agent.offer
        return "all" if offer is None else offer.get(server, [])

    def _model_seam(self, model: str, called: str) -> ModelSeam:
        capture = self.model_capture(model)
        behind = self._models[model]
        return ModelSeam(
            behind, model, self.seen, self.recorder, called, self.faults, capture, self.own,
            self.requests,
        )  # fmt: skip

    def _seen_by_model(self) -> SeenByModel:
        offered = {a: t for seam in self.seams.values() for a, t in seam.offered().items()}
        names = {a: tool.get("name") or a.split("/", 1)[1] for a, tool in offered.items()}
        return SeenByModel(ToolNames(names), offered)

    def _instructions(self) -> str:
        told = self.job.snapshot.instructions.get(self.job.agent, "")
        now = {"now": self.clock.now, "today": self.clock.today.isoformat()}
        with suppress(ExpressionError):
            return str(render(told, now))
        return told

    async def _look_up_truth(self, when: str) -> None:
        for spec in self.task.truth:
            if spec.when == when:
                self.truth[spec.as_] = await looked_up(self.sources, spec.tool, spec.args)

    async def _within_limits(self, work: Any) -> tuple[str, str | None]:
        """Carry out the conversation; a limit or Stop ends it from outside."""
        task = asyncio.ensure_future(work)
        stopped = asyncio.ensure_future(self.stop.wait())
        limit_s = self.agent.limits.trial_s
        done: set[asyncio.Future[Any]] = set()
        with suppress(TimeoutError):
            async with self.patience.limit(limit_s):
                done, _ = await asyncio.wait(
                    {task, stopped, self.recorder.over}, return_when=asyncio.FIRST_COMPLETED
                )
        stopped.cancel()
        if task not in done:
            task.cancel()
            await asyncio.gather(task, return_exceptions=True)
            if stopped in done:
                return "stopped", "stopped by hand"
            if self.recorder.over in done:
                return "limit", self.recorder.over.result()
            return "limit", f"longer than {limit_s:g} s"
        try:
            await task
        except _TrialOver as end:
            return end.why, end.reason
        except Exception as error:  # Ferox's own fault is never the agent's
            return "could_not_run", f"Ferox itself failed: {type(error).__name__}: {error}"
        return "done", None

    async def _converse(self, addresses: SeamAddresses) -> None:
        agent, named = self.agent, self.agent.thinks_with
        setup = AgentSetup(
            trial=f"{self.job.suite}/{self.job.task}#{self.job.number}",
            now=self.clock.now,
            servers=addresses.servers,
            models={
                called: {"base_url": url, "api_key": addresses.key, "name": named[called]}
                for called, url in addresses.models.items()
            },
            instructions=self._instructions(),
            params=agent.params,
        )
        for first, last in conversations(self.parts):
            begun = time.perf_counter()
            try:
                conversation = await self.link.open(setup, agent.timeouts.start_s)
            except AgentDidNotStart as error:
                raise _TrialOver("did_not_start", str(error)) from None
            self.link_facts["start_s"] += round(time.perf_counter() - begun, 3)
            try:
                for number in range(first, last):
                    await self._part(conversation, number)
            finally:
                self.link_facts["rubbish"] += conversation.rubbish
                self.recorder.mended += conversation.mended
                self.log = list(conversation.log)
                heeded = await conversation.close()
                self.link_facts["closed"] = self.link_facts["closed"] and heeded
            for seam in self.model_seams.values():
                seam.forget()

    async def _part(self, conversation: Conversation, number: int) -> None:
        """One part's turns, until no rule of the scripted user answers."""
        words, rule = await self._first_words(number)
        self.recorder.start()  # opening the agent is not part of the conversation
        while words is not None:
            self._turn_began = self.recorder.add("turn", part=number, text=words, rule=rule)["t"]
            reply = await self._turn(conversation, words)
            self.own.replied(reply.text, reply.data)
            of = {"of": reply.of} if reply.of else {}
            self.recorder.add("reply", text=reply.text, data=reply.data, **of)
            words, rule = await self._next_words(number, reply.text)

    async def _first_words(self, part: int) -> tuple[str | None, int | None]:
        """The user's opening words of a part, which no rule gave."""
        return self.parts[part].say, None

    async def _next_words(self, part: int, reply: str) -> tuple[str | None, int | None]:
        """The user's words after a reply, and the rule that gave them; None ends the part."""
        rules = self.parts[part].user
        try:
            rule = next_rule(rules, self._used, reply)
        except GivenUp as error:  # a fault of the script's, not of the agent's
            raise _TrialOver("could_not_run", f"the scripted user: {error}") from None
        return (None, None) if rule is None else (rules[rule].say, rule)

    async def _turn(self, conversation: Conversation, words: str) -> AgentReply:
        turn_s = self.agent.timeouts.turn_s
        try:
            async with self.patience.limit(turn_s):
                return await conversation.turn(words, self._hooks())
        except TimeoutError:
            raise _TrialOver("no_reply", f"no reply within {turn_s:g} s") from None
        except AgentCrashed as error:
            raise _TrialOver("crash", str(error)) from None

    def _hooks(self) -> AgentHooks:
        """What the agent may report or ask in one turn."""
        words: Event | None = None

        def partial(text: str) -> None:
            nonlocal words
            if words is None:
                words = self.recorder.add("partial", text=text)
            else:
                self.recorder.update(words, text=text)

        def local_call(message: dict[str, Any]) -> None:
            self.own.report(message, self._turn_began)

        return AgentHooks(self._ask, local_call, partial)

    async def _ask(self, id: str, tool: str, args: dict[str, Any]) -> ApprovalDecision:
        """Decide an approval by the task's script; one without an entry is denied."""
        approved, edited = await self._approval(tool, args)
        decision = "approve" if approved else "deny"
        self.recorder.add(
            "ask", id=id, tool=tool, args=args, decision=decision, edited=edited, s=0.0
        )
        if not approved:
            event = self.recorder.begin(
                "call", "c", seam="tool", tool=tool, args=args, result=None, error=None,
                fault=None, proposal=self.recorder.take_proposal(tool, args),
            )  # fmt: skip
            self.recorder.finish(
                event, error={"kind": "denied", "message": "the approval was denied"}
            )
            event["s"] = 0
        return ApprovalDecision(approved, edited)

    async def _approval(
        self, tool: str, args: dict[str, Any]
    ) -> tuple[bool, dict[str, Any] | None]:
        """Whether a call may go, and all its arguments as edited, if they are."""
        entry = next((a for a in self.task.approvals if fits_any(tool, [a.tool])), None)
        approved = entry is not None and entry.decision == "approve"
        return approved, {**args, **entry.edit} if entry and entry.edit and approved else None
