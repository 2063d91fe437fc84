"""Turns at a model: its limits hold for all who ask, and waiting is not the agent's time."""

from __future__ import annotations

import asyncio
from typing import Any
from unittest import mock

from ferox.formats.workspace import ModelSource
from ferox.gateway.model_seam import turns as turns_module
from ferox.gateway.model_seam.turns import OwnTurns
from ferox.runs.patience import Patience, PatientTurns
from tests.async_case import AsyncCase
from tests.traces import judged, model, reply, turn


def source(name: str = "gull-9", **limits: Any) -> ModelSource:
    return ModelSource(base_url="http://127.0.0.1:9/v1", name=name, **limits)


class Turns(AsyncCase):
    async def most_at_once(self, *asked: tuple[str, ModelSource]) -> int:
        """How many of these requests are held side by side at the most."""
        turns = OwnTurns()
        now = most = 0

        async def ask(name: str, model: ModelSource) -> None:
            nonlocal now, most
            async with turns.take_turn(name, model):
                now += 1
                most = max(most, now)
                await asyncio.sleep(0.002)
                now -= 1

        await asyncio.gather(*(ask(name, model) for name, model in asked))
        return most

    async def test_no_more_at_once_than_allowed(self) -> None:
        limited = source(at_once=2)
        self.assertEqual(await self.most_at_once(*[("a", limited)] * 6), 2)
        self.assertEqual(await self.most_at_once(*[("a", source())] * 6), 6)

    async def test_two_names_of_one_model_share_its_limits(self) -> None:
        limited, other = source(at_once=1), source("other", at_once=1)
        self.assertEqual(await self.most_at_once(("a", limited), ("b", limited)), 1)
        self.assertEqual(await self.most_at_once(("a", limited), ("b", other)), 2)

    async def test_no_more_a_minute_than_allowed(self) -> None:
        slept: list[float] = []

        async def sleep(seconds: float) -> None:
            slept.append(seconds)

        turns = OwnTurns()
        with mock.patch.object(turns_module.asyncio, "sleep", sleep):
            for _ in range(3):
                async with turns.take_turn("a", source(per_minute=2)):
                    pass
        (waited,) = slept
        self.assertTrue(59 < waited <= 60, waited)

    async def test_the_trial_stands_still_while_it_waits_for_a_turn(self) -> None:
        patience, limited, own = Patience(), source(at_once=1), OwnTurns()
        turns = PatientTurns(own, patience)
        over = asyncio.Event()

        async def trial() -> None:
            async with patience.limit_time(0.05), turns.take_turn("a", limited):
                over.set()
                await asyncio.sleep(10)  # a turn that is held is the trial's own time

        async with own.take_turn("a", limited):
            going = asyncio.create_task(trial())
            await asyncio.sleep(0.2)
            self.assertFalse(going.done())
        with self.assertRaises(TimeoutError):
            await going
        self.assertTrue(over.is_set())


class Times(AsyncCase):
    def test_a_turn_leaves_out_what_was_waited(self) -> None:
        # From 0 to 5 s; the requests wait from 1 to 3 and from 2 to 3.5 s: 2.5 s in all.
        first, second = (
            model("m1", 1.0, s=2.5, waited_s=2.0),
            model("m2", 2.0, s=2.0, waited_s=1.5),
        )
        events = turn(), first, second, reply(5.0)
        taken = judged({}, *events)["latency"]
        self.assertEqual(taken["turn_ms"], [2500])
        # The agent's own: 5 s less the requests, from 1 to 4 s.
        self.assertEqual(taken["agent_ms"], 2000)
