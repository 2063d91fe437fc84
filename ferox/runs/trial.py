"""One trial: (snapshot, task, agent, number, seed) → trace."""

from __future__ import annotations

import asyncio
import copy
import time
from collections.abc import Awaitable, Callable, Sequence
from contextlib import AsyncExitStack, suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

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
from ferox.core.expressions import ExpressionError, render_value
from ferox.core.script import compares_states, needed_servers, parts_of
from ferox.formats.agent import OWN, AgentFile
from ferox.formats.suite import Suite, Task
from ferox.formats.trace import (
    EndReason,
    Event,
    LinkFacts,
    PartialEvent,
    StepOutcome,
    TokenPrice,
    Trace,
    TruthValue,
)
from ferox.gateway.gateway import Gateway, SeamAddresses
from ferox.gateway.model_seam.turns import OWN_TURNS, ModelTurns
from ferox.gateway.recorder import Recorder
from ferox.intake.limits import GivenUp
from ferox.runs.models import token_price
from ferox.runs.patience import Patience, PatientHold, PatientTurns, PatientUser
from ferox.runs.preparing import NotPrepared, steps_of
from ferox.runs.scripted_user import ScriptedUser, group_conversations
from ferox.runs.snapshot import Snapshot
from ferox.runs.trial_seams import NOT_OPENED, BehindSeams, SeamTaps, TrialSeams
from ferox.runs.trial_user import TrialUser, UserWords


@dataclass(frozen=True)
class TrialJob:
    """A trial to carry out: self-contained, so that any worker can."""

    snapshot: Snapshot
    suite: str
    task: str
    agent: str
    number: int
    seed: int


@dataclass(frozen=True, kw_only=True)
class TrialSurroundings:
    """What a trial needs from outside.

    `folder` is the workspace; `listener` hears of every event; `stop` ends the trial early;
    `go_without_any`: the trial goes on without any server that cannot be opened; else only
    without one that its task does not need. `prepared`: what was done to live servers for the
    whole run. `leaves_servers_alone`: nothing is done to live servers
    before and after. `note_missing_server` hears of each, and why. `turns` says when a model may be
    asked. `behind`: what stands in for servers and models.
    """

    gateway: Gateway
    link: Link
    folder: Path = Path()
    listener: Callable[[int, Event], None] = lambda n, event: None
    stop: asyncio.Event = field(default_factory=asyncio.Event)
    taps: SeamTaps = field(default_factory=SeamTaps)
    go_without_any: bool = False
    prepared: Sequence[StepOutcome] = ()
    leaves_servers_alone: bool = False
    note_missing_server: Callable[[str, str], None] = lambda server, reason: None
    turns: ModelTurns = OWN_TURNS
    behind: BehindSeams | None = None


def failed_trace(job: TrialJob, reason: str) -> Trace:
    """The trace of a trial that Ferox could not carry out or keep: nothing but its end."""
    met = job.snapshot.of_arm(job.agent)
    suite = met.suites[job.suite]
    return {
        "ferox_trace": 1,
        "agent": job.agent,
        "suite": job.suite,
        "task": job.task,
        "trial": job.number,
        "clock": met.clock_of(suite).now,
        "zone": suite.zone,
        "instructions": "",
        "model_seam": False,
        "tools": {},
        "truth": {},
        "events": [{"t": 0.0, "kind": "end", "why": "could_not_run", "reason": reason}],
    }


@dataclass
class _TrialOver(Exception):
    """The trial ends here, for this reason."""

    why: EndReason
    reason: str | None = None


class TrialRun:
    """A trial while it goes on. Without a `user`, the task's script is the user."""

    def __init__(
        self, job: TrialJob, surroundings: TrialSurroundings, user: TrialUser | None = None
    ) -> None:
        self.job, self._around = job, surroundings
        met = job.snapshot.of_arm(job.agent)
        self.suite: Suite = met.suites[job.suite]
        self.task: Task = met.find_task(job.suite, job.task)
        self.agent: AgentFile = job.snapshot.agents[job.agent]
        self.clock = met.clock_of(self.suite)
        self.user: TrialUser = user or ScriptedUser(self.task, clock=self.clock)
        limits = self.agent.limits
        self.recorder = Recorder(surroundings.listener, limits.calls, limits.model_calls)
        self.parts = parts_of(self.task)
        self.patience = Patience()
        self.seams = TrialSeams(
            snapshot=met,
            suite=self.suite,
            task=self.task,
            agent=self.agent,
            seed=job.seed,
            clock=self.clock,
            recorder=self.recorder,
            folder=surroundings.folder,
            taps=surroundings.taps,
            turns=PatientTurns(surroundings.turns, self.patience),
            behind=surroundings.behind,
        )
        self.log: list[str] = []
        """The last lines of the agent's own log, once the trial is over."""
        self.link_facts: LinkFacts = {"start_s": 0.0, "rubbish": 0, "closed": True}
        self._servers = met.servers
        self._prepared: list[StepOutcome] = []
        self._restored: list[StepOutcome] = []
        self._state: dict[str, Any] | None = None
        self._state_before: dict[str, Any] = {}
        self._truth: dict[str, TruthValue] = {}
        self._truth_before: dict[str, TruthValue] = {}
        self._without: dict[str, str] = {}
        self._turn_began = 0.0

    async def carry_out(self) -> Trace:
        """The trial's trace. Whatever the agent does, there is one, and it has an end."""
        async with AsyncExitStack() as stack:
            why, reason = await self._open_and_converse(stack)
            if self._around.behind is not None:
                why, reason = self._around.behind.explain_end(why, reason)
            self.recorder.end(why, reason)
        return self.trace()

    async def _open_and_converse(self, stack: AsyncExitStack) -> tuple[EndReason, str | None]:
        hold = PatientHold(self.user.hold, self.patience) if self.user.hold else None
        try:
            await self.seams.open_sources(
                stack, hold, PatientUser(self.user, self.patience), self._goes_on_without
            )
        except NOT_OPENED as error:
            return "could_not_run", str(error)
        # The seams are served until the agent is closed: what it asks for in its last moments
        # gets an answer, though it is noted no more.
        addresses = await stack.enter_async_context(self.seams.serve(self._around.gateway))
        try:
            await self._prepare()
        except NotPrepared as error:
            return "could_not_run", str(error)
        self._truth |= await self.seams.look_up_truth("before", "both")
        self._truth_before = {
            spec.as_: self._truth[spec.as_] for spec in self.task.truth if spec.when == "both"
        }
        self._state_before = await self.seams.live_states()
        if compares_states(self.task):
            self._state_before |= copy.deepcopy(dict(self.seams.mock_states()))
        why, reason = await self._within_limits(self._hold_conversations(addresses))
        self._truth |= await self.seams.look_up_truth("after", "both")
        self._state = {**self.seams.mock_states(), **await self.seams.live_states()}
        await self._restore()
        # An agent whose model could not be reached is not to blame for what it did then.
        if why in ("crash", "no_reply") and self.recorder.out_of_reach:
            return "could_not_run", self.recorder.out_of_reach
        return why, reason

    async def _prepare(self) -> None:
        """Have live servers as the trial is to find them.

        Raises:
            NotPrepared: a step failed.
        """
        if self._around.leaves_servers_alone:
            return
        steps = steps_of(self.suite, self._servers, "prepare", "trial")
        try:
            self._prepared = await self.seams.carry_out_steps(steps, self._trial_name)
        except NotPrepared as error:
            self._prepared = error.done
            await self._restore()
            raise

    async def _restore(self) -> None:
        """Leave live servers as the trial found them, as far as that can be done."""
        if not self._around.leaves_servers_alone:
            steps = steps_of(self.suite, self._servers, "restore", "trial")
            self._restored = await self.seams.carry_out_steps(steps, self._trial_name, go_on=True)

    @property
    def _trial_name(self) -> str:
        return f"{self.job.suite}/{self.job.task}#{self.job.number}"

    def _goes_on_without(self, server: str, reason: str) -> bool:
        """Whether the trial goes on without a server; if so, that is noted."""
        if not self._around.go_without_any:
            needed = needed_servers(self.task)
            if needed is None or server in needed:
                return False
        self._without[server] = reason
        self._around.note_missing_server(server, reason)
        return True

    def failed_trace(self, reason: str) -> Trace:
        """The trace of a trial that Ferox could not carry out or keep: nothing but its end."""
        return failed_trace(self.job, reason)

    def trace(self) -> Trace:
        """The trace as it stands."""
        seams = self.seams
        trace = self.failed_trace("")
        trace.update(
            {
                "instructions": self._write_instructions(),
                "model_seam": seams.model_seam_was_seen(),
                "tools": {**seams.offered_tools(), **seams.own.shown_tools()},
                "truth": self._truth,
                "events": self.recorder.events,
                "state": dict(seams.mock_states()) if self._state is None else self._state,
                "modes": dict(self.suite.servers),
                "traffic": seams.traffic(),
                "link": self.link_facts,
                "voices": seams.seen.voices.by_name,
                "seen_by_model": seams.seen.tools,
            }
        )
        prepared = [*self._around.prepared, *self._prepared]
        if prepared or self._restored:
            trace["prepared"], trace["restored"] = prepared, self._restored
        if self._truth_before:
            trace["truth_before"] = self._truth_before
        if self._state_before:
            trace["state_before"] = self._state_before
        prices = self._prices()
        if prices:
            trace["prices"] = prices
        if self._without:
            trace["without"] = self._without
        if self.recorder.repaired_texts:
            trace["mended"] = self.recorder.repaired_texts
        if seams.own.reply_tools:
            trace["reply_tools"] = sorted(seams.own.reply_tools)
        if not seams.own_was_seen():
            trace["own_seen"] = False
        if self._around.behind is not None:
            trace.update(self._around.behind.facts())  # type: ignore[typeddict-item]
        return trace

    def _prices(self) -> dict[str, TokenPrice]:
        """What the agent's models cost, where that is known."""
        models = self.job.snapshot.models
        sources = {called: models[name] for called, name in self.agent.thinks_with.items()}
        return {called: price for called, s in sources.items() if (price := token_price(s))}

    def _write_instructions(self) -> str:
        written = self.job.snapshot.instructions.get(self.job.agent, "")
        now = {"now": self.clock.now, "today": self.clock.today.isoformat()}
        with suppress(ExpressionError):
            return str(render_value(written, now))
        return written

    async def _within_limits(self, work: Any) -> tuple[EndReason, str | None]:
        """Carry out the conversation; a limit or Stop ends it from outside."""
        task = asyncio.ensure_future(work)
        stopped = asyncio.ensure_future(self._around.stop.wait())
        limit_s = self.agent.limits.trial_s
        done: set[asyncio.Future[Any]] = set()
        with suppress(TimeoutError):
            async with self.patience.limit_time(limit_s):
                done, _ = await asyncio.wait(
                    {task, stopped, self.recorder.over}, return_when=asyncio.FIRST_COMPLETED
                )
        stopped.cancel()
        # Cancelled and waited for, so that the agent is closed before the trace is put together.
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

    async def _hold_conversations(self, addresses: SeamAddresses) -> None:
        agent, named = self.agent, self.agent.thinks_with
        setup = AgentSetup(
            trial=self._trial_name,
            now=self.clock.now,
            servers=addresses.servers,
            models={
                called: {"base_url": url, "api_key": addresses.key, "name": named[called]}
                for called, url in addresses.models.items()
            },
            instructions=self._write_instructions(),
            params=agent.params,
        )
        for first, last in group_conversations(self.parts):
            begun = time.perf_counter()
            try:
                conversation = await self._around.link.open_conversation(
                    setup, agent.timeouts.start_s
                )
            except AgentDidNotStart as error:
                raise _TrialOver("did_not_start", str(error)) from None
            self.link_facts["start_s"] += round(time.perf_counter() - begun, 3)
            try:
                for number in range(first, last):
                    await self._run_part(conversation, number)
            except BaseException:  # cancelled by a limit or by Stop, too
                self.recorder.stop_noting()
                raise
            finally:
                self.link_facts["rubbish"] += conversation.unreadable_lines
                self.recorder.repaired_texts += conversation.repaired_messages
                self.log = list(conversation.log)
                heeded = await conversation.close()
                self.link_facts["closed"] = self.link_facts["closed"] and heeded
            self.seams.forget_conversation()

    async def _run_part(self, conversation: Conversation, number: int) -> None:
        """One part's turns, until the user says no more."""
        words = await self._ask_user(self.user.opening_words(number))
        self.recorder.start_clock()  # opening the agent is not part of the conversation
        while words is not None:
            turn = self.recorder.turn(words.text, part=number, rule=words.rule)
            self._turn_began = turn["t"]
            reply = await self._run_turn(conversation, words.text)
            self.seams.own.note_reply(reply.text, reply.data)
            self.recorder.reply(reply.text, reply.data, of=reply.of)
            words = await self._ask_user(self.user.answer_reply(number, reply.text))

    async def _ask_user(self, words: Awaitable[UserWords | None]) -> UserWords | None:
        with self.patience.stand_still():  # a person thinks as long as they like
            try:
                return await words
            except GivenUp as error:  # a fault of the script's, not of the agent's
                raise _TrialOver("could_not_run", f"the scripted user: {error}") from None

    async def _run_turn(self, conversation: Conversation, words: str) -> AgentReply:
        turn_s = self.agent.timeouts.turn_s
        try:
            async with self.patience.limit_time(turn_s):
                return await conversation.send_turn(words, self._turn_hooks())
        except TimeoutError:
            raise _TrialOver("no_reply", f"no reply within {turn_s:g} s") from None
        except AgentCrashed as error:
            raise _TrialOver("crash", str(error)) from None

    def _turn_hooks(self) -> AgentHooks:
        """What the agent may report or ask in one turn."""
        event: PartialEvent | None = None

        def partial(text: str) -> None:
            nonlocal event
            if event is None:
                event = self.recorder.partial(text)
            else:
                self.recorder.extend_partial(event, text)

        def local_call(message: dict[str, Any]) -> None:
            self.seams.own.report_call(message, self._turn_began)

        return AgentHooks(self._decide_approval, local_call, partial)

    async def _decide_approval(self, id: str, tool: str, args: dict[str, Any]) -> ApprovalDecision:
        """Have the user decide an approval. A call that is denied is noted: it never goes out."""
        tool = tool if "/" in tool else f"{OWN}/{tool}"
        with self.patience.stand_still():
            decided = await self.user.approve_call(tool, args)
        self.recorder.approval(
            id,
            tool,
            args,
            decision="approve" if decided.approved else "deny",
            edited=decided.args,
        )
        if decided.approved:
            self.seams.own.approved(tool, args)
        elif not self.seams.own.denied(tool, args):
            self.recorder.deny_call(tool, args)
        return decided
