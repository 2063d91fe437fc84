"""Matching: optimal, with ties broken as the rules say."""

from __future__ import annotations

import itertools
import unittest
from fractions import Fraction
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from ferox.core.scoring.evidence import Evidence
from ferox.core.story import read_story
from tests.traces import call, failed, judged, script, trace

DETAILS = "harbour/vessel_details"
WINDOW = "tides/tide_window"
BOOK = "harbour/assign_berth"


def expected(name: str, tool: str = DETAILS, **more: Any) -> dict[str, Any]:
    return {"as": name, "tool": tool, **more}


class HandWorked(unittest.TestCase):
    def test_only_the_same_tool_matches(self) -> None:
        result = judged({"calls": [expected("a")]}, call("c1", WINDOW, 1))
        self.assertEqual((result["matched"], result["extra"]), ({}, ["c1"]))

    def test_the_better_fit_wins_over_the_earlier_call(self) -> None:
        # Weights: (a, c1) = 1 + 0, (a, c2) = 1 + 1.
        result = judged(
            {"calls": [expected("a", args={"imo": "1"})]},
            call("c1", DETAILS, 1, {"imo": "2"}),
            call("c2", DETAILS, 2, {"imo": "1"}),
        )
        self.assertEqual(result["matched"], {"a": ["c2"]})

    def test_the_sum_is_maximal_not_each_pair(self) -> None:
        # a fits c1 wholly and c2 half; b fits c1 wholly and c2 not at all:
        # a–c2, b–c1 weighs 1.5 + 2, more than a–c1, b–c2 with 2 + 1.
        result = judged(
            {
                "calls": [
                    expected("a", args={"x": 1, "y": {"any": True}}),
                    expected("b", args={"x": 1}),
                ]
            },
            call("c1", DETAILS, 1, {"x": 1, "y": 1}),
            call("c2", DETAILS, 2, {"x": 2, "y": 1}),
        )
        self.assertEqual(result["matched"], {"a": ["c2"], "b": ["c1"]})

    def test_among_equals_the_call_without_an_error(self) -> None:
        result = judged(
            {"calls": [expected("a")]}, failed("c1", DETAILS, 1), call("c2", DETAILS, 2)
        )
        self.assertEqual(result["matched"], {"a": ["c2"]})
        self.assertEqual(result["attempts"], {"a": ["c1"]})

    def test_a_better_fit_outweighs_an_error(self) -> None:
        # With one copy the base is 2: (a, c1) = 1·4, (a, c2) = 2·4 − 2.
        result = judged(
            {"calls": [expected("a", args={"imo": "1"})]},
            call("c1", DETAILS, 1, {"imo": "2"}),
            failed("c2", DETAILS, 2, {"imo": "1"}),
        )
        self.assertEqual(result["matched"], {"a": ["c2"]})

    def test_a_better_fit_outweighs_being_required(self) -> None:
        # With two copies the base is 3: (o, c1) = 2·9, (r, c1) = 1·9 + 1.
        result = judged(
            {"calls": [expected("r", args={"n": 1}), expected("o", optional=True)]},
            call("c1", DETAILS, 1, {"n": 2}),
        )
        self.assertEqual(result["matched"], {"o": ["c1"]})

    def test_among_equals_the_required_call(self) -> None:
        result = judged(
            {"calls": [expected("o", optional=True), expected("r")]}, call("c1", DETAILS, 1)
        )
        self.assertEqual(result["matched"], {"r": ["c1"]})

    def test_among_equals_the_one_under_which_more_from_hold(self) -> None:
        # Either berth list may be `free`; only the second holds N3.
        result = judged(
            {
                "calls": [
                    expected("free", "harbour/list_berths"),
                    expected("book", BOOK, args={"berth": {"from": "free", "path": "$.codes[*]"}}),
                ]
            },
            call("c1", "harbour/list_berths", 1, result={"codes": ["N1"]}),
            call("c2", "harbour/list_berths", 2, result={"codes": ["N3"]}),
            call("c3", BOOK, 3, {"berth": "N3"}),
        )
        self.assertEqual(result["matched"], {"free": ["c2"], "book": ["c3"]})

    def test_a_later_matching_under_which_fewer_from_hold_does_not_count(self) -> None:
        # Of `berth` and `spare` only one can come from one list; N3 stands in the first.
        berth = {"from": "free", "path": "$.codes[*]"}
        result = judged(
            {
                "calls": [
                    expected("free", "harbour/list_berths"),
                    expected("book", BOOK, args={"berth": berth, "spare": berth}),
                ]
            },
            call("c1", "harbour/list_berths", 1, result={"codes": ["N3"]}),
            call("c2", "harbour/list_berths", 2, result={"codes": ["N1"]}),
            call("c3", BOOK, 3, {"berth": "N3", "spare": "S9"}),
        )
        self.assertEqual(result["matched"], {"free": ["c1"], "book": ["c3"]})

    def test_else_in_list_order_the_earliest_after_the_one_before(self) -> None:
        # w takes c2; a then takes c3, the earliest that starts after it, not c1.
        result = judged(
            {"calls": [expected("w", WINDOW), expected("a")]},
            call("c1", DETAILS, 1),
            call("c2", WINDOW, 2),
            call("c3", DETAILS, 3),
        )
        self.assertEqual(result["matched"], {"w": ["c2"], "a": ["c3"]})

    def test_times_stands_for_copies_of_which_the_first_are_required(self) -> None:
        spec = {"calls": [expected("a", times={"min": 1, "max": 3})]}
        two = judged(spec, call("c1", DETAILS, 1), call("c2", DETAILS, 2))
        self.assertEqual((two["matched"], two["missing"]), ({"a": ["c1", "c2"]}, []))
        none = judged(spec)
        self.assertEqual([m["name"] for m in none["missing"]], ["a"])
        three = judged({"calls": [expected("a", times=3)]}, call("c1", DETAILS, 1))
        self.assertEqual(len(three["missing"]), 2)

    def test_an_error_after_a_failed_match_is_an_attempt_too(self) -> None:
        result = judged(
            {"calls": [expected("a", args={"imo": "1"})]},
            failed("c1", DETAILS, 1, {"imo": "1"}),
            failed("c2", DETAILS, 2, {"imo": "2"}),
        )
        self.assertEqual((result["matched"], result["attempts"]), ({"a": ["c1"]}, {"a": ["c2"]}))

    def test_an_unmatched_call_that_went_well_is_no_attempt(self) -> None:
        result = judged({"calls": [expected("a")]}, call("c1", DETAILS, 1), call("c2", DETAILS, 2))
        self.assertEqual((result["attempts"], result["extra"]), ({}, ["c2"]))


def best_by_force(evidence: Evidence) -> tuple[Fraction, int, int, int]:
    """The first four criteria of the best matching, by trying every one there is."""
    copies, calls = evidence.script.parts[0].copies, evidence.story.calls
    choices = [[None, *(c for c in calls if c.tool == x.expected.tool)] for x in copies]
    best = None
    for picked in itertools.product(*choices):
        used = [c for c in picked if c]
        if len({id(c) for c in used}) < len(used):
            continue
        matching = {x: c for x, c in zip(copies, picked, strict=True) if c}
        key = judged_key(evidence, matching)
        best = key if best is None or key > best else best
    assert best is not None
    return best


def judged_key(evidence: Evidence, matching: Any) -> tuple[Fraction, int, int, int]:
    weight = sum(
        (1 + Fraction(*evidence.parts[0]._pair_value(x, c)) for x, c in matching.items()),
        Fraction(0),
    )
    errors = sum(c.failed for c in matching.values())
    required = sum(x.is_required for x in matching)
    return (weight, -errors, required, evidence.parts[0]._count_from(matching))


SPECS = st.lists(
    st.fixed_dictionaries(
        {"tool": st.sampled_from([DETAILS, WINDOW]), "optional": st.booleans()},
        optional={
            "args": st.dictionaries(
                st.sampled_from("xy"),
                st.integers(0, 1) | st.just({"from": "n0", "path": "$.v"}),
                max_size=2,
            )
        },
    ),
    min_size=1,
    max_size=3,
)
CALLS = st.lists(
    st.tuples(
        st.sampled_from([DETAILS, WINDOW]),
        st.dictionaries(st.sampled_from("xy"), st.integers(0, 1), max_size=2),
        st.booleans(),
        st.integers(0, 1),
    ),
    max_size=4,
)


class Properties(unittest.TestCase):
    @settings(deadline=None, max_examples=150)
    @given(SPECS, CALLS)
    def test_no_other_matching_is_better(self, specs: Any, calls: Any) -> None:
        listed = [{"as": f"n{i}", **spec} for i, spec in enumerate(specs)]
        events = [
            failed(f"c{i}", tool, i + 1, args)
            if bad
            else call(f"c{i}", tool, i + 1, args, result={"v": v})
            for i, (tool, args, bad, v) in enumerate(calls)
        ]
        evidence = Evidence(script({"calls": listed}), read_story(trace(*events)))
        self.assertEqual(judged_key(evidence, evidence.parts[0].matching), best_by_force(evidence))

    @settings(deadline=None, max_examples=60)
    @given(SPECS, CALLS)
    def test_one_more_required_call_never_lowers_the_number_missing(
        self, specs: Any, calls: Any
    ) -> None:
        listed = [{"as": f"n{i}", **spec} for i, spec in enumerate(specs)]
        events = [call(f"c{i}", t, i + 1, a) for i, (t, a, _, _) in enumerate(calls)]
        before = judged({"calls": listed}, *events)
        after = judged({"calls": [*listed, expected("more")]}, *events)
        self.assertGreaterEqual(len(after["missing"]), len(before["missing"]))
