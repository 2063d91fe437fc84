"""A headless Chromium from Debian's packages, for the browser tests and for pictures."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager

from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from tests.waiting import HANG_S

FLAGS = (
    "--headless --no-sandbox --disable-gpu --disable-quic --no-first-run "
    "--disable-background-networking --disable-component-update --disable-sync "
    "--hide-scrollbars --window-size=1280,800"
)


@contextmanager
def chromium(width: int = 1280, height: int = 800) -> Iterator[webdriver.Chrome]:
    """A browser with an empty profile, and a window of exactly this size inside."""
    with tempfile.TemporaryDirectory() as profile:
        options = webdriver.ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        for flag in [*FLAGS.split(), f"--user-data-dir={profile}"]:
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        os.environ.setdefault("SE_OFFLINE", "true")
        driver = webdriver.Chrome(options, Service("/usr/bin/chromedriver"))
        driver.set_script_timeout(HANG_S)
        driver.set_page_load_timeout(HANG_S)
        try:
            driver.execute_cdp_cmd(
                "Emulation.setDeviceMetricsOverride",
                {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False},
            )
            yield driver
        finally:
            driver.quit()
