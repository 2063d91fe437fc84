"""docs/what-ferox-can-see.md holds what the code does."""

from __future__ import annotations

import inspect
import unittest
from pathlib import Path
from typing import get_args

from ferox.agents import link_host
from ferox.agents.links import a2a as a2a_link
from ferox.agents.links import chat as chat_link
from ferox.agents.links import http as http_link
from ferox.agents.links import plain
from ferox.agents.links import process as process_link
from ferox.agents.links import service as service_link
from ferox.agents.links import tool as tool_link
from ferox.core.scoring.missing import BROKE_OFF
from ferox.formats.agent import SERVICES, AgentFile
from ferox.gateway.model_seam.model_requests import LONGEST_PIECE, MOST_OF_A_TRIAL

PAGE = (Path(__file__).resolve().parents[1] / "docs/what-ferox-can-see.md").read_text()
MODULES = {
    "plain": plain,
    "python": process_link,
    "process": process_link,
    "chat": chat_link,
    "a2a": a2a_link,
    "tool": tool_link,
    "http": http_link,
}


def table() -> dict[str, dict[str, str]]:
    """The table of links: row → link → what stands there."""
    rows = [line for line in PAGE.splitlines() if line.startswith("|")]
    cells = [[cell.strip() for cell in row.strip("|").split("|")] for row in rows]
    links = cells[0][1:]
    end = next(n for n, row in enumerate(cells[2:], 2) if len(row) != len(cells[0]))
    return {row[0]: dict(zip(links, row[1:], strict=True)) for row in cells[2:end]}


class Seeing(unittest.TestCase):
    def test_every_link_has_its_column(self) -> None:
        links = set(get_args(AgentFile.model_fields["link"].annotation))
        for name, row in table().items():
            self.assertEqual(set(row), links, name)

    def test_what_a_link_passes_on_is_what_its_code_passes_on(self) -> None:
        for row, sign in (
            ("own tools reported over the link", "hooks.local_call("),
            ("approvals asked before a call", "hooks.ask("),
            ("words of the reply on the way", "hooks.partial("),
        ):
            for link, module in MODULES.items():
                there = sign in inspect.getsource(module)
                self.assertEqual(table()[row][link] != "no", there, (row, link))

    def test_a_structured_answer(self) -> None:
        for link, module in MODULES.items():
            lines = inspect.getsource(module).splitlines()
            replies = [line for line in lines if "return AgentReply(" in line]
            given = any("data" in line for line in replies)
            self.assertEqual(table()["a structured answer"][link] != "no", given, link)

    def test_what_a_factory_may_call_is_there(self) -> None:
        for row in ("own tools reported over the link", "approvals asked before a call",
                    "words of the reply on the way"):  # fmt: skip
            self.assertTrue(hasattr(link_host.Trial, table()[row]["python"].strip("`")), row)

    def test_logs(self) -> None:
        row = table()["its log"]
        self.assertIn("log", inspect.getsource(process_link))
        self.assertIn("command", inspect.getsource(service_link))
        self.assertEqual({row[link] for link in SERVICES}, {"if Ferox starts it"})
        self.assertEqual(row["plain"], "no")

    def test_bounds_and_ends_that_are_named(self) -> None:
        self.assertEqual((LONGEST_PIECE, MOST_OF_A_TRIAL), (256 * 1024, 8 * 1024 * 1024))
        self.assertIn("longer than 256 KB, and what goes beyond 8 MB", PAGE)
        self.assertIn("the trial ended before its model answered", PAGE)
        self.assertEqual(set(BROKE_OFF), {"crash", "did_not_start", "limit", "no_reply"})
