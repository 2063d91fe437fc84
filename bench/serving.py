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
