"""What one run does otherwise than the files: modes, models, faults."""

from __future__ import annotations

from click.testing import CliRunner
from sqlalchemy.orm import Session

from ferox.cli.main import main
from ferox.runs.overrides import Overrides
from ferox.runs.records import RunError, overrides_of, plan_failed, plan_run
from ferox.store import tables
from ferox.workspace import load_workspace
from tests.test_runs import RunCase
from tests.workers import work_in_threads

FAULTS = "faults:\n  rough: [{server: tides, do: tool_error, all: true, text: Rough.}]\n"


class Otherwise(RunCase):
    def setUp(self) -> None:
        super().setUp()
        with (self.root / "ferox.yaml").open("a") as file:
            file.write(FAULTS)
        self.loaded = load_workspace(self.root)

    def plan_otherwise(self, **overrides: object) -> int:
        wanted = Overrides.model_validate(overrides)
        return plan_run(self.engine, self.loaded, ["small"], ["plain"], 1, 1, overrides=wanted)

    def test_another_model_for_one_or_for_all(self) -> None:
        agent = self.loaded.agents["plain"]
        self.assertEqual(Overrides(models={"steady": "hasty"}).override_agent(agent).model, "hasty")
        self.assertEqual(Overrides(models={"*": "hasty"}).override_agent(agent).model, "hasty")
        self.assertEqual(
            Overrides(models={"hasty": "steady"}).override_agent(agent).model, "steady"
        )
        several = agent.model_copy(update={"models": {"search": "steady"}})
        self.assertEqual(
            Overrides(models={"steady": "hasty"}).override_agent(several).thinks_with,
            {"main": "hasty", "search": "hasty"},
        )

    def test_a_set_of_faults_is_laid_over_every_task(self) -> None:
        run = self.plan_otherwise(faults="rough")
        self.carry_out(run)
        (trial,) = self.trials(run)
        call = next(e for e in self.trace(trial.id)["events"] if e["kind"] == "call")
        self.assertEqual(call["error"], {"kind": "tool_error", "message": "Rough."})
        self.assertEqual(trial.verdict, "fail")
        again = plan_failed(self.engine, self.loaded, run)
        with Session(self.engine) as session:
            kept = overrides_of(session.get_one(tables.Run, again))
        self.assertEqual(kept, Overrides(faults="rough"))

    def test_what_is_not_there_is_reported(self) -> None:
        for overrides, words in (
            ({"faults": "calm"}, "`calm`: no such set of faults; there is rough"),
            ({"models": {"*": "stedy"}}, "`stedy`: no such model; did you mean `steady`"),
            ({"models": {"x": "steady"}}, "`x`: no such model"),
            ({"modes": {"tides": "live"}}, "no such mode of this server; there is mock"),
        ):
            with self.assertRaises(RunError) as caught:
                self.plan_otherwise(**overrides)
            self.assertIn(words, str(caught.exception))

    def test_it_is_described_in_words(self) -> None:
        self.assertEqual(Overrides().summary(), "")
        wanted = Overrides(modes={"tides": "live"}, models={"*": "hasty"}, faults="rough")
        self.assertEqual(wanted.summary(), "tides live, model hasty, faults rough")

    def test_the_command_line(self) -> None:
        work_in_threads(self)
        command = ["run", str(self.root), "--trials", "1"]
        options = ["--model", "steady=hasty", "--faults", "rough", "--server", "tides=mock"]
        done = CliRunner().invoke(main, [*command, *options])
        self.assertEqual(done.exit_code, 1, done.stderr)
        with Session(self.engine) as session:
            kept = overrides_of(session.get_one(tables.Run, 1))
        self.assertEqual(
            kept,
            Overrides(modes={"tides": "mock"}, models={"steady": "hasty"}, faults="rough"),
        )
        self.assertEqual(CliRunner().invoke(main, [*command, "--faults", "x"]).exit_code, 2)
