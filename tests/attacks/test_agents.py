"""Hostile agents: whatever they do, the trial ends with a verdict and harms nobody else."""

from __future__ import annotations

import os
import signal
import sys
from pathlib import Path
from typing import Any

import psutil

from ferox.runs.records import start_worker
from ferox.store import tables
from ferox.web.app import create_app
from tests.test_runs import CODED, RunCase

LINK = """
import json, os, sys
def say(**message):
    sys.stdout.write(json.dumps(message) + "\\n"); sys.stdout.flush()
def raw(text):
    sys.stdout.write(text + "\\n"); sys.stdout.flush()
for line in sys.stdin:
    op = json.loads(line)["op"]
    if op == "open":
        say(op="ready")
    elif op == "close":
        say(op="closed")
    else:
        {body}
"""
REPLY = 'say(op="reply", text="At 14:31.")'


class HostileCase(RunCase):
    """Runs hostile agents beside a good one."""

    def link_agent(self, name: str, body: str, **fields: object) -> None:
        path = self.write(f"agents/{name}.py", LINK.replace("{body}", body))
        lines = {"command": f"[{sys.executable}, {path}]", "model": "steady", **fields}
        found = "\n".join(f"{key}: {value}" for key, value in lines.items())
        self.write(f"agents/{name}.yaml", f"ferox: 1\nagent: {name}\nlink: process\n{found}\n")

    def ran(self, names: list[str], at_once: int = 2) -> dict[str, tables.Trial]:
        """The trials of a run of these agents and of a good one, which has to pass."""
        run = self.plan(["plain", *names], 1, at_once)
        self.carry_out(run)
        trials = {t.agent: t for t in self.trials(run)}
        self.assertEqual({t.state for t in trials.values()}, {"done"})
        self.assertEqual(trials["plain"].verdict, "pass")
        return trials

    def end(self, trial: tables.Trial) -> Any:
        return self.trace(trial.id)["events"][-1]

    def opened(self, trial: tables.Trial) -> Any:
        """The trial as a screen opens it."""
        app = create_app(self.root, self.engine)
        self.addCleanup(app.extensions["ferox"].loop.close)
        answer = app.test_client().get(f"/api/trials/{trial.id}", base_url="http://127.0.0.1")
        self.assertEqual(answer.status_code, 200, answer.get_data()[:500])
        self.assertLess(len(answer.get_data()), 3_000_000)
        return answer.get_json()


class OddMessages(HostileCase):
    """A hostile agent on the link."""

    def test_messages_of_the_wrong_kind_are_the_agents_fault(self) -> None:
        bodies = {
            "ms": 'say(op="local_call", tool="note", ms="abc")',
            "tool": 'say(op="local_call", tool=7)',
            "ask": 'say(op="ask", id="1", tool="a/b", args=[1])',
            "partial": 'say(op="partial", text={})',
            "deep": """raw('{"op": "reply", "text": ' + "[" * 100000 + "]" * 100000 + "}")""",
            "digits": """raw('{"op": "reply", "text": ' + "9" * 5000 + "}")""",
            "nan": """raw('{"op": "reply", "text": "x", "data": NaN}')""",
        }
        for name, body in bodies.items():
            self.link_agent(name, f"{body}; {REPLY}")
        trials = self.ran(list(bodies))
        for name in bodies:
            with self.subTest(name):
                end = self.end(trials[name])
                self.assertEqual(end["why"], "crash")
                self.assertRegex(
                    end["reason"], "the agent (broke the link protocol|sent a message)"
                )
                self.opened(trials[name])

    def test_half_characters_are_stored_and_reported(self) -> None:
        self.link_agent("half", r"""raw('{"op": "reply", "text": "At 14:31 \\ud800."}')""")
        trial = self.ran(["half"])["half"]
        events = self.trace(trial.id)["events"]
        reply = next(e for e in events if e["kind"] == "reply")
        self.assertEqual(reply["text"], "At 14:31 \N{REPLACEMENT CHARACTER}.")
        found = [r["kind"] for r in self.opened(trial)["remarks"]]
        self.assertIn("mended", found)

    def test_long_and_deep_replies_open(self) -> None:
        bodies = {
            "long": 'say(op="reply", text="14:31 and 7 more " * 1_000_000)',
            "wide": 'say(op="reply", text="14:31", data=list(range(300_000)))',
            "nested": "d = []\n        for _ in range(90): d = [d]\n"
            '        say(op="reply", text="14:31", data=d)',
            "words": 'say(op="local_call", tool="note", args={"x": "y" * 9_000_000}); ' + REPLY,
        }
        for name, body in bodies.items():
            self.link_agent(name, body, timeouts="{start_s: 20, turn_s: 30}")
        trials = self.ran(list(bodies))
        for name in bodies:
            with self.subTest(name):
                self.assertEqual(self.end(trials[name])["why"], "done")
                self.opened(trials[name])


class Escapes(HostileCase):
    """Processes that try to outlive their trial."""

    start = staticmethod(start_worker)  # what is orphaned is handed to the worker's process

    def test_sessions_and_orphans_of_their_own_are_ended(self) -> None:
        marks = [f"ferox-stray-{os.getpid()}-{n}" for n in range(3)]
        sleep = "[sys.executable, '-c', 'import time; time.sleep(600)', '{}']"
        own_session = f"subprocess.Popen({sleep.format(marks[0])}, start_new_session=True)"
        twice = (
            "if not os.fork():\n"
            "                os.setsid()\n"
            "                if os.fork(): os._exit(0)\n"
            f"                os.execv(sys.executable, {sleep.format(marks[1])})"
        )
        deserter = (  # the watchman is killed first, so that nobody is left to watch
            f"subprocess.Popen({sleep.format(marks[2])}, start_new_session=True)\n"
            "            os.kill(os.getppid(), 9)\n"
            "            await asyncio.sleep(60)"
        )
        head = "    import subprocess, sys\n"
        for name, body in (("session", own_session), ("twice", twice), ("deserter", deserter)):
            ends = "" if name == "deserter" else "\n            return 'At 14:31.'"
            self.python_agent(head + CODED.format(body=body + ends), name)
        trials = self.ran(["session", "twice", "deserter"])
        self.assertEqual(trials["session"].verdict, "fail", "it called no tool")
        self.assertEqual(self.end(trials["deserter"])["why"], "crash")
        left = [
            p for p in psutil.process_iter(["cmdline"]) if set(marks) & set(p.info["cmdline"] or ())
        ]
        for one in left:
            one.send_signal(signal.SIGKILL)
        self.assertEqual(left, [])

    def test_a_pipe_that_a_child_holds_keeps_nothing_open(self) -> None:
        body = (
            "import subprocess\n"
            "        subprocess.Popen(['sleep', '600'], start_new_session=True)\n"
            "        os._exit(3)"
        )
        self.link_agent("holder", body)
        end = self.end(self.ran(["holder"])["holder"])
        self.assertEqual(end["why"], "crash")
        self.assertIn("status 3", end["reason"])


class Failing(HostileCase):
    """A fault of Ferox's own in one trial."""

    def test_a_trial_that_cannot_be_judged_ends_alone(self) -> None:
        """a trace that Ferox fails on is an error of its own trial; the run goes on."""
        broken = Path(__file__).with_name("failing_worker.py")
        run = self.plan(["plain"], 3)
        self.assertEqual(self.carried_out_by(broken, run), 0)
        verdicts = [t.verdict for t in self.trials(run)]
        self.assertEqual(sorted(map(str, verdicts)), ["error", "pass", "pass"])
        (lost,) = [t for t in self.trials(run) if t.verdict == "error"]
        self.assertIn("Ferox itself failed: ZeroDivisionError", str(lost.reason))

    def carried_out_by(self, worker: Path, run: int) -> int:
        import subprocess

        from ferox.runs.run_lock import RunLock

        with RunLock(self.root) as lock:
            self.assertTrue(lock.claim(run))
            held = lock.descriptor
            command = [sys.executable, str(worker), str(self.root), str(run), str(held)]
            return subprocess.run(command, pass_fds=(held,), timeout=120).returncode
