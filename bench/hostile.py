"""Agents that do all they should not: what a run of them must survive."""

from __future__ import annotations

import json
import sys
import textwrap
from pathlib import Path

from bench.trials import FILES

HEAD = """
import asyncio, json, os, subprocess, sys, time, urllib.request
from contextlib import asynccontextmanager

def post(url, body, **headers):
    accept = {"Content-Type": "application/json", "Accept": "application/json, text/event-stream"}
    request = urllib.request.Request(url, json.dumps(body).encode(), {**accept, **headers})
    return urllib.request.urlopen(request, timeout=10)

def session(url):
    params = {"protocolVersion": "2025-06-18", "capabilities": {},
              "clientInfo": {"name": "hostile", "version": "1"}}
    body = {"jsonrpc": "2.0", "id": 1, "method": "initialize", "params": params}
    with post(url, body) as answer:
        answer.read()
        return answer.headers["mcp-session-id"]

def call(url, day, id=2):
    params = {"name": "high_water", "arguments": {"day": day}}
    body = {"jsonrpc": "2.0", "id": id, "method": "tools/call", "params": params}
    with post(url, body, **{"Mcp-Session-Id": session(url)}) as answer:
        return answer.read()

@asynccontextmanager
async def open_desk(trial):
    url = trial.servers["tides"]["url"]
    model = trial.models["main"]["base_url"]
    async def say(text):
"""
BODIES = {
    "crashes": "raise RuntimeError('no tide')",
    "dies": "os._exit(9)",
    "hangs": "await asyncio.sleep(600)",
    "deaf": "subprocess.Popen(['sleep', '600']); time.sleep(600)",
    "floods": "for _ in range(40): print('x' * 100_000)\nreturn 'dry'",
    "leaves": "for _ in range(20): await asyncio.to_thread(session, url)\nreturn 'left open'",
    "heavy": (
        "await asyncio.to_thread(call, url, 'x' * 3_000_000)\n"
        "return 'y' * 3_000_000, {'z': 'z' * 1_000_000}"
    ),
    "endless": "while True: await asyncio.to_thread(call, url, '2031-03-14')",
    "rubbish": (
        "channel = trial._channel._stream\n"
        "channel.write('not json\\n' * 200); channel.flush()\n"
        "return 'fine'"
    ),
    "nonsense": (
        "for body in ({}, [], {'jsonrpc': '2.0', 'id': 1, 'method': 'tools/call'}, 'x'):\n"
        "    for to in (url, model + '/chat/completions', model + '/responses'):\n"
        "        try: await asyncio.to_thread(lambda: post(to, body).read())\n"
        "        except Exception: pass\n"
        "return 'refused'"
    ),
}
"""What each does in a turn. `deaf` heeds no close and leaves a process behind."""
STEADY = "plain"
"""The one that behaves: its trials must all pass beside the others."""


def workspace(root: Path, bodies: dict[str, str] | None = None) -> list[str]:
    """Write a workspace of hostile agents and a steady one; the agents' names."""
    for name, text in FILES.items():
        (root / name).parent.mkdir(exist_ok=True)
        (root / name).write_text(text.lstrip("\n"))
    chosen = BODIES if bodies is None else bodies
    for name, body in chosen.items():
        code = f"{HEAD}{textwrap.indent(body, ' ' * 8)}\n    yield say\n"
        (root / f"agents/{name}.py").write_text(code)
        document = {
            "ferox": 1, "agent": name, "link": "python", "model": "m", "python": sys.executable,
            "entry": f"agents/{name}.py:open_desk", "processes": 4,
            "timeouts": {"start_s": 60, "turn_s": 2 if name in ("hangs", "deaf") else 30},
            "limits": {"calls": 20},
        }  # fmt: skip
        (root / f"agents/{name}.yaml").write_text(json.dumps(document))
    return [*chosen, STEADY]
