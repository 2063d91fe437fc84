"""Seeded chance: numbers and latencies that depend on seed and words alone."""

from __future__ import annotations

import unittest
from statistics import median, quantiles

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.chance import draw, latency_s
from ferox.formats.server import Latency


def drawn(latency: Latency, count: int = 4000) -> list[float]:
    return [latency_s(latency, 7, "tides", n) for n in range(count)]


class Draws(unittest.TestCase):
    @given(st.integers(), st.lists(st.text(max_size=4), max_size=3))
    def test_it_is_the_same_again_and_below_one(self, seed: int, words: list[str]) -> None:
        self.assertEqual(draw(seed, *words), draw(seed, *words))
        self.assertTrue(0 <= draw(seed, *words) < 1)

    def test_words_are_kept_apart_and_the_seed_counts(self) -> None:
        self.assertNotEqual(draw(1, "ab", "c"), draw(1, "a", "bc"))
        self.assertNotEqual(draw(1, "a"), draw(2, "a"))

    def test_it_is_even(self) -> None:
        numbers = [draw(3, n) for n in range(4000)]
        self.assertAlmostEqual(sum(numbers) / len(numbers), 0.5, delta=0.02)


class Latencies(unittest.TestCase):
    def test_without_one_there_is_none(self) -> None:
        self.assertEqual(latency_s(None, 1), 0.0)
        self.assertEqual(latency_s(Latency(), 1), 0.0)

    def test_a_fixed_one(self) -> None:
        self.assertEqual(latency_s(Latency(ms=250), 1, "x"), 0.25)

    def test_the_median_and_the_95th_percentile_are_those_asked_for(self) -> None:
        seconds = drawn(Latency(median_ms=140, p95_ms=320))
        self.assertAlmostEqual(median(seconds), 0.140, delta=0.006)
        self.assertAlmostEqual(quantiles(seconds, n=20)[-1], 0.320, delta=0.025)

    def test_without_a_95th_percentile_it_is_always_the_median(self) -> None:
        self.assertEqual(set(drawn(Latency(median_ms=140), 50)), {0.14})
