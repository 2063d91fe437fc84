"""Traces brought in: matched to tasks, judged, and kept as a run."""

from __future__ import annotations

import re
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from typing import NamedTuple

from ferox.bringing.conversations import Conversation
from ferox.bringing.reading import ReadTraces, read_trace_files
from ferox.bringing.span_traces import trace_of
from ferox.bringing.spans import SpanError
from ferox.bringing.task_matching import NoTask, TaskMatch, find_task, place_turns
from ferox.core.clock import REAL
from ferox.core.masking import Masker
from ferox.core.story import OWN
from ferox.core.tool_names import ToolNames
from ferox.formats.agent import AgentFile
from ferox.formats.suite import Suite
from ferox.formats.trace import Trace
from ferox.runs.elsewhere import (
    BROUGHT_IN,
    JudgedTrial,
    TrialFromElsewhere,
    TrialJudge,
    keep_run_from_elsewhere,
)
from ferox.runs.records import RunError
from ferox.runs.snapshot import Snapshot, take_snapshot
from ferox.runs.suite_tools import tools_of_suite
from ferox.store.database import Engine, write_session
from ferox.store.results import verdict_of
from ferox.workspace import Workspace
from ferox.workspace.problems import did_you_mean
from ferox.workspace.vault import current_vault

MOST_TRIALS = 100_000
UNNAMED = "agent"
"""What an agent is called whose traces do not name it."""
SUITE_CLOCK = "suite"


class BringingError(ValueError):
    """Nothing that can be brought in; the message says why and what to do."""


@dataclass(frozen=True)
class BringingOptions:
    """What is said of traces besides what they tell: the agent's name, the task (`TASK` or
    `SUITE/TASK`), and what the agent took for now: a time, or `suite` for the suite's clock."""

    agent: str | None = None
    task: str | None = None
    clock: str | None = None


@dataclass
class BringingOutcome:
    """What became of traces: the run that holds them, if any was whole, how many passed of those
    judged, and what else there is to say."""

    run: int | None = None
    trials: int = 0
    passes: int = 0
    judged: int = 0
    by_words: list[str] = field(default_factory=list)
    """Traces that were matched by their words only roughly, and how sure that is."""
    left_out: list[str] = field(default_factory=list)
    """What could not be read or matched, by its place."""


class _Found(NamedTuple):
    place: str
    trial: TrialFromElsewhere
    match: TaskMatch
    model: str | None


def bring_files(
    engine: Engine,
    workspace: Workspace,
    paths: list[Path],
    how: BringingOptions,
    on_trial: Callable[[int, int], None] = lambda done, total: None,
) -> BringingOutcome:
    """Bring files of traces into a workspace as a run; all of what is whole, or nothing.

    `on_trial` hears how many trials of how many are judged, and may raise to give up.

    Raises:
        BringingError: there is nothing in them, or `how` names no task of the workspace.
        RunError: the workspace's own files do not allow it.
    """
    _check_how(workspace, how)
    read = read_trace_files(paths)
    brought = BringingOutcome(left_out=[*read.faults])
    if read.more_faults:
        brought.left_out.append(f"and {read.more_faults:,} faults more")
    found = _Sorting(engine, workspace, how, brought).sort(read)
    if not found:
        why = brought.left_out[0] if brought.left_out else "there is no trace in it"
        raise BringingError(f"nothing was brought in: {why}")
    _keep_run(engine, workspace, found, brought=brought, on_trial=on_trial)
    return brought


def _check_how(workspace: Workspace, how: BringingOptions) -> None:
    if how.clock not in (None, SUITE_CLOCK):
        try:
            moment = datetime.fromisoformat(str(how.clock).replace("Z", "+00:00"))
        except ValueError:
            moment = None
        if moment is None or moment.tzinfo is None:
            raise BringingError(
                f"`{how.clock}` is no time with an offset, such as 2031-03-14T06:30:00Z"
            )
    if how.task is None:
        return
    try:
        find_task(workspace.suites.values(), suite=None, task=how.task, words=None)
    except NoTask as error:
        names = [f"{s.suite}/{t.task}" for s in workspace.suites.values() for t in s.tasks]
        raise BringingError(f"{error}{did_you_mean(how.task, names)}") from None


class _Sorting:
    """Finds the task of each trace, and gives it its names."""

    def __init__(
        self, engine: Engine, workspace: Workspace, how: BringingOptions, brought: BringingOutcome
    ) -> None:
        self._engine, self._workspace, self._how, self._brought = engine, workspace, how, brought
        self._names: dict[str, ToolNames] = {}
        self._numbers: Counter[tuple[str, str, str]] = Counter()
        self._masker = Masker(current_vault().secret_values().values())

    def sort(self, read: ReadTraces) -> list[_Found]:
        """Every trace that has a task, with its names; what has none is noted."""
        found: list[_Found] = []
        for place, one in self._every_trace(read):
            try:
                if isinstance(one, Conversation):
                    found.append(self._of_spans(place, one))
                else:
                    found.append(self._of_trace(place, one))
            except (NoTask, SpanError) as error:
                self._brought.left_out.append(f"{place}: {error}")
        if len(found) > MOST_TRIALS:
            raise BringingError(f"more than {MOST_TRIALS:,} trials; bring them in parts")
        return found

    def _every_trace(self, read: ReadTraces) -> Iterator[tuple[str, Trace | Conversation]]:
        yield from read.traces
        for conversation in read.conversations:
            yield f"trace {conversation.spans[0].trace}", conversation

    def _of_trace(self, place: str, trace: Trace) -> _Found:
        """A trace of Ferox's own: it names its task."""
        given = self._how.task
        match = find_task(
            self._workspace.suites.values(),
            suite=None if given else trace["suite"],
            task=given or trace["task"],
            words=None,
        )
        return self._with_names(place, trace, match, trace["agent"], started_at=None, model=None)

    def _of_spans(self, place: str, conversation: Conversation) -> _Found:
        """Spans: first for what they say of the task, then with the names of its suite's tools."""
        first = trace_of(conversation, _own_address)
        match = find_task(
            self._workspace.suites.values(),
            suite=None if self._how.task else first.suite,
            task=self._how.task or first.task,
            words=first.words,
        )
        if match.sure < 1:
            sure = f"{100 * match.sure:.0f} % alike"
            name = f"{match.suite.suite}/{match.task.task}"
            self._brought.by_words.append(f"{place} is taken for {name}: {sure}")
        names = self._names_of(match.suite)
        made = trace_of(conversation, lambda n: names.find_address(n) or _own_address(n))
        place_turns(made.trace, match.task)
        return self._with_names(
            place, made.trace, match, made.agent, started_at=made.started_at, model=made.model
        )

    def _with_names(
        self,
        place: str,
        trace: Trace,
        match: TaskMatch,
        agent: str | None,
        *,
        started_at: float | None,
        model: str | None,
    ) -> _Found:
        trace = self._masker.mask(trace)
        suite, task = match.suite, match.task
        trace["suite"], trace["task"] = suite.suite, task.task
        trace["agent"] = _fitting_name(self._how.agent or agent or UNNAMED)
        if self._how.clock is not None:
            clock = suite.clock if self._how.clock == SUITE_CLOCK else self._how.clock
            # A suite whose clock is the real one has that of the trace.
            trace["clock"] = trace["clock"] if clock == REAL else clock
        trace["zone"] = trace["zone"] or suite.zone
        key = (trace["agent"], trace["suite"], trace["task"])
        self._numbers[key] += 1
        trace["trial"] = self._numbers[key]
        return _Found(place, TrialFromElsewhere(trace, started_at), match, model)

    def _names_of(self, suite: Suite) -> ToolNames:
        if suite.suite not in self._names:
            tools = tools_of_suite(self._workspace, suite, self._engine)
            self._names[suite.suite] = ToolNames({a: a.split("/", 1)[1] for a in tools})
        return self._names[suite.suite]


def _own_address(name: str) -> str:
    """A tool that no server of the suite has is the agent's own."""
    return name if name.startswith(OWN) else f"{OWN}{name}"


def _fitting_name(name: str) -> str:
    """A name as files may have it."""
    return re.sub(r"[^A-Za-z0-9_.-]+", "-", name)[:80].lstrip("_.-") or UNNAMED


def _keep_run(
    engine: Engine,
    workspace: Workspace,
    found: list[_Found],
    brought: BringingOutcome,
    on_trial: Callable[[int, int], None],
) -> None:
    suites = sorted({one.match.suite.suite for one in found})
    agents = sorted({one.trial.trace["agent"] for one in found})
    models: dict[str, str | None] = {}
    for one in found:
        models.setdefault(one.trial.trace["agent"], one.model)
    snapshot = _snapshot_of(workspace, suites, agents)
    judge = TrialJudge(snapshot)
    judged: list[JudgedTrial] = []
    for done, one in enumerate(found, 1):
        try:
            judged.append(judge.judge(one.trial))
        except ValueError as error:  # a clock or zone that is none
            brought.left_out.append(f"{one.place}: {error}")
        on_trial(done, len(found))
    if not judged:
        raise BringingError(f"nothing was brought in: {brought.left_out[0]}")
    setups = {
        (one.trace["suite"], one.trace["agent"]): {
            "agent": one.trace["agent"],
            "model": models[one.trace["agent"]] or "",
            "modes": BROUGHT_IN,
            "faults": "",
        }
        for one in judged
    }
    now = time.time()
    began = [one.started_at for one in judged if one.started_at is not None]
    with write_session(engine) as session:
        brought.run = keep_run_from_elsewhere(
            session,
            snapshot,
            judged,
            setups=setups,
            title=f"{BROUGHT_IN}: {', '.join(agents)}",
            origin=BROUGHT_IN,
            seed=0,
            repeats=max(one.trace["trial"] for one in judged),
            at_once=1,
            created_at=now,
            started_at=min(began, default=now),
            finished_at=now,
        )
    verdicts = [verdict_of(one.result) for one in judged]
    brought.trials = len(judged)
    brought.judged = sum(verdict in ("pass", "fail") for verdict in verdicts)
    brought.passes = verdicts.count("pass")


def _snapshot_of(workspace: Workspace, suites: list[str], agents: list[str]) -> Snapshot:
    """What the trials are judged by: the suites of today, and agents of which only the names are
    known."""
    try:
        taken = take_snapshot(workspace, suites, [])
    except ValueError as error:
        raise RunError(str(error)) from None
    files = {
        name: AgentFile(ferox=1, agent=name, title="brought in", link="process") for name in agents
    }
    return taken.model_copy(update={"agents": files, "instructions": dict.fromkeys(agents, "")})
