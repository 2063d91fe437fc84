"""Many screens: those that only listen hold nobody up, and planted text is only text."""

from __future__ import annotations

import http.client
import socket
import statistics
import sys
import time

from tests.attacks.attack import long_attack
from tests.serving import OwnProcessCase
from tests.test_runs import CODED
from tests.waiting import HANG_S

SCREENS = 200


class ManyScreens(OwnProcessCase):
    """Two hundred open screens"""

    def streams(self, run: int, count: int) -> list[socket.socket]:
        """So many screens that follow a run and read nothing."""
        opened = []
        for _ in range(count):
            one = socket.create_connection(("127.0.0.1", self.port), timeout=HANG_S)
            self.addCleanup(one.close)
            request = f"GET /api/watch/runs/{run} HTTP/1.1\r\nHost: 127.0.0.1:{self.port}\r\n\r\n"
            one.sendall(request.encode())
            opened.append(one)
        return opened

    def going(self) -> int:
        """A run that goes on until it is stopped."""
        self.python_agent(CODED.format(body="await asyncio.sleep(600)"), "slow",
                          timeouts="{start_s: 20, turn_s: 600}")  # fmt: skip
        body = {"suites": ["small"], "agents": ["slow"], "repeats": 1}
        run = int(self.ask("/api/runs", body).body["id"])
        self.addCleanup(self.ask, f"/api/runs/{run}/stop", {})
        return run

    def p95(self, times: int = 60) -> float:
        """The time within which 95 of 100 loads of the page are answered, in ms."""
        took = []
        for _ in range(times):
            begun = time.perf_counter()
            connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=HANG_S)
            connection.request("GET", "/")
            self.assertIn(connection.getresponse().status, (200, 503))
            connection.close()
            took.append((time.perf_counter() - begun) * 1000)
        return statistics.quantiles(took, n=20)[-1]

    def test_every_page_is_answered_beside_them(self) -> None:
        run = self.going()
        opened = self.streams(run, SCREENS)
        for one in opened[::20]:
            self.assertIn(b"200 OK", one.recv(4096))
        for _ in range(20):
            self.assertEqual(self.ask("/api/workspace").status, 200)

    @long_attack
    def test_pages_take_less_than_three_times_as_long(self) -> None:
        run = self.going()
        alone = self.p95()
        for one in self.streams(run, SCREENS):
            said = b""
            while b"event: change" not in said:
                said += one.recv(4096)
        beside = self.p95()
        print(
            f"p95 of / : {alone:.1f} ms alone, {beside:.1f} ms beside {SCREENS} screens",
            file=sys.stderr,
        )
        self.assertLess(beside, 3 * alone)
