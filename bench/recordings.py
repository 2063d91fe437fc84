"""A call through the relay, opening a long recording, and looking answers up in it."""

from __future__ import annotations

import json
import tempfile
import time
from pathlib import Path
from statistics import median
from typing import Any

from mcp import Client

from bench.bare import TOOL, bare_servers
from ferox.formats.server import ServerFile
from ferox.gateway.relay.recording import standing_before
from ferox.recordings.recording import Recording
from ferox.servers.sources.recorded import RecordedServer
from ferox.servers.sources.source import SilentCaller

ROUNDS = 400
MESSAGES = 100_000
LOOK_UPS = 20_000
HEADER = {
    "ferox_recording": 1, "server": "tides", "captured_at": "2031-03-14T06:30:00Z",
    "protocol": "2025-11-25", "transport": "stdio",
}  # fmt: skip


async def _one(client: Any) -> float:
    begun = time.perf_counter()
    await client.call_tool(TOOL.name, {"day": "2031-03-14"})
    return time.perf_counter() - begun


async def relayed() -> str:
    """Medians of the same call made directly and by way of a relay that writes it down."""
    async with bare_servers() as base:
        live = {"url": f"{base}/mcp"}
        file = ServerFile.model_validate({"ferox": 1, "server": "tides", "live": live})
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "out.jsonl"
            async with (
                standing_before(file, "live", Path(folder), out) as standing,
                Client(f"{base}/mcp", mode="legacy") as direct,
                Client(f"{standing.relay.base}/mcp", mode="legacy") as by_relay,
            ):
                for client in (direct, by_relay):
                    for _ in range(30):
                        await _one(client)
                times: tuple[list[float], list[float]] = ([], [])
                for _ in range(ROUNDS):
                    times[0].append(await _one(direct))
                    times[1].append(await _one(by_relay))
    straight, seen = median(times[0]), median(times[1])
    return (
        f"recorded live call through the relay: {seen * 1000:.2f} ms; the same call directly "
        f"{straight * 1000:.2f} ms; ratio {seen / straight:.2f} (goal ≤ 2)"
    )


def _long(path: Path) -> None:
    """A recording of as many messages, every call another."""
    with path.open("w") as file:
        file.write(json.dumps(HEADER) + "\n")
        for n in range(MESSAGES // 2):
            params = {"name": "high_water", "arguments": {"day": f"day {n % 9000}", "n": n}}
            asked = {"jsonrpc": "2.0", "id": n, "method": "tools/call", "params": params}
            content = [{"type": "text", "text": json.dumps({"at": "14:31", "n": n})}]
            document = {"jsonrpc": "2.0", "id": n, "result": {"content": content, "isError": False}}
            for way, msg in (("to_server", asked), ("to_client", document)):
                line = {"t": n / 10, "session": 1, "dir": way, "msg": msg}
                file.write(json.dumps(line) + "\n")


async def opening() -> str:
    """Reading a long recording whole, against parsing its lines as JSON and nothing more."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "long.jsonl"
        _long(path)
        size = path.stat().st_size / 1e6
        begun = time.perf_counter()
        with path.open("rb") as file:
            kept = [json.loads(line) for line in file]
        bare = time.perf_counter() - begun
        del kept
        begun = time.perf_counter()
        recording = Recording.read(path)
        calls = len(recording.calls)
        taken = time.perf_counter() - begun
    begun = time.perf_counter()
    server = RecordedServer("tides", recording)
    ready = time.perf_counter() - begun

    async def ask() -> None:
        for n in range(LOOK_UPS):
            place = (n * 7919) % calls
            args = {"n": place, "day": f"day {place % 9000}"}
            await server.call("high_water", args, SilentCaller())

    begun = time.perf_counter()
    await ask()
    each = (time.perf_counter() - begun) / LOOK_UPS
    return (
        f"opening a recording of {MESSAGES:,} messages ({size:.0f} MB): {taken:.2f} s; its lines "
        f"as bare JSON {bare:.2f} s; ratio {taken / bare:.2f}; ready to play after {ready:.2f} s "
        f"more; replay looks an answer up in {each * 1e6:.0f} µs"
    )
