"""What a run would take, worked by hand."""

from __future__ import annotations

from typing import Any

from ferox.runs.cells import chosen_cells
from ferox.runs.estimate import Estimate, LiveServer, estimate_run
from ferox.runs.overrides import Overrides
from ferox.store.by_hand import keep_look
from ferox.store.database import write_session
from ferox.store.results import keep_result
from ferox.store.trials import trials_of_run
from ferox.workspace import load_workspace
from tests.test_store import StoreCase
from tests.traces import trace

LIVE = "live: {command: [tides]}\nmock:"


def live_tides(may_write: int | None) -> LiveServer:
    return LiveServer(server="tides", mode="live", may_write=may_write)


class Estimating(StoreCase):
    def ran(self, *ms: float, tokens: Any = None) -> int:
        """A run of one cell with a trial for each time."""
        run = self.run_of("w" * len(ms))
        with write_session(self.engine) as session:
            for trial, taken in zip(trials_of_run(session, run), ms, strict=True):
                result = self.result("p")
                result["latency"]["turn_ms"] = [taken]
                result["tokens"] = tokens
                keep_result(session, trial.id, trace(), result, "same")
        return run

    def estimated(self, repeats: int = 10, at_once: int = 2, **overrides: Any) -> Estimate:
        loaded = load_workspace(self.root)
        return estimate_run(
            self.engine,
            loaded,
            chosen_cells(loaded, ["small"], ["plain"]),
            repeats=repeats,
            at_once=at_once,
            overrides=Overrides(**overrides),
        )

    def test_nothing_is_said_of_what_never_ran(self) -> None:
        self.run_of("w")
        found = self.estimated()
        self.assertEqual((found.trials, found.cells, found.known), (10, 1, 0))
        self.assertEqual((found.seconds, found.tokens_in, found.tokens_out), (None, None, None))

    def test_times_are_the_last_runs_shared_by_those_side_by_side(self) -> None:
        self.ran(9000, 9000)
        self.ran(1000, 3000, tokens={"input": 100, "output": 7, "estimated": True})
        found = self.estimated(repeats=10, at_once=4)
        self.assertEqual(found.known, 1)
        self.assertEqual(found.seconds, 5.0)  # ten trials of 2 s, four at once
        self.assertEqual((found.tokens_in, found.tokens_out), (1000, 70))
        self.assertEqual(self.estimated(repeats=1, at_once=8).seconds, 2.0)

    def test_a_cell_that_never_ran_is_taken_to_be_like_the_others(self) -> None:
        self.ran(1000)
        self.change("tasks/small.yaml", "tasks:\n", "tasks:\n  - {task: new, say: Hello}\n")
        found = self.estimated(repeats=3, at_once=1)
        self.assertEqual((found.trials, found.cells, found.known, found.seconds), (6, 2, 1, 6.0))
        self.assertIsNone(found.tokens_in, "no trial told any")

    def test_what_lives_by_another_day_than_the_suite_says(self) -> None:
        self.assertEqual(self.estimated().warnings, [])
        self.change("servers/tides.yaml", "mock:", LIVE)
        (warning,) = self.estimated(modes={"tides": "live"}).warnings
        self.assertIn("`tides` is live and lives by the real day", warning)
        self.assertIn("small says that today is 2031-03-14", warning)
        self.change("agents/plain.yaml", "link: plain", "link: chat\nurl: http://127.0.0.1:9")
        self.assertIn("nothing tells it that for small today is", self.estimated().warnings[0])
        self.change("agents/plain.yaml", "link: chat", "instructions: It is {{ now }}.\nlink: chat")
        self.assertEqual(self.estimated().warnings, [])
        self.change("tasks/small.yaml", "suite: small", "suite: small\nclock: now")
        self.assertEqual(self.estimated(modes={"tides": "live"}).warnings, [])

    def test_live_servers_and_what_may_write(self) -> None:
        self.change("servers/tides.yaml", "mock:", LIVE)
        self.assertEqual(self.estimated().live, [])
        modes = {"tides": "live"}
        self.assertEqual(self.estimated(modes=modes).live, [live_tides(None)])
        reads = {"name": "high_water", "annotations": {"readOnlyHint": True}}
        tools = [reads, {"name": "book"}, {"name": "odd", "annotations": None}]
        keep_look(self.engine, "tides", "live", tools)
        self.assertEqual(self.estimated(modes=modes).live, [live_tides(2)])

    def test_money_by_what_the_models_cost(self) -> None:
        self.ran(1000, tokens={"input": 3000, "output": 200, "estimated": True})
        self.change("tasks/small.yaml", "tasks:\n", "tasks:\n  - {task: new, say: Hello}\n")
        price = "{in: 0.5, out: 2, per: 1000, currency: EUR}"
        models = (
            f"  big: {{base_url: 'http://127.0.0.1:9/v1', name: big, price: {price}}}\n"
            "  dark: {base_url: 'http://127.0.0.1:9/v1', name: dark}\n"
        )
        self.change("ferox.yaml", "models:\n", f"models:\n{models}")
        simulated = self.estimated()
        self.assertEqual((simulated.money, simulated.unpriced), ({}, []))
        # Two cells of ten trials, each 3 × 0.50 + 0.2 × 2.00 = 1.90; the new one counts alike.
        big = self.estimated(models={"*": "big"})
        self.assertEqual(set(big.money), {"EUR"})
        self.assertAlmostEqual(big.money["EUR"], 38.0)
        dark = self.estimated(models={"*": "dark"})
        self.assertEqual((dark.money, dark.unpriced), ({}, ["dark"]))

    def test_an_agent_whose_models_cost_differently_is_not_guessed_at(self) -> None:
        self.ran(1000, tokens={"input": 3000, "output": 200, "estimated": True})
        models = "".join(
            f"  {name}: {{base_url: 'http://127.0.0.1:9/v1', price: {{in: {cost}, out: 1}}}}\n"
            for name, cost in (("big", 2), ("small", 1))
        )
        self.change("ferox.yaml", "models:\n", f"models:\n{models}")
        agent = "ferox: 1\nagent: plain\nlink: plain\nmodel: big\nmodels: {helper: small}\n"
        self.write("agents/plain.yaml", agent)
        found = self.estimated()
        self.assertEqual((found.money, found.unpriced), ({}, ["big", "small"]))

    def test_tasks_are_chosen_by_name_or_by_suite_and_name(self) -> None:
        self.change("tasks/small.yaml", "tasks:\n", "tasks:\n  - {task: new, say: Hello}\n")
        loaded = load_workspace(self.root)
        for tasks, found in ((["new"], ["new"]), (["small/high"], ["high"]), ([], ["new", "high"])):
            cells = chosen_cells(loaded, ["small"], ["plain"], tasks)
            self.assertEqual([c[1] for c in cells], found)
