"""A newcomer, from a wheel in a fresh environment to a first result: each step with its time.

Nothing of this checkout is used but the wheel that is built from it, a registry's server, and the
environments of two frameworks.
"""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import unittest
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from tests.registry import REGISTRY
from tests.waiting import HANG_S, until

ROOT = Path(__file__).resolve().parents[1]
SCREENS = ROOT / "ferox/web/static/index.html"
FRAMEWORKS = {
    "langgraph": ROOT / "demo/.venv-agents",
    "openai-agents": ROOT / "demo/.venv-agents-mcp2",
}
DOCUMENTED = "python -m mcp_server_time --local-timezone=Europe/Lisbon"
"""As the server's own documentation starts it."""
SUITE = """
ferox: 1
suite: times
servers: {time: live}
tasks:
  - task: now-in-lisbon
    say: What time is it in Lisbon?
    expect:
      calls: [{tool: time/get_current_time, args: {timezone: Europe/Lisbon}}]
      answer: [{mentions: {from: get_current_time, path: $.timezone}}]
  - task: now-in-tokyo
    say: Tell me the time in Asia/Tokyo.
    expect:
      calls: [{tool: time/get_current_time, args: {timezone: {matches: "Asia/Tokyo"}}}]
  - task: half-past-four
    say: When it is 16:30 in Lisbon, how late is it in Tokyo?
    expect:
      calls:
        - tool: time/convert_time
          args: {source_timezone: Europe/Lisbon, time: "16:30", target_timezone: Asia/Tokyo}
      answer: [{mentions: {from: convert_time, path: $.time_difference}}]
  - task: both
    say: What time is it in Lisbon, and how late is 06:30 there in Tokyo?
    expect:
      calls:
        - {as: here, tool: time/get_current_time, args: {timezone: Europe/Lisbon}}
        - as: there
          tool: time/convert_time
          args:
            source_timezone: {from: here, path: $.timezone}
            time: "06:30"
            target_timezone: Asia/Tokyo
      order: [[here, there]]
      answer: [{mentions: {from: there, path: $.time_difference}}]
  - task: hello
    say: Hello, what can you do for me?
    expect:
      calls: []
      answer: [{matches: "(?i)time"}]
"""


class Newcomer(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="ferox-newcomer-"))
        self.addCleanup(shutil.rmtree, self.folder, ignore_errors=True)
        self.root = self.folder / "my-desk"
        self.ferox = self.folder / "fresh/bin/ferox"
        # A clean home: what the user allows elsewhere is none of this workspace's.
        self.environment = {
            "PATH": f"{REGISTRY}/.venv/bin:{os.environ['PATH']}",
            "HOME": str(self.folder),
            "PIP_DISABLE_PIP_VERSION_CHECK": "1",
        }

    @contextmanager
    def step(self, name: str) -> Iterator[None]:
        begun = time.monotonic()
        yield
        print(f"  newcomer: {name}: {time.monotonic() - begun:.1f} s", file=sys.stderr)

    def run_it(self, *words: object) -> str:
        done = subprocess.run(
            [str(word) for word in words],
            cwd=self.folder,
            env=self.environment,
            capture_output=True,
            text=True,
            timeout=3 * HANG_S,
        )
        self.assertEqual(done.returncode, 0, f"{words}: {done.stdout}{done.stderr}")
        return done.stdout

    def install(self) -> None:
        """A fresh environment with a wheel that is built from here; nothing is downloaded."""
        copy = self.folder / "source"
        without = shutil.ignore_patterns("__pycache__")
        shutil.copytree(ROOT / "ferox", copy / "ferox", ignore=without)
        for file in ("pyproject.toml", "README.md"):
            shutil.copy(ROOT / file, copy)
        pip, kept = ROOT / ".venv/bin/pip", ROOT / ".venv/wheels"
        self.run_it(
            pip, "wheel", "-q", "--no-deps", "--no-build-isolation", "--no-index",
            "--wheel-dir", self.folder, copy,
        )  # fmt: skip
        (wheel,) = self.folder.glob("ferox-*.whl")
        self.run_it(ROOT / ".venv/bin/python", "-m", "venv", self.folder / "fresh")
        self.run_it(
            self.folder / "fresh/bin/pip", "install", "-q", "--no-compile", "--no-index",
            "--find-links", kept, wheel,
        )  # fmt: skip

    def serve(self) -> None:
        """The workspace, served by what was installed."""
        serving = subprocess.Popen(
            [str(self.ferox), "serve", str(self.root), "--port", "0"],
            cwd=self.folder, env=self.environment, stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        self.addCleanup(serving.wait, HANG_S)
        self.addCleanup(serving.send_signal, signal.SIGTERM)
        assert serving.stdout is not None
        self.addCleanup(serving.stdout.close)
        found = re.search(r"http://\S+", serving.stdout.readline())
        assert found is not None
        self.base = found[0]

    def ask(self, path: str, body: Any = None, method: str | None = None) -> Any:
        request = urllib.request.Request(
            self.base + path,
            None if body is None else json.dumps(body).encode(),
            {"Content-Type": "application/json", "Origin": self.base},
            method=method,
        )
        with urllib.request.urlopen(request, timeout=HANG_S) as answer:
            text = answer.read()
            kind = answer.headers["Content-Type"]
        return json.loads(text) if "json" in kind else text.decode()

    def connect(self, framework: str) -> None:
        """An agent of a framework, its environment beside it as its file says."""
        query = f"/api/connections?agent={framework}&model=stand-in"
        ways = self.ask(query)["connections"]
        (way,) = (way for way in ways if way["name"] == framework)
        for file in way["files"]:
            file["text"] = file["text"].replace("python: .venv/", f"python: .venv-{framework}/")
        (self.root / f".venv-{framework}").symlink_to(FRAMEWORKS[framework])
        self.ask("/api/agents", {"files": way["files"]})

    @unittest.skipUnless(SCREENS.exists(), "the screens are not built")
    def test_a_first_result(self) -> None:
        with self.step("install the wheel in a fresh environment"):
            self.install()
            self.assertIn("ferox new my-desk", self.run_it(self.ferox))
        with self.step("ferox new"):
            self.assertIn("is a workspace", self.run_it(self.ferox, "new", self.root))
        with self.step("its first run"):
            first = self.run_it(self.ferox, "run", self.root)
            self.assertEqual(re.findall(r"(\d)/3", first), ["3", "3"])
        with self.step("ferox serve, with the screens"):
            self.serve()
            page = self.ask("/")
            script = re.search(r'src="(/assets/[^"]+\.js)"', page)
            assert script is not None
            self.assertGreater(len(self.ask(script[1])), 10_000)
        with self.step("a registry's server by its documented line"):
            (pasted,) = self.ask("/api/pasted", {"text": DOCUMENTED})["servers"]
            self.assertEqual(pasted["name"], "time")
            body = {"name": pasted["file"], "text": pasted["text"], "stamp": None}
            self.ask("/api/file", body, "PUT")
            reached = self.ask("/api/servers/time/reach", {"mode": "live", "afresh": False})
            self.assertIsNone(reached["diagnosis"], reached)
        with self.step("agents of two frameworks, probed"):
            for framework in FRAMEWORKS:
                self.connect(framework)
                self.probe(framework)
        with self.step("five tasks, with a stand-in"):
            body = {"name": "tasks/times.yaml", "text": SUITE, "stamp": None}
            self.ask("/api/file", body, "PUT")
            made = self.ask("/api/suites/times/stand-in", {})
            self.assertEqual(made["notes"], [])
        with self.step("the first result"):
            run = {
                "suites": ["times"],
                "agents": [*FRAMEWORKS],
                "repeats": 1,
                "overrides": {"models": {"*": made["model"]}},
            }
            number = self.ask("/api/runs", run)["id"]
            board = until(lambda: self.board_if_over(number))
            passes = {(c["task"], c["agent"]): c["passes"] for c in board["cells"]}
            self.assertEqual(len(passes), 10)
            self.assertEqual({*passes.values()}, {1}, passes)

    def probe(self, agent: str) -> None:
        number = self.ask(f"/api/agents/{agent}/probe", {})["id"]

        def over() -> Any:
            now = self.ask(f"/api/probes/{number}")
            return now if now["doing"] is None else None

        steps = until(over)["steps"]
        self.assertEqual([s for s in steps if s["ok"] is False], [])

    def board_if_over(self, run: int) -> Any:
        board = self.ask(f"/api/runs/{run}/board")
        return board if board["run"]["state"] == "done" else None
