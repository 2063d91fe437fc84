"""The protocol's own conformance suite against a mock that offers what it asks for."""

from __future__ import annotations

import asyncio
import os
import re
import tempfile
import unittest
from pathlib import Path

from ferox.core.clock import Clock
from ferox.core.matcher import MatchContext
from ferox.formats.server import ServerFile
from ferox.gateway.gateway import Gateway
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.seam import ToolSeam
from ferox.servers.sources.mock import MockServer
from ferox.workspace.check_server import check_server
from ferox.workspace.yaml_files import read_yaml, validate_file
from tests.registry import REGISTRY
from tests.waiting import HANG_S

FILE = Path(__file__).parent / "data/conformance.yaml"
FAILS: set[str] = set()
"""Scenarios that do not pass; the guide says why."""
OUTCOME = re.compile(r"^([✓✗]) ([\w-]+): (\d+) passed, (\d+) failed", re.M)


def conformance_mock() -> ServerFile:
    file = read_yaml(FILE, FILE.name)
    server = validate_file(file, ServerFile)
    assert server is not None, file.problems
    problems = list(check_server(file, server, FILE.parent))
    assert not problems, problems
    return server


async def run_suite() -> str:
    """What the suite says of the mock, served at the tool seam."""
    mock = conformance_mock().mock
    assert mock is not None
    source = MockServer("conformance", mock, 1, MatchContext(Clock("2031-03-14T06:30:00Z")))
    seam = ToolSeam(source, Recorder(lambda n, event: None, 1000, 1000))
    async with Gateway().serve() as gateway, gateway.open_seams({"conformance": seam}, {}) as at:
        with tempfile.TemporaryDirectory() as scratch:
            process = await asyncio.create_subprocess_exec(
                str(REGISTRY / "node_modules/.bin/conformance"),
                *("server", "--suite", "all", "--url", at.servers["conformance"]),
                cwd=scratch,
                env={**os.environ, "NO_COLOR": "1"},
                stdout=asyncio.subprocess.PIPE,
                stderr=asyncio.subprocess.STDOUT,
            )
            out, _ = await asyncio.wait_for(process.communicate(), 3 * HANG_S)
    return out.decode()


class Conformance(unittest.TestCase):
    def test_the_suite_passes(self) -> None:
        found = asyncio.run(run_suite())
        outcomes = {m[2]: m[1] == "✓" for m in OUTCOME.finditer(found)}
        self.assertGreater(len(outcomes), 25, found[-2000:])
        self.assertEqual(
            {name for name, well in outcomes.items() if not well}, FAILS, found[-3000:]
        )
