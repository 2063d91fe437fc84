"""Matchers: every kind, what is absent, and what makes a plain value."""

from __future__ import annotations

import re
import unittest
from datetime import date, timedelta
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.clock import Clock
from ferox.core.json_paths import PathError
from ferox.core.json_values import canonical_json, equal_json
from ferox.core.matcher import ABSENT, MatchContext, MatcherError
from ferox.core.matchers import compile_matcher
from ferox.intake.limits import GivenUp

JSON = st.recursive(
    st.none() | st.booleans() | st.integers(-(2**53), 2**53) | st.text(max_size=8),
    lambda inner: (
        st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=4), inner, max_size=3)
    ),
    max_leaves=8,
)
AT = MatchContext(
    Clock("2031-03-14T06:30:00Z", "Europe/Lisbon"),
    lambda source: {"vessel": ["9471102"], "free": None}.get(source.name, []),
    lambda: "Book N1 for IMO 9471102 on 14 March.",
    lambda: ["The window opens at 14:10."],
)


def holds(spec: Any, value: Any) -> bool:
    return compile_matcher(spec).holds_for(value, AT)


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
            ({"near": 1.0, "within": 0.1}, 1.05, True),
            ({"near": 1.0, "within": 0.1}, 0.95, True),
            ({"near": 1.0, "within": 0.1}, 1.0, True),
            ({"near": 200, "percent": 10}, 220, True),
            ({"near": 200, "percent": 10}, 179.9, False),
            ({"near": -200, "percent": 10}, -185, True),
            ({"time": "2031-03-14T15:00:00Z"}, "at three", False),
            ({"time": "2031-03-14T15:00:00Z"}, 15, False),
            ({"absent": True, "any": True}, {"absent": True, "any": True}, True),
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
        summer = MatchContext(Clock("2031-07-01T12:00:00Z", "Europe/Lisbon"))
        late = compile_matcher({"day": "2031-07-02"})
        self.assertTrue(late.holds_for("2031-07-01T23:30:00Z", summer))

    def test_times_within_minutes_and_without_offset_in_the_zone(self) -> None:
        spec = {"time": "2031-03-14T15:00:00Z", "within_min": 30}
        self.assertTrue(holds(spec, "2031-03-14T15:30:00Z"))
        self.assertFalse(holds(spec, "2031-03-14T15:30:01Z"))
        self.assertTrue(holds(spec, "2031-03-14T16:00:00+01:00"))
        self.assertTrue(holds({"time": "2031-03-14T15:00:00"}, "2031-03-14T15:00:00Z"))

    def test_days_and_times_seen_from_what_a_call_brought(self) -> None:
        brought = {"stay": ["2031-01-30"], "window": ["2031-03-14T14:10:00Z"], "free": None}
        at = MatchContext(AT.clock, lambda source: brought.get(source.name, []))
        stay, window = {"from": "stay", "path": "$.in"}, {"from": "window", "path": "$.opens"}
        for spec, value, wanted in [
            ({"day": {**stay, "plus": 3}}, "2031-02-02", True),
            ({"day": {**stay, "plus": 3}}, "2031-02-01", False),
            ({"day": stay}, "2031-01-30", True),
            ({"day": {**stay, "plus": "1 month"}}, "2031-02-28", True),
            ({"day": {**stay, "plus": -1}}, "2031-01-29", True),
            ({"day": {**stay, "then": "end of month"}}, "2031-01-31", True),
            ({"day": {**stay, "plus": 2, "then": "next monday"}}, "2031-02-03", True),
            ({"day": window}, "2031-03-14", True),
            ({"day": {"from": "nowhere", "path": "$"}}, "2031-03-14", False),
            ({"time": {**window, "plus_min": 90}}, "2031-03-14T15:40:00Z", True),
            ({"time": {**window, "plus_min": 90}}, "2031-03-14T15:41:00Z", False),
            ({"time": {**window, "plus_min": 90}, "within_min": 1}, "2031-03-14T15:41:00Z", True),
            ({"time": {**window, "plus": 1}}, "2031-03-15T14:10:00Z", True),
            ({"time": {**stay, "plus": 1, "at": "11:00"}}, "2031-01-31T11:00:00", True),
            ({"time": {**stay, "plus": 1, "at": "11:00"}}, "2031-01-31T12:00:00", False),
            ({"time": stay}, "2031-01-30T00:00:00Z", False),
            ({"time": "tomorrow 15:00"}, "2031-03-15T15:00:00", True),
            ({"time": "+30 min", "within_min": 5}, "2031-03-14T07:04:00Z", True),
        ]:
            with self.subTest(spec=spec, value=value):
                self.assertIs(compile_matcher(spec).holds_for(value, at), wanted)
        unmade = compile_matcher({"day": {"from": "free", "path": "$"}})
        with self.assertRaises(GivenUp):
            unmade.test("2031-03-14", at)
        for spec in (
            {"day": {**stay, "plus": "soon"}}, {"day": {**stay, "at": "11:00"}},
            {"time": {**stay, "at": "25:00"}}, {"day": {"path": "$", "plus": 1}},
            {"time": {**window, "plus_min": "x"}}, {"day": {**stay, "plus": True}},
        ):  # fmt: skip
            with self.subTest(spec), self.assertRaises(MatcherError):
                compile_matcher(spec)

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
            {"seen": False},
            {"absent": 0},
            {"any": None},
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
        self.assertEqual(canonical_json(a) == canonical_json(b), equal_json(a, b))

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


HOURS = st.integers(0, 23)
WORDS = st.lists(st.text("abcxyz", min_size=1, max_size=5), min_size=1, max_size=4)


class EachMatcher(unittest.TestCase):
    """One property of each matcher, over values that nobody picked."""

    @given(st.lists(JSON, max_size=4), JSON)
    def test_one_of_is_equal_to_any(self, choices: list[Any], value: Any) -> None:
        any_equal = any(holds({"equal": c}, value) for c in choices)
        self.assertEqual(holds({"one_of": choices}, value), any_equal)

    @given(st.integers(1, 1000), st.integers(0, 100), st.integers(-1000, 3000))
    def test_percent_is_within_that_part(self, centre: int, percent: int, value: int) -> None:
        within = {"near": centre * 100, "within": centre * percent}
        self.assertEqual(
            holds({"near": centre * 100, "percent": percent}, value * 10), holds(within, value * 10)
        )

    @given(st.text("abc.", max_size=6), st.text("abc.", max_size=3))
    def test_matches_of_an_escaped_text_is_contains(self, text: str, part: str) -> None:
        pattern = {"matches": re.escape(part)}
        self.assertEqual(holds(pattern, text), holds({"contains": part}, text))

    @given(st.lists(JSON, max_size=4), JSON)
    def test_a_list_contains_its_elements_only(self, values: list[Any], one: Any) -> None:
        for value in values:
            self.assertTrue(holds({"contains": value}, values))
        self.assertEqual(
            holds({"contains": one}, values), any(holds({"equal": one}, v) for v in values)
        )

    @given(st.dictionaries(st.text(max_size=3), JSON, max_size=3))
    def test_an_object_contains_its_members(self, value: dict[str, Any]) -> None:
        for key in value:
            self.assertTrue(holds({"contains": key}, value))
            self.assertTrue(holds({"contains": {key: value[key]}}, value))

    @given(WORDS, st.sampled_from([" ", ", ", " - ", "! "]))
    def test_same_words_whatever_stands_between_them(self, words: list[str], gap: str) -> None:
        spec = {"same_words": " ".join(words)}
        self.assertTrue(holds(spec, gap.join(words).upper()))
        self.assertFalse(holds(spec, " ".join([*words, "more"])))

    @given(st.integers(-400, 400), st.integers(-400, 400))
    def test_a_day_is_that_far_from_today_and_no_other(self, ahead: int, other: int) -> None:
        day = (date(2031, 3, 14) + timedelta(days=other)).isoformat()
        self.assertEqual(holds({"day": f"{ahead:+d}"}, day), ahead == other)

    @given(HOURS, st.integers(0, 59), st.integers(0, 90))
    def test_a_time_is_near_from_either_side(self, hour: int, minute: int, within: int) -> None:
        one, other = "2031-03-14T12:00:00Z", f"2031-03-14T{hour:02}:{minute:02}:00Z"
        there = holds({"time": one, "within_min": within}, other)
        self.assertEqual(there, holds({"time": other, "within_min": within}, one))
        self.assertEqual(there, abs(hour * 60 + minute - 720) <= within)

    @given(JSON)
    def test_from_is_equal_to_a_value_of_its_source(self, value: Any) -> None:
        spec = {"from": "vessel", "path": "$.imo"}
        self.assertEqual(holds(spec, value), holds({"equal": "9471102"}, value))

    @given(JSON)
    def test_what_the_user_said_has_been_seen(self, value: Any) -> None:
        if holds({"from_user": True}, value):
            self.assertTrue(holds({"seen": True}, value))

    @given(st.lists(st.sampled_from(["N1", "9471102", "14:10", "S2", 7]), max_size=4))
    def test_a_list_is_seen_if_all_its_elements_are(self, values: list[Any]) -> None:
        self.assertEqual(
            holds({"seen": True}, values), all(holds({"seen": True}, v) for v in values)
        )

    @given(JSON)
    def test_a_schema_of_one_constant_is_equal(self, value: Any) -> None:
        self.assertTrue(holds({"schema": {"const": value}}, value))
        self.assertFalse(holds({"schema": False}, value))

    @given(JSON)
    def test_absent_and_any_are_contraries_of_what_is_given(self, value: Any) -> None:
        self.assertTrue(holds({"any": True}, value))
        self.assertFalse(holds({"absent": True}, value))
        self.assertFalse(holds({"any": True}, ABSENT))
        self.assertTrue(holds({"absent": True}, ABSENT))

    @given(JSON, JSON)
    def test_all_and_not_are_and_and_not(self, value: Any, other: Any) -> None:
        a, b = {"equal": other}, {"any": True}
        self.assertEqual(holds({"all": [a, b]}, value), holds(a, value) and holds(b, value))
        self.assertTrue(holds({"all": [a, {"not": a}]}, value) is False)
