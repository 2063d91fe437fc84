"""Matchers: every kind, what is absent, and what makes a plain value."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.clock import Clock
from ferox.core.json_values import PathError, canonical, same
from ferox.core.matchers import ABSENT, MatcherError, Situation, compile_matcher

JSON = st.recursive(
    st.none() | st.booleans() | st.integers(-(2**53), 2**53) | st.text(max_size=8),
    lambda inner: (
        st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=4), inner, max_size=3)
    ),
    max_leaves=8,
)
AT = Situation(
    Clock("2031-03-14T06:30:00Z", "Europe/Lisbon"),
    lambda name, path: {"vessel": ["9471102"], "free": None}.get(name, []),
    lambda: "Book N1 for IMO 9471102 on 14 March.",
    lambda: ["The window opens at 14:10."],
)


def holds(spec: Any, value: Any) -> bool:
    return compile_matcher(spec).holds(value, AT)


class EachKind(unittest.TestCase):
    def test_examples(self) -> None:
        for spec, value, wanted in [
            (2, 2.0, True),
            (1, True, False),
            ({"equal": {"near": 1}}, {"near": 1}, True),
            ({"one_of": ["N1", "N3"]}, "N3", True),
            ({"one_of": ["N1", "N3"]}, "N2", False),
            ({"near": 1.0, "within": 0.1}, 1.1, True),
            ({"near": 1.0, "within": 0.1}, 1.1000001, False),
            ({"near": 200, "percent": 10}, 220, True),
            ({"near": 7, "within": 1}, "7", False),
            ({"near": 1, "within": 1}, True, False),
            ({"matches": "^N"}, "N1", True),
            ({"matches": "1"}, 1, False),
            ({"contains": "ord"}, "north order", True),
            ({"contains": 2}, [1, 2.0], True),
            ({"contains": {"a": 1}}, {"a": 1, "b": 2}, True),
            ({"same_words": "MV Calder-Finch"}, "mv calder finch!", True),
            ({"same_words": "Calder Finch"}, "Finch Calder", False),
            ({"from": "vessel", "path": "$.imo"}, "9471102", True),
            ({"from": "vessel", "path": "$.imo"}, "9471103", False),
            ({"seen": True}, "14:10", True),
            ({"seen": True}, ["9471102", "14:10"], True),
            ({"seen": True}, "15:10", False),
            ({"from_user": True}, "9471102", True),
            ({"from_user": True}, "14:10", False),
            ({"schema": {"type": "integer", "minimum": 3}}, 3, True),
            ({"schema": {"type": "integer", "minimum": 3}}, 2, False),
            ({"any": True}, None, True),
            ({"every": {"matches": "^N"}}, ["N1", "N2"], True),
            ({"every": {"matches": "^N"}}, [], True),
            ({"every": {"matches": "^N"}}, "N1", False),
            ({"not": {"one_of": ["S1"]}}, "N1", True),
            ({"all": [{"matches": "^N"}, {"matches": "1$"}]}, "N1", True),
            ({"all": [{"matches": "^N"}, {"matches": "2$"}]}, "N1", False),
        ]:
            with self.subTest(spec=spec, value=value):
                self.assertIs(holds(spec, value), wanted)

    def test_days_fit_dates_and_moments_moved_into_the_zone(self) -> None:
        self.assertTrue(holds({"day": "today"}, "2031-03-14"))
        self.assertTrue(holds({"day": "+2"}, "2031-03-16"))
        self.assertTrue(holds({"day": 2}, "2031-03-16"))
        self.assertTrue(holds({"day": "next monday"}, "2031-03-17"))
        # 2031-03-14 is a Friday: the next Friday is a week away.
        self.assertTrue(holds({"day": "next friday"}, "2031-03-21"))
        summer = Situation(Clock("2031-07-01T12:00:00Z", "Europe/Lisbon"))
        late = compile_matcher({"day": "2031-07-02"})
        self.assertTrue(late.holds("2031-07-01T23:30:00Z", summer))

    def test_times_within_minutes_and_without_offset_in_the_zone(self) -> None:
        spec = {"time": "2031-03-14T15:00:00Z", "within_min": 30}
        self.assertTrue(holds(spec, "2031-03-14T15:30:00Z"))
        self.assertFalse(holds(spec, "2031-03-14T15:30:01Z"))
        self.assertTrue(holds(spec, "2031-03-14T16:00:00+01:00"))
        self.assertTrue(holds({"time": "2031-03-14T15:00:00"}, "2031-03-14T15:00:00Z"))

    def test_an_optional_source_not_called_becomes_seen(self) -> None:
        self.assertTrue(holds({"from": "free", "path": "$.x"}, "14:10"))
        self.assertFalse(holds({"from": "free", "path": "$.x"}, "S2"))

    def test_what_is_not_given_fails_all_but_absent_and_not(self) -> None:
        for spec in (1, None, {"any": True}, {"seen": True}, {"every": 1}, {"from_user": True}):
            self.assertFalse(holds(spec, ABSENT), spec)
        self.assertTrue(holds({"absent": True}, ABSENT))
        self.assertFalse(holds({"absent": True}, None))
        self.assertTrue(holds({"not": {"equal": 1}}, ABSENT))
        self.assertTrue(holds({"equal": None}, None))

    def test_an_object_with_other_keys_is_plain_whole(self) -> None:
        self.assertTrue(holds({"near": 1, "side": "north"}, {"near": 1, "side": "north"}))
        self.assertFalse(holds({"near": 1, "within": 1, "x": 1}, 1))

    def test_what_cannot_be_understood_is_refused(self) -> None:
        for spec in (
            {"matches": "("},
            {"near": "x", "within": 1},
            {"day": "someday"},
            {"one_of": 3},
        ):
            with self.subTest(spec), self.assertRaises(MatcherError):
                compile_matcher(spec)
        with self.assertRaises(PathError):
            compile_matcher({"from": "vessel", "path": "imo["})


class Properties(unittest.TestCase):
    @given(JSON)
    def test_equal_holds_for_itself_and_not_is_its_contrary(self, value: Any) -> None:
        self.assertTrue(holds({"equal": value}, value))
        self.assertFalse(holds({"not": {"equal": value}}, value))

    @given(JSON, JSON)
    def test_canonical_texts_are_equal_exactly_for_equal_values(self, a: Any, b: Any) -> None:
        self.assertEqual(canonical(a) == canonical(b), same(a, b))

    @given(st.decimals(-1000, 1000, places=3), st.decimals(0, 10, places=3))
    def test_near_includes_its_ends(self, centre: Any, reach: Any) -> None:
        spec = {"near": float(centre), "within": float(reach)}
        self.assertTrue(holds(spec, float(centre + reach)))
        self.assertTrue(holds(spec, float(centre - reach)))
        self.assertFalse(holds(spec, float(centre + reach) + 0.002))

    @given(st.lists(st.integers(0, 5), max_size=4))
    def test_every_is_all_of_its_elements(self, values: list[int]) -> None:
        one = {"one_of": [0, 1, 2]}
        self.assertEqual(holds({"every": one}, values), all(v <= 2 for v in values))
