"""Whether B is better than A: each formula worked by hand, and what holds whatever the data."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as some

from ferox.core.comparison.compare import (
    FREE,
    METRICS,
    RATE,
    SCORE,
    MetricComparison,
    TrialTable,
    compare,
)
from ferox.core.comparison.intervals import (
    CAUTION,
    FEW_TASKS,
    REPEAT,
    Interval,
    NoInterval,
    ValueKind,
    caution_of,
    degrees_of_freedom,
    floor_of,
    interval_on_others,
    interval_on_these,
    mean_limits,
)
from ferox.core.comparison.power import smallest_drop
from ferox.core.comparison.task_values import TaskValues, group_by_task, shared_tasks
from ferox.core.comparison.verdict import (
    POCOCK,
    Verdict,
    holm_corrected,
    judge,
    judge_interval,
    repeats_that_tell,
)

Counts = list[tuple[int, int]]


def passes(counts: Counts) -> TaskValues:
    """Tasks by their passes of n."""
    values = [float(i < p) for p, n in counts for i in range(n)]
    place = [task for task, (_, n) in enumerate(counts) for _ in range(n)]
    return group_by_task(values, place, len(counts))


def found(given: Interval | NoInterval) -> Interval:
    assert isinstance(given, Interval), given
    return given


def table(counts: Counts, **values: Any) -> TrialTable:
    """Trials of tasks by their passes of n; other metrics have a value for each trial."""
    rates = np.array([float(i < p) for p, n in counts for i in range(n)])
    place = np.array([task for task, (_, n) in enumerate(counts) for _ in range(n)])
    nothing = np.full(len(rates), np.nan)
    given = {name: np.asarray(v, dtype=float) for name, v in values.items()}
    return TrialTable(place, dict.fromkeys(METRICS, nothing) | {"pass": rates} | given)


def metric_of(compared: list[MetricComparison], metric: str) -> MetricComparison:
    return next(one for one in compared if one.metric == metric)


class Grouping(unittest.TestCase):
    def test_means_and_variances_by_task_without_what_has_no_value(self) -> None:
        side = group_by_task([1, 3, math.nan, 5, 7], [0, 0, 0, 1, 3], 4)
        self.assertEqual(side.n.tolist(), [2, 1, 0, 1])
        self.assertEqual(side.mean[[0, 1, 3]].tolist(), [2.0, 5.0, 7.0])
        self.assertEqual(side.variance[0], 2.0)
        self.assertTrue(np.isnan(side.variance[1:]).all() and np.isnan(side.mean[2]))

    def test_variances_of_long_times_keep_their_digits(self) -> None:
        side = group_by_task([1e9 + 1, 1e9 + 2, 1e9 + 3], [0, 0, 0], 1)
        self.assertEqual(side.variance[0], 1.0)

    def test_only_tasks_with_values_on_both_sides_are_shared(self) -> None:
        a, b = group_by_task([1, 2], [0, 2], 3), group_by_task([3, 4], [1, 2], 3)
        one, other = shared_tasks(a, b)
        self.assertEqual((one.mean.tolist(), other.mean.tolist()), ([2.0], [4.0]))


class TheseTasks(unittest.TestCase):
    def test_the_stratified_interval_by_hand(self) -> None:
        a, b = passes([(2, 4), (4, 4)]), passes([(3, 4), (4, 4)])
        # d = ((3/4 − 2/4) + 0)/2 = 1/8; V = [(1/4 + 3/16)/3]/4; F = 2·[1/(4·5)]/4
        error = math.sqrt((1 / 4 + 3 / 16) / 3 / 4 + (1 / 20 + 1 / 20) / 4)
        interval = found(interval_on_these(a, b, RATE))
        self.assertAlmostEqual(interval.low, 1 / 8 - 1.959964 * error)
        self.assertAlmostEqual(interval.high, 1 / 8 + 1.959964 * error)
        self.assertAlmostEqual(interval.p, 2 * 0.5 * math.erfc(1 / 8 / error / math.sqrt(2)))

    def test_the_floor_by_hand(self) -> None:
        self.assertAlmostEqual(floor_of(3, 9, 2), (1 / 16 + 1 / 40) / 4)
        always = passes([(5, 5)] * 4)
        interval = found(interval_on_these(always, always, RATE))
        self.assertAlmostEqual(interval.high, 1.959964 * math.sqrt(2 / 24 / 16))
        free = found(interval_on_these(always, always, ValueKind(bounded=False)))
        self.assertEqual((free.low, free.high, free.p), (0.0, 0.0, 1.0))

    def test_newcombe_s_own_examples(self) -> None:
        for b, a, low, high in (
            ((56, 70), (48, 80), 0.0524, 0.3339),
            ((9, 10), (3, 10), 0.1705, 0.8090),
            ((5, 56), (0, 29), -0.0381, 0.1926),
            ((10, 10), (0, 20), 0.6791, 1.0),
        ):
            interval = found(interval_on_these(passes([a]), passes([b]), RATE))
            self.assertEqual((round(interval.low, 4), round(interval.high, 4)), (low, high))
            turned = found(interval_on_these(passes([b]), passes([a]), RATE))
            self.assertEqual((round(turned.low, 4), round(turned.high, 4)), (-high, -low))
            self.assertEqual(interval.p < 0.05, low > 0)

    def test_the_degrees_of_freedom_by_hand(self) -> None:
        a, b = (
            group_by_task([1, 3, 1, 3, 5], [0, 0, 1, 1, 1], 2),
            group_by_task([2] * 4, [0, 0, 1, 1], 2),
        )
        # v: 2/2 = 1 of one degree, 4/3 of two: (7/3)²/(1/1 + (4/3)²/2)
        self.assertAlmostEqual(degrees_of_freedom(a, b), (7 / 3) ** 2 / (1 + (16 / 9) / 2))
        self.assertEqual(degrees_of_freedom(b, b), math.inf)

    def test_more_repeats_of_what_has_no_bounds_against_a_search(self) -> None:
        rng = np.random.default_rng(7)
        place = np.repeat(np.arange(4), 3)
        for shift in (0.3, 0.6):
            a = group_by_task(rng.normal(0, 1, 12), place, 4)
            b = group_by_task(rng.normal(shift, 1, 12), place, 4)
            told = repeats_that_tell(a, b, FREE, margin=0.0)
            tells = (
                n
                for n in range(1, 201)
                if judge_interval(
                    found(
                        interval_on_these(
                            TaskValues(a.n + n, a.mean, a.variance),
                            TaskValues(b.n + n, b.mean, b.variance),
                            FREE,
                        )
                    ),
                    0.0,
                ).is_decided
            )
            self.assertEqual(told, next(tells, None))

    def test_it_is_cut_where_the_values_end(self) -> None:
        never, always = passes([(0, 2)] * 2), passes([(2, 2)] * 2)
        interval = found(interval_on_these(never, always, RATE))
        self.assertEqual(interval.high, 1.0)
        self.assertLess(interval.low, 1.0)

    def test_a_task_with_one_trial_on_a_side_has_none(self) -> None:
        once = interval_on_these(passes([(1, 1), (2, 2)]), passes([(2, 2), (2, 2)]), RATE)
        self.assertEqual(once, NoInterval(REPEAT))
        nothing = group_by_task([], [], 0)
        self.assertIsInstance(interval_on_these(nothing, nothing, RATE), NoInterval)


class TasksLikeThese(unittest.TestCase):
    def test_the_interval_over_tasks_by_hand(self) -> None:
        a = passes([(0, 2), (1, 2), (1, 2), (2, 2), (1, 2)])
        b = passes([(1, 2), (1, 2), (2, 2), (2, 2), (2, 2)])
        # Differences 1/2, 0, 1/2, 0, 1/2: mean 0.3, s² = 0.3/4 = 0.075; t(4) = 2.776445
        error = math.sqrt(0.075 / 5 + (1 / 12 + 1 / 12) / 25)
        interval = found(interval_on_others(a, b, RATE))
        self.assertAlmostEqual(interval.low, 0.3 - 2.776445 * error, places=6)
        self.assertAlmostEqual(interval.high, 0.3 + 2.776445 * error, places=6)

    def test_four_tasks_say_nothing_of_others(self) -> None:
        few = passes([(1, 2)] * 4)
        self.assertEqual(interval_on_others(few, few, RATE), NoInterval(FEW_TASKS))
        self.assertIsInstance(interval_on_others(*[passes([(1, 2)] * 5)] * 2, RATE), Interval)


class Words(unittest.TestCase):
    def test_at_every_boundary(self) -> None:
        for low, high, verdict in (
            (0.01, 0.2, Verdict("higher", same=False)),
            (-0.2, -0.01, Verdict("lower", same=False)),
            (0.01, 0.05, Verdict("higher", same=True)),
            (-0.05, -0.01, Verdict("lower", same=True)),
            (-0.05, 0.05, Verdict(None, same=True)),
            (0.0, 0.2, Verdict(None, same=False, may_hide=0.2)),
            (-0.2, 0.0, Verdict(None, same=False, may_hide=0.2)),
            (-0.0501, 0.05, Verdict(None, same=False, may_hide=0.0501)),
            (-0.3, 0.2, Verdict(None, same=False, may_hide=0.3)),
        ):
            interval = Interval(low, high, "", 1.0)
            self.assertEqual(judge_interval(interval, 0.05), verdict, (low, high))

    def test_more_repeats_against_a_search(self) -> None:
        """Each task tried with n + N trials of the same rate, N by N."""
        cases: list[tuple[Counts, Counts]] = [
            ([(4, 8), (8, 8)], [(8, 8), (8, 8)]),
            ([(2, 4)] * 6, [(3, 4)] * 6),
            ([(4, 4)] * 20, [(4, 4)] * 20),
            ([(5, 10)], [(7, 10)]),
            ([(1, 2)] * 3, [(1, 2)] * 3),
        ]
        for a, b in cases:
            told = repeats_that_tell(passes(a), passes(b), RATE)
            self.assertEqual(told, searched(a, b), (a, b))

    def test_what_is_undecided_says_how_much_may_hide_and_what_would_tell(self) -> None:
        a, b = passes([(2, 4)] * 6), passes([(3, 4)] * 6)
        verdict = judge(interval_on_these(a, b, RATE), a, b, RATE)
        assert isinstance(verdict, Verdict)
        self.assertEqual((verdict.differs, verdict.same), (None, False))
        self.assertEqual(verdict.repeats, searched([(2, 4)] * 6, [(3, 4)] * 6))
        self.assertAlmostEqual(verdict.may_hide or 0, found(interval_on_these(a, b, RATE)).high)
        once = passes([(1, 2)])
        hopeless = judge(interval_on_these(once, once, RATE), once, once, RATE, margin=0.001)
        assert isinstance(hopeless, Verdict)
        self.assertIsNone(hopeless.repeats)

    def test_holm_by_hand(self) -> None:
        p = {"a": 0.01, "b": 0.04, "c": 0.03, "d": 0.5}
        corrected = holm_corrected(p)
        self.assertEqual(list(corrected), list(p))
        for name, expected in {"a": 0.04, "c": 0.09, "b": 0.09, "d": 0.5}.items():
            self.assertAlmostEqual(corrected[name], expected)
        self.assertEqual(holm_corrected({"a": 0.6, "b": 0.7}), {"a": 1.0, "b": 1.0})
        self.assertEqual(holm_corrected({}), {})

    def test_pocock_s_boundary(self) -> None:
        self.assertEqual((len(POCOCK), POCOCK[0], POCOCK[4], POCOCK[9]), (10, 1.96, 2.413, 2.555))
        self.assertEqual(sorted(POCOCK), list(POCOCK))


def searched(a: Counts, b: Counts, margin: float = 0.05) -> int | None:
    """The smallest N, by making the tasks' values as they would be with N more trials."""
    for more in range(1, 201):
        sides = [as_if(counts, more) for counts in (a, b)]
        interval = found(interval_on_these(*sides, RATE))
        if interval.low > 0 or interval.high < 0:
            return more
        if -margin <= interval.low and interval.high <= margin:
            return more
    return None


def as_if(counts: Counts, more: int) -> TaskValues:
    """Tasks whose rate is the same with more trials, though no whole number may have it."""
    n = np.array([n + more for _, n in counts])
    rate = np.array([p / n for p, n in counts])
    return TaskValues(n, rate, rate * (1 - rate) * n / (n - 1))


SIDE = some.lists(some.tuples(some.integers(0, 6), some.integers(2, 6)), min_size=1, max_size=8)


def sound(counts: Counts) -> Counts:
    return [(min(p, n), n) for p, n in counts]


class WhatCanBeFound(unittest.TestCase):
    def test_by_hand(self) -> None:
        """24 tasks that always pass, 5 repeats: V(d) = 24·d(1 − d)/5/24², F = 2/(4·6)/24².

        At 12 points: √(0.00088 + 0.000144667) = 0.032010, times 2.801585 is 0.08968 ≤ 0.12; at 8
        points √(0.000613333 + 0.000144667) = 0.027532, times 2.801585 is 0.07713 ≤ 0.08; at 7
        √(0.0005425 + 0.000144667) = 0.026214, times 2.801585 is 0.07344 > 0.07.
        """
        self.assertEqual(smallest_drop([1.0] * 24, 5), 0.08)

    def test_more_repeats_and_more_tasks_find_smaller_drops(self) -> None:
        found = [smallest_drop([0.8] * tasks, n) for tasks, n in ((8, 5), (8, 20), (40, 20))]
        assert all(drop is not None for drop in found)
        self.assertEqual(found, sorted(found, key=lambda drop: -(drop or 0)))
        self.assertLess(found[2] or 1, found[0] or 0)

    def test_it_is_found_in_four_of_five(self) -> None:
        rng = np.random.default_rng(1)
        rates, repeats = np.linspace(0.4, 1, 24), 8
        drop = smallest_drop(list(rates), repeats)
        assert drop is not None
        after = rates * (1 - drop / rates.mean())
        task = np.repeat(np.arange(24), repeats)
        found = 0
        for _ in range(600):
            sides = [
                group_by_task((rng.random(len(task)) < p[task]).astype(float), task, 24)
                for p in (rates, after)
            ]
            interval = interval_on_these(*sides, RATE)
            assert isinstance(interval, Interval)
            found += interval.high < 0
        self.assertTrue(0.74 < found / 600 < 0.9, found / 600)

    def test_too_little_to_find_anything(self) -> None:
        self.assertIsNone(smallest_drop([0.5, 0.5], 2))
        self.assertIsNone(smallest_drop([1.0] * 24, 1))
        self.assertIsNone(smallest_drop([], 5))
        self.assertIsNone(smallest_drop([0.0] * 24, 5))


class Cautions(unittest.TestCase):
    def test_pass_rates_of_few_tasks_twice_repeated(self) -> None:
        def side(tasks: int, repeats: int) -> TaskValues:
            task = np.repeat(np.arange(tasks), repeats)
            return group_by_task(np.ones(len(task)), task, tasks)

        self.assertEqual(caution_of(side(4, 2), side(4, 9), RATE), CAUTION)
        self.assertIsNone(caution_of(side(4, 3), side(4, 3), RATE))
        self.assertIsNone(caution_of(side(5, 2), side(5, 2), RATE))
        self.assertIsNone(caution_of(side(4, 2), side(4, 2), SCORE))
        self.assertIsNone(caution_of(side(4, 1), side(4, 1), RATE), "there is no interval at all")


class OneSidesMean(unittest.TestCase):
    def test_by_hand(self) -> None:
        """Two tasks, 4 of 4 and 2 of 4: V = (0 + (1/3)/4)/4, F = 1/(4·5)/4."""
        side = group_by_task([1, 1, 1, 1, 1, 1, 0, 0], [0] * 4 + [1] * 4, 2)
        limits = mean_limits(side)
        assert limits is not None
        error = 1.959964 * math.sqrt(1 / 12 / 4 + 1 / 80)
        self.assertAlmostEqual(limits[0], 0.75 - error, places=6)
        self.assertEqual(limits[1], 1.0)
        self.assertIsNone(mean_limits(group_by_task([1.0], [0], 1)))


class Properties(unittest.TestCase):
    @given(SIDE, some.data())
    def test_turned_round_it_says_the_opposite(self, one: Counts, data: some.DataObject) -> None:
        other = [(data.draw(some.integers(0, n)), n) for _, n in one]
        a, b = passes(sound(one)), passes(other)
        there, back = interval_on_these(a, b, RATE), interval_on_these(b, a, RATE)
        self.assertAlmostEqual(found(there).low, -found(back).high)
        self.assertAlmostEqual(found(there).high, -found(back).low)
        self.assertAlmostEqual(found(there).p, found(back).p)

    @given(SIDE)
    def test_equal_data_differ_by_nothing(self, one: Counts) -> None:
        side = passes(sound(one))
        interval = found(interval_on_these(side, side, RATE))
        self.assertAlmostEqual(interval.low, -interval.high)
        self.assertAlmostEqual(interval.p, 1.0)

    @given(some.lists(some.tuples(some.integers(0, 4), some.just(4)), min_size=2, max_size=8))
    def test_more_trials_of_the_same_never_widen_it(self, one: Counts) -> None:
        more = [(3 * p, 3 * n) for p, n in one]
        wide = found(interval_on_these(passes(one), passes(one), RATE))
        narrow = found(interval_on_these(passes(more), passes(more), RATE))
        self.assertLessEqual(narrow.high - narrow.low, wide.high - wide.low + 1e-9)


class Comparing(unittest.TestCase):
    def test_rates_scores_and_times_of_the_shared_tasks(self) -> None:
        a = table([(1, 2), (2, 2), (0, 2)], turn_ms=[100, 400, 100, 100, 7, 7])
        b = table([(2, 2), (2, 2)], turn_ms=[400, 400, 200, 200])
        compared = compare(a, b, 3)
        rate = metric_of(compared, "pass")
        self.assertEqual((rate.a, rate.b, rate.difference, rate.tasks), (0.75, 1.0, 0.25, 2))
        self.assertEqual((rate.n_a, rate.n_b), (4, 4))
        time = metric_of(compared, "turn_ms")
        # Geometric means: A √(200·100), B √(400·200); each task takes twice as long.
        self.assertAlmostEqual(time.a or 0, math.sqrt(200 * 100))
        self.assertAlmostEqual(time.b or 0, math.sqrt(400 * 200))
        self.assertAlmostEqual(time.difference or 0, 2.0)
        these = found(time.these)
        # One task of A alone has a variance, of one degree of freedom: t is 12.7062.
        error = math.sqrt(((math.log(4) ** 2 / 2) / 2) / 4)
        self.assertAlmostEqual(these.low, 2 * math.exp(-12.7062 * error), places=5)
        nothing = metric_of(compared, "choice")
        self.assertEqual(
            (nothing.a, nothing.b, nothing.difference, nothing.tasks), (None,) * 3 + (0,)
        )

    def test_a_score_that_is_null_in_a_task_leaves_it_out(self) -> None:
        a = table([(0, 2), (0, 2)], choice=[1.0, 0.5, math.nan, math.nan])
        b = table([(0, 2), (0, 2)], choice=[0.5, 0.5, 0.0, 0.0])
        choice = metric_of(compare(a, b, 2), "choice")
        self.assertEqual((choice.tasks, choice.a, choice.b), (1, 0.75, 0.5))
        self.assertEqual(found(choice.these).method, "stratified mean")

    def test_families_that_are_read_together_are_corrected_together(self) -> None:
        worse, better = [0.0] * 12, [1.0] * 12
        a = table([(0, 4)] * 3, choice=worse, order=worse)
        b = table([(0, 4)] * 3, choice=better, order=worse)
        compared = compare(a, b, 3)
        choice, order = metric_of(compared, "choice"), metric_of(compared, "order")
        self.assertAlmostEqual(choice.corrected_p or 0, 2 * found(choice.these).p)
        self.assertEqual(order.corrected_p, 1.0)
        self.assertIsNone(metric_of(compared, "pass").corrected_p)

    def test_times_of_nothing_are_no_times(self) -> None:
        a = table([(0, 2)], tool_ms=[0.0, 5.0])
        self.assertEqual(metric_of(compare(a, a, 1), "tool_ms").n_a, 1)

    def test_scores_have_no_newcombe(self) -> None:
        a = group_by_task([0.0, 1.0], [0, 0], 1)
        self.assertEqual(found(interval_on_these(a, a, SCORE)).method, "stratified mean")


if __name__ == "__main__":
    unittest.main()
