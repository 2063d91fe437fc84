"""Runs on a real cluster: a scheduler and two machines, started by Dask's own commands."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any
from unittest import mock

import psutil
from click.testing import CliRunner
from sqlalchemy.orm import Session

from ferox.cli.main import main
from ferox.runs.records import make_ready_again, plan_run, start_worker, stop_run
from ferox.store import holding, tables
from ferox.store.trials import losses_of
from ferox.workspace import load_workspace
from tests.test_runs import CODED, RunCase
from tests.waiting import HANG_S, until

BIN = Path(sys.executable).parent
MACHINES = 2
SLOW = """
            with open({noted!r}, "a") as file:
                file.write(str(os.getpid()) + "\\n")
            while not os.path.exists({go!r}):
                await asyncio.sleep(0.05)
            return "At 14:31."
"""


@contextmanager
def busy_model(together: int) -> Iterator[tuple[str, list[int]]]:
    """A model's address, and for each request how many went on as it came, itself among them. It
    answers nobody until so many have come together."""
    seen: list[int] = []
    met = threading.Event()
    going: set[object] = set()

    class Handler(BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            going.add(self)
            seen.append(len(going))
            self.rfile.read(int(self.headers["Content-Length"]))
            if len(going) >= together:
                met.set()
            met.wait(HANG_S)
            time.sleep(0.1)  # in which another would come, if it may
            answer = {"role": "assistant", "content": "At 14:31."}
            body = json.dumps({"choices": [{"message": answer}]}).encode()
            going.discard(self)
            self.send_response(200)
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)

        def log_message(self, *args: Any) -> None:
            return None

    server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_port}/v1", seen
    finally:
        server.shutdown()
        server.server_close()


class ClusterCase(RunCase):
    """A cluster of two machines for all tests of a class; two trials at once on each."""

    folder: tempfile.TemporaryDirectory[str]
    on: str
    parts: list[subprocess.Popen[bytes]]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.folder = tempfile.TemporaryDirectory(prefix="ferox-dask-")
        cls.addClassCleanup(cls.folder.cleanup)
        cls.parts = []
        cls.addClassCleanup(lambda: [cls._end(part) for part in cls.parts])
        known = Path(cls.folder.name, "scheduler.json")
        quiet = ("--no-dashboard", "--scheduler-file", str(known))
        cls._start("scheduler", "--host", "127.0.0.1", "--port", "0", "--no-show", *quiet)
        until(known.exists)
        cls.on = until(lambda: cls._address(known))
        for n in range(MACHINES):
            cls._start(
                "worker", "--nthreads", "2", "--name", f"quay-{n}", "--resources",
                f"agent:quay-{n}=1", "--local-directory", cls.folder.name, *quiet,
            )  # fmt: skip

    @classmethod
    def _address(cls, known: Path) -> str | None:
        try:
            found = json.loads(known.read_text())
        except ValueError:  # being written
            return None
        return str(found["address"])

    @classmethod
    def _start(cls, *words: str) -> None:
        env = {**os.environ, "TMPDIR": cls.folder.name}
        command = [str(BIN / "dask"), *words]
        with Path(cls.folder.name, f"{len(cls.parts)}.log").open("ab") as log:
            cls.parts.append(subprocess.Popen(command, stdout=log, stderr=log, env=env))

    @classmethod
    def _end(cls, part: subprocess.Popen[bytes]) -> None:
        below = psutil.Process(part.pid).children(recursive=True) if part.poll() is None else []
        for process in below:
            process.kill()
        part.kill()
        part.wait()

    def machines(self) -> list[psutil.Process]:
        """The processes that carry trials out: below each `dask worker` there is one."""
        below = [psutil.Process(part.pid).children() for part in self.parts[1:]]
        return [p for found in below for p in found if "spawn_main" in " ".join(p.cmdline())]

    def plan_on(self, agents: list[str], repeats: int = 2, **fields: Any) -> int:
        loaded = load_workspace(self.root)
        at_once = fields.pop("at_once", 0)
        fields.setdefault("on", self.on)
        return plan_run(self.engine, loaded, ["small"], agents, repeats, at_once, **fields)

    def run_record(self, run: int) -> tables.Run:
        with Session(self.engine, expire_on_commit=False) as session:
            return session.get_one(tables.Run, run)

    def timeless(self, trace: Any) -> Any:
        events = [{k: v for k, v in e.items() if k not in ("t", "s")} for e in trace["events"]]
        return {**trace, "events": events, "link": {**trace["link"], "start_s": 0}}


class OnMachines(ClusterCase):
    def test_the_same_traces_apart_from_times_as_in_one_process(self) -> None:
        self.change("agents/plain.yaml", "model: steady", "model: hasty")
        self.write("agents/helper.py", "HIGH = 'At 14:31.'\n")
        self.python_agent("from helper import HIGH\n" + CODED.format(body="return HIGH"))
        found = []
        for on in (None, self.on, "local:2"):
            run = self.plan_on(["plain", "coded"], 6, on=on, at_once=2)
            self.carry_out(run)
            self.assertIsNone(self.run_record(run).message)
            self.assertEqual({t.state for t in self.trials(run)}, {"done"}, on)
            found.append([self.timeless(self.trace(t.id)) for t in self.trials(run)])
        self.assertEqual(found[1], found[0])
        self.assertEqual(found[2], found[0])

    def test_a_held_call_is_decided_and_what_is_held_may_change(self) -> None:
        run = self.plan_on(["plain"], 2, hold={"when": "first"})

        def held() -> list[Any]:
            with Session(self.engine) as session:
                return holding.held_calls(session, run)

        def person() -> None:
            first = until(lambda: held() if len(held()) == 2 else None)
            holding.decide_call(self.engine, first[0].id, "args", {"day": "2031-03-15"})
            holding.decide_call(self.engine, first[1].id, "go", None)

        with ThreadPoolExecutor(1) as pool:
            decided = pool.submit(person)
            self.carry_out(run)
        decided.result()
        self.assertEqual({t.verdict for t in self.trials(run)}, {"pass", "fail"})

    def test_a_models_limit_holds_over_all_machines(self) -> None:
        hasty = "hasty: {stand_in: stand_ins/desk.yaml, manner: hasty}"
        self.change("agents/plain.yaml", "model: steady", "model: hasty")
        for limit, together in (("", 2), (", at_once: 1", 1)):
            with busy_model(together) as (url, seen):
                self.change("ferox.yaml", hasty, f"hasty: {{base_url: {url}{limit}}}")
                hasty = f"hasty: {{base_url: {url}{limit}}}"
                run = self.plan_on(["plain"], 6)
                self.carry_out(run)
            self.assertEqual(len(seen), 6, [(t.state, t.reason) for t in self.trials(run)])
            self.assertEqual(max(seen) > 1, together > 1)

    def test_stop_ends_at_once_and_resume_does_what_is_missing(self) -> None:
        go = self.root / "go"
        body = SLOW.format(noted=str(self.root / "noted"), go=str(go)).strip()
        self.python_agent(
            CODED.format(body=body), timeouts=f"{{start_s: {HANG_S}, turn_s: {HANG_S}}}"
        )
        run = self.plan_on(["coded"], 8)
        worker = start_worker(self.root, run)
        until(lambda: (self.root / "noted").exists())
        stop_run(self.engine, run)
        worker.wait(HANG_S)
        self.assertEqual(self.state(run), "stopped")
        go.touch()
        missing = make_ready_again(self.engine, self.root, run)
        self.assertGreater(missing, 0)
        self.carry_out(run)
        self.assertEqual({t.state for t in self.trials(run)}, {"done"})

    def test_a_lost_machine_costs_no_trial_and_is_shown(self) -> None:
        noted, go = self.root / "noted", self.root / "go"
        body = SLOW.format(noted=str(noted), go=str(go)).strip()
        self.python_agent(
            CODED.format(body=body), timeouts=f"{{start_s: {HANG_S}, turn_s: {HANG_S}}}"
        )
        run = self.plan_on(["coded", "plain"], 6)
        worker = start_worker(self.root, run)
        # As many as there is room for, and the worker knows of each.
        until(lambda: sum(t.state == "running" for t in self.trials(run)) == 2 * MACHINES)
        os.kill(self.machines()[0].pid, signal.SIGKILL)
        go.touch()
        self.assertEqual(worker.wait(HANG_S), 0)
        trials = self.trials(run)
        self.assertEqual({(t.state, t.verdict) for t in trials if t.agent == "plain"},
                         {("done", "pass")})  # fmt: skip
        self.assertEqual({t.state for t in trials}, {"done"})
        with Session(self.engine) as session:
            lost = [t.id for t in trials if losses_of(session, t.id)]
            rows = session.query(tables.ResultRow).count()
        self.assertTrue(1 <= len(lost) <= 4, lost)
        self.assertEqual(rows, len(trials))
        self.assertIn("done again, whose machines were lost: tcp://",
                      self.run_record(run).message or "")  # fmt: skip


class Ready(ClusterCase):
    def ready(self, *words: str) -> tuple[int, str]:
        """The command's status and what it says, once both machines are there."""

        def ask() -> tuple[int, str] | None:
            done = CliRunner().invoke(main, ["ready", self.on, str(self.root), *words])
            there = done.output.count(" at once") == MACHINES
            return (done.exit_code, done.output) if there else None

        return until(ask)

    def test_what_every_machine_has_and_what_is_missing(self) -> None:
        self.python_agent(CODED.format(body="return 'At 14:31.'"))
        status, told = until(
            lambda: (found := self.ready())[1].count(" at once") == MACHINES and found
        )
        self.assertEqual(status, 0, told)
        self.assertIn("well   agent coded: its interpreter starts: Python 3", told)
        self.assertIn("has agent:quay-0", told)
        self.python_agent(CODED.format(body="pass"), "absent", python="nowhere/python")
        self.change(
            "ferox.yaml", "hasty: {stand_in: stand_ins/desk.yaml, manner: hasty}",
            "hasty: {base_url: http://127.0.0.1:9/v1, api_key: {secret: QUAY_KEY}}",
        )  # fmt: skip
        self.change("agents/plain.yaml", "model: steady", "model: hasty")
        status, told = self.ready()
        self.assertEqual(status, 1, told)
        self.assertIn("broken secret QUAY_KEY: not set in the environment", told)
        self.assertIn("broken agent absent: its interpreter", told)
        self.assertIn("well   agent coded", told)

    def test_an_agent_that_stands_nowhere_is_named(self) -> None:
        service = "ferox: 1\nagent: {name}\nlink: chat\nurl: http://127.0.0.1:9\nmodel: steady\n"
        for name in ("quay-1", "pier"):
            self.write(f"agents/{name}.yaml", service.format(name=name))
        status, told = until(
            lambda: (found := self.ready())[1].count(" at once") == MACHINES and found
        )
        self.assertEqual(status, 1)
        self.assertIn("doubt  agent quay-1: stands elsewhere", told)
        self.assertIn("broken agent quay-1: nothing listens at http://127.0.0.1:9", told)
        self.assertIn("missing everywhere: `pier` finds the seams", told)
        self.assertNotIn("missing everywhere: `quay-1`", told)

    def test_a_run_whose_cluster_is_not_there_stops_and_says_so(self) -> None:
        with mock.patch("ferox.runs.cluster.connecting.CONNECT_S", 0.5):
            run = self.plan_on(["plain"], 1, on="tcp://127.0.0.1:9")
            worker = self.start(self.root, run)
            self.assertEqual(worker.wait(HANG_S), 3)
        self.assertEqual(self.state(run), "stopped")
        message = self.run_record(run).message or ""
        self.assertIn("no scheduler answers at tcp://127.0.0.1:9: start one", message)
        self.assertEqual([t.state for t in self.trials(run)], ["waiting"])

    def test_nobody_at_that_address(self) -> None:
        done = CliRunner().invoke(main, ["ready", "quay", str(self.root)])
        self.assertEqual(done.exit_code, 2)
        self.assertIn("`quay` is no cluster", done.output)
