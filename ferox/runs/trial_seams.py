"""The seams of one trial: what the agent reaches, and what stands behind it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from contextlib import AbstractAsyncContextManager, AsyncExitStack
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Protocol

from ferox.core.clock import Clock
from ferox.core.expressions import render_value
from ferox.core.matcher import MatchContext
from ferox.core.tool_names import ToolNames
from ferox.formats.agent import AgentFile
from ferox.formats.base import offered_of
from ferox.formats.fault import Fault
from ferox.formats.suite import Given, Suite, Task
from ferox.formats.trace import EndReason, OfferedTool, StepOutcome, Traffic, TruthValue
from ferox.gateway.answering_questions import QuestionTaker
from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.gateway import Gateway, SeamAddresses
from ferox.gateway.holding import Hold
from ferox.gateway.model_seam.answering import ModelAnswering
from ferox.gateway.model_seam.model_requests import ModelRequests
from ferox.gateway.model_seam.own_calls import OwnCalls
from ferox.gateway.model_seam.recorded_requests import RecordedRequests
from ferox.gateway.model_seam.seam import ModelSeam
from ferox.gateway.model_seam.seen_by_model import SeenByModel
from ferox.gateway.model_seam.turns import OWN_TURNS, ModelTurns
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.chain import SeamSettings
from ferox.gateway.tool_seam.seam import ToolSeam
from ferox.gateway.tool_seam.wire import WireHeard
from ferox.recordings.model_recording import ExchangeListener
from ferox.recordings.recording import RecordingError
from ferox.runs.models import open_model
from ferox.runs.preparing import ServerStep, carry_out_steps, live_servers, step_names
from ferox.runs.snapshot import Snapshot
from ferox.runs.truth import looked_up
from ferox.servers.connection.diagnosis import ServerUnreachable
from ferox.servers.connection.tap import LineListener
from ferox.servers.opening import TrialContext, open_source
from ferox.servers.sources.source import Source
from ferox.workspace.vault import UnsetSecret

OpenSource = Callable[[], AbstractAsyncContextManager[Source]]
OpenModel = Callable[[str], ModelAnswering]
NOT_OPENED = (ServerUnreachable, RecordingError, UnsetSecret)
"""Why a server or a model cannot be opened: never the agent's fault."""


@dataclass(frozen=True, kw_only=True)
class SeamTaps:
    """Who hears what passes at a trial's seams.

    `capture` gives who hears the messages to and from a live server, by its name;
    `model_capture` the same for a model; `wire` is told the raw messages of calls; `requests`
    takes what the models were shown.
    """

    capture: Callable[[str], LineListener | None] = lambda server: None
    model_capture: Callable[[str], ExchangeListener | None] = lambda model: None
    wire: WireHeard | None = None
    requests: ModelRequests | None = None


class BehindSeams(Protocol):
    """What stands behind a trial's seams in place of its servers and models."""

    def open_source(self, name: str, mode: str, own: OpenSource) -> OpenSource:
        """How a server is opened; `own`: as it would be else."""

    def model(self, name: str, recorder: Recorder, own: OpenModel) -> ModelAnswering:
        """What answers in a model's place; `own` opens one as it would be else."""

    def faults(self, faults: list[Fault], seed: int) -> FaultPlan:
        """The faults that strike."""

    def alter_request(
        self, body: dict[str, Any], find_address: Callable[[str], str]
    ) -> dict[str, Any]:
        """A request to a model as the model is shown it."""

    def explain_end(self, why: EndReason, reason: str | None) -> tuple[EndReason, str | None]:
        """How the trial ended, as far as what stands here knows better."""

    def facts(self) -> Mapping[str, Any]:
        """What it adds to the trace."""


@dataclass(kw_only=True)
class TrialSeams:
    """The tool seams and model seams of one trial, and what they have seen.

    `folder` is the workspace, where live servers start.
    """

    snapshot: Snapshot
    suite: Suite
    task: Task
    agent: AgentFile
    seed: int
    clock: Clock
    recorder: Recorder
    folder: Path
    taps: SeamTaps
    turns: ModelTurns = OWN_TURNS
    behind: BehindSeams | None = None

    def __post_init__(self) -> None:
        self._sources: dict[str, Source] = {}
        self._tools: dict[str, ToolSeam] = {}
        self._models: dict[str, ModelSeam] = {}
        self._faults = (
            FaultPlan(self.task.faults, self.seed)
            if self.behind is None
            else self.behind.faults(self.task.faults, self.seed)
        )
        self.seen = SeenByModel(ToolNames({}), {})
        self.own = self._own_calls()

    def _own_calls(self) -> OwnCalls:
        agent = self.agent
        return OwnCalls(self.recorder, self.seen, agent.own_tools, set(agent.reply_tools))

    async def open_sources(
        self,
        stack: AsyncExitStack,
        hold: Hold | None,
        questions: QuestionTaker,
        go_on_without: Callable[[str, str], bool],
    ) -> None:
        """Open every server and model. `questions` are answered by the trial's user.
        `go_on_without` is told of a server that cannot be opened, and why, and says whether the
        trial goes on.

        Raises:
            ServerUnreachable, RecordingError, UnsetSecret: one of them cannot be opened.
        """
        for name, mode in self.suite.servers.items():
            try:
                source = self._open_source(name, mode)
                self._sources[name] = await stack.enter_async_context(source)
            except NOT_OPENED as error:
                if not go_on_without(name, str(error)):
                    raise
        self._tools = {
            name: self._tool_seam(name, source, hold, questions)
            for name, source in self._sources.items()
            if offered_of(self.agent.offer, name) and offered_of(self.task.offer, name)
        }
        # Names come from what is offered, so they follow once every seam stands.
        offered = self.offered_tools()
        names = {a: tool.get("name") or a.split("/", 1)[1] for a, tool in offered.items()}
        self.seen = SeenByModel(ToolNames(names), offered)
        self.own = self._own_calls()
        self._models = {
            called: self._model_seam(called, model)
            for called, model in self.agent.thinks_with.items()
        }

    def _open_source(self, name: str, mode: str) -> AbstractAsyncContextManager[Source]:
        context = TrialContext(
            folder=self.folder,
            seed=self.seed,
            match_context=MatchContext(self.clock),
            recording=self.snapshot.find_recording,
            given=self.task.given.get(name, Given()),
            heard=self.taps.capture(name),
        )

        def own() -> AbstractAsyncContextManager[Source]:
            return open_source(self.snapshot.servers[name], mode, context)

        return own() if self.behind is None else self.behind.open_source(name, mode, own)()

    def _tool_seam(
        self, name: str, source: Source, hold: Hold | None, questions: QuestionTaker
    ) -> ToolSeam:
        settings = SeamSettings(
            offer=offered_of(self.agent.offer, name),
            narrowed=offered_of(self.task.offer, name),
            wording=self.snapshot.servers[name].wording,
            faults=self._faults,
            hold=hold,
            questions=questions,
        )
        return ToolSeam(
            source,
            self.recorder,
            settings,
            standing=self.agent.uses_standing_addresses,
            wire=self.taps.wire,
        )

    def _model_seam(self, called: str, model: str) -> ModelSeam:
        answering = self._open_model(model)
        recorded = RecordedRequests(
            model=called,
            recorder=self.recorder,
            seen=self.seen,
            own=self.own,
            kept=self.taps.requests,
        )
        behind, find_address = self.behind, self.seen.find_address

        def alter(body: dict[str, Any]) -> dict[str, Any]:
            return body if behind is None else behind.alter_request(body, find_address)

        return ModelSeam(model, answering, recorded, self._faults, alter)

    def _open_model(self, model: str) -> ModelAnswering:
        def own(name: str) -> ModelAnswering:
            return open_model(
                self.snapshot,
                name,
                seed=self.seed,
                clock=self.clock,
                recorder=self.recorder,
                turns=self.turns,
                capture=self.taps.model_capture(name),
            )

        return own(model) if self.behind is None else self.behind.model(model, self.recorder, own)

    def serve(self, gateway: Gateway) -> AbstractAsyncContextManager[SeamAddresses]:
        """Serve the seams at addresses of their own while the context is open."""
        return gateway.open_seams(self._tools, self._models)

    def forget_conversation(self) -> None:
        """A new conversation begins."""
        for seam in self._models.values():
            seam.forget_conversation()

    async def look_up_truth(self, *when: str) -> dict[str, TruthValue]:
        """What the task has Ferox look up itself, before or after the conversation, or both."""
        return {
            spec.as_: await looked_up(self._sources, spec.tool, spec.args)
            for spec in self.task.truth
            if spec.when in when
        }

    async def carry_out_steps(
        self, steps: Iterable[ServerStep], trial: str, *, go_on: bool = False
    ) -> list[StepOutcome]:
        """Prepare or restore the live servers, past all faults.

        Raises:
            NotPrepared: a step failed, unless it is to go on.
        """
        names = self._template_names(trial)
        return await carry_out_steps(steps, self._sources, self.folder, names, go_on=go_on)

    def _template_names(self, trial: str) -> dict[str, Any]:
        return step_names(self.clock.now, self.clock.today.isoformat(), trial)

    async def live_states(self) -> dict[str, Any]:
        """The states of live servers whose files say how they are read."""
        states: dict[str, Any] = {}
        for server in live_servers(self.suite):
            lookup = self.snapshot.servers[server].state
            if lookup is None or server not in self._sources:
                continue
            args = render_value(lookup.args, self._template_names(""))
            found = await looked_up(self._sources, f"{server}/{lookup.tool}", args)
            if not found.get("error"):
                states[server] = found["result"]
        return states

    # What the trace tells of them.

    def offered_tools(self) -> dict[str, OfferedTool]:
        """The tools as the agent was offered them at the start, by address."""
        return {
            a: tool for seam in self._tools.values() for a, tool in seam.offered_tools().items()
        }

    def mock_states(self) -> Mapping[str, Any]:
        """The states of the mocks."""
        return {n: s.state for n, s in self._sources.items() if s.state is not None}

    def traffic(self) -> dict[str, Traffic]:
        """What passed at the tool seams besides calls."""
        return {name: seam.traffic for name, seam in self._tools.items()}

    def model_seam_was_seen(self) -> bool:
        """Whether the model's traffic passed here; an agent that replied without any thinks
        elsewhere."""
        kinds = {event["kind"] for event in self.recorder.events}
        return self.agent.model is not None and ("model" in kinds or "reply" not in kinds)

    def own_was_seen(self) -> bool:
        """Whether calls inside the agent would have been seen: as its file says, else by what
        passed."""
        if self.agent.own_seen is not None:
            return self.agent.own_seen
        return self.agent.link == "plain" or self.own.would_show(self.model_seam_was_seen())
