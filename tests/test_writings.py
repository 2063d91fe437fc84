"""The usual writings of numbers, days and times."""

from __future__ import annotations

import unittest
from datetime import datetime
from unittest import mock
from zoneinfo import ZoneInfo

from hypothesis import given
from hypothesis import strategies as st

from ferox.core import writings
from ferox.core.writings import Kind, clock_times_in, first_place, moments_apart, stands_in
from ferox.intake.limits import GivenUp

LISBON = ZoneInfo("Europe/Lisbon")


def stands(value: object, text: str, kind: Kind | None = None) -> bool:
    return stands_in(value, text, LISBON, kind)


class Writings(unittest.TestCase):
    def test_numbers(self) -> None:
        for value, text, wanted in [
            (7.62, "there are 7.62 m", True),
            (7.62, "there are 7.6 m of water", True),
            (7.62, "there are 7.7 m", False),
            (7.62, "about 8 m", True),
            (1234.5, "1,234.5 t", True),
            (12345, "12 345 t", True),
            (3, "three berths are free", True),
            (13, "thirteen berths", False),
            (3, "N3 is free", False),
            (14, "at 14.5 m", False),
            (-2, "-2 m", True),
        ]:
            with self.subTest(value=value, text=text):
                self.assertIs(stands(value, text), wanted)

    def test_days(self) -> None:
        for text in ("2031-03-14", "14 March", "March 14th, 2031", "14/03/2031", "on 14 Mar."):
            self.assertTrue(stands("2031-03-14", f"It is {text} then"), text)
        for text in ("15 March", "14 March 2032", "2031-03-15", "14 May"):
            self.assertFalse(stands("2031-03-14", f"It is {text} then"), text)

    def test_times_also_in_the_trials_zone(self) -> None:
        self.assertTrue(stands("2031-07-01T13:10:00Z", "opens at 14:10"))
        self.assertTrue(stands("2031-07-01T13:10:00Z", "opens at 2:10 pm"))
        self.assertTrue(stands("2031-07-01T13:10:00Z", "opens at 13:10 UTC"))
        self.assertFalse(stands("2031-07-01T13:10:00Z", "opens at 15:10"))
        self.assertTrue(stands("14:10", "at 14.10 sharp", "time"))

    def test_days_with_short_years_and_days_of_other_years(self) -> None:
        for text in ("14.3.31", "14/03/31", "14 of March, 2031", "14.03.2031"):
            self.assertTrue(stands("2031-03-14", f"on {text} then"), text)
        for text in ("14/03/32", "14/03/2131", "114/03/2031", "March 14, 2032", "14/04/2031"):
            self.assertFalse(stands("2031-03-14", f"on {text} then"), text)

    def test_clock_times(self) -> None:
        for text, wanted in (
            ("12 am", {(0, 0)}), ("12:30 am", {(0, 30)}), ("12 pm", {(12, 0)}),
            ("1 pm", {(13, 0)}), ("11:59 pm", {(23, 59)}), ("24:00", {(0, 0)}),
            ("14:60", set()), ("25:10", set()), ("24:01", set()), ("14", set()),
            ("13:30 pm", {(13, 30)}), ("08:05 and 9 am", {(8, 5), (9, 0)}),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(clock_times_in(text), wanted)

    def test_where_a_value_stands_first(self) -> None:
        text = "High water is at 14:31, and low water at 20:44."
        self.assertEqual(first_place("14:31", text, LISBON), text.index(",") + 1)
        self.assertIsNone(first_place("15:31", text, LISBON))
        long = "tide " * 3000
        self.assertEqual(first_place("14:31", f"{long}14:31 {long}", LISBON), len(long) + 5)
        self.assertIsNone(first_place("14:31", long, LISBON))

    def test_a_text_that_is_too_long_is_given_up(self) -> None:
        with mock.patch.object(writings, "LONGEST_TEXT", 8):
            self.assertTrue(stands(3, "N1, 3 m."))
            with self.assertRaises(GivenUp):
                stands(3, "N1, 3 m..")

    def test_minutes_between_moments(self) -> None:
        one, other = datetime(2031, 3, 14, 6), datetime(2031, 3, 14, 7, 30, 30)
        self.assertEqual((moments_apart(one, other), moments_apart(other, one)), (90.5, 90.5))

    def test_words_must_not_be_glued_to_others(self) -> None:
        self.assertTrue(stands("N1", "Booked N1; done"))
        self.assertFalse(stands("N1", "Booked N12"))
        self.assertTrue(stands("MV Calder Finch", "the mv Calder  finch"))

    def test_a_list_stands_in_a_text_if_all_of_it_does(self) -> None:
        self.assertTrue(stands(["N1", "N3"], "N3 and N1"))
        self.assertFalse(stands(["N1", "N3"], "N1 only"))

    @given(st.integers(0, 10**9))
    def test_a_number_stands_in_its_own_digits_with_or_without_separators(self, n: int) -> None:
        self.assertTrue(stands(n, f"about {n} t"))
        self.assertTrue(stands(n, f"about {n:,} t"))

    @given(st.dates())
    def test_a_day_stands_in_its_usual_writings(self, day) -> None:  # type: ignore[no-untyped-def]
        if day.year >= 1000:
            self.assertTrue(stands(day.isoformat(), f"{day.day} {day:%B} {day.year}"))
            self.assertTrue(stands(day.isoformat(), f"on {day:%d/%m/%Y}."))
