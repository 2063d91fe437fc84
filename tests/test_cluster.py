"""Runs on a cluster, piece by piece: letters, parcels, places, and what is kept of what comes."""

from __future__ import annotations

import asyncio
import os
import shutil
import subprocess
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from ferox.gateway.model_seam.turns import OwnTurns
from ferox.runs.cluster import cluster_crew, letters, parcel
from ferox.runs.cluster.address import AddressError, check_address, is_local, local_processes
from ferox.runs.cluster.cluster_crew import ClusterCrew, _Given, _HandAtWork
from ferox.runs.cluster.connecting import Machine
from ferox.runs.cluster.letters import UnreadableLetter, read_letter, write_letter
from ferox.runs.cluster.machine_check import _modules, missing_everywhere
from ferox.runs.cluster.parcel import (
    Parcel,
    ParcelTooLarge,
    make_parcel,
    open_parcel,
    unpack_parcel,
)
from ferox.runs.cluster.places import PlacesTaken, needed_resources
from ferox.runs.records import RunError, plan_run
from ferox.runs.snapshot import Snapshot, take_snapshot
from ferox.runs.trial_host import TrialJudge
from ferox.runs.trial_order import TrialOrder
from ferox.store.database import open_database
from ferox.workspace import load_workspace
from ferox.workspace.vault import Vault, install_vault
from tests.async_case import AsyncCase
from tests.traces import end, trace, turn
from tests.workspaces import PLAIN, WorkspaceCase, know_secrets

JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.text(),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(), inner, max_size=3),
    max_leaves=8,
)
STANDING = """
    ferox: 1
    agent: quay
    link: chat
    url: http://127.0.0.1:9
    model: steady
"""


class Letters(unittest.TestCase):
    @given(st.lists(st.lists(JSON, min_size=1, max_size=4), max_size=4))
    def test_a_letter_is_read_as_it_was_written(self, notes: list[list[Any]]) -> None:
        self.assertEqual(read_letter(write_letter(notes)), notes)

    def test_what_is_no_letter_is_refused(self) -> None:
        for wrong in (b"", b"no letter", write_letter([["a"]])[:-3]):
            with self.assertRaises(UnreadableLetter):
                read_letter(wrong)
        with mock.patch.object(letters, "LARGEST_LETTER", 100):
            read_letter(write_letter([["a" * 50]]))
            with self.assertRaisesRegex(UnreadableLetter, "more than 100 bytes"):
                read_letter(write_letter([["a" * 100_000]]))


class Addresses(unittest.TestCase):
    def test_what_is_a_cluster(self) -> None:
        for good in ("tcp://10.0.0.4:8786", "tls://quay:1", "local:4", "local:12"):
            check_address(good)
        for wrong in ("quay", "local:0", "local:", "tcp://quay", "file:///etc", "http://q:1"):
            with self.assertRaisesRegex(AddressError, "tcp://host:8786"):
                check_address(wrong)
        self.assertEqual((is_local("local:3"), is_local("tcp://a:1")), (True, False))
        self.assertEqual((local_processes("local:3"), local_processes("tcp://a:1")), (3, None))


class ParcelCase(WorkspaceCase):
    def setUp(self) -> None:
        super().setUp()
        folder = self.root / "parcels"
        folder.mkdir()
        patch = mock.patch.object(parcel, "parcels_folder", lambda: folder)
        patch.start()
        self.addCleanup(patch.stop)

    def snapshot(self) -> Snapshot:
        loaded = load_workspace(self.root)
        return take_snapshot(loaded, list(loaded.suites), list(loaded.agents))

    def parcel(self) -> Parcel:
        return make_parcel(self.snapshot(), self.root)

    def files(self) -> set[str]:
        """The files of the workspace that a machine has once it has the parcel."""
        made = self.parcel()
        unpack_parcel(made)
        folder = open_parcel(made.hash).folder
        return {str(p.relative_to(folder)) for p in folder.rglob("*") if p.is_file()}


class Parcels(ParcelCase):
    def test_the_code_of_agents_and_servers_is_sent_and_nothing_else(self) -> None:
        self.write("agents/helpers/fares.py", "FARE = 4\n")
        self.write("agents/.env", "KEY=secret\n")
        self.write("agents/__pycache__/x.pyc", "x")
        self.write("agents/env/pyvenv.cfg", "home = /")
        self.write("agents/env/lib/big.py", "x = 1\n")
        self.write(".env", "KEY=secret\n")
        self.write("live/tides.py", "import window\n")
        self.write("live/window.py", "x = 1\n")
        self.write("docs/minutes.md", "not needed\n")
        (self.root / "agents/out.py").symlink_to("/etc/hostname")
        live = "live: {command: [python3, live/tides.py]}\nmock:"
        self.change("servers/tides.yaml", "mock:", live)
        self.python_agent("x = 1\n")
        self.assertEqual(
            self.files(),
            {
                *("agents/plain.yaml", "agents/coded.yaml", "agents/coded.py"),
                *("agents/helpers/fares.py", "live/tides.py", "live/window.py"),
            },
        )

    def test_the_same_content_has_the_same_name(self) -> None:
        first = self.parcel()
        self.assertEqual(self.parcel(), first)
        self.write("agents/helper.py", "x = 1\n")
        self.assertNotEqual(self.parcel().hash, first.hash)

    def test_the_snapshot_comes_back_and_interpreters_are_where_they_were(self) -> None:
        self.python_agent("x = 1\n", python="env/bin/python")
        made = self.parcel()
        unpack_parcel(made)
        opened = open_parcel(made.hash)
        self.assertEqual(opened.snapshot.suites, self.snapshot().suites)
        self.assertEqual(opened.snapshot.agents["coded"].python, str(self.root / "env/bin/python"))
        self.assertEqual(opened.snapshot.agents["coded"].entry, "agents/coded.py:open_desk")

    def test_javascript_finds_its_modules_where_they_are_in_the_workspace(self) -> None:
        self.write("agents/js/desk.js", 'import { fare } from "fares";\nconsole.log(fare);\n')
        self.write("agents/js/package.json", '{"type": "module"}')
        self.write("node_modules/fares/package.json", '{"type": "module", "main": "fares.js"}')
        self.write("node_modules/fares/fares.js", "export const fare = 4;\n")
        made = self.parcel()
        unpack_parcel(made)
        opened = open_parcel(made.hash)
        self.assertEqual(opened.modules, (self.root / "node_modules",))
        words = ["node", "agents/js/desk.js"]
        ran = subprocess.run(words, cwd=opened.folder, capture_output=True, text=True, check=True)
        self.assertEqual(ran.stdout, "4\n")
        (finding,) = map(_modules, opened.modules)
        self.assertTrue(finding.ok)
        shutil.rmtree(self.root / "node_modules")
        (finding,) = map(_modules, opened.modules)
        self.assertFalse(finding.ok)

    def test_too_much_code_is_refused_by_name(self) -> None:
        self.write("agents/model.bin", "x" * 5000)
        with (
            mock.patch.object(parcel, "LARGEST_CODE", 4000),
            self.assertRaisesRegex(ParcelTooLarge, r"up to `agents/model\.bin`"),
        ):
            self.parcel()

    def test_a_parcel_that_is_not_what_its_name_says_is_refused(self) -> None:
        made = self.parcel()
        with self.assertRaisesRegex(ValueError, "not what its name says"):
            unpack_parcel(Parcel(made.hash, made.packed + b"x"))
        self.assertFalse(parcel.has_parcel(made.hash))

    def test_no_secret_travels_and_a_machine_has_its_own(self) -> None:
        self.change(
            "ferox.yaml", "hasty: {stand_in: stand_ins/desk.yaml, manner: hasty}",
            "hasty: {base_url: http://127.0.0.1:9/v1, api_key: {secret: QUAY_KEY}}",
        )  # fmt: skip
        self.change("agents/plain.yaml", "model: steady", "model: hasty")
        know_secrets(self, QUAY_KEY="the-value", OTHER_KEY="another")
        made = self.parcel()
        install_vault(Vault(None))
        unpack_parcel(made)
        for path in (self.root / "parcels").rglob("*"):
            if path.is_file():
                self.assertNotIn("the-value", path.read_text())
        vault = open_parcel(made.hash).vault()
        with mock.patch.dict(os.environ, {"QUAY_KEY": "here", "OTHER_KEY": "x"}):
            self.assertEqual(vault.secret_values(), {"QUAY_KEY": "here"})
            self.assertEqual(
                vault.secret_value("api_key", "QUAY_KEY", "http://127.0.0.1:9"), "here"
            )
            with self.assertRaises(LookupError):
                vault.secret_value("api_key", "QUAY_KEY", "http://elsewhere:9")


class ParcelsFolder(unittest.TestCase):
    def test_a_folder_that_others_may_read_is_refused(self) -> None:
        with mock.patch.object(parcel.tempfile, "gettempdir", lambda: str(self.folder)):
            found = parcel.parcels_folder()
            self.assertEqual(found.stat().st_mode & 0o777, 0o700)
            found.chmod(0o755)
            with self.assertRaisesRegex(PermissionError, "not this user's own"):
                parcel.parcels_folder()

    def setUp(self) -> None:
        import tempfile

        made = tempfile.TemporaryDirectory()
        self.addCleanup(made.cleanup)
        self.folder = Path(made.name)


class Places(AsyncCase):
    async def test_the_number_of_places_may_change(self) -> None:
        places, inside = PlacesTaken(), 0
        go = asyncio.Event()

        async def come() -> None:
            nonlocal inside
            async with places.take():
                inside += 1
                await go.wait()
                inside -= 1

        tasks = [asyncio.create_task(come()) for _ in range(5)]
        for size, there in ((2, 2), (4, 4), (1, 4)):
            places.set_size(size)
            await asyncio.sleep(0.01)
            self.assertEqual(inside, there)
        tasks[-1].cancel()  # who waits and leaves takes no place along
        go.set()
        await asyncio.gather(*tasks, return_exceptions=True)
        async with asyncio.timeout(5), places.take():
            pass

    async def test_who_waits_and_who_comes_hears_of_a_failure(self) -> None:
        places = PlacesTaken()

        async def come() -> None:
            async with places.take():
                pass

        waiting = asyncio.create_task(come())
        await asyncio.sleep(0)
        places.fail(OSError("gone"))
        for task in (waiting, asyncio.create_task(come())):
            with self.assertRaisesRegex(OSError, "gone"):
                await task


class Where(WorkspaceCase):
    def test_what_is_on_one_machine_only_is_carried_out_there(self) -> None:
        self.write("agents/quay.yaml", STANDING)
        live = "live: {command: [python3, x.py]}\nmock:"
        self.change("servers/tides.yaml", "mock:", live)
        self.change("tasks/small.yaml", "tides: mock", "tides: live")
        loaded = load_workspace(self.root)
        snapshot = take_snapshot(loaded, ["small"], ["plain", "quay"])

        def needs(agent: str, *resources: str, local: bool = False) -> dict[str, float]:
            machines = [Machine("tcp://a:1", "a", 1, dict.fromkeys(resources, 1.0))]
            return needed_resources(snapshot, order(agent=agent), machines, local)

        self.assertEqual(needs("plain"), {})
        self.assertEqual(needs("plain", "server:tides"), {"server:tides": 1})
        self.assertEqual(needs("quay"), {"agent:quay": 1})
        self.assertEqual(needs("quay", "agent:quay", "server:tides", local=True), {})
        (line,) = missing_everywhere(snapshot, [Machine("tcp://a:1", "a", 1, {})])
        self.assertIn('--resources "agent:quay=1"', line)
        there = [Machine("tcp://a:1", "a", 1, {"agent:quay": 1.0})]
        self.assertEqual(list(missing_everywhere(snapshot, there)), [])

    def test_a_run_on_what_is_no_cluster_is_refused(self) -> None:
        engine = open_database(self.root)
        self.addCleanup(engine.dispose)
        loaded = load_workspace(self.root)
        with self.assertRaisesRegex(RunError, "`quay` is no cluster"):
            plan_run(engine, loaded, ["small"], ["plain"], 1, 1, on="quay")
        with (
            mock.patch("ferox.runs.records.find_spec", lambda name: None),
            self.assertRaisesRegex(RunError, r"pip install 'ferox\[cluster\]'"),
        ):
            plan_run(engine, loaded, ["small"], ["plain"], 1, 1, on="local:2")


def order(trial: int = 1, agent: str = "plain") -> TrialOrder:
    return TrialOrder(trial=trial, suite="small", task="high", agent=agent, number=1)


class _Kept:
    """Takes what a crew keeps."""

    hold_rule = None

    def __init__(self) -> None:
        self.notes: list[tuple[Any, ...]] = []

    def __getattr__(self, name: str) -> Any:
        def note(*given: Any) -> None:
            self.notes.append((name, *given))

        return note

    async def forget(self, trial: int) -> None:
        self.notes.append(("forget", trial))

    async def keep_result(self, trial: int, trace: Any, result: Any, script: str) -> None:
        self.notes.append(("result", trial, trace["events"][-1]["why"], result["verdict"]))


class _Post:
    """A queue of letters to a hand."""

    def __init__(self) -> None:
        self.notes: list[Any] = []

    async def put(self, letter: bytes) -> None:
        self.notes += read_letter(letter)


class Coming(WorkspaceCase, AsyncCase):
    """What comes of trials, in whatever order: each is kept once, by the try that counts."""

    async def asyncSetUp(self) -> None:
        loaded = load_workspace(self.root)
        snapshot = take_snapshot(loaded, ["small"], ["plain"])
        self.kept: Any = _Kept()
        self.crew = ClusterCrew(
            "tcp://quay:1", 0, snapshot, seed=1, folder=self.root, keeper=self.kept,
            turns=OwnTurns(),
        )  # fmt: skip
        self.posts = {name: _Post() for name in ("h1", "h2")}
        for name, post in self.posts.items():
            letters: Any = post
            self.crew._hands[name] = _HandAtWork(f"tcp://{name}:1", letters)
        self.over = asyncio.get_running_loop().create_future()
        self.crew._given[1] = _Given(order(), self.over)

    async def heed(self, *notes: list[Any]) -> None:
        for note in notes:
            await self.crew._heed(note)
        await asyncio.sleep(0.01)

    def ended(self, tried: str) -> list[Any]:
        whole = {**trace(turn(), end(1)), "suite": "small", "task": "high"}
        return ["end", 1, tried, whole, {"verdict": "pass"}, "hash"]

    def of(self, kind: str) -> list[Any]:
        return [note[1:] for note in self.kept.notes if note[0] == kind]

    async def test_a_trial_is_kept_once_however_often_it_ends(self) -> None:
        await self.heed(["begin", 1, "h1#1", 5.0], self.ended("h1#1"), self.ended("h1#1"))
        self.assertEqual(self.of("result"), [(1, "done", "pass")])
        self.assertTrue(self.over.done())
        # Dask does again what it lost after it had ended.
        await self.heed(["begin", 1, "h2#1", 6.0], self.ended("h2#1"))
        self.assertEqual(len(self.of("result")), 1)
        self.assertEqual(self.posts["h2"].notes, [["drop", 1]])

    async def test_what_comes_late_of_a_lost_try_is_dropped(self) -> None:
        event = {"t": 0.0, "kind": "turn"}
        await self.heed(
            ["begin", 1, "h1#1", 5.0],
            ["event", 1, "h1#1", 0, event],
            ["begin", 1, "h2#1", 6.0],
            ["event", 1, "h1#1", 1, event],
            self.ended("h1#1"),
        )
        self.assertEqual(self.of("keep_event"), [(1, 0, event)])
        self.assertEqual((self.of("forget"), self.of("result")), ([(1,)], []))
        self.assertEqual(self.of("note_loss"), [(1, "tcp://h1:1")])
        await self.heed(self.ended("h2#1"))
        self.assertEqual(self.of("result"), [(1, "done", "pass")])

    async def test_a_machine_that_is_gone_loses_its_trials_once(self) -> None:
        await self.heed(["begin", 1, "h1#1", 5.0])
        await self.crew._note_gone({"tcp://h1:1"})
        await self.heed(["begin", 1, "h2#1", 6.0])
        self.assertEqual(self.of("note_loss"), [(1, "tcp://h1:1")])

    async def test_a_trial_is_done_again_only_so_often(self) -> None:
        for n in range(1, 5):
            await self.heed(["begin", 1, f"h1#{n}", float(n)])
        self.assertEqual(self.of("result"), [(1, "could_not_run", "error")])
        self.assertEqual(len(self.of("note_loss")), 3)
        self.assertEqual(self.posts["h1"].notes, [["drop", 1]])

    async def test_a_trial_that_no_machine_takes_is_an_error_that_says_so(self) -> None:
        self.write("agents/quay.yaml", STANDING)
        loaded = load_workspace(self.root)
        self.crew._snapshot = take_snapshot(loaded, ["small"], ["quay"])
        self.crew._judge = TrialJudge(self.crew._snapshot)
        self.crew._machines = {"tcp://h1:1": Machine("tcp://h1:1", "h1", 1, {})}
        self.crew._places_taken.set_size(1)
        kept: list[Any] = []

        async def keep(trial: int, trace: Any, result: Any, script: str) -> None:
            kept.append(trace["events"][-1]["reason"])

        self.kept.keep_result = keep
        with mock.patch.object(cluster_crew, "NOBODY_S", -1):
            await self.crew.carry_out(order(2, "quay"))
        (reason,) = kept
        self.assertIn("no machine of tcp://quay:1 says that it has agent:quay", reason)

    async def test_notes_that_nobody_knows_harm_nothing(self) -> None:
        await self.heed(
            ["begin", 7, "h1#1", 5.0], ["begin", 1, "h9#1", 5.0], ["end", 1], ["what"], [],
            ["turn", "no such model", "h1.1"], ["unhold", "h1.7"], ["turned", "h9.1"],
        )  # fmt: skip
        self.assertEqual(self.kept.notes, [])
        self.assertFalse(self.over.done())


class Agents(ParcelCase):
    def test_what_runs_where_is_in_the_snapshot(self) -> None:
        self.write("agents/other.yaml", PLAIN.replace("agent: plain", "agent: other"))
        self.change("ferox.yaml", "name: Skerrow test desk",
                    "name: Skerrow test desk\ndefaults: {retries: 5}")  # fmt: skip
        self.assertEqual(self.snapshot().retries, 5)
