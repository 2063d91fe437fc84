"""What a run would take, by what earlier trials of the same tasks and agents took."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from statistics import fmean

from pydantic import BaseModel

from ferox.core.definitions import only_reads
from ferox.formats.agent import AgentFile
from ferox.formats.workspace import ModelSource, shared_price
from ferox.runs.arm_setup import ArmFiles
from ferox.runs.clock_warnings import clock_warnings
from ferox.runs.overrides import Overrides
from ferox.store.by_hand import seen_before
from ferox.store.database import Engine, read_session
from ferox.store.past_trials import PastCell, read_past_cells
from ferox.store.runs import Cell
from ferox.workspace import Workspace
from ferox.workspace.modes import reach_for_mode


class LiveServer(BaseModel):
    """A live server that trials would reach. `may_write` counts the tools that do not say that
    they only read; None if its tools have never been seen."""

    server: str
    mode: str
    may_write: int | None


class Estimate(BaseModel):
    """What a run would take.

    `seconds` and tokens come from `known` of its `cells`, those that have run before; what has not
    is taken to be like them. They are None if nothing has. `money` is by currency, for the models
    whose price is known; what those in `unpriced` cost is not.
    """

    trials: int
    cells: int
    known: int
    seconds: float | None
    tokens_in: int | None
    tokens_out: int | None
    money: dict[str, float]
    unpriced: list[str]
    live: list[LiveServer]
    warnings: list[str]
    """What lives by another day than its suites say."""


def estimate_run(
    engine: Engine,
    workspace: Workspace,
    cells: list[Cell],
    *,
    repeats: int,
    at_once: int,
    overrides: Overrides,
) -> Estimate:
    """What a run of these cells would take."""
    files = {
        name: overrides.override_agent(workspace.agents[name]) for name in {c[2] for c in cells}
    }
    suites = {c[0] for c in cells}
    modes = {
        (server, overrides.modes.get(server, mode))
        for suite in suites
        for server, mode in workspace.suites[suite].servers.items()
    }
    with read_session(engine) as session:
        past = read_past_cells(session, suites, files)
    return _estimate(
        engine,
        workspace,
        cells,
        past=past,
        files=files,
        modes=modes,
        repeats=repeats,
        at_once=at_once,
        warnings=clock_warnings(
            workspace,
            [workspace.suites[suite] for suite in sorted(suites)],
            files.values(),
            overrides.modes,
        ),
    )


def estimate_arms(
    engine: Engine,
    workspace: Workspace,
    cells: list[Cell],
    arms: Mapping[str, ArmFiles],
    *,
    repeats: int,
    at_once: int,
) -> Estimate:
    """What a run of these cells of arms would take. An arm that has not run is taken to be like
    its agent."""
    suites = {c[0] for c in cells}
    names = {*arms, *(arm.setup.agent for arm in arms.values())}
    with read_session(engine) as session:
        past = read_past_cells(session, suites, names)
    for suite, task, name in cells:
        own, agents = (suite, task, name), (suite, task, arms[name].setup.agent)
        if own not in past and agents in past:
            past[own] = past[agents]
    modes = {
        (server, mode)
        for arm in arms.values()
        for suite in suites
        for server, mode in arm.setup.change_suite(workspace.suites[suite]).servers.items()
    }
    files = {name: arm.file for name, arm in arms.items()}
    return _estimate(
        engine,
        workspace,
        cells,
        past=past,
        files=files,
        modes=modes,
        repeats=repeats,
        at_once=at_once,
        warnings=list(dict.fromkeys(_arm_warnings(workspace, sorted(suites), arms.values()))),
    )


def _arm_warnings(
    workspace: Workspace, suites: list[str], arms: Iterable[ArmFiles]
) -> Iterator[str]:
    for arm in arms:
        met = [arm.setup.change_suite(workspace.suites[suite]) for suite in suites]
        yield from clock_warnings(workspace, met, [arm.file], {})


def _estimate(
    engine: Engine,
    workspace: Workspace,
    cells: list[Cell],
    *,
    past: Mapping[Cell, PastCell],
    files: Mapping[str, AgentFile],
    modes: Iterable[tuple[str, str]],
    repeats: int,
    at_once: int,
    warnings: list[str],
) -> Estimate:
    known = [past[cell] for cell in cells if cell in past]
    trials = len(cells) * repeats
    ms = _mean_of([cell.ms for cell in known])
    inward = _mean_of([cell.tokens_in for cell in known])
    outward = _mean_of([cell.tokens_out for cell in known])
    money: defaultdict[str, float] = defaultdict(float)
    unpriced: set[str] = set()
    for cell in cells:
        models = _paid_models(workspace, files[cell[2]])
        price = shared_price(models.values())
        own = past.get(cell)
        sent = own.tokens_in if own and own.tokens_in is not None else inward
        answered = own.tokens_out if own and own.tokens_out is not None else outward
        if price is None:
            unpriced.update(models)
        elif sent is not None and answered is not None:
            money[price.currency] += price.cost(sent, answered) * repeats
    return Estimate(
        trials=trials,
        cells=len(cells),
        known=len(known),
        # 0: as many at once as a cluster takes, and how many that is is not known yet.
        seconds=None if ms is None or not at_once else ms * trials / 1000 / min(at_once, trials),
        tokens_in=None if inward is None else round(inward * trials),
        tokens_out=None if outward is None else round(outward * trials),
        money=dict(money),
        unpriced=sorted(unpriced),
        live=_live_servers(engine, workspace, modes),
        warnings=warnings,
    )


def _paid_models(workspace: Workspace, agent: AgentFile) -> dict[str, ModelSource]:
    """The models that an agent would think with; none if all of them answer by themselves."""
    sources = {model: workspace.settings.models[model] for model in agent.thinks_with.values()}
    return {} if all(source.is_free for source in sources.values()) else sources


def _mean_of(values: Iterable[float | None]) -> float | None:
    """The mean of what is known."""
    known = [value for value in values if value is not None]
    return fmean(known) if known else None


def _live_servers(
    engine: Engine, workspace: Workspace, modes: Iterable[tuple[str, str]]
) -> list[LiveServer]:
    found = []
    for server, mode in sorted(set(modes)):
        file = workspace.servers.get(server)
        if file is not None and reach_for_mode(file, mode) is not None:
            seen = seen_before(engine, server, mode)
            found.append(
                LiveServer(
                    server=server, mode=mode, may_write=_count_writers(seen[1]) if seen else None
                )
            )
    return found


def _count_writers(tools: list[dict[str, object]]) -> int:
    """Tools that may write: all that do not say that they only read."""
    return sum(not only_reads(tool) for tool in tools)
