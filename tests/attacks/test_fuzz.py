"""Made-up requests: the interface answers each as its document says."""

from __future__ import annotations

from pathlib import Path

from tests.attacks.attack import long_attack
from tests.attacks.fuzzing import PHASES, fuzz
from tests.serving import OwnProcessCase
from tests.test_web_servers import LIVE


class MadeUpRequests(OwnProcessCase):
    """Requests made up from the API document"""

    def setUp(self) -> None:
        super().setUp()
        self.write("servers/live.yaml", LIVE)
        # It is made when it is first asked for, and the requests' maker does not wait for long.
        self.ask("/openapi/openapi.json")

    def fuzz(self, examples: int, seconds: int, phases: str = PHASES) -> None:
        status, said = fuzz(self.url, examples, seconds, phases)
        self.assertEqual(status, 0, said[-6000:])
        left = {p.name for p in self.root.iterdir()}
        self.assertLessEqual(left, {".ferox", "ferox.yaml", "agents", "servers", "tasks",
                                    "stand_ins", "recordings", ".env", ".gitignore"})  # fmt: skip
        self.assertEqual([*Path(self.root).rglob("*.part")], [])

    def test_some_of_every_operation(self) -> None:
        self.fuzz(3, 240, "examples,fuzzing")

    @long_attack
    def test_many_of_every_operation(self) -> None:
        self.fuzz(60, 300)
