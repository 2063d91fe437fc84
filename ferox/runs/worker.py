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
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

from ferox.agents.links.link import Link
from ferox.core.chance import draw
from ferox.core.json_values import brief_json
from ferox.core.masking import Masker
from ferox.core.naming import counted_noun
from ferox.core.scoring import score_trial
from ferox.core.script import Script, compile_script
from ferox.formats.suite import Suite
from ferox.formats.trace import StepOutcome, Trace
from ferox.gateway.gateway import Gateway
from ferox.processes.starting import adopt_orphans, end_orphans
from ferox.runs.captures import Captures
from ferox.runs.kept_requests import requests_to
from ferox.runs.linking import links_of
from ferox.runs.looks import may_go_on, take_look
from ferox.runs.preparing import NotPrepared, hold_servers, prepare_run, remembering_servers
from ferox.runs.run_hold import RunHold
from ferox.runs.run_lock import RunLock
from ferox.runs.scripted_user import ScriptedUser
from ferox.runs.snapshot import Snapshot, script_hash
from ferox.runs.standing_addresses import serve_standing_addresses
from ferox.runs.stored_snapshots import snapshot_of
from ferox.runs.trial import TrialJob, TrialRun, TrialSurroundings
from ferox.runs.trial_seams import NOT_OPENED, SeamTaps
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
from ferox.store.trials import note_begin
from ferox.store.writer import Writer
from ferox.workspace.vault import open_vault

# Soon enough for Stop to feel immediate; each look is a query.
STOP_EVERY_S = 0.3


def trial_seed(run_seed: int, suite: str, task: str, agent: str, number: int) -> int:
    """A trial's own seed: the same whenever and beside whatever it runs, and for all arms of an
    agent (common random numbers), so that they meet the same luck."""
    return int(draw(run_seed, suite, task, agent, number) * 2**48)


class Worker:
    """Carries out the waiting trials of a run, several at once."""

    def __init__(self, engine: Engine, workspace: Path, run: int) -> None:
        self._engine = engine
        self._workspace = workspace
        self._run = run
        self._stop = asyncio.Event()
        with read_session(engine) as session:
            record = get_run(session, run)
            self._seed, self._at_once = record.seed, record.at_once
            self._waiting = waiting_trials(session, run)
            self._snapshot = snapshot_of(session, run)
        self._hold = RunHold(engine, run)
        self._captures = Captures(workspace, run, self._snapshot)
        self._masker = Masker(self._snapshot.secret_values(), names=False)
        self._missing_servers: dict[str, tuple[int, str]] = {}
        self._prepared: dict[str, list[StepOutcome]] = {}
        """What was done to live servers for the whole run, by suite."""
        self._unprepared: dict[str, str] = {}
        """Suites whose servers could not be prepared for the run, and why."""
        self._not_restored: list[str] = []
        self._scripts: dict[tuple[str, str, str], tuple[Script, str]] = {}

    def _compiled_script(self, suite: str, task: str, agent: str) -> tuple[Script, str]:
        """A task's compiled script and its hash, made once for all its trials. The hash is the
        same for all arms: what they are held against is, and only their faults may differ."""
        key = (suite, task, agent)
        if key not in self._scripts:
            script = compile_script(*self._snapshot.of_arm(agent).script_of(suite, task))
            self._scripts[key] = script, script_hash(*self._snapshot.script_of(suite, task))
        return self._scripts[key]

    async def carry_out(self) -> None:
        """All waiting trials, or as many as there are before Stop."""
        self._note_progress(state="running", started_at=time.time())
        with read_session(self._engine) as session:
            self._hold.read_rule(session)
        links = links_of(self._snapshot, self._workspace)
        watch = asyncio.create_task(self._watch_for_stop())
        try:
            async with (
                Gateway().serve() as gateway,
                Writer(self._engine) as writer,
                serve_standing_addresses(self._workspace, self._snapshot),
            ):
                await self._prepare_run()
                while True:
                    hands = [self._hand_out(gateway, writer, links) for _ in range(self._at_once)]
                    await asyncio.gather(*hands)
                    if self._stop.is_set() or not self._begin_next_round():
                        break
        finally:
            watch.cancel()
            await self._restore_run()
            for link in set(links.values()):
                await link.shut_down()
            self._captures.close()
        state = "stopped" if self._stop.is_set() and self._is_unfinished() else "done"
        self._note_progress(
            state=state, finished_at=time.time(), message=self._describe_missing_servers()
        )

    def _met_suites(self) -> list[tuple[Snapshot, Suite]]:
        """The suites of the run as agents or arms meet them, each once."""
        views = [self._snapshot.of_arm(arm) for arm in self._snapshot.arms] or [self._snapshot]
        met = {
            (name, repr(sorted(suite.servers.items()))): (view, suite)
            for view in views
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

    def _note_missing_server(self, server: str, reason: str) -> None:
        count, first = self._missing_servers.get(server, (0, reason))
        self._missing_servers[server] = count + 1, first

    def _describe_missing_servers(self) -> str | None:
        """Which servers trials went without, or were not prepared or restored, and why; None if
        there is nothing to say."""
        missing = [
            f"{counted_noun(count, 'trial')} went without {server}, out of reach: {why}"
            for server, (count, why) in self._missing_servers.items()
        ]
        missing += [f"{suite} was not run: {why}" for suite, why in self._unprepared.items()]
        missing += [f"not restored: {what}" for what in self._not_restored]
        return "; ".join(missing) or None

    def stop(self) -> None:
        """End at once; what is not done can be resumed."""
        self._stop.set()

    def _begin_next_round(self) -> bool:
        """Look whether the run is decided; if it is not, its next trials wait now."""
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
                self._hold.read_rule(session)
                if shall_stop(session, self._run):
                    self._stop.set()
            await asyncio.sleep(STOP_EVERY_S)

    async def _hand_out(self, gateway: Gateway, writer: Writer, links: dict[str, Link]) -> None:
        while self._waiting and not self._stop.is_set():
            # No lock is needed: nothing is awaited between the look and the pop.
            trial = self._waiting.pop()
            async with links[trial.agent].hold_place():
                # Waiting for a place may take minutes, and Stop may have come meanwhile.
                if not self._stop.is_set():
                    async with hold_servers(
                        results_folder(self._workspace), self._remembering_servers(trial)
                    ):
                        await self._run_trial(trial, gateway, writer, links[trial.agent])

    def _remembering_servers(self, trial: Trial) -> list[str]:
        """The live servers of a trial on which only one trial may go on at a time."""
        met = self._snapshot.of_arm(trial.agent)
        return remembering_servers(met.suites[trial.suite], met.servers)

    async def _run_trial(self, trial: Trial, gateway: Gateway, writer: Writer, link: Link) -> None:
        now = time.time()
        writer.do_later(lambda session: note_begin(session, trial.id, now))
        agent = self._snapshot.agent_name(trial.agent)
        seed = trial_seed(self._seed, trial.suite, trial.task, agent=agent, number=trial.number)
        job = TrialJob(
            self._snapshot,
            trial.suite,
            trial.task,
            agent=trial.agent,
            number=trial.number,
            seed=seed,
        )
        met = self._snapshot.of_arm(trial.agent)
        modes = met.suites[trial.suite].servers
        taps = SeamTaps(
            capture=lambda server: self._captures.line_listener(server, modes[server]),
            model_capture=self._captures.model_capture,
            wire=lambda *messages: writer.keep_wire(trial.id, *messages),
            requests=requests_to(writer, trial.id, self._masker),
        )
        surroundings = TrialSurroundings(
            gateway=gateway,
            link=link,
            folder=self._workspace,
            listener=lambda n, event: writer.keep_event(trial.id, n, event),
            stop=self._stop,
            taps=taps,
            prepared=self._prepared.get(trial.suite, ()),
            note_missing_server=self._note_missing_server,
        )
        task = met.find_task(trial.suite, trial.task)
        clock = met.clock_of(met.suites[trial.suite])
        user = ScriptedUser(task, self._hold.hold_of(trial.id), clock)
        running = TrialRun(job, surroundings, user)
        unprepared = self._unprepared.get(trial.suite)
        if unprepared is not None:
            await self._keep_result(writer, trial.id, job, running.failed_trace(unprepared))
            return
        try:
            await self._keep_result(writer, trial.id, job, await running.carry_out())
        # Without the database no trial can be kept: the whole run ends.
        except (StoreError, asyncio.CancelledError):
            raise
        except Exception as error:  # a fault in one trial never ends another
            traceback.print_exc()
            reason = f"Ferox itself failed: {type(error).__name__}: {brief_json(str(error), 300)}"
            await self._keep_result(writer, trial.id, job, running.failed_trace(reason))

    async def _keep_result(self, writer: Writer, trial: int, job: TrialJob, trace: Trace) -> None:
        """Judge a finished trial and keep it. Judging may be long work, so others go on."""
        script, hashed = self._compiled_script(job.suite, job.task, job.agent)
        result = await asyncio.to_thread(score_trial, script, trace)
        await writer.keep_result(trial, trace, result=result, script=hashed)


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
        is_explained = isinstance(error, StoreError)
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
    adopt_orphans()
    try:
        return carry_out_run(workspace, run, (signal.SIGTERM, signal.SIGINT))
    finally:
        end_orphans()


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
