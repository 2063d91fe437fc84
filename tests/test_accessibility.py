"""WCAG 2.2 AA on every place and in both themes, as far as axe can see."""

from __future__ import annotations

import sys
from pathlib import Path

from selenium.webdriver.common.keys import Keys

from tests.test_screens import ScreenCase
from tests.test_servers_screen import TIDES
from tests.waiting import until

AXE = Path(__file__).resolve().parents[1] / "frontend/node_modules/axe-core/axe.min.js"
CHECK = """
    const done = arguments[0];
    axe.run(document, { runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"] }).then(
        r => done(r.violations.flatMap(v => v.nodes.map(n => `${v.id}: ${n.html.slice(0, 120)}`))));
"""
PLACES = {
    "/board/1": "[data-cell]",
    "/board/1?cell=small/high/plain": "[data-testid=cell-trials] a",
    "/servers/tides?tool=high_water": "[data-testid=try]",
    "/servers/tides?view=wording": "main table, main svg, main h3",
    "/servers/tides?view=wire": "main summary",
    "/servers/tides?view=file": ".cm-content",
    "/servers/both?view=beside&mode=mock&tool=high_water": "[data-testid=beside-call] input",
    "/servers/gone": "main [data-testid=notice]",
    "/servers?view=new": "main textarea",
    "/tasks/small": ".cm-content",
    "/agents/plain": "[data-testid=conversation]",
    "/agents/plain?view=probe": "[data-testid=probe]",
    "/agents?view=new": "[data-testid=write]",
    "/agents?view=models": "[data-testid=model-test]",
    "/agents?view=models&model=": "[data-testid=model-form]",
    "/agents?view=models&file=stand_ins/desk.yaml": ".cm-content",
    "/servers?view=secrets": "[data-testid=secrets] h1",
    "/trial/1": "[data-testid=tracks] .bar",
    "/compare?a=1&b=1:plain": "[data-testid=times] svg",
    "/compare?view=arms&run=2": "[data-testid=sweep] svg",
    "/compare?view=plans&plan=sweep": "[data-testid=planned-arms]",
    "/compare?view=trials&a=1&b=2": "[data-testid=pair] svg .bar",
    "/nowhere": "h2",
}
"""Addresses, and what is seen there once all is drawn."""
YARD = "ferox: 1\nserver: yard\nmock: {tools: [{name: crane}, {name: bollard}]}\n"
SWEEP = (
    "ferox: 1\nplan: sweep\nsuites: [small]\nagents: [plain]\n"
    "vary: {decoys: {from: yard, add: [0, 2]}}\ntrials: 2\n"
)


class Accessibility(ScreenCase):
    def test_axe_finds_nothing_on_any_place_in_either_theme(self) -> None:
        tides = (self.root / "servers/tides.yaml").read_text()
        live = f"live: {{command: [{sys.executable}, {TIDES}]}}\nmock:"
        both = tides.replace("server: tides", "server: both").replace("mock:", live)
        self.write("servers/both.yaml", both)
        self.write("servers/gone.yaml", "ferox: 1\nserver: gone\nlive: {command: [no-such-one]}\n")
        self.write("servers/yard.yaml", YARD)
        self.write("plans/sweep.yaml", SWEEP)
        self.ask("/api/runs", {"suites": ["small"], "agents": ["plain"], "repeats": 2})
        self.open("/board/1")
        self.see("[data-testid=dock]", "Run 1 is done")
        self.ask("/api/plan/start", {"name": "plans/sweep.yaml", "text": SWEEP})
        until(lambda: self.ask("/api/runs/2/board").body["run"]["state"] == "done")
        axe = AXE.read_text()
        for theme in ("light", "dark"):
            self.page.execute_script("localStorage.setItem('ferox-theme', arguments[0])", theme)
            for path, drawn in PLACES.items():
                with self.subTest(path, theme=theme):
                    self.open(path)
                    self.see(drawn)
                    self.page.execute_script(axe)
                    self.assertEqual(self.page.execute_async_script(CHECK), [])

    def test_dialogs_and_what_can_be_undone(self) -> None:
        self.open("/agents/plain?view=file")
        self.see(".cm-content", "agent: plain")
        self.press_button("Remove")
        self.see("[data-testid=undo]", "was removed")
        self.check_now()
        for keys, drawn in (
            ((Keys.CONTROL, "k"), "[data-testid=go-to] [role=option]"), (("?",), "dialog dl"),
            (("r",), "[data-testid=start-run]"),
        ):  # fmt: skip
            self.open("/board")
            self.see("h2", "No run yet")
            self.see("body").send_keys(*keys)
            self.see(drawn)
            self.check_now()

    def check_now(self) -> None:
        self.page.execute_script(AXE.read_text())
        self.assertEqual(self.page.execute_async_script(CHECK), [])
