"""Statistics over trials, against figures worked by hand."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.statistics import nearest_rank_percentile, wilson_interval


class Wilson(unittest.TestCase):
    def test_known_intervals(self) -> None:
        # z = 1.959964; for 5 of 10: centre 0.5, half z·sqrt(0.025 + z²/400)/(1 + z²/10).
        low, high = wilson_interval(5, 10)
        self.assertAlmostEqual(low, 0.236593, places=5)
        self.assertAlmostEqual(high, 0.763407, places=5)
        # None of n: from 0 to z²/(n + z²).
        self.assertEqual(wilson_interval(0, 5), (0.0, 0.434482))
        self.assertAlmostEqual(wilson_interval(3, 3).low, 1 - 3.841459 / (3 + 3.841459), places=5)

    @given(st.integers(1, 500), st.data())
    def test_it_holds_the_rate_and_is_symmetric(self, n: int, data: st.DataObject) -> None:
        passes = data.draw(st.integers(0, n))
        low, high = wilson_interval(passes, n)
        self.assertTrue(0 <= low <= passes / n + 1e-6 and passes / n - 1e-6 <= high <= 1)
        other = wilson_interval(n - passes, n)
        self.assertAlmostEqual(low, 1 - other.high, places=5)

    def test_what_is_no_rate(self) -> None:
        for passes, n in ((0, 0), (3, 2), (-1, 2)):
            with self.assertRaises(ValueError):
                wilson_interval(passes, n)


class Percentiles(unittest.TestCase):
    def test_nearest_rank_and_none_for_few(self) -> None:
        values = [15.0, 20.0, 35.0, 40.0, 50.0]
        self.assertEqual(
            [nearest_rank_percentile(values, p) for p in (5, 30, 40, 50, 100)], [15, 20, 20, 35, 50]
        )
        self.assertIsNone(nearest_rank_percentile([1.0, 2.0, 3.0, 4.0], 50))

    @given(st.lists(st.floats(0, 1e6), min_size=5), st.floats(0, 100))
    def test_it_is_one_of_the_values(self, values: list[float], percent: float) -> None:
        self.assertIn(nearest_rank_percentile(values, percent), values)
