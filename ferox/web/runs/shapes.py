"""What the interface of runs and the board takes and gives."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field
from typing_extensions import TypedDict

from ferox.runs.records import MOST_AT_ONCE
from ferox.web.shapes import (
    AgentShape,
    FromRecord,
    HoldShape,
    OverridesShape,
    ProblemShape,
    RecordId,
)

ChangeKind = Literal["broke", "otherwise", "mended", "fails", "wavers", "known"]
RunState = Literal["waiting", "running", "done", "stopped", "interrupted"]


class TaskShape(BaseModel):
    """A task as lists show it."""

    task: str
    title: str | None
    tags: list[str]


class SuiteShape(BaseModel):
    """A suite and its tasks, in the file's order."""

    suite: str
    title: str | None
    tasks: list[TaskShape]


class ServerModes(BaseModel):
    """A server, and in which ways it can be had."""

    server: str
    modes: list[str]


class WorkspaceShape(BaseModel):
    """The workspace as it stands on disk now."""

    name: str
    suites: list[SuiteShape]
    agents: list[AgentShape]
    servers: list[ServerModes] = []
    models: list[str] = []
    fault_sets: list[str] = []
    plans: list[str] = []
    clusters: list[str] = []
    """Where runs were carried out besides in their workers, the last first."""
    trials: int
    at_once: int
    problems: list[ProblemShape]
    missing: bool = False
    """There is no workspace in the folder yet."""


class RunRequest(BaseModel):
    """What to run."""

    suites: list[str] = Field(min_length=1)
    agents: list[str] = Field(min_length=1)
    tasks: list[str] = []
    repeats: int = Field(3, ge=1, le=1000)
    at_once: int = Field(2, ge=0, le=MOST_AT_ONCE)
    """0: as many as the cluster takes that the run is `on`."""
    on: str | None = Field(None, max_length=300)
    overrides: OverridesShape = OverridesShape()
    hold: HoldShape | None = None


class RunShape(BaseModel):
    """A run and how far it is. Times are seconds since the epoch. `origin`: where its trials are
    from, if not from here."""

    id: int
    title: str
    state: RunState
    created_at: float
    started_at: float | None
    finished_at: float | None
    message: str | None
    total: int
    done: int
    running: int
    passes: int
    judged: int
    errors: int
    seconds_left: float | None
    otherwise: str
    hold: HoldShape | None
    origin: str | None
    on: str | None
    """The cluster whose machines carry it out."""
    at_once: int
    fork_of: int | None
    """The trial that its trials go on from, if they are forks."""


class RunList(BaseModel):
    """Runs, the newest first."""

    runs: list[RunShape]


# What a large board has thousands of are typed dictionaries: models take ten times as long to make.
class FamilyMeanShape(TypedDict):
    """One family of a cell."""

    family: str
    score: float | None
    n: int


class CellShape(TypedDict):
    """One task against one agent. `interval`: Wilson, 95 %."""

    suite: str
    task: str
    agent: str
    passes: int
    n: int
    errors: int
    unjudged: int
    waiting: int
    running: int
    interval: tuple[float, float] | None
    comb: list[FamilyMeanShape]


class CauseShape(TypedDict):
    """What went wrong in a cell's failed trials, and trials that show it."""

    message: str | None
    failed_check: str | None
    trials: list[int]


class LedgerEntryShape(TypedDict):
    """A cell beside its predecessor, the run `base`."""

    suite: str
    task: str
    agent: str
    now: tuple[int, int]
    before: tuple[int, int] | None
    base: int | None
    cause: CauseShape
    was: CauseShape | None


class LedgerGroupShape(FromRecord):
    """Cells that changed in the same way for the same cause. `differs`: parts of the set-up;
    `known`: why the suite says that they fail for now."""

    kind: ChangeKind
    message: str | None
    failed_check: str | None
    differs: list[str]
    entries: list[LedgerEntryShape]
    known: str | None


class LedgerShape(FromRecord):
    """What changed, how many cells could be compared and with which runs."""

    compared: int
    no_predecessor: int
    failing_as_before: int
    bases: list[int]
    groups: list[LedgerGroupShape]


class BaseQuery(BaseModel):
    """The run that a board is compared with; left out: each cell's predecessor."""

    base: RecordId | None = None


class BoardShape(BaseModel):
    """The board of one run; `plan`: its plan's name, if its columns are arms."""

    run: RunShape
    plan: str | None
    suites: list[SuiteShape]
    agents: list[AgentShape]
    cells: list[CellShape]
    ledger: LedgerShape


class TrialLine(BaseModel):
    """A trial as lists show it."""

    id: int
    run: int
    suite: str
    task: str
    agent: str
    number: int
    state: str
    verdict: str | None
    reason: str | None
    calls: int
    turn_ms: float | None
    went_wrong: str | None = None
    mark: str | None = None
    noted: bool = False


class TrialList(BaseModel):
    """Trials of a cell, by number."""

    trials: list[TrialLine]


class HeldShape(BaseModel):
    """A call that is held; `at`: seconds since the epoch."""

    id: int
    trial: int
    task: str
    agent: str
    tool: str
    args: dict[str, Any]
    at: float


class HeldList(BaseModel):
    """The calls of a run that are held."""

    held: list[HeldShape]


class HeldPath(BaseModel):
    """A held call's number in an address."""

    held: RecordId


class Progress(BaseModel):
    """What the stream of a run sends: its state, changed cells, and the newest calls."""

    run: RunShape
    cells: list[CellShape]
    calls: list[dict[str, Any]]
    held: list[HeldShape]


class RunPath(BaseModel):
    """A run's number in an address."""

    run: RecordId


class CellQuery(BaseModel):
    """Which cell of a board."""

    suite: str
    task: str
    agent: str
