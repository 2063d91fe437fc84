"""Text that steers a terminal, wherever commands print what others wrote."""

from __future__ import annotations

import json
import os

from click.testing import CliRunner

from ferox.cli.main import main
from tests.attacks.test_agents import HostileCase

STEERS = "\x1b]0;mine\x07\x1b[2J\x1b]52;c;eA==\x07\u202e"
"""Sets the title, clears the screen, fills the clipboard, turns the line around."""


class Terminals(HostileCase):
    """Text that steers a terminal"""

    def printed(self, *words: str, given: str = "") -> str:
        done = CliRunner().invoke(main, list(words), input=given)
        self.assertNotRegex(done.output, "[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e]", words)
        return done.output

    def test_nothing_of_it_reaches_the_terminal(self) -> None:
        said = json.dumps({"op": "reply", "text": f"At 14:31 {STEERS}"})
        self.link_agent("steers", f"raw({said!r})")
        trials = self.ran(["steers"])
        root = str(self.root)
        run = trials["steers"].run_id
        shown = self.printed("digest", root, str(run), str(trials["steers"].id))
        self.assertIn("␛]0;mine␇", shown)
        lines = self.printed("export", root, str(run)).splitlines()
        texts = [e.get("text") for line in lines for e in json.loads(line)["events"]]
        self.assertIn(f"At 14:31 {STEERS}", texts, "exported as it was said")
        self.assertIn("␛[2J", self.printed("try", root, "steers", given="hello\n\n"))

    def test_names_of_files_and_what_is_wrong_in_them(self) -> None:
        (self.root / f"servers/{STEERS.replace('/', '')}.yaml").write_text(f"ferox: 1\n{STEERS}: 1")
        self.assertIn("␛", self.printed("verify", os.fspath(self.root)))
        self.printed("run", str(self.root), "--agent", STEERS)
