"""A trial's clock: days and times told under a fixed now and a zone."""

from __future__ import annotations

import unittest
from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.clock import WEEKDAYS, Clock, parse_day, parse_time

FRIDAY = Clock("2031-03-14T06:30:00Z", "Europe/Lisbon")


class Days(unittest.TestCase):
    def test_words(self) -> None:
        for words, wanted in [
            ("today", "2031-03-14"),
            ("tomorrow", "2031-03-15"),
            ("yesterday", "2031-03-13"),
            ("+2", "2031-03-16"),
            ("-1", "2031-03-13"),
            (3, "2031-03-17"),
            ("next monday", "2031-03-17"),
            ("Next Friday", "2031-03-21"),
            ("2031-04-01", "2031-04-01"),
        ]:
            with self.subTest(words):
                self.assertEqual(FRIDAY.day(words).isoformat(), wanted)
        for words in ("someday", "next week", "2031-02-30"):
            with self.subTest(words), self.assertRaises(ValueError):
                FRIDAY.day(words)

    def test_today_is_the_zones(self) -> None:
        self.assertEqual(Clock("2031-07-14T23:30:00Z", "Europe/Lisbon").today, date(2031, 7, 15))
        self.assertEqual(Clock("2031-07-14T23:30:00Z", "UTC").today, date(2031, 7, 14))

    @given(st.dates(date(2000, 1, 1), date(2100, 1, 1)), st.sampled_from(WEEKDAYS))
    def test_next_weekday_is_the_first_after_today(self, today: date, name: str) -> None:
        day = Clock(f"{today.isoformat()}T12:00:00Z").day(f"next {name}")
        self.assertEqual(WEEKDAYS[day.weekday()], name)
        self.assertTrue(timedelta(1) <= day - today <= timedelta(7))


class Parsing(unittest.TestCase):
    def test_times_with_and_without_offset(self) -> None:
        zone = FRIDAY.tz
        summer = parse_time("2031-07-14T12:00:00", zone)
        assert summer is not None
        self.assertEqual(summer.utcoffset(), timedelta(hours=1))
        for text in ("2031-07-14T11:00:00Z", "2031-07-14t11:00:00z", "2031-07-14 11:00Z"):
            self.assertEqual(parse_time(text, zone), summer)
        for text in ("2031-07-14", "noon", "2031-13-14T00:00:00Z", "2031-07-14T25:00"):
            self.assertIsNone(parse_time(text, zone), text)

    def test_days_of_dates_and_moments(self) -> None:
        zone = FRIDAY.tz
        self.assertEqual(parse_day("2031-07-14", zone), date(2031, 7, 14))
        self.assertEqual(parse_day("2031-07-14T23:30:00Z", zone), date(2031, 7, 15))
        self.assertIsNone(parse_day("2031-02-30", zone))
        self.assertIsNone(parse_day("today", zone))

    def test_a_now_that_is_none(self) -> None:
        with self.assertRaises(ValueError):
            _ = Clock("soon").moment
