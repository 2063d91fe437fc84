"""Trials a second, stored and scored, against the same exchange by a bare script."""

from __future__ import annotations

import asyncio
import json
import ssl
import statistics
import tempfile
import time
from pathlib import Path
from typing import Any

import httpx2
from mcp import Client
from mcp.client.streamable_http import streamable_http_client
from sqlalchemy.orm import Session

from bench.bare import CALLS, bare_servers
from ferox.runs.records import plan_run
from ferox.runs.worker import Worker
from ferox.store import tables
from ferox.store.database import open_database
from ferox.workspace import load_workspace

TRIALS, ROUNDS, WARM_UP = 60, 7, 10
AT_ONCE = 2

_TLS = ssl.create_default_context()
_INTENT = "{intent: times of high water on one day, values: {day: {day: 0}}}"
FILES = {
    "ferox.yaml": "ferox: 1\nname: bench\nmodels: {m: {stand_in: desk.yaml}}\n",
    "agents/plain.yaml": "ferox: 1\nagent: plain\nlink: plain\nmodel: m\n",
    "desk.yaml": f"""
ferox: 1
stand_in: desk
latency: {{ms: 0}}
scenes:
  - request: when is high water
    does: [{", ".join([_INTENT] * CALLS)}, {{say: Done.}}]
""",
    "servers/tides.yaml": """
ferox: 1
server: tides
mock:
  tools:
    - name: high_water
      description: Times of high water on one day.
      input: {type: object, properties: {day: {type: string}}}
      answers: [{give: {at: "14:31"}}]
""",
    "tasks/small.yaml": f"""
ferox: 1
suite: small
servers: {{tides: mock}}
tasks:
  - task: high
    say: When is high water?
    expect:
      calls: [{{as: high, tool: tides/high_water, args: {{day: {{day: today}}}}, times: {CALLS}}}]
      may_poll: [tides/high_water]
      answer: [{{matches: Done}}]
""",
}


async def _bare_trial(base: str) -> None:
    """What an agent does in a trial, by hand, against servers that keep nothing."""
    messages: list[Any] = [{"role": "user", "content": "When is high water?"}]
    async with (
        httpx2.AsyncClient(timeout=None, verify=_TLS) as http,
        Client(streamable_http_client(f"{base}/mcp", http_client=http)) as client,
    ):
        await client.list_tools()
        while True:
            url = f"{base}/model/v1/chat/completions"
            answer = (await http.post(url, json={"model": "m", "messages": messages})).json()
            message = answer["choices"][0]["message"]
            messages.append(message)
            if not message.get("tool_calls"):
                return
            for call in message["tool_calls"]:
                args = json.loads(call["function"]["arguments"])
                result = await client.call_tool(call["function"]["name"], args)
                text = result.content[0].text  # type: ignore[union-attr]
                messages.append({"role": "tool", "tool_call_id": call["id"], "content": text})


async def _bare(count: int) -> float:
    left = iter(range(count))

    async def hand(base: str) -> None:
        for _ in left:
            await _bare_trial(base)

    async with bare_servers() as base:
        await _bare_trial(base)
        begun = time.perf_counter()
        await asyncio.gather(*(hand(base) for _ in range(AT_ONCE)))
        return count / (time.perf_counter() - begun)


def workspace(root: Path) -> Path:
    """An empty folder filled with what is run here."""
    for name, text in FILES.items():
        (root / name).parent.mkdir(exist_ok=True)
        (root / name).write_text(text.lstrip("\n"))
    return root


async def _ferox(count: int) -> float:
    with tempfile.TemporaryDirectory() as folder:
        root = workspace(Path(folder))
        engine = open_database(root)
        run = plan_run(engine, load_workspace(root), ["small"], ["plain"], count, AT_ONCE)
        begun = time.perf_counter()
        await Worker(engine, root, run).carry_out()
        taken = time.perf_counter() - begun
        with Session(engine) as session:
            passed = session.query(tables.Trial).filter_by(run_id=run, verdict="pass").count()
        assert passed == count, f"{passed} of {count} passed"
        engine.dispose()
        return count / taken


async def measure() -> str:
    """Both in turn, several times, and the median of each: other work comes and goes."""
    await _ferox(WARM_UP)
    rates = [(await _bare(TRIALS), await _ferox(TRIALS)) for _ in range(ROUNDS)]
    bare, ferox = (statistics.median(one) for one in zip(*rates, strict=True))
    return (
        f"trials a second, {CALLS} calls, stored and scored: {ferox:.1f}; bare script "
        f"{bare:.1f}; ratio {ferox / bare:.2f} (goal ≥ 0.7)"
    )
