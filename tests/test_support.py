"""Unsupported values: copied, derived, or from nowhere."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.clock import Clock
from ferox.core.scoring import score
from ferox.core.support import Sources, judge, values_in
from tests.traces import call, checks, find, reply, script, trace, turn

CLOCK = Clock("2031-07-14T06:30:00Z", "Europe/Lisbon")


def origins(said: str, *texts: str, results: tuple[Any, ...] = ()) -> dict[str, str]:
    sources = Sources(("2031-07-14", *texts), results, CLOCK)
    return {v.text: v.origin for v in judge(said, sources)}


class Finding(unittest.TestCase):
    def test_each_piece_is_one_value(self) -> None:
        text = "BK1041 at N1 from 14:10 on 14 March 2031, 7.4 m, see https://skerrow.example/a1."
        found = [(kind, written) for kind, written, _ in values_in(text)]
        self.assertEqual(
            found,
            [
                ("code", "BK1041"), ("code", "N1"), ("time", "14:10"), ("day", "14 March 2031"),
                ("number", "7.4"), ("link", "https://skerrow.example/a1"),
            ],
        )  # fmt: skip

    def test_units_numbering_and_small_counts(self) -> None:
        self.assertEqual(origins("1. first\n2) second, 3 berths"), {})
        self.assertEqual(origins("It is 142m long", "length 142"), {"142": "copied"})
        self.assertEqual([k for k, _, _ in values_in("the NORTH-EAST quay")], ["code"])


class Copied(unittest.TestCase):
    def test_in_usual_writings(self) -> None:
        for said, source, wanted in [
            ("7.6 m", "7.62", "copied"),
            ("7.7 m", "7.62", "unsupported"),
            ("12,500 t", "12500", "copied"),
            ("at 14:10", "2031-07-14T13:10:00Z", "copied"),
            ("at 2:10 pm", "2031-07-14T13:10:00Z", "copied"),
            ("at 15:10", "2031-07-14T13:10:00Z", "unsupported"),
            ("on 15 July", "2031-07-14T23:30:00Z", "copied"),
            ("on 16 July", "2031-07-14T23:30:00Z", "unsupported"),
            ("booking BK1041", '{"id": "BK1041"}', "copied"),
            ("booking BK1042", '{"id": "BK1041"}', "unsupported"),
            ("see https://a.example/x", "https://a.example/x", "copied"),
        ]:
            with self.subTest(said=said, source=source):
                self.assertEqual(set(origins(said, source).values()), {wanted})

    def test_the_clocks_date_is_known(self) -> None:
        self.assertEqual(set(origins("Today is 14 July 2031.").values()), {"copied"})


class Derived(unittest.TestCase):
    def test_of_two_values(self) -> None:
        for said, wanted in [
            ("62 in all", "derived"),
            ("38 more", "derived"),
            ("600 of them", "derived"),
            ("4.17 times", "derived"),
            ("24 %", "derived"),
            ("63 in all", "unsupported"),
        ]:
            with self.subTest(said):
                self.assertEqual(set(origins(said, "50 here, 12 there").values()), {wanted})

    def test_of_one_list(self) -> None:
        rows = [{"t": 11.5, "imo": "1"}, {"t": 20}, {"t": 30.5}, {"t": 40}] * 5
        results = ({"rows": rows},)
        self.assertEqual(origins("510 t", results=results), {"510": "derived"})
        self.assertEqual(origins("25.5 t each", results=results), {"25.5": "derived"})
        self.assertEqual(origins("20 rows", results=results), {"20": "derived"})
        self.assertEqual(origins("511 t", results=results), {"511": "unsupported"})

    def test_numbers_inside_codes_and_dates_are_no_values(self) -> None:
        self.assertEqual(origins("55 t", "BK50 and BK5"), {"55": "unsupported"})

    @given(st.integers(11, 10**6), st.integers(11, 10**6))
    def test_any_sum_and_difference_is_found(self, a: int, b: int) -> None:
        for value in (a + b, abs(a - b)):
            told = origins(f"{value} t", f"{a} t and {b} t")
            self.assertNotIn("unsupported", told.values())


class Scored(unittest.TestCase):
    SPEC = {"answer": [{"values": "supported"}]}

    def test_values_are_looked_for_in_what_came_before(self) -> None:
        spec = script(self.SPEC)
        window = call("c1", "tides/tide_window", 1, result={"opens": "14:10", "m": 7.4})
        good = score(spec, trace(turn(), window, reply(2, "N1 for 9471102 at 14:10, 7.4 m.")))
        self.assertIs(checks(good)["answer.0"], True)
        bad = score(spec, trace(turn(), window, reply(2, "N1 at 14:10, berth S2, 8.5 m.")))
        self.assertEqual(find(bad, "answer.0")["message"], 'from nowhere: "S2", "8.5"')

    def test_error_messages_and_instructions_count_too(self) -> None:
        error = {"kind": "tool_error", "message": "No vessel with IMO 9999999."}
        failed = call("c1", "tides/tide_window", 1, error=error)
        told = trace(turn(), failed, reply(2, "9999999 is unknown; ask channel 12."))
        self.assertIs(checks(score(script(self.SPEC), told))["answer.0"], False)
        told["instructions"] = "The duty officer listens on channel 12."
        self.assertIs(checks(score(script(self.SPEC), told))["answer.0"], True)
