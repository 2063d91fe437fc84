"""Held calls: which are held, what a person decides of them, and time that stands still."""

from __future__ import annotations

import asyncio
import time
import unittest
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from sqlalchemy.orm import Session

from ferox.gateway.holding import HoldDecision, HoldRule
from ferox.runs.patience import Patience
from ferox.runs.records import plan_run, stop_run
from ferox.store import holding
from ferox.workspace import load_workspace
from tests.async_case import AsyncCase
from tests.test_runs import RunCase
from tests.waiting import HANG_S, until
from tests.workers import start_in_thread

READS: dict[str, Any] = {"annotations": {"readOnlyHint": True}}


class Rules(unittest.TestCase):
    def test_which_calls_are_held(self) -> None:
        for rule, tool, first, wanted in (
            (HoldRule("any"), READS, False, True),
            (HoldRule("writes"), READS, True, False),
            (HoldRule("writes"), {}, False, True),
            (HoldRule("first"), READS, True, True),
            (HoldRule("first"), READS, False, False),
            (HoldRule("tool", "tides/high_*"), READS, False, True),
            (HoldRule("tool", "tides/low_*"), READS, False, False),
        ):
            self.assertEqual(rule.wants_call("tides/high_water", tool, first), wanted, rule)

    def test_what_comes_of_a_decision(self) -> None:
        self.assertIsNone(HoldDecision().given_answer({}))
        self.assertEqual(HoldDecision("args", {"b": 1}).final_args({"a": 1}), {"b": 1})
        self.assertEqual(HoldDecision("go").final_args({"a": 1}), {"a": 1})
        self.assertEqual(HoldDecision("go", {"b": 1}).final_args({"a": 1}), {"a": 1})
        self.assertEqual(HoldDecision("args", "b").final_args({"a": 1}), {"a": 1})
        failed = HoldDecision("fail", "No tides today.").given_answer({})
        assert failed is not None
        self.assertEqual(failed.error, "No tides today.")
        given = HoldDecision("answer", {"at": "9"}).given_answer(
            {"outputSchema": {"type": "object"}}
        )
        assert given is not None
        self.assertEqual((given.structured, given.value), ({"at": "9"}, {"at": "9"}))


class Standing(AsyncCase):
    async def test_no_limit_runs_while_something_is_held(self) -> None:
        patience = Patience()
        async with patience.limit_time(2):  # what is not held takes next to no time
            with patience.stand_still():
                await asyncio.sleep(2.2)
        with self.assertRaises(TimeoutError):
            async with patience.limit_time(0.2):
                await asyncio.sleep(0.1)
                with patience.stand_still(), patience.stand_still():
                    await asyncio.sleep(0.3)
                await asyncio.sleep(0.3)

    async def test_a_limit_that_begins_meanwhile_waits_too(self) -> None:
        patience = Patience()
        with self.assertRaises(TimeoutError):
            with patience.stand_still():
                limit = patience.limit_time(0.1)
                await limit.__aenter__()
                await asyncio.sleep(0.2)
            try:
                await asyncio.sleep(1)
            except asyncio.CancelledError as error:
                await limit.__aexit__(type(error), error, None)


class HeldRuns(RunCase):
    hold_s = 0.0

    def held_run(self, rule: dict[str, Any]) -> int:
        loaded = load_workspace(self.root)
        return plan_run(self.engine, loaded, ["small"], ["plain"], 1, 1, hold=rule)

    def decide(self, rule: dict[str, Any], do: str, value: Any = None) -> Any:
        """Carry a run out while its one held call gets a decision; its trace."""
        run = self.held_run(rule)

        def held() -> list[Any]:
            with Session(self.engine) as session:
                return holding.held_calls(session, run)

        def person() -> tuple[str, Any, bool, bool]:
            (call,) = until(held)
            time.sleep(self.hold_s)
            decided = [holding.decide_call(self.engine, call.id, do, value) for _ in range(2)]
            return call.tool, call.args, *decided

        with ThreadPoolExecutor(1) as pool:
            decision = pool.submit(person)
            self.carry_out(run)
        self.assertEqual(
            decision.result(), ("tides/high_water", {"day": "2031-03-14"}, True, False)
        )
        (trial,) = self.trials(run)
        return trial, self.trace(trial.id)

    def events(self, trace: Any) -> tuple[Any, Any]:
        kinds = {e["kind"]: e for e in reversed(trace["events"])}
        return kinds["hold"], kinds["call"]

    def setUp(self) -> None:
        super().setUp()
        self.change("agents/plain.yaml", "model: steady",
                    "model: steady\ntimeouts: {turn_s: 5}\nlimits: {trial_s: 5}")  # fmt: skip

    def test_let_go_as_it_is(self) -> None:
        self.hold_s = 5.5  # longer than the turn and the trial may take
        trial, trace = self.decide({"when": "first"}, "go")
        hold, call = self.events(trace)
        self.assertEqual(trial.verdict, "pass")
        self.assertGreater(hold["s"], 5.0)
        self.assertEqual((hold["call"], hold["did"], hold["tool"]), ("c1", "go", call["tool"]))
        self.assertLess(call["s"], 5.0)
        self.assertNotIn("by_hand", call)

    def test_with_other_arguments(self) -> None:
        trial, trace = self.decide({"when": "any"}, "args", {"day": "2031-03-15"})
        hold, call = self.events(trace)
        self.assertEqual((call["args"], call["by_hand"]), ({"day": "2031-03-15"}, "args"))
        self.assertEqual((call["sent"], hold["args"]), ({"day": "2031-03-14"},) * 2)
        self.assertEqual(trial.verdict, "fail")

    def test_with_another_answer(self) -> None:
        _, trace = self.decide({"when": "writes"}, "answer", {"high_water": "23:59"})
        _, call = self.events(trace)
        self.assertEqual((call["result"], call["by_hand"]), ({"high_water": "23:59"}, "answer"))
        self.assertIn("23:59", trace["events"][-2]["text"])
        self.assertEqual(trace["state"]["tides"]["asked"], 0)

    def test_failed_though_a_fault_would_strike(self) -> None:
        self.change("tasks/small.yaml", "    expect:",
                    "    faults: [{server: tides, do: drop, all: true}]\n    expect:")  # fmt: skip
        _, trace = self.decide({"when": "first"}, "fail", "Not today.")
        _, call = self.events(trace)
        self.assertEqual(call["error"], {"kind": "tool_error", "message": "Not today."})

    def test_stop_frees_a_held_call(self) -> None:
        run = self.held_run({"when": "any"})
        worker = start_in_thread(self.root, run)

        def waiting() -> list[Any]:
            with Session(self.engine) as session:
                return holding.held_calls(session, run)

        until(waiting)
        stop_run(self.engine, run)
        self.assertEqual(worker.wait(HANG_S), 0)
        self.assertEqual(waiting(), [])
        self.assertEqual(self.trials(run)[0].state, "stopped")

    def test_the_rule_may_change_while_the_run_goes_on(self) -> None:
        run = self.held_run({"when": "tool", "tool": "tides/low_water"})
        holding.set_rule(self.engine, run, None)
        with Session(self.engine) as session:
            self.assertIsNone(holding.rule_of(session, run))
        self.carry_out(run)
        self.assertEqual(self.trials(run)[0].verdict, "pass")
