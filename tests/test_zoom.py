"""The screens on narrow windows, as at 200 % zoom, and on wide ones: nothing is cut off."""

from __future__ import annotations

import unittest

from tests.test_accessibility import SWEEP, YARD
from tests.test_screens import ScreenCase
from tests.waiting import until

# What sticks out of the page to the right where nothing scrolls to it.
CUT_OFF = """
    const out = [];
    const scrolls = e => {
        for (; e && e !== document.body; e = e.parentElement) {
            const style = getComputedStyle(e);
            if (/auto|scroll/.test(style.overflowX) && e.scrollWidth > e.clientWidth) return true;
            if (style.overflowX === 'hidden') return true;  // cut on purpose, with an ellipsis
        }
        return false;
    };
    for (const e of document.querySelectorAll('button, input, select, a, textarea')) {
        const box = e.getBoundingClientRect();
        if (box.width && box.right > innerWidth + 1 && !scrolls(e.parentElement))
            out.push(e.textContent.trim() || e.getAttribute('aria-label'));
    }
    return out;
"""
BEYOND = "const m = document.querySelector('main'); return m.scrollWidth - m.clientWidth"
PLACES = {
    "/board/1": "[data-cell]",
    "/servers/tides?tool=high_water": "#argument-day",
    "/tasks/small": "[data-testid=picture]",
    "/agents/plain": "[data-testid=facts]",
    "/agents?view=new": "[data-testid=write]",
    "/servers/tides?view=file": "[data-testid=editor] .cm-line",
    "/compare?a=1&b=1:plain": "[data-testid=metrics]",
    "/compare?view=arms&run=2": "[data-testid=sweep] svg",
    "/compare?view=plans&plan=sweep": "[data-testid=planned-arms]",
    "/compare?view=trials&a=1&b=2": "[data-testid=pair] svg .bar",
    "/trial/1": "[data-testid=tracks] .bar",
}


class Widths(ScreenCase):
    def test_every_place_can_be_used(self) -> None:
        self.write("servers/yard.yaml", YARD)
        self.write("plans/sweep.yaml", SWEEP)
        self.start(1)
        self.see("[data-testid=dock]", "Run 1 is done")
        self.ask("/api/plan/start", {"name": "plans/sweep.yaml", "text": SWEEP})
        until(lambda: not self.ask("/api/going").body["runs"])
        # 640 × 400 is what a window of 1280 × 800 has left at 200 %.
        for width, height in ((640, 400), (1024, 768), (1920, 1080)):
            size = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
            self.page.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
            for path, css in PLACES.items():
                with self.subTest(path, width=width):
                    self.open(path)
                    self.see(css)
                    self.assertEqual(self.page.execute_script(CUT_OFF), [])
                    if not path.startswith("/board"):  # a table of two dimensions may scroll
                        self.assertLessEqual(self.page.execute_script(BEYOND), 0)
        self.assertEqual(self.errors(), [])


if __name__ == "__main__":
    unittest.main()
