"""A workspace served by a process of its own, as its user would."""

from __future__ import annotations

import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

from selenium.webdriver.common.by import By


@contextmanager
def served(root: Path) -> Iterator[str]:
    """The address at which it is served."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [sys.executable, "-m", "ferox", "serve", str(root), "--port", str(port)]
    server = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    try:
        for _ in range(200):
            with suppress(OSError), urllib.request.urlopen(f"http://127.0.0.1:{port}/", timeout=1):
                break
            time.sleep(0.1)
        yield f"http://127.0.0.1:{port}"
    finally:
        server.terminate()
        server.wait(10)


def until_shown(page: Any, css: str, text: str = "") -> None:
    """Wait until an element of a page shows a text."""
    end = time.time() + 60
    while time.time() < end:
        with suppress(Exception):
            if any(text in e.text for e in page.find_elements(By.CSS_SELECTOR, css)):
                return
        time.sleep(0.01)
    raise AssertionError(f"no {css} with {text}")
