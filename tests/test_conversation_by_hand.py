"""`ferox try`: a conversation by hand, kept as a trial."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from click.testing import CliRunner
from sqlalchemy import select
from sqlalchemy.orm import Session

from ferox.cli.main import main
from ferox.runs.overrides import Overrides
from ferox.runs.records import RunError
from ferox.runs.trial_by_hand import BY_HAND, SUITE, snapshot_by_hand
from ferox.store import tables
from ferox.store.database import open_database
from ferox.store.traces import read_trace
from ferox.web.app import create_app
from ferox.workspace import load_workspace
from tests.test_web_agents import ASKING
from tests.workspaces import WorkspaceCase

AGENT = Path(__file__).parent / "servers/link_agent.py"


class ConversingByHand(WorkspaceCase):
    def talk(self, words: str, *options: str, agent: str = "plain") -> tuple[int, str]:
        done = CliRunner().invoke(main, ["try", str(self.root), agent, *options], input=words)
        return done.exit_code, done.output

    def test_a_conversation_is_shown_kept_and_not_on_the_board(self) -> None:
        status, found = self.talk("When is high water today?\n\n")
        self.assertEqual(status, 0, found)
        self.assertRegex(
            found, r'tides/high_water \{"day":"2031-03-14"\} \(\d+ ms\) → \{"high_water": "14:31"\}'
        )
        self.assertIn("agent> High water is at 14:31.", found)
        self.assertIn("kept as trial 1", found)
        engine = open_database(self.root)
        with Session(engine) as session:
            run = session.scalars(select(tables.Run)).one()
            trial = session.scalars(select(tables.Trial)).one()
            trace = read_trace(session, trial.id)
        self.assertEqual((run.title, run.state, trial.state), (BY_HAND, "done", "done"))
        assert trace is not None
        self.assertEqual([e["kind"] for e in trace["events"]][-2:], ["reply", "end"])
        client = create_app(self.root, engine).test_client()
        self.assertEqual(client.get("/api/runs").json, {"runs": []})
        self.assertEqual(client.get("/api/trials/1").status_code, 200)

    def test_the_end_of_the_input_ends_it_too(self) -> None:
        status, found = self.talk("Hello there, old boat\n")
        self.assertEqual(status, 0, found)
        self.assertIn("no way to help", found)

    def test_approvals_are_given_by_hand(self) -> None:
        command = json.dumps([sys.executable, "-u", str(AGENT), "asks"])
        self.write(
            "agents/any.yaml",
            f"ferox: 1\nagent: any\nlink: process\nmodel: steady\ncommand: {command}\n",
        )
        for said, words in (
            ("y", "agent>  approve"),
            ("n", "agent>  deny"),
            ('{"berth": "N2"}', "agent>  approve"),
            ("{oops", "so it was denied"),
        ):
            status, output = self.talk(f"Book it.\n{said}\n\n", agent="any")
            self.assertEqual(status, 0, output)
            self.assertIn('may it call harbour/assign_berth {"berth":"N1"}?', output)
            self.assertIn(words, output)

    def test_a_servers_question_is_answered_by_hand(self) -> None:
        (self.root / "tasks/small.yaml").unlink()
        self.write("servers/tides.yaml", ASKING)
        for said, words in (('{"gauge": "North"}', '"gauge": "North"'), ("", "did not say yes")):
            status, output = self.talk(f"When is high water today?\n{said}\n\n\n\n")
            self.assertEqual(status, 0, output)
            self.assertIn("tides asks: At which gauge?", output)
            self.assertIn(words, output)

    def test_wrong_use_is_reported(self) -> None:
        for options, words in (
            (("--server", "tides=live"), "no such mode of this server; there is mock"),
            (("--server", "tides"), "write NAME=MODE"),
        ):
            status, output = self.talk("\n", *options)
            self.assertEqual(status, 2)
            self.assertIn(words, output)
        status, output = self.talk("\n", agent="nobody")
        self.assertEqual(status, 2)
        self.assertIn("`nobody`: no such agent; there is plain", output)

    def test_an_agent_that_does_not_start_is_reported(self) -> None:
        body = "link: process\nmodel: steady\ncommand: [no-such-command]\n"
        self.write("agents/gone.yaml", f"ferox: 1\nagent: gone\n{body}")
        status, output = self.talk("Hello\n\n", agent="gone")
        self.assertEqual(status, 3)
        self.assertIn("`no-such-command` was not found", output)


class Choosing(WorkspaceCase):
    def test_the_servers_that_the_agent_is_offered_each_in_one_way(self) -> None:
        self.write("servers/yard.yaml", "ferox: 1\nserver: yard\nlive: {command: [x]}\n")
        loaded = load_workspace(self.root)
        self.assertEqual(
            snapshot_by_hand(loaded, "plain", Overrides()).suites[SUITE].servers,
            {"tides": "mock", "yard": "live"},
        )
        self.change("agents/plain.yaml", "model: steady", "model: steady\noffer: {tides: all}")
        loaded = load_workspace(self.root)
        snapshot = snapshot_by_hand(loaded, "plain", Overrides())
        self.assertEqual(snapshot.suites[SUITE].servers, {"tides": "mock"})
        self.assertEqual(snapshot.suites[SUITE].clock, "2031-03-14T06:30:00Z")
        with self.assertRaises(RunError):
            snapshot_by_hand(loaded, "plain", Overrides(modes={"tides": "recorded"}))
