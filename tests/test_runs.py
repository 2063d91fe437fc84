"""Runs: a worker that does them, Stop, kill and resume, and the same in, same out."""

from __future__ import annotations

import json
import os
import signal
import sqlite3
import subprocess
import sys
import textwrap
from collections.abc import Callable
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import select
from sqlalchemy.orm import Session

from ferox.runs.records import (
    RunError,
    make_ready_again,
    plan_run,
    start_worker,
    state_of,
    stop_run,
)
from ferox.runs.run_lock import RunLock, is_claimed
from ferox.store import tables
from ferox.store.database import MIGRATIONS, StoreError, open_database
from ferox.store.results import read_result
from ferox.store.traces import read_trace
from ferox.workspace import load_workspace
from tests.waiting import HANG_S, until
from tests.workers import start_in_thread
from tests.workspaces import WorkspaceCase

QUICK_TIDES = Path(__file__).parent / "servers/quick_tides.py"
CODED = """
    import asyncio, os
    from contextlib import asynccontextmanager

    @asynccontextmanager
    async def open_desk(trial):
        async def say(text):
            {body}
        yield say
"""


class RunCase(WorkspaceCase):
    start: Callable[..., Any] = staticmethod(start_in_thread)
    """How a worker is started: `start_worker` where its process is what matters."""

    def setUp(self) -> None:
        super().setUp()
        self.engine = open_database(self.root)
        self.addCleanup(self.engine.dispose)

    def plan(self, agents: list[str], repeats: int = 2, at_once: int = 2) -> int:
        loaded = load_workspace(self.root)
        return plan_run(self.engine, loaded, ["small"], agents, repeats, at_once)

    def carry_out(self, run: int) -> None:
        worker = self.start(self.root, run)
        log = self.root / f".ferox/run-{run}.log"
        self.assertEqual(worker.wait(HANG_S), 0, log.read_text() if log.exists() else "")

    def trials(self, run: int) -> list[tables.Trial]:
        with Session(self.engine) as session:
            query = select(tables.Trial).where(tables.Trial.run_id == run)
            return list(session.scalars(query.order_by(tables.Trial.agent, tables.Trial.number)))

    def state(self, run: int) -> str:
        with Session(self.engine) as session:
            return state_of(session, self.root, session.get_one(tables.Run, run))

    def trace(self, trial: int) -> Any:
        with Session(self.engine) as session:
            return read_trace(session, trial)


class CarryingOut(RunCase):
    def test_servers_are_prepared_and_restored_once_for_a_run(self) -> None:
        noted = self.root / "noted.txt"
        for status in (0, 1):
            noted.unlink(missing_ok=True)
            code = f"import sys; open({str(noted)!r}, 'a').write(sys.argv[1]); sys.exit({status})"
            step = f"command: [{sys.executable}, -c, {json.dumps(code)}"
            steps = f"[{{{step}, p], each: run}}]", f"[{{{step}, r], each: run}}]"
            live = f"live: {{command: [{sys.executable}, {QUICK_TIDES}]}}"
            path = self.root / "servers/tides.yaml"
            before = path.read_text()
            head = f"{live}\nprepare: {steps[0]}\nrestore: {steps[1]}\nmock:"
            path.write_text(before.replace("mock:", head, 1))
            self.change("tasks/small.yaml", "tides: mock", "tides: live")
            run = self.plan(["plain"], 2)
            self.carry_out(run)
            self.assertEqual(noted.read_text(), "pr")
            verdicts = {trial.verdict for trial in self.trials(run)}
            self.assertEqual(verdicts == {"error"}, bool(status), verdicts)
            if not status:
                (step,) = self.trace(self.trials(run)[0].id)["prepared"]
                self.assertIsNone(step["error"])
            with Session(self.engine) as session:
                message = session.get_one(tables.Run, run).message
            if status:
                self.assertIn("small was not run: preparing", message or "")
                self.assertIn("not restored: ", message or "")
            path.write_text(before)
            self.change("tasks/small.yaml", "tides: live", "tides: mock")

    def test_a_run_is_carried_out_scored_and_kept(self) -> None:
        run = self.plan(["plain"], 3)
        self.carry_out(run)
        self.assertEqual(self.state(run), "done")
        for trial in self.trials(run):
            self.assertEqual((trial.state, trial.verdict), ("done", "pass"))
            self.assertEqual((trial.score_choice, trial.score_failures), (1.0, None))
            kinds = [e["kind"] for e in self.trace(trial.id)["events"]]
            self.assertEqual(kinds, ["turn", "model", "call", "model", "reply", "end"])
            with Session(self.engine) as session:
                result = read_result(session, trial.id)
            assert result is not None
            self.assertEqual(result["matched"], {"high": ["c1"]})

    def test_the_same_traces_apart_from_times_at_one_and_at_eight_at_once(self) -> None:
        self.change("agents/plain.yaml", "model: steady", "model: hasty")
        found = []
        for at_once in (1, 8):
            run = self.plan(["plain"], 8, at_once)
            self.carry_out(run)
            found.append([self.timeless(self.trace(t.id)) for t in self.trials(run)])
        self.assertEqual(found[0], found[1])
        self.assertGreater(len({json.dumps(t["events"]) for t in found[0]}), 1)

    def timeless(self, trace: Any) -> Any:
        events = [{k: v for k, v in e.items() if k not in ("t", "s")} for e in trace["events"]]
        return {**trace, "events": events, "link": {**trace["link"], "start_s": 0}}

    def test_agents_that_crash_hang_or_do_not_start_end_in_a_verdict(self) -> None:
        bodies = {
            "crashes": "raise RuntimeError('no tide')",
            "dies": "os._exit(9)",
            "hangs": "await asyncio.sleep(60)",
            "fine": "return 'At 14:31.'",
        }
        for name, body in bodies.items():
            self.python_agent(CODED.format(body=body), name, timeouts="{start_s: 20, turn_s: 1}")
        self.python_agent(CODED.format(body="pass"), "absent", python="nowhere/python")
        run = self.plan([*bodies, "absent"], 2)
        self.carry_out(run)
        ends = {t.agent: self.trace(t.id)["events"][-1]["why"] for t in self.trials(run)}
        wanted = {
            "crashes": "crash", "dies": "crash", "hangs": "no_reply", "fine": "done",
            "absent": "did_not_start",
        }  # fmt: skip
        self.assertEqual(ends, wanted)
        self.assertEqual({t.verdict for t in self.trials(run)}, {"fail"})
        left = subprocess.run(["pgrep", "-f", str(self.root)], capture_output=True, text=True)
        self.assertEqual(left.stdout, "")

    def test_an_agent_that_calls_for_ever_runs_into_its_limit(self) -> None:
        self.change(
            "stand_ins/desk.yaml",
            "stand_in: desk",
            "stand_in: desk\nmanners: {mad: {never_stops: 1}}",
        )
        self.change("ferox.yaml", "manner: hasty", "manner: mad")
        self.change("agents/plain.yaml", "model: steady", "model: hasty\nlimits: {calls: 5}")
        run = self.plan(["plain"], 1)
        self.carry_out(run)
        (trial,) = self.trials(run)
        end = self.trace(trial.id)["events"][-1]
        self.assertEqual((end["why"], end["reason"]), ("limit", "more than 5 calls"))


class Claims(RunCase):
    def test_a_run_is_claimed_from_its_first_moment(self) -> None:
        with RunLock(self.root) as lock:
            loaded = load_workspace(self.root)
            run = plan_run(self.engine, loaded, ["small"], ["plain"], 1, 1, lock=lock)
            with Session(self.engine) as session, session.begin():
                # However long the start takes: it is starting, and not interrupted.
                session.get_one(tables.Run, run).created_at = 1.0
            self.assertEqual(self.state(run), "waiting")
            with self.assertRaisesRegex(RunError, "still goes on"):
                start_worker(self.root, run)
            worker = start_worker(self.root, run, lock)
        self.assertIn(self.state(run), ("waiting", "running", "done"))
        self.assertEqual(worker.wait(HANG_S), 0)
        self.assertFalse(is_claimed(self.root, run))

    def test_a_run_that_nobody_starts_is_interrupted_and_can_be_resumed(self) -> None:
        with RunLock(self.root) as lock:
            loaded = load_workspace(self.root)
            run = plan_run(self.engine, loaded, ["small"], ["plain"], 1, 1, lock=lock)
        self.assertEqual(self.state(run), "interrupted")
        with RunLock(self.root) as lock, RunLock(self.root) as other:
            self.assertEqual(make_ready_again(self.engine, self.root, run, lock), 1)
            self.assertEqual(self.state(run), "waiting")
            with self.assertRaisesRegex(RunError, "still goes on"):
                make_ready_again(self.engine, self.root, run, other)
            start_worker(self.root, run, lock).wait(HANG_S)
        self.assertEqual(self.state(run), "done")

    def test_a_run_that_ended_since_it_was_read_is_not_interrupted(self) -> None:
        with RunLock(self.root) as lock, Session(self.engine) as session:
            loaded = load_workspace(self.root)
            run = plan_run(self.engine, loaded, ["small"], ["plain"], 1, 1, lock=lock)
            read = session.get_one(tables.Run, run)
            with Session(self.engine) as other, other.begin():
                other.get_one(tables.Run, run).state = "stopped"
            lock.release()
            self.assertEqual(state_of(session, self.root, read), "stopped")


class Halting(RunCase):
    WAITS = """
        for name in ("one", "two"):
            try:
                os.close(os.open({root!r} + name, os.O_CREAT | os.O_EXCL))
                return "At 14:31."
            except FileExistsError:
                pass
        while not os.path.exists({root!r} + "go"):
            await asyncio.sleep(0.05)
        return "At 14:31."
    """
    """Two trials are answered at once, the others once they may go on."""

    def waiting_agent(self) -> None:
        body = textwrap.dedent(self.WAITS.format(root=f"{self.root}/"))
        code = CODED.format(body=textwrap.indent(body, " " * 12).strip())
        self.python_agent(code, timeouts=f"{{start_s: {HANG_S}, turn_s: {HANG_S}}}")

    def done(self, run: int) -> int:
        return sum(t.state == "done" for t in self.trials(run))

    def test_stop_ends_at_once_and_resume_does_only_what_is_missing(self) -> None:
        self.waiting_agent()
        run = self.plan(["coded"], 12)
        worker = start_worker(self.root, run)
        until(lambda: self.done(run) >= 2)
        stop_run(self.engine, run)
        worker.wait(HANG_S)
        self.assertEqual(self.state(run), "stopped")
        (self.root / "go").touch()
        kept = {t.id: t.changed_at for t in self.trials(run) if t.state == "done"}
        self.assertEqual(make_ready_again(self.engine, self.root, run), 12 - len(kept))
        self.carry_out(run)
        after = self.trials(run)
        self.assertEqual({t.state for t in after}, {"done"})
        self.assertEqual(kept, {t.id: t.changed_at for t in after if t.id in kept})

    def test_a_killed_worker_leaves_an_interrupted_run_that_can_be_resumed(self) -> None:
        self.waiting_agent()
        run = self.plan(["coded"], 6)
        worker = start_worker(self.root, run)
        until(lambda: self.done(run) >= 2)
        self.assertEqual(self.state(run), "running")
        with self.assertRaises(RunError):
            make_ready_again(self.engine, self.root, run)
        os.kill(worker.pid, signal.SIGKILL)
        worker.wait()
        self.assertFalse(is_claimed(self.root, run))
        self.assertEqual(self.state(run), "interrupted")
        agents = ["pgrep", "-f", f"link_host.py {self.root}"]
        until(lambda: subprocess.run(agents, capture_output=True).stdout == b"")
        (self.root / "go").touch()
        make_ready_again(self.engine, self.root, run)
        self.carry_out(run)
        self.assertEqual(self.done(run), 6)
        undisturbed = self.plan(["coded"], 6)
        self.carry_out(undisturbed)
        self.assertEqual(
            [(t.number, t.verdict, t.score_choice) for t in self.trials(run)],
            [(t.number, t.verdict, t.score_choice) for t in self.trials(undisturbed)],
        )


class Storing(RunCase):
    def test_the_migrations_make_exactly_the_tables(self) -> None:
        from alembic.autogenerate import compare_metadata
        from alembic.migration import MigrationContext

        with self.engine.connect() as connection:
            context = MigrationContext.configure(connection)
            self.assertEqual(compare_metadata(context, tables.Base.metadata), [])

    def test_results_of_an_older_ferox_say_what_failed(self) -> None:
        self.change("tasks/small.yaml", 'mentions: "14:31"', 'mentions: "19:19"')
        run = self.plan(["plain"], 1)
        self.carry_out(run)
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        for to in (command.downgrade, "0004"), (command.upgrade, "head"):
            with self.engine.begin() as connection:
                config.attributes["connection"] = connection
                to[0](config, to[1])
        (trial,) = self.trials(run)
        self.assertEqual(trial.failed, ["answer.0"])
        self.assertEqual(trial.went_wrong, 'the answer does not mention "19:19"')

    def test_a_damaged_database_is_reported_and_left_as_it_is(self) -> None:
        self.engine.dispose()
        path = self.root / ".ferox/results.sqlite"
        for extra in ("-wal", "-shm"):
            Path(f"{path}{extra}").unlink(missing_ok=True)
        path.write_bytes(b"this is not a database, but somebody's notes" * 50)
        before = path.read_bytes()
        with self.assertRaises(StoreError) as caught:
            open_database(self.root)
        self.assertIn("is damaged", str(caught.exception))
        self.assertEqual(path.read_bytes(), before)

    def test_a_database_of_a_newer_ferox_is_reported(self) -> None:
        with sqlite3.connect(self.root / ".ferox/results.sqlite") as connection:
            connection.execute("UPDATE alembic_version SET version_num = '9999'")
        with self.assertRaises(StoreError) as caught:
            open_database(self.root)
        self.assertIn("not for this version of Ferox", str(caught.exception))

    def test_what_cannot_be_planned_is_refused(self) -> None:
        loaded = load_workspace(self.root)
        for suites, agents, tasks in [
            (["smal"], ["plain"], []),
            (["small"], ["plan"], []),
            (["small"], ["plain"], ["hihg"]),
            (["small"], [], []),
        ]:
            with self.assertRaises(RunError):
                plan_run(self.engine, loaded, suites, agents, 1, 1, tasks)
        with Session(self.engine) as session:
            self.assertEqual(session.scalars(select(tables.Run)).all(), [])
