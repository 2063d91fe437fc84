"""A mocked call through the tool seam, capture on, against a bare SDK server's constant."""

from __future__ import annotations

import time
from statistics import median
from typing import Any

from mcp import Client

from bench.bare import TOOL, bare_servers
from ferox.core.clock import Clock
from ferox.core.matcher import MatchContext
from ferox.formats.server import Mock
from ferox.gateway.gateway import Gateway
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.seam import ToolSeam
from ferox.servers.sources.mock import MockServer

ROUNDS = 600
MOCK = Mock.model_validate(
    {
        "tools": [
            {
                "name": TOOL.name,
                "description": TOOL.description,
                "input": TOOL.input_schema,
                "answers": [
                    {"if": "args.day == 'never'", "error": "No such day."},
                    {"give": {"at": "14:31"}},
                ],
            }
        ]
    }
)


async def _one(client: Any) -> float:
    begun = time.perf_counter()
    await client.call_tool(TOOL.name, {"day": "2031-03-14"})
    return time.perf_counter() - begun


async def measure() -> str:
    """Medians of calls taken in turn, so that a noisy machine slows both alike."""
    recorder = Recorder(lambda n, event: None, 10**6, 10**6)
    mock = MockServer("tides", MOCK, 1, MatchContext(Clock("2031-03-14T06:30:00Z")))
    seam = ToolSeam(mock, recorder)
    async with (
        bare_servers() as base,
        Gateway().serve() as gateway,
        gateway.open_seams({"tides": seam}, {}) as addresses,
        Client(f"{base}/mcp") as bare,
        Client(addresses.servers["tides"]) as mocked,
    ):
        for client in (bare, mocked):
            for _ in range(30):
                await _one(client)
        times: tuple[list[float], list[float]] = ([], [])
        for _ in range(ROUNDS):
            times[0].append(await _one(bare))
            times[1].append(await _one(mocked))
    constant, seen = median(times[0]), median(times[1])
    return (
        f"mocked call through the tool seam: {seen * 1000:.2f} ms; bare SDK server "
        f"{constant * 1000:.2f} ms; ratio {seen / constant:.2f} (goal ≤ 1.25)"
    )
