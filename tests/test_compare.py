"""Two sides of stored trials compared, and `ferox compare`."""

from __future__ import annotations

import json
from typing import Any

from click.testing import CliRunner, Result

from ferox.cli.main import main
from ferox.core.comparison.intervals import NoInterval
from ferox.core.comparison.verdict import Verdict
from ferox.core.comparison.words import verdict_text
from ferox.runs.comparison import ComparisonError, SideName, compare_sides
from ferox.store.database import read_session, write_session
from ferox.store.results import keep_result
from ferox.store.trials import trials_of_run
from tests.test_store import StoreCase
from tests.traces import trace


class Comparing(StoreCase):
    def ran(self, letters: str, script: str = "same", **more: Any) -> int:
        """A run of one cell: a trial for each letter, p passes, f fails, e could not run."""
        run = self.run_of("w" * len(letters))
        with write_session(self.engine) as session:
            for trial, letter in zip(trials_of_run(session, run), letters, strict=True):
                result = self.result(letter) | more
                keep_result(session, trial.id, trace(model_seam=True), result, script)
        return run

    def compared(self, a: object, b: object) -> Any:
        with read_session(self.engine) as session:
            sides = SideName.parse(str(a)), SideName.parse(str(b))
            return compare_sides(session, *sides).model_dump(mode="json")

    def test_passes_errors_and_the_check_that_tipped(self) -> None:
        a, b = self.ran("ppppe"), self.ran("pfff")
        found = self.compared(a, b)
        (task,) = found["tasks"]
        trials = [sorted(task[side].pop("trials")) for side in "ab"]
        self.assertEqual(trials, [[1, 2, 3, 4, 5], [6, 7, 8, 9]])
        self.assertEqual(task["a"], {"passes": 4, "n": 4, "errors": 1, "failed": []})
        failed = task["b"].pop("failed")
        self.assertEqual(task["b"], {"passes": 1, "n": 4, "errors": 0})
        self.assertEqual(len(failed), 3)
        self.assertEqual((task["difference"], task["tipped"]), (-0.75, "answer.0"))
        rate = found["metrics"][0]
        self.assertEqual(
            (rate["metric"], rate["a"], rate["b"], rate["n_a"]), ("pass", 1.0, 0.25, 4)
        )
        self.assertEqual(rate["these"]["method"], "Newcombe 10")
        self.assertIsNone(rate["like_these"])
        self.assertIn(rate["says"], ("B passes less often",))

    def test_the_same_run_beside_itself(self) -> None:
        run = self.ran("ppff")
        found = self.compared(run, f"{run}:plain")
        self.assertEqual(found["shared_tasks"], 1)
        self.assertEqual(found["metrics"][0]["difference"], 0.0)
        self.assertIsNone(found["tasks"][0]["tipped"])

    def test_another_script_is_set_apart(self) -> None:
        a, b = self.ran("pp"), self.ran("pp", script="other")
        found = self.compared(a, b)
        self.assertEqual((found["shared_tasks"], len(found["other_script"])), (0, 1))
        self.assertEqual(found["metrics"][0]["says"][:14], "cannot be told")

    def test_tokens_and_money_by_the_models_price(self) -> None:
        a = self.ran("pp", tokens={"input": 1000, "output": 10, "estimated": True})
        price = "{in: 2, out: 100, per: 1000}"
        models = f"  big: {{base_url: 'http://127.0.0.1:9/v1', name: x, price: {price}}}\n"
        self.change("ferox.yaml", "models:\n", f"models:\n{models}")
        self.change("agents/plain.yaml", "model: steady", "model: big")
        b = self.ran("pp", tokens={"input": 1000, "output": 10, "estimated": True})
        metrics = {m["metric"]: m for m in self.compared(a, b)["metrics"]}
        self.assertEqual((metrics["tokens"]["a"], metrics["tokens"]["difference"]), (1010.0, 0.0))
        self.assertEqual(metrics["tokens"]["says"], "the same")
        # The stand-in has no price: what it costs is not known, and so nothing is compared.
        self.assertEqual((metrics["money"]["n_a"], metrics["money"]["a"]), (0, None))
        self.assertEqual(self.compared(a, b)["differs"], ["model", "model settings"])
        again = {m["metric"]: m for m in self.compared(b, b)["metrics"]}
        self.assertAlmostEqual(again["money"]["a"], 1000 * 0.002 + 10 * 0.1)

    def test_confusions_of_both_sides(self) -> None:
        high, low = "tides/high_water", "tides/low_water"
        mistaken, right = {high: {low: 1}}, {high: {high: 1}}
        a, b = self.ran("ff", choices=mistaken), self.ran("pf", choices=right)
        (found,) = self.compared(a, b)["confusions"]
        self.assertEqual((found["expected"], found["chosen"]), (high, low))
        self.assertEqual((found["a"], found["n_a"], found["b"], found["n_b"]), (2, 2, 0, 2))
        self.assertEqual((sorted(found["trials_a"]), found["trials_b"]), ([1, 2], []))

    def test_the_page_stands_by_itself_and_holds_no_markup_of_others(self) -> None:
        planted = "<script>alert(1)</script>"
        choices = {"tides/high_water": {planted: 1}}
        a, b = self.ran("ff", choices=choices), self.ran("pf", choices={})
        page = self.root / "page.html"
        self.ferox(a, b, "--html", page)
        text = page.read_text()
        self.assertIn("cannot be told apart", text)
        self.assertIn("&lt;script&gt;", text)
        for sign in ("<script", "http://", "https://", "src=", "href="):
            self.assertNotIn(sign, text.replace("http-equiv", ""))

    def test_the_sentence_has_its_figures(self) -> None:
        a, b = self.ran("pppppppp"), self.ran("ppppffff")
        fewer = self.compared(a, b)["sentence"]
        # Newcombe's limits of 8/8 and 4/8.
        self.assertEqual(
            fewer,
            "B passes less often: 50 % against 100 %, 50 points fewer (7 to 78). "
            "Fewer than 5 tasks say nothing of other tasks.",
        )
        self.assertEqual(
            self.compared(b, a)["sentence"],
            "B passes more often: 100 % against 50 %, 50 points more (7 to 78). "
            "Fewer than 5 tasks say nothing of other tasks.",
        )
        self.assertIn(
            "B and A cannot be told apart: 100 % against 100 %, no difference (−32 to 32 points); "
            "a difference of up to 32 points may hide; about ",
            self.compared(a, a)["sentence"],
        )

    def test_money_in_two_currencies_is_not_compared(self) -> None:
        tokens = {"input": 1000, "output": 10, "cached": 400}
        runs = []
        for currency in ("EUR", "USD"):
            price = f"{{in: 2, cached_in: 0.5, out: 100, per: 1000, currency: {currency}}}"
            models = (
                f"  {currency}: {{base_url: 'http://127.0.0.1:9/v1', name: x, price: {price}}}\n"
            )
            self.change("ferox.yaml", "models:\n", f"models:\n{models}")
            model = "steady" if currency == "EUR" else "EUR"
            self.change("agents/plain.yaml", f"model: {model}", f"model: {currency}")
            runs.append(self.ran("pp", tokens=tokens))
        euros, dollars = runs
        money = next(m for m in self.compared(euros, euros)["metrics"] if m["metric"] == "money")
        # 600 × 2 + 400 × 0.5 + 10 × 100, of a thousand.
        self.assertAlmostEqual(money["a"], 2.4)
        money = next(m for m in self.compared(euros, dollars)["metrics"] if m["metric"] == "money")
        self.assertEqual((money["a"], money["difference"]), (None, None))

    def test_what_is_no_side(self) -> None:
        run = self.ran("pp")
        for text in ("x", "", "1:", ":plain"):
            with self.subTest(text), self.assertRaisesRegex(ComparisonError, "write RUN or RUN:"):
                SideName.parse(text)
        for side, words in (("77", "no run 77"), (f"{run}:nobody", "run 1 has plain")):
            with self.subTest(side), self.assertRaisesRegex(ComparisonError, words):
                self.compared(run, side)

    def ferox(self, *words: object) -> Result:
        return CliRunner().invoke(main, ["compare", str(self.root), *map(str, words)])

    def test_the_command_says_it_and_its_status_is_1_where_b_is_worse(self) -> None:
        good, bad = self.ran("pppp"), self.ran("ffff")
        out = self.root / "compared.json"
        worse = self.ferox(good, bad, "--json", out)
        self.assertEqual(worse.exit_code, 1, worse.output)
        self.assertIn("B passes less often: 0 % against 100 %, 100 points fewer", worse.output)
        self.assertIn("4/4 → 0/4, tipped by answer.0", worse.output)
        self.assertEqual(json.loads(out.read_text())["metrics"][0]["difference"], -1.0)
        self.assertEqual(self.ferox(bad, good).exit_code, 0)
        self.assertEqual(self.ferox(good, good, "--same-within", 0.9).exit_code, 0)
        missing = self.ferox(good, 99)
        self.assertEqual(missing.exit_code, 2)
        self.assertIn("there is no run 99", missing.output)


class Words(StoreCase):
    def test_each_verdict_in_words(self) -> None:
        for metric, verdict, words in (
            ("pass", Verdict("higher", same=False), "B passes more often"),
            (
                "pass", Verdict("lower", same=True),
                "B passes less often, yet the same within 5 points",
            ),
            ("choice", Verdict(None, same=True), "the same within 5 points"),
            ("turn_ms", Verdict(None, same=True), "the same within 5 %"),
            ("turn_ms", Verdict("lower", same=False), "B takes shorter turns"),
            ("calls", Verdict(None, same=True), "the same"),
            (
                "pass", Verdict(None, same=False, may_hide=0.123, repeats=7),
                "cannot be told apart: a difference of up to 12 points may hide; "
                "about 7 more repeats would tell",
            ),
            (
                "tokens", Verdict(None, same=False, may_hide=123.4, repeats=None),
                "cannot be told apart: a difference of up to 123 may hide; "
                "more than 200 more repeats would be needed to tell",
            ),
            ("pass", NoInterval("repeat it"), "cannot be told: repeat it"),
        ):  # fmt: skip
            self.assertEqual(verdict_text(metric, verdict, 0.05), words)
