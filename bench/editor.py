"""The editor with a suite of 300 tasks, against the same one with 3: a key until it shows, and
until the picture follows."""

from __future__ import annotations

import statistics
import tempfile
import time
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from bench.checking import workspace
from bench.serving import served, until_shown
from tests.browser import chromium

KEYS = 25
# Measured in the page itself: from the key to the frame that shows it.
WATCH = """
window.took = [];
document.querySelector('.cm-content').addEventListener('keydown', () => {
  const begun = performance.now();
  requestAnimationFrame(() => setTimeout(() => window.took.push(performance.now() - begun)));
}, true);
"""


def measure() -> str:
    """Milliseconds, median of the keys and 95th percentile, and seconds to the picture."""
    few, _, _ = _typed(3)
    many, worst, picture = _typed(300)
    return (
        f"editor with 300 tasks: a key shows in {many:.0f} ms (95 %: {worst:.0f} ms), "
        f"{many / few:.2f} × one with 3 tasks ({few:.0f} ms); the picture follows in "
        f"{picture:.2f} s"
    )


def _typed(tasks: int) -> tuple[float, float, float]:
    with tempfile.TemporaryDirectory() as folder:
        root = workspace(Path(folder), 1, tasks)
        with served(root) as url, chromium() as page:
            page.get(f"{url}/tasks/s0")
            until_shown(page, "[data-testid=picture] h2", "")
            page.execute_script(WATCH)
            line = page.find_elements(By.CSS_SELECTOR, ".cm-line")[8]
            line.click()
            area = page.find_element(By.CSS_SELECTOR, ".cm-content")
            area.send_keys(Keys.END)
            for number in range(KEYS):
                area.send_keys("abcde"[number % 5])
            begun = time.perf_counter()
            until_shown(page, "[data-testid=picture] h2", "abcde" * (KEYS // 5))
            picture = time.perf_counter() - begun
            took: list[float] = page.execute_script("return window.took")
    return statistics.median(took), statistics.quantiles(took, n=20)[-1], picture
