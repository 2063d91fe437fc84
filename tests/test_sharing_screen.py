"""Report, export, bring in and known failures on the screens; and the report's own page."""

from __future__ import annotations

import base64
import json
import tempfile
from pathlib import Path
from typing import Any

from pypdf import PdfReader
from selenium.webdriver.common.by import By

from ferox.reports.run_page import run_page
from ferox.runs.run_report import report_run
from ferox.store.database import open_database, read_session
from tests.spans import document
from tests.test_accessibility import AXE, CHECK
from tests.test_bringing import two_chats
from tests.test_screens import ScreenCase
from tests.waiting import until

RESOURCES = "return performance.getEntriesByType('resource').map(e => e.name)"
TOO_WIDE = """
    return [...document.querySelectorAll("main *")]
        .filter(e => !e.closest("svg *") && e.getBoundingClientRect().right > innerWidth + 1)
        .map(e => e.tagName + " " + e.textContent.slice(0, 40));
"""
A4_WIDTH = 794
"""Pixels, at 96 an inch."""


class SharingScreen(ScreenCase):
    def setUp(self) -> None:
        super().setUp()
        self.kept = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.page.execute_cdp_cmd(
            "Browser.setDownloadBehavior",
            {"behavior": "allow", "downloadPath": str(self.kept), "eventsEnabled": False},
        )

    def run_with(self, reply: str | None = None) -> int:
        """A run of two trials; with a `reply` the simulated model says that, which is wrong."""
        if reply is not None:
            self.change("stand_ins/desk.yaml", "High water is at {{ high.high_water }}.", reply)
        body = {"suites": ["small"], "agents": ["plain"], "repeats": 2}
        run = int(self.ask("/api/runs", body).body["id"])
        until(lambda: self.ask(f"/api/runs/{run}/board").body["run"]["state"] == "done")
        return run

    def kept_file(self, name: str) -> str:
        """A file that the browser has kept, once all of it is there."""
        path = self.kept / name
        until(lambda: path.exists() and path.stat().st_size > 0)
        return path.read_text()

    def test_a_report_is_read_copied_and_kept(self) -> None:
        self.run_with()
        self.open("/board/1")
        self.press_button("Report")
        text = self.see("[data-testid=report] textarea")
        self.assertIn("### Run 1 · small", text.get_attribute("value"))
        self.press_button("Keep as markdown")
        self.assertTrue(self.kept_file("run-1.md").startswith("### Run 1"))
        self.press_button("Keep as a page")
        self.assertTrue(self.kept_file("run-1.html").startswith("<!doctype html>"))
        self.open("/compare?a=1&b=1:plain")
        self.press_button("Report")
        self.assertIn("<!doctype html>", self.kept_file("1-and-1-plain.html"))
        self.assertEqual(self.errors(), [])

    def test_an_export_is_followed_and_kept(self) -> None:
        self.run_with()
        self.open("/board/1?share=export")
        self.press("[data-testid=export] button", "Export")
        self.see("[data-testid=export] [role=status]", "2 trials in run-1-junit.xml")
        self.assertIn("<testsuites", self.kept_file("run-1-junit.xml"))
        self.see("[data-testid=export] select").send_keys("OpenTelemetry")
        field = self.see("[data-testid=export] input[placeholder]")
        field.send_keys("http://127.0.0.1:9")
        self.press_button("Send")
        self.see("[data-testid=export] [role=alert]", "cannot be reached")
        self.check_now()

    def test_traces_are_dropped_on_the_board_and_judged(self) -> None:
        self.run_with()
        self.open("/board/1")
        self.see("[data-cell]")
        spans = json.dumps(document(*two_chats()))
        self.page.execute_script(
            """
            const data = new DataTransfer();
            data.items.add(new File([arguments[0]], "spans.jsonl"));
            const drop = new DragEvent("drop", { dataTransfer: data, bubbles: true,
                cancelable: true });
            document.querySelector("[data-cell]").dispatchEvent(drop);
            """,
            f"{spans}\n{{broken}}\n",
        )
        self.see("[data-testid=bring-in]", "spans.jsonl")
        clock = self.page.find_elements(By.CSS_SELECTOR, "[data-testid=bring-in] input")[-1]
        clock.send_keys("suite")
        self.press("[data-testid=bring-in] button", "Bring in")
        self.see("[data-testid=bring-in] [role=status]", "1 trial brought in, 1 of 1 passed")
        self.see("[data-testid=bring-in] li", "spans.jsonl:2: no JSON")
        self.check_now()
        self.press("[data-testid=bring-in] a", "run 2")
        self.see("th", "brought in")
        self.press("[data-cell]", "1")
        self.press("[data-testid=cell-trials] a", "trial 1")
        self.see("[data-testid=verdict]", "pass")
        self.see("main", "This trace does not tell")
        self.assertEqual(self.errors(), [])

    def test_a_known_failure_is_known_on_the_board_and_in_the_ledger(self) -> None:
        self.run_with()
        with (self.root / "tasks/small.yaml").open("a") as file:
            file.write("known: [{task: high, agents: [plain], why: asks twice}]\n")
        self.run_with("Noon.")
        self.open("/board/2")
        self.see("[data-testid=ledger] .known", "Known")
        self.see("[data-testid=ledger]", "known: asks twice")
        cell = self.see("[data-cell]", "known")
        self.assertIn("known: asks twice", cell.get_attribute("title"))
        self.change("stand_ins/desk.yaml", "Noon.", "High water is at {{ high.high_water }}.")
        self.run_with()
        self.open("/board/3")
        self.see("[data-testid=ledger]", "passes always now: take it out")

    def check_now(self) -> None:
        self.page.execute_script(AXE.read_text())
        self.assertEqual(self.page.execute_async_script(CHECK), [])

    def test_the_page_opens_from_a_disk_and_asks_nothing_of_anywhere(self) -> None:
        self.run_with()
        run = self.run_with("Noon, and " + "a very long answer " * 40)
        engine = open_database(self.root)
        with read_session(engine) as session:
            text = run_page(report_run(session, run))
        engine.dispose()
        path = self.kept / "report.html"
        path.write_text(text)
        self.page.execute_cdp_cmd("Network.enable", {})
        self.emulate("Network.emulateNetworkConditions", offline=True, latency=0,
                     downloadThroughput=0, uploadThroughput=0)  # fmt: skip
        try:
            for theme in ("light", "dark"):
                scheme = [{"name": "prefers-color-scheme", "value": theme}]
                self.emulate("Emulation.setEmulatedMedia", features=scheme)
                self.page.get(path.as_uri())
                self.see("h1", f"Run {run}")
                self.assertEqual(self.page.execute_script(RESOURCES), [])
                self.check_now()
                self.press("table a", "0/2")
                self.assertTrue(self.page.current_url.endswith("#cell-1"))
            self.check_print()
            self.assertEqual(self.errors(), [])
        finally:
            self.emulate("Emulation.setEmulatedMedia", media="", features=[])
            self.emulate("Network.emulateNetworkConditions", offline=False, latency=0,
                         downloadThroughput=-1, uploadThroughput=-1)  # fmt: skip

    def check_print(self) -> None:
        """See that nothing is cut on paper: no element is wider than it, and every line of the
        digest is on it whole."""
        lines = self.see("pre.digest").text.splitlines()
        self.emulate("Emulation.setEmulatedMedia", media="print")
        size = {"width": A4_WIDTH, "height": 1123, "deviceScaleFactor": 1, "mobile": False}
        self.emulate("Emulation.setDeviceMetricsOverride", **size)
        self.assertEqual(self.page.execute_script(TOO_WIDE), [])
        printed = self.page.execute_cdp_cmd("Page.printToPDF", {"paperWidth": 8.27})
        self.emulate("Emulation.setDeviceMetricsOverride", width=1280, height=800,
                     deviceScaleFactor=1, mobile=False)  # fmt: skip
        path = self.kept / "report.pdf"
        path.write_bytes(base64.b64decode(printed["data"]))
        pages = [page.extract_text() for page in PdfReader(path).pages]
        text = "".join("\n".join(pages).split())
        self.assertGreater(len(pages), 1)
        for line in lines:
            self.assertIn("".join(line.split()), text)

    def emulate(self, command: str, **given: Any) -> None:
        self.page.execute_cdp_cmd(command, given)
