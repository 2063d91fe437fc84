"""Writing a workspace's files: never outside it, never over a change, never half."""

from __future__ import annotations

import os
import unittest
from pathlib import Path
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.expressions import ExpressionError, check_expressions
from ferox.workspace.environment import known_secrets
from ferox.workspace.load import load_loosely
from ferox.workspace.write import (
    Conflict,
    WriteError,
    read_text,
    text_stamp,
    workspace_file,
    write_text,
)
from tests.workspaces import WorkspaceCase, know_secrets


class Writing(WorkspaceCase):
    NAME = "servers/tides.yaml"

    def test_what_is_read_can_be_written_back(self) -> None:
        text, seen = read_text(self.root, self.NAME)
        new = write_text(self.root, self.NAME, text + "# calm\n", seen)
        self.assertEqual(read_text(self.root, self.NAME), (text + "# calm\n", new))
        self.assertEqual(new, text_stamp(text + "# calm\n"))

    def test_a_change_on_disk_is_never_written_over(self) -> None:
        _, seen = read_text(self.root, self.NAME)
        (self.root / self.NAME).write_text("theirs\n")
        with self.assertRaises(Conflict):
            write_text(self.root, self.NAME, "mine\n", seen)
        self.assertEqual((self.root / self.NAME).read_text(), "theirs\n")
        (self.root / self.NAME).unlink()
        with self.assertRaises(Conflict):
            write_text(self.root, self.NAME, "mine\n", seen)
        self.assertFalse((self.root / self.NAME).exists())

    def test_a_new_file_takes_no_name_that_is_there(self) -> None:
        write_text(self.root, "servers/new.yaml", "ferox: 1\n", None)
        with self.assertRaises(Conflict):
            write_text(self.root, "servers/new.yaml", "ferox: 1\n", None)

    def test_a_write_that_fails_leaves_what_was_there(self) -> None:
        text, seen = read_text(self.root, self.NAME)
        with (
            mock.patch("os.fsync", side_effect=OSError(28, "No space left on device")),
            self.assertRaises(WriteError) as caught,
        ):
            write_text(self.root, self.NAME, "half", seen)
        self.assertIn("No space left", str(caught.exception))
        self.assertEqual(read_text(self.root, self.NAME)[0], text)
        self.assertEqual([p.name for p in (self.root / "servers").iterdir()], ["tides.yaml"])

    def test_too_large_is_refused(self) -> None:
        _, seen = read_text(self.root, self.NAME)
        with self.assertRaises(WriteError):
            write_text(self.root, self.NAME, "x" * (5 * 1024 * 1024), seen)

    def test_a_link_out_of_the_workspace_is_not_followed(self) -> None:
        outside = self.root.parent / f"{self.root.name}-outside"
        outside.mkdir()
        self.addCleanup(outside.rmdir)
        (outside / "x.yaml").write_text("secret\n")
        self.addCleanup((outside / "x.yaml").unlink)
        (self.root / "servers/out.yaml").symlink_to(outside / "x.yaml")
        self.addCleanup((self.root / "servers/out.yaml").unlink)
        for act in (
            lambda: read_text(self.root, "servers/out.yaml"),
            lambda: write_text(self.root, "servers/out.yaml", "x", text_stamp("secret\n")),
        ):
            with self.assertRaises(WriteError):
                act()
        self.assertEqual((outside / "x.yaml").read_text(), "secret\n")

    @given(st.text(max_size=40))
    def test_every_place_is_one_of_the_workspace_s_folders(self, name: str) -> None:
        root = Path("/work/desk")
        for given_name in (name, f"servers/{name}", f"servers/{name}.yaml", f"../{name}"):
            try:
                path = workspace_file(root, given_name)
            except WriteError:
                continue
            self.assertIn(path.parent.name, ("servers", "tasks", "agents", "recordings"))
            self.assertEqual(path.parent.parent, root)


class Loosely(WorkspaceCase):
    def test_one_broken_file_leaves_the_others(self) -> None:
        self.write("servers/broken.yaml", "ferox: 1\nserver: broken\nmocks: {}\n")
        workspace, problems = load_loosely(self.root)
        self.assertEqual(list(workspace.servers), ["tides"])
        self.assertEqual({p.file for p in problems}, {"servers/broken.yaml"})

    def test_a_file_is_read_anew_when_it_changes(self) -> None:
        load_loosely(self.root)
        self.change("servers/tides.yaml", "name: low_water", "name: ebb")
        workspace, _ = load_loosely(self.root)
        mock_ = workspace.servers["tides"].mock
        assert mock_ is not None
        self.assertEqual([t.name for t in mock_.tools], ["high_water", "ebb"])

    def test_what_one_load_finds_is_not_kept_for_the_next(self) -> None:
        self.change("tasks/small.yaml", "tides/high_water", "tides/hi_water")
        one, other = load_loosely(self.root)[1], load_loosely(self.root)[1]
        self.assertEqual(one, other)
        self.assertEqual(len(one), 1)


class Secrets(unittest.TestCase):
    def test_values_that_must_never_be_written(self) -> None:
        know_secrets(self, DESK_WORD="kelp")
        environment = {"STATION_TOKEN": "barnacle", "ZONE": "UTC"}
        with mock.patch.dict(os.environ, environment, clear=True):
            self.assertEqual(known_secrets(), {"kelp", "barnacle"})


class Expressions(unittest.TestCase):
    def test_what_parses(self) -> None:
        for text in ("plain", "{{ args.a }}", "{{ a }} and {{ b }}", "{% if a %}x{% endif %}", "{"):
            check_expressions(text)
        check_expressions("args.a in state.b", condition=True)

    def test_what_does_not(self) -> None:
        for text, condition in (("{{ args. }}", False), ("{{ a }} {{ b", False), ("a in", True)):
            with self.assertRaises(ExpressionError):
                check_expressions(text, condition)
