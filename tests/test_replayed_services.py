"""Trials of running services, each built with a real framework: played back, and gone on from."""

from __future__ import annotations

import json
import shutil
from typing import Any

from ferox.core.replay_verdict import Replayed
from ferox.making.connecting import CODE
from tests.test_fork import ForkCase
from tests.test_services import NEW, OLD, TWO_TURNS, free_port


class Services(ForkCase):
    def setUp(self) -> None:
        super().setUp()
        with (self.root / "ferox.yaml").open("a") as file:
            file.write(f"defaults: {{standing_port: {free_port()}}}\n")
        self.write("tasks/small.yaml", TWO_TURNS)

    def play(self, code: str, python: str, **fields: Any) -> None:
        """A trial of a service: the same when it is played back, and when it is gone on from."""
        port = free_port()
        shutil.copy(CODE / code, self.root / f"desk_{code}")
        command = [python, "-u", str(self.root / f"desk_{code}"), str(port)]
        fields["url"] = fields["url"].format(port=port)
        document = {"ferox": 1, "agent": "desk", "model": "steady", "command": command}
        self.write("agents/desk.yaml", json.dumps({**document, **fields}))
        run = self.finished("desk")
        (trial,) = self.trials(run)
        self.assertEqual(trial.verdict, "pass", trial.reason)
        self.assertEqual(self.came(run), Replayed("same"))
        events = self.trace(trial.id)["events"]
        last = [e["id"] for e in events if e["kind"] == "model"][-1]
        self.assertEqual(self.timeless(self.fork(trial.id, last)["events"]), self.timeless(events))

    def timeless(self, events: list[Any]) -> list[Any]:
        times = ("t", "s", "first_s")
        return [{k: v for k, v in e.items() if k not in times} for e in events]

    def test_a_chat_service_that_streams(self) -> None:
        url = "http://127.0.0.1:{port}/v1"
        self.play("chat.py", NEW, link="chat", url=url, params={"stream": True})

    def test_an_agent2agent_service(self) -> None:
        self.play("a2a.py", NEW, link="a2a", url="http://127.0.0.1:{port}")

    def test_an_agent_that_is_a_tool_of_a_service(self) -> None:
        self.play("tool.py", OLD, link="tool", url="http://127.0.0.1:{port}/mcp")

    def test_a_service_with_an_interface_of_its_own(self) -> None:
        whole = {
            "path": "/ask",
            "body": {"question": "{{ text }}", "thread": "{{ conversation }}"},
            "reply": "$.answer.text",
        }
        self.play("http.py", NEW, link="http", url="http://127.0.0.1:{port}", http=whole)
