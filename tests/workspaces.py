"""Small workspaces on disk, made for one test each."""

from __future__ import annotations

import shutil
import sys
import tempfile
import textwrap
import unittest
from pathlib import Path

from ferox.workspace.vault import SecretUse, Vault, install_vault

FEROX = """
    ferox: 1
    name: Skerrow test desk
    models:
      steady: {stand_in: stand_ins/desk.yaml, manner: steady}
      hasty: {stand_in: stand_ins/desk.yaml, manner: hasty}
"""
DESK = """
    ferox: 1
    stand_in: desk
    latency: {ms: 0}
    scenes:
      - request: when is high water today
        does:
          - {as: high, intent: times of high water on one day, values: {day: {day: 0}}}
          - {say: "High water is at {{ high.high_water }}.", from_memory: High water is at 03:30.}
"""
TIDES = """
    ferox: 1
    server: tides
    mock:
      state: {asked: 0}
      tools:
        - name: high_water
          description: Times of high water on one day.
          input:
            type: object
            properties: {day: {type: string}}
            required: [day]
            additionalProperties: false
          answers:
            - give: {high_water: "14:31"}
              change: [{op: replace, path: /asked, value: "{{ state.asked + 1 }}"}]
        - name: low_water
          description: Times of low water on one day.
          input: {type: object, properties: {day: {type: string}}}
          answers: [{error: There is no table.}]
"""
SUITE = """
    ferox: 1
    suite: small
    servers: {tides: mock}
    tasks:
      - task: high
        say: When is high water today?
        expect:
          calls: [{as: high, tool: tides/high_water, args: {day: {day: today}}}]
          answer: [{mentions: "14:31"}]
          state: [{server: tides, path: $.asked, is: 1}]
"""
PLAIN = """
    ferox: 1
    agent: plain
    link: plain
    model: steady
"""


class _Known(Vault):
    """Secrets that are set, and may go anywhere."""

    def __init__(self, values: dict[str, str]) -> None:
        super().__init__(None)
        self._values = values

    def secret_values(self) -> dict[str, str]:
        """As given."""
        return self._values

    def is_agreed(self, secret: str, to: str) -> bool:
        """Always."""
        return True

    def unagreed_uses(self, uses: object) -> list[SecretUse]:
        """None."""
        return []


def know_secrets(case: unittest.TestCase, **values: str) -> None:
    """Have these secrets set in this process, for the length of a test."""
    install_vault(_Known(values))
    case.addCleanup(install_vault, Vault(None))


class WorkspaceCase(unittest.TestCase):
    """Gives each test a workspace of its own, `self.root`, that loads."""

    def setUp(self) -> None:
        self.root = Path(tempfile.mkdtemp(prefix="ferox-test-"))
        self.addCleanup(shutil.rmtree, self.root, ignore_errors=True)
        self.write("ferox.yaml", FEROX)
        self.write("stand_ins/desk.yaml", DESK)
        self.write("servers/tides.yaml", TIDES)
        self.write("tasks/small.yaml", SUITE)
        self.write("agents/plain.yaml", PLAIN)

    def write(self, name: str, text: str) -> Path:
        """Write a file of the workspace; common indentation is taken away."""
        path = self.root / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(textwrap.dedent(text).lstrip("\n"))
        return path

    def change(self, name: str, old: str, new: str) -> None:
        """Replace a piece of a file that must be there."""
        path = self.root / name
        text = path.read_text()
        self.assertIn(old, text)
        path.write_text(text.replace(old, new))

    def python_agent(self, code: str, name: str = "coded", **fields: object) -> None:
        """An agent over the python link, in this interpreter, with this code."""
        self.write(f"agents/{name}.py", code)
        document = {
            "python": sys.executable,
            "entry": f"agents/{name}.py:open_desk",
            "timeouts": "{start_s: 20, turn_s: 3}",
            **fields,
        }
        lines = [f"{key}: {value}" for key, value in document.items()]
        head = ["ferox: 1", f"agent: {name}", "link: python", "model: steady"]
        self.write(f"agents/{name}.yaml", "\n".join([*head, *lines]) + "\n")
