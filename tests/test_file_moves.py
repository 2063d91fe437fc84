"""Files renamed, removed and put back; anything found by its name."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.workspace.file_moves import remove_file, rename_file, restore_file
from ferox.workspace.write import Conflict, WriteError, read_text
from tests.serving import AppCase
from tests.test_web import ALL
from tests.workspaces import WorkspaceCase

TIDES, PLAIN = "servers/tides.yaml", "agents/plain.yaml"


class Moves(WorkspaceCase):
    def stamp(self, name: str = TIDES) -> str:
        return read_text(self.root, name)[1]

    def test_a_renamed_file_says_its_new_name_and_every_other_byte_stays(self) -> None:
        before = (self.root / TIDES).read_text() + "# a remark:   kept\n"
        (self.root / TIDES).write_text(before)
        name, text, stamp = rename_file(self.root, TIDES, "pilots", self.stamp())
        self.assertEqual(name, "servers/pilots.yaml")
        self.assertEqual(text, before.replace("server: tides", "server: pilots", 1))
        self.assertEqual(read_text(self.root, name), (text, stamp))
        self.assertFalse((self.root / TIDES).exists())

    def test_the_name_is_found_however_it_is_written(self) -> None:
        for written in ('server: "tides"   # here', "server: 'tides'", "{server: tides, mock: {}}"):
            self.write(TIDES, written + "\n")
            _, text, _ = rename_file(self.root, TIDES, "pilots", self.stamp())
            self.assertIn("server: pilots", text, written)
            self.assertEqual("# here" in text, "# here" in written)
            (self.root / "servers/pilots.yaml").unlink()

    def test_a_name_that_is_taken_or_no_name_changes_nothing(self) -> None:
        text = (self.root / TIDES).read_text()
        self.write("servers/pilots.yaml", "server: pilots\n")
        with self.assertRaisesRegex(Conflict, "is there already"):
            rename_file(self.root, TIDES, "pilots", self.stamp())
        for name in ("../out", "a/b", "", ".hidden", "a b"):
            with self.subTest(name), self.assertRaises(WriteError):
                rename_file(self.root, TIDES, name, self.stamp())
        self.assertEqual((self.root / TIDES).read_text(), text)

    def test_what_changed_on_disk_is_neither_renamed_nor_removed(self) -> None:
        seen = self.stamp()
        self.write(TIDES, "server: tides\n")
        for move in (
            lambda: rename_file(self.root, TIDES, "pilots", seen),
            lambda: remove_file(self.root, TIDES, seen),
        ):
            with self.assertRaisesRegex(Conflict, "changed on disk"):
                move()
        self.assertTrue((self.root / TIDES).exists())

    def test_what_is_removed_can_be_put_back(self) -> None:
        text = (self.root / TIDES).read_text()
        remove_file(self.root, TIDES, self.stamp())
        self.assertFalse((self.root / TIDES).exists())
        restore_file(self.root, TIDES)
        self.assertEqual((self.root / TIDES).read_text(), text)
        (self.root / TIDES).unlink()
        with self.assertRaisesRegex(WriteError, "no servers/tides.yaml was removed"):
            restore_file(self.root, TIDES)

    def test_it_is_not_put_back_over_another(self) -> None:
        remove_file(self.root, TIDES, self.stamp())
        self.write(TIDES, "server: other\n")
        with self.assertRaisesRegex(Conflict, "is there already"):
            restore_file(self.root, TIDES)
        self.assertEqual((self.root / TIDES).read_text(), "server: other\n")


class OverHttp(AppCase):
    def stamp(self, name: str) -> str:
        return str(self.ask(f"/api/file/stamp?name={name}").body["stamp"])

    def test_a_removal_says_what_it_broke_and_is_undone(self) -> None:
        removed = self.ask("/api/file/remove", {"name": TIDES, "stamp": self.stamp(TIDES)}).body
        self.assertEqual({p["file"] for p in removed["problems"]}, {"tasks/small.yaml"})
        self.assertEqual(self.ask("/api/servers").body["servers"], [])
        self.assertEqual(self.ask("/api/file/restore", {"name": TIDES}).status, 200)
        self.assertEqual(self.ask("/api/workspace").body["problems"], [])
        self.assertEqual(self.ask("/api/file/restore", {"name": TIDES}).status, 409)

    def test_an_editor_may_ask_for_a_file_that_is_gone(self) -> None:
        (self.root / TIDES).unlink()
        seen = self.ask(f"/api/file/stamp?name={TIDES}")
        self.assertEqual((seen.status, seen.body), (200, {"stamp": None}))

    def test_a_rename_says_what_it_broke(self) -> None:
        body = {"name": PLAIN, "stamp": self.stamp(PLAIN), "to": "simple"}
        moved = self.ask("/api/file/rename", body).body
        self.assertEqual((moved["name"], moved["problems"]), ("agents/simple.yaml", []))
        self.assertEqual([a["agent"] for a in self.ask("/api/agents").body["agents"]], ["simple"])
        self.assertEqual(self.ask("/api/file/rename", body).status, 409)


class Finding(AppCase):
    def find(self, words: str) -> list[Any]:
        found: list[Any] = self.ask(f"/api/find?words={words}").body["found"]
        return [(f["kind"], f["name"], f["within"]) for f in found]

    def test_by_any_of_its_words(self) -> None:
        self.assertEqual(self.find(""), [])
        self.assertEqual(self.find("nowhere"), [])
        self.assertIn(("tool", "high_water", "tides"), self.find("WATER hi"))
        self.assertIn(("tool", "high_water", "tides"), self.find("tides high"))
        self.assertEqual(self.find("plain")[0], ("agent", "plain", None))
        self.assertIn(("task", "high", "tasks/small.yaml"), self.find("high"))

    def test_the_mock_s_tools_of_a_server_that_is_live_too(self) -> None:
        self.change("servers/tides.yaml", "mock:", "live: {command: [nothing-here]}\nmock:")
        self.assertIn(("tool", "low_water", "tides"), self.find("low_water"))

    def test_the_nearest_first_and_only_some_of_each_kind(self) -> None:
        tasks = "".join(f"  - {{task: {name}, say: x}}\n" for name in ("not-tide", "tide"))
        more = "".join(f"  - {{task: tide-{n}, say: x}}\n" for n in range(20))
        path = self.root / "tasks/small.yaml"
        path.write_text(path.read_text() + tasks + more)
        names = [name for kind, name, _ in self.find("tide") if kind == "task"]
        self.assertEqual((names[0], len(names)), ("tide", 8))
        self.assertNotIn("not-tide", names)

    def test_runs_and_trials_by_number(self) -> None:
        run = self.ask("/api/runs", ALL).body["id"]
        self.follow(run)
        self.assertEqual(self.find(str(run))[:2], [("run", "1", None), ("trial", "1", None)])
        self.assertEqual(self.find("trial 1"), [("trial", "1", None)])
        self.assertEqual(self.find("run 1"), [("run", "1", None)])
        self.assertEqual(self.find("trial 999999"), [])
        self.assertEqual(self.find("9" * 12), [])


if __name__ == "__main__":
    unittest.main()
