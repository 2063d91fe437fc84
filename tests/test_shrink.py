"""Shrinking failing trials of a real agent: what is left still fails in the same check."""

from __future__ import annotations

import asyncio
from typing import Any

from click.testing import CliRunner, Result

from ferox.cli.main import main
from ferox.intake.yaml_text import read_yaml_text
from ferox.runs.records import RunError
from ferox.runs.shrink.shrink_run import Shrinking, ShrinkWish, Shrunk, check_key
from tests.serving import AppCase
from tests.test_runs import RunCase
from tests.test_screens import ScreenCase
from tests.traces import call, model, trace
from tests.waiting import until

TIDES = """
    ferox: 1
    server: tides
    mock:
      state: {water: "14:31"}
      tools:
        - name: high_water
          description: Times of high water on one day.
          input: {type: object, properties: {day: {type: string}}, required: [day]}
          answers: [{give: {high_water: "{{ state.water }}"}}]
        - {name: low_water, description: Low water., input: {type: object}, answers: [{give: {}}]}
        - {name: wind, description: The wind., input: {type: object}, answers: [{give: {}}]}
"""
SUITE = """
    ferox: 1
    suite: small
    servers: {tides: mock}
    tasks:
      - task: high
        say: When is high water today?
        given:
          tides:
            change:
              - {op: replace, path: /water, value: "02:02"}
              - {op: add, path: /wind, value: 4}
        user:
          - {if_reply: {matches: never said}, say: Oh., at_most: 1}
        expect:
          calls: [{as: high, tool: tides/high_water}]
          answer: [{mentions: "14:31"}, {matches: water}]
"""
INSTRUCTIONS = "You are at the desk.\n\nBe brief.\n"


def set_up(case: Any) -> None:
    """A workspace whose task fails, for high water is given as 02:02."""
    case.write("servers/tides.yaml", TIDES)
    case.write("tasks/small.yaml", SUITE)
    case.write("agents/desk.md", INSTRUCTIONS)
    case.change("agents/plain.yaml", "model: steady", "model: steady\ninstructions: agents/desk.md")


class Shrinks(RunCase):
    def setUp(self) -> None:
        super().setUp()
        set_up(self)

    def failing(self) -> int:
        run = self.plan(["plain"], 1)
        self.carry_out(run)
        (trial,) = self.trials(run)
        self.assertEqual(trial.verdict, "fail")
        return trial.id

    def shrunk(self, trial: int, stop: asyncio.Event | None = None, **wish: Any) -> Shrunk:
        shrinking = Shrinking(self.engine, self.root, ShrinkWish(trial, **wish))
        return asyncio.run(shrinking.carry_out(stop=stop))

    def test_what_it_fails_without_is_left_out(self) -> None:
        shrunk = self.shrunk(self.failing())
        self.assertEqual(shrunk.state, "done")
        self.assertEqual([piece.words for piece in shrunk.kept], ["tides: replace /water"])
        kinds = sorted(piece.kind for piece in shrunk.gone)
        self.assertEqual(kinds, ["given", "line", "line", "rule", "tool", "tool"])
        task = shrunk.task
        self.assertEqual(task["offer"], {"tides": ["high_water"]})
        self.assertEqual([c["path"] for c in task["given"]["tides"]["change"]], ["/water"])
        self.assertEqual(task["user"], [])
        self.assertEqual(shrunk.instructions.strip(), "")
        self.assertEqual(
            shrunk.sentence,
            "answer.0 still fails in 3 of 3 trials with 0 of 2 tools, 0 of 1 rule of the user, "
            "1 of 2 givens, 0 of 2 lines of the instructions",
        )
        self.assertEqual(shrunk.budget, 100)
        self.assertLessEqual(shrunk.tried, 30)

    def test_a_budget_ends_it_with_what_is_left(self) -> None:
        shrunk = self.shrunk(self.failing(), budget=8)
        self.assertEqual((shrunk.state, shrunk.tried), ("budget", 8))
        self.assertIn("/water", " ".join(piece.words for piece in shrunk.kept))

    def test_stop_ends_it(self) -> None:
        trial = self.failing()
        stop = asyncio.Event()
        stop.set()
        shrunk = self.shrunk(trial, stop)
        self.assertEqual((shrunk.state, shrunk.tried, shrunk.gone), ("stopped", 0, []))

    def test_what_does_not_fail_often_enough_is_left_as_it_is(self) -> None:
        trial = self.failing()
        # An agent that knows better than its servers only half the time.
        self.python_agent(
            """
            from contextlib import asynccontextmanager
            said = []

            @asynccontextmanager
            async def open_desk(trial):
                async def say(text):
                    said.append(1)
                    return "High water is at " + ("14:31" if len(said) % 2 == 0 else "02:02")
                yield say
            """
        )
        self.change("tasks/small.yaml", "calls: [{as: high, tool: tides/high_water}]", "calls: []")
        run = self.plan(["coded"], 1)
        self.carry_out(run)
        (flaky,) = self.trials(run)
        shrunk = self.shrunk(flaky.id)
        self.assertEqual((shrunk.state, shrunk.gone), ("steady", []))
        self.assertIn("answer.0 fails in 1 of 2 trials only", shrunk.sentence)
        self.assertNotEqual(trial, flaky.id)

    def test_parts_after_the_checks_own_are_left_out(self) -> None:
        self.write(
            "tasks/small.yaml",
            """
            ferox: 1
            suite: small
            servers: {tides: mock}
            tasks:
              - task: high
                given: {tides: {change: [{op: replace, path: /water, value: "02:02"}]}}
                parts:
                  - {say: When is high water today?, expect: {answer: [{matches: water}]}}
                  - {say: When is high water today?, expect: {answer: [{mentions: "14:31"}]}}
                  - {say: Thank you.}
            """,
        )
        shrunk = self.shrunk(self.failing(), repeats=1, at_least=1)
        self.assertEqual(shrunk.check, "answer.1")
        self.assertEqual([part["say"] for part in shrunk.task["parts"]],
                         ["When is high water today?"] * 2)  # fmt: skip

    def test_a_check_that_did_not_fail_is_refused(self) -> None:
        trial = self.failing()
        with self.assertRaisesRegex(RunError, r"`answer.1` did not fail.*: answer.0$"):
            self.shrunk(trial, check="answer.1")
        with self.assertRaisesRegex(RunError, "not there"):
            self.shrunk(99)

    def test_a_check_of_a_call_is_the_same_whichever_number_the_call_has(self) -> None:
        first = trace(call("c1", "tides/wind", 1))
        second = trace(model("m1", 0, [("p9", "get_wind")]), call("c1", "tides/a", 1),
                       call("c2", "tides/wind", 2))  # fmt: skip
        keys = [
            check_key({"id": f"extra.{id}", "calls": [id]}, traced)  # type: ignore[typeddict-item]
            for id, traced in (("c1", first), ("c2", second), ("c1", second))
        ]
        self.assertEqual(keys[0], keys[1])
        self.assertNotEqual(keys[0], keys[2])

    def test_the_command_prints_the_task_that_is_left(self) -> None:
        trial = self.failing()

        def command(*words: str) -> Result:
            return CliRunner().invoke(main, ["shrink", str(self.root), str(trial), *words])

        told = command("--repeats", "2")
        self.assertEqual(told.exit_code, 0, told.output)
        self.assertIn("answer.0 still fails in 2 of 2 trials", told.output)
        self.assertIn("needed: tides: replace /water", told.output)
        self.assertIn("No line of its instructions is needed.", told.output)
        text = told.output[told.output.index("tasks:") : told.output.index("No line")]
        (task,) = read_yaml_text(text).value["tasks"]
        self.assertEqual(task["offer"], {"tides": ["high_water"]})
        self.assertIn("the budget is spent after 4 trials", command("--budget", "4").output)
        self.assertEqual(command("--at-least", "4").exit_code, 2)
        self.assertEqual(command("--check", "nothing").exit_code, 2)


class Interface(AppCase):
    def setUp(self) -> None:
        super().setUp()
        set_up(self)
        body = {"suites": ["small"], "agents": ["plain"], "repeats": 1}
        self.follow(self.ask("/api/runs", body).body["id"])

    def test_it_is_watched_and_kept_as_a_task(self) -> None:
        begun = self.ask("/api/trials/1/shrink", {"repeats": 1, "at_least": 1})
        self.assertEqual(begun.status, 201, begun.body)
        number = begun.body["id"]
        shown = self.watch("shrinks", number, lambda now: now["state"] != "running")
        self.assertEqual((shown["state"], shown["check"]), ("done", "answer.0"))
        needed = [piece["words"] for piece in shown["pieces"] if piece["kept"]]
        self.assertEqual(needed, ["tides: replace /water"])
        draft = self.ask(
            f"/api/shrinks/{number}/draft", {"file": "tasks/small.yaml", "task": "less"}
        ).body
        tasks = read_yaml_text(draft["text"]).value["tasks"]
        self.assertEqual([task["task"] for task in tasks], ["high", "less"])
        self.assertEqual(tasks[1]["offer"], {"tides": ["high_water"]})
        whys = {reason["what"]: reason["why"] for reason in draft["reasons"]}
        self.assertIn("still fails in 1 of 1 trial", whys["task"])
        self.assertIn("none of them", whys["instructions"])

    def test_what_cannot_be_shrunk_is_refused(self) -> None:
        for path, body, status in (
            ("/api/trials/1/shrink", {"repeats": 1, "at_least": 2}, 422),
            ("/api/trials/1/shrink", {"budget": 2001}, 422),
            ("/api/trials/1/shrink", {"check": "answer.1"}, 409),
            ("/api/trials/9/shrink", {}, 409),
            ("/api/shrinks/9", None, 404),
        ):
            with self.subTest(body):
                self.assertEqual(self.ask(path, body).status, status)

    def test_it_can_be_stopped(self) -> None:
        self.change("stand_ins/desk.yaml", "latency: {ms: 0}", "latency: {ms: 400}")
        body = {"suites": ["small"], "agents": ["plain"], "repeats": 1}
        self.follow(self.ask("/api/runs", body).body["id"])
        number = self.ask("/api/trials/2/shrink", {}).body["id"]
        stopped = self.ask(f"/api/shrinks/{number}/stop", {}).body
        self.assertEqual(stopped["state"], "stopped")
        refused = self.ask(f"/api/shrinks/{number}/draft", {"file": "tasks/s.yaml", "task": "x"})
        self.assertEqual(refused.status, 409)


class Screens(ScreenCase):
    def test_a_failing_trial_is_shrunk_and_kept(self) -> None:
        set_up(self)
        self.start(1)
        self.see("[data-testid=dock]", "Run 1 is done")
        self.open("/trial/1")
        self.press_button("Shrink")
        self.press("[data-testid=start-shrink]", "Shrink")
        self.see("[data-testid=shrunk]", "answer.0 still fails in 3 of 3 trials")
        self.see("[data-testid=shrink]", "None of what is needed can be left out by itself.")
        self.see("[aria-label=Needed]", "tides: replace /water")
        self.see("[aria-label='Left out']", "Be brief.")
        self.press("[data-testid=shrink] button:not([disabled])", "Keep as a task")
        until(lambda: "task=high-small" in self.page.current_url)
        self.see("body", "the smallest found")
        self.assertEqual(self.errors(), [])
