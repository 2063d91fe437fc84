"""The worker: carries out one run, apart from the web process.

Started as `python -m ferox.runs.worker WORKSPACE RUN LOCK`, the last a file descriptor: it
inherits the run's lock and holds it while it lives, so that others can tell a run that goes on
from one that was interrupted.
"""

from __future__ import annotations

import asyncio
import signal
import sys
import time
import traceback
from collections.abc import AsyncIterator, Iterable
from contextlib import AsyncExitStack, asynccontextmanager, suppress
from dataclasses import replace
from pathlib import Path

from ferox.core.naming import counted_noun
from ferox.formats.suite import Suite
from ferox.formats.trace import StepOutcome
from ferox.gateway.model_seam.turns import OwnTurns
from ferox.processes.memory import keep_heap_small
from ferox.processes.starting import adopt_orphans, end_orphans
from ferox.runs.cluster.address import ClusterError
from ferox.runs.crew import Crew, OwnCrew
from ferox.runs.looks_ahead import may_go_on
from ferox.runs.preparing import NotPrepared, hold_servers, prepare_run, remembering_servers
from ferox.runs.run_keeper import RunKeeper
from ferox.runs.run_lock import RunLock
from ferox.runs.snapshot import Snapshot
from ferox.runs.stored_snapshots import snapshot_of
from ferox.runs.trial_host import TrialHost
from ferox.runs.trial_order import TrialOrder
from ferox.runs.trial_seams import NOT_OPENED
from ferox.store.board import keep_counts
from ferox.store.database import (
    Engine,
    StoreError,
    check_in_place,
    open_database,
    read_session,
    results_folder,
    write_session,
)
from ferox.store.runs import (
    change_run,
    get_run,
    is_anything_left,
    shall_stop,
    waiting_trials,
)
from ferox.store.tables import Trial
from ferox.workspace.vault import open_vault

# Soon enough for Stop to feel immediate; each look is a query.
STOP_EVERY_S = 0.3
MOST_NAMED = 3
"""Lost machines that a run's message names."""


class Worker:
    """Has the waiting trials of a run carried out, several at once."""

    def __init__(self, engine: Engine, workspace: Path, run: int) -> None:
        self._engine = engine
        self._workspace = workspace
        self._run = run
        self._stop = asyncio.Event()
        with read_session(engine) as session:
            record = get_run(session, run)
            self._seed, self._at_once, self._on = record.seed, record.at_once, record.on
            self._waiting = waiting_trials(session, run)
            self._snapshot = snapshot_of(session, run)
        self._keeper = RunKeeper(engine, workspace, run, self._snapshot)
        self._prepared: dict[str, list[StepOutcome]] = {}
        """What was done to live servers for the whole run, by suite."""
        self._unprepared: dict[str, str] = {}
        """Suites whose servers could not be prepared for the run, and why."""
        self._not_restored: list[str] = []

    async def carry_out(self) -> None:
        """All waiting trials, or as many as there are before Stop."""
        self._note_progress(state="running", started_at=time.time())
        with read_session(self._engine) as session:
            self._keeper.read_hold_rule(session)
        watch = asyncio.create_task(self._watch_for_stop())
        try:
            async with self._keeper.keep(), self._open_crew() as crew:
                stopping = asyncio.create_task(self._pass_stop_on(crew))
                try:
                    await self._prepare_run()
                    await self._carry_out_rounds(crew)
                finally:
                    stopping.cancel()
        finally:
            watch.cancel()
            await self._restore_run()
            keep_counts(self._engine, [self._run])
        state = "stopped" if self._stop.is_set() and self._is_unfinished() else "done"
        self._note_progress(state=state, finished_at=time.time(), message=self._message())

    @asynccontextmanager
    async def _open_crew(self) -> AsyncIterator[Crew]:
        """Those who carry the trials out: this process, or those of a cluster."""
        turns = OwnTurns()
        async with AsyncExitStack() as stack:
            if self._on is None:
                host = TrialHost(self._snapshot, self._seed, self._workspace, self._keeper, turns)
                await stack.enter_async_context(host.serve())
                yield OwnCrew(host, self._at_once)
            else:
                # What Dask brings takes a second to import, and is there only if it was installed.
                from ferox.runs.cluster.cluster_crew import ClusterCrew

                crew = ClusterCrew(
                    self._on, self._at_once, self._snapshot, seed=self._seed,
                    folder=self._workspace, keeper=self._keeper, turns=turns,
                )  # fmt: skip
                await stack.enter_async_context(crew.serve())
                yield crew

    async def _pass_stop_on(self, crew: Crew) -> None:
        await self._stop.wait()
        await crew.stop()

    async def _carry_out_rounds(self, crew: Crew) -> None:
        while True:
            hands = [asyncio.create_task(self._hand_out(crew)) for _ in range(crew.places)]
            try:
                await asyncio.gather(*hands)
            finally:
                for hand in hands:
                    hand.cancel()
            if self._stop.is_set() or not self._begin_next_round():
                return

    def _met_suites(self) -> list[tuple[Snapshot, Suite]]:
        """The suites of the run as agents or arms meet them, each once."""
        met = {
            (name, repr(sorted(suite.servers.items()))): (view, suite)
            for view in self._snapshot.views()
            for name, suite in view.suites.items()
        }
        return list(met.values())

    async def _prepare_run(self) -> None:
        """Do what is done once for the whole run. A suite whose servers could not be prepared is
        not run."""
        for view, suite in self._met_suites():
            try:
                done = await prepare_run(view, suite, self._workspace, "prepare")
                self._prepared.setdefault(suite.suite, []).extend(done)
            except (NotPrepared, *NOT_OPENED) as error:
                self._unprepared[suite.suite] = str(error)

    async def _restore_run(self) -> None:
        for view, suite in self._met_suites():
            try:
                done = await prepare_run(view, suite, self._workspace, "restore")
            except NOT_OPENED as error:
                self._not_restored.append(f"{suite.suite}: {error}")
                continue
            for one in done:
                if one["error"] is not None:
                    self._not_restored.append(f"{one['what']}: {one['error']['message']}")

    def _message(self) -> str | None:
        """Which servers trials went without, or were not prepared or restored, and why; which
        trials were lost on the way; None if there is nothing to say."""
        missing = [
            f"{counted_noun(count, 'trial')} went without {server}, out of reach: {why}"
            for server, (count, why) in self._keeper.missing_servers.items()
        ]
        missing += [f"{suite} was not run: {why}" for suite, why in self._unprepared.items()]
        missing += [f"not restored: {what}" for what in self._not_restored]
        if lost := self._keeper.lost:
            were = counted_noun(lost.total(), "trial was", "trials were")
            some, others = list(lost)[:MOST_NAMED], len(lost) - MOST_NAMED
            named = ", ".join(some) + (f" and {others} others" if others > 0 else "")
            missing.append(f"{were} done again, whose machines were lost: {named}")
        return "; ".join(missing) or None

    def stop(self) -> None:
        """End at once; what is not done can be resumed."""
        self._stop.set()

    def _begin_next_round(self) -> bool:
        """Look whether the run is decided; if it is not, its next trials wait now."""
        plan = self._snapshot.plan
        if plan is None or plan.until is None:
            return False
        # NumPy and SciPy take half a second to load, and few runs need them.
        from ferox.runs.looks import take_look

        with write_session(self._engine) as session:
            goes_on = take_look(session, self._run, self._snapshot)
        with read_session(self._engine) as session:
            self._waiting = waiting_trials(session, self._run)
        return goes_on

    def _is_unfinished(self) -> bool:
        """Whether trials are left, or a look that may ask for more."""
        with read_session(self._engine) as session:
            return is_anything_left(session, self._run) or may_go_on(
                self._snapshot.plan, get_run(session, self._run)
            )

    def _note_progress(self, **values: object) -> None:
        with write_session(self._engine) as session:
            change_run(session, self._run, **values)

    async def _watch_for_stop(self) -> None:
        while not self._stop.is_set():
            check_in_place(self._engine)
            with read_session(self._engine) as session:
                self._keeper.read_hold_rule(session)
                if shall_stop(session, self._run):
                    self._stop.set()
            await asyncio.sleep(STOP_EVERY_S)

    async def _hand_out(self, crew: Crew) -> None:
        while self._waiting and not self._stop.is_set():
            # No lock is needed: nothing is awaited between the look and the pop.
            trial = self._waiting.pop()
            folder = results_folder(self._workspace)
            async with hold_servers(folder, self._remembering_servers(trial)):
                # Waiting for a server may take minutes, and Stop may have come meanwhile.
                if not self._stop.is_set():
                    await crew.carry_out(self._order(trial))

    def _remembering_servers(self, trial: Trial) -> list[str]:
        """The live servers of a trial on which only one trial may go on at a time."""
        met = self._snapshot.of_arm(trial.agent)
        return remembering_servers(met.suites[trial.suite], met.servers)

    def _order(self, trial: Trial) -> TrialOrder:
        return replace(
            TrialOrder.of_trial(trial),
            prepared=self._prepared.get(trial.suite, ()),
            unprepared=self._unprepared.get(trial.suite),
        )


async def _carry_out(worker: Worker, stop_on: Iterable[signal.Signals]) -> None:
    for number in stop_on:
        asyncio.get_running_loop().add_signal_handler(number, worker.stop)
    await worker.carry_out()


def carry_out_run(workspace: Path, run: int, stop_on: Iterable[signal.Signals] = ()) -> int:
    """Carry out a run that is claimed; 0 if it went through, 3 if it could not."""
    engine = open_database(workspace)
    open_vault(workspace)
    try:
        asyncio.run(_carry_out(Worker(engine, workspace, run), stop_on))
    except Exception as error:
        traceback.print_exc()
        is_explained = isinstance(error, StoreError | ClusterError)
        message = str(error) if is_explained else f"{type(error).__name__}: {error}"
        # If it was the database that failed, the log is all that is left to say so.
        with suppress(Exception), write_session(engine) as session:
            change_run(session, run, state="stopped", message=message, finished_at=time.time())
        return 3
    return 0


def main(arguments: list[str]) -> int:
    """Carry out the run whose lock this process was given."""
    workspace, run = Path(arguments[0]), int(arguments[1])
    lock = RunLock(workspace)
    lock.adopt(int(arguments[2]))
    keep_heap_small()
    adopt_orphans()
    try:
        return carry_out_run(workspace, run, (signal.SIGTERM, signal.SIGINT))
    finally:
        end_orphans()


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
