"""Replays over the interface and on the screens: begun, watched, stopped, kept beside their run."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from ferox.runs.replay import kept_replay
from ferox.runs.replay.kept_replay import begin_replay, carry_out_replay, replay_progress
from ferox.runs.replay.replay_run import ReplayChoice
from ferox.runs.run_lock import RunLock
from ferox.store.replays import change_replay
from ferox.workspace import WorkspaceError
from tests.serving import AppCase
from tests.test_screens import ScreenCase
from tests.waiting import until


class ReplayedCase(AppCase):
    def setUp(self) -> None:
        super().setUp()
        self.write("agents/desk.md", "Look it up.\n")
        self.change(
            "agents/plain.yaml", "model: steady", "model: steady\ninstructions: agents/desk.md"
        )
        body = {"suites": ["small"], "agents": ["plain"], "repeats": 3}
        self.follow(self.ask("/api/runs", body).body["id"])


class Interface(ReplayedCase):
    def played(self, body: Any) -> Any:
        """A replay of run 1, once a process of its own has carried it out."""
        begun = self.ask("/api/runs/1/replays", body)
        self.assertEqual(begun.status, 201, begun.body)
        number = begun.body["id"]
        until(lambda: self.ask(f"/api/replays/{number}").body["state"] != "running")
        return self.ask(f"/api/replays/{number}").body

    def test_a_replay_is_kept_beside_its_run_and_read_by_what_differs(self) -> None:
        self.assertEqual(self.ask("/api/runs/1/replays").body, {"replays": []})
        self.assertEqual(self.ask("/api/trials/2/replay").body, {"last": None})
        same = self.played({"trials": [2]})
        self.assertEqual((same["state"], same["done"], same["total"]), ("done", 1, 1))
        self.assertEqual((same["sentence"], same["groups"]), ("1 of 1 trial the same", []))
        self.assertEqual(self.ask("/api/trials/2/replay").body["last"]["verdict"], "same")
        self.write("agents/desk.md", "Look it up, always.\n")
        other = self.played({"agents": ["plain"]})
        self.assertEqual(
            other["sentence"], "0 of 3 trials the same; 3 tell the model something else"
        )
        (group,) = other["groups"]
        self.assertEqual((group["verdict"], group["count"]), ("other words", 3))
        self.assertEqual(group["example"]["lines"], ["-Look it up.", "+Look it up, always."])
        self.assertEqual([one["trial"] for one in group["trials"]], [1, 2, 3])
        listed = self.ask("/api/runs/1/replays").body["replays"]
        self.assertEqual([one["id"] for one in listed], [other["id"], same["id"]])
        last = self.ask("/api/trials/2/replay").body["last"]
        self.assertEqual((last["verdict"], last["replay"]), ("other words", other["id"]))
        self.assertEqual(last["differences"][0]["what"], "a system message is reworded")
        self.assertEqual(self.ask("/api/runs").body["runs"][0]["total"], 3)

    def test_what_is_not_there_is_refused(self) -> None:
        for path, body, status in (
            ("/api/runs/9/replays", {}, 409),
            ("/api/runs/1/replays", {"trials": [99]}, 409),
            ("/api/runs/1/replays", {"trials": ["x"]}, 422),
            ("/api/replays/9", None, 404),
            ("/api/replays/9/stop", {}, 404),
            ("/api/trials/9/replay", None, 404),
        ):
            with self.subTest(path):
                self.assertEqual(self.ask(path, body).status, status)


class Kept(ReplayedCase):
    def begin(self, lock: RunLock) -> int:
        return begin_replay(self.engine, lock, 1, ReplayChoice())

    def state(self, replay: int) -> Any:
        with Session(self.engine) as session:
            return replay_progress(session, self.root, replay)

    def test_one_that_is_stopped_keeps_what_is_done(self) -> None:
        with RunLock(self.root) as lock:
            replay = self.begin(lock)
            self.ask(f"/api/replays/{replay}/stop", {})
            came = carry_out_replay(self.engine, self.root, replay, at_once=1)
        self.assertEqual((len(came.trials), self.state(replay).state), (1, "stopped"))

    def test_one_whose_process_is_gone_is_interrupted(self) -> None:
        with RunLock(self.root) as lock:
            replay = self.begin(lock)
            self.assertEqual(self.state(replay).state, "running")
        self.assertEqual(self.state(replay).state, "interrupted")
        with Session(self.engine) as session, session.begin():
            change_replay(session, replay, state="done")
        self.assertEqual(self.state(replay).state, "done")

    def test_why_it_could_not_be_carried_out_is_kept(self) -> None:
        with RunLock(self.root) as lock:
            replay = self.begin(lock)
            self.write("ferox.yaml", "ferox: 1\nname: [\n")
            with self.assertRaises(WorkspaceError):
                carry_out_replay(self.engine, self.root, replay)
        found = self.state(replay)
        self.assertEqual(found.state, "stopped")
        self.assertIn("ferox.yaml", found.message)

    def test_another_cannot_claim_it(self) -> None:
        with RunLock(self.root) as mine, RunLock(self.root) as other:
            replay = self.begin(mine)
            self.assertFalse(other.claim(kept_replay.lock_name(replay)))


class Screens(ScreenCase):
    def setUp(self) -> None:
        super().setUp()
        self.write("agents/desk.md", "Look it up.\n")
        self.change(
            "agents/plain.yaml", "model: steady", "model: steady\ninstructions: agents/desk.md"
        )
        self.start(2)
        self.see("[data-testid=dock]", "Run 1 is done")

    def test_a_run_and_a_trial_are_played_back(self) -> None:
        self.write("agents/desk.md", "Look it up, always.\n")
        self.open("/board/1")
        self.press_button("Replay")
        self.see("[data-testid=replay]", "It was not played back yet.")
        self.press("[data-testid=start-replay]", "Play back")
        self.see("[data-testid=replay-sentence]", "0 of 2 trials the same; 2 tell the model")
        self.see("[data-testid=folded]", "+Look it up, always.")
        self.press("[data-testid=replay] button", "a system message is reworded")
        self.press("[data-testid=replay] a", "trial 2")
        self.see("[data-testid=verdict]", "held")
        self.press("[data-testid=open-replay]")
        self.see("[data-testid=replayed]", "other words")
        self.see("[data-testid=folded]", "+Look it up, always.")
        self.write("agents/desk.md", "Look it up.\n")
        self.press_button("Play back again")
        until(lambda: ": same" in " ".join(self.see("[data-testid=replayed]").text.split()))
        self.assertEqual(self.errors(), [])
