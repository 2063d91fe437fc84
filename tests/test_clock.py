"""A trial's clock: days and times told under a fixed now and a zone."""

from __future__ import annotations

import unittest
from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.clock import WEEKDAYS, Clock, parse_day, parse_time, read_day

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
            ("friday", "2031-03-14"),
            ("thursday", "2031-03-20"),
            ("last friday", "2031-03-07"),
            ("last thursday", "2031-03-13"),
            ("next weekday", "2031-03-17"),
            ("+1 weekday", "2031-03-17"),
            ("+6 weekdays", "2031-03-24"),
            ("-1 weekday", "2031-03-13"),
            ("+2 weeks", "2031-03-28"),
            ("+1 month", "2031-04-14"),
            ("-1 year", "2030-03-14"),
            ("end of month", "2031-03-31"),
            ("end of next month", "2031-04-30"),
            ("start of next month", "2031-04-01"),
        ]:
            with self.subTest(words):
                self.assertEqual(FRIDAY.day(words).isoformat(), wanted)
        for words in ("someday", "next week", "2031-02-30"):
            with self.subTest(words), self.assertRaises(ValueError):
                FRIDAY.day(words)

    def test_a_month_later_on_a_day_that_it_lacks_is_its_last(self) -> None:
        for today, phrase, wanted in [
            ("2031-01-31", "+1 month", "2031-02-28"),
            ("2031-12-31", "+2 months", "2032-02-29"),
            ("2032-02-29", "+1 year", "2033-02-28"),
            ("2031-12-05", "end of month", "2031-12-31"),
            ("2031-12-05", "start of next month", "2032-01-01"),
            ("2031-03-31", "-1 month", "2031-02-28"),
        ]:
            with self.subTest(today=today, phrase=phrase):
                self.assertEqual(read_day(phrase, date.fromisoformat(today)).isoformat(), wanted)

    def test_days_beyond_the_calendar(self) -> None:
        for phrase in ("+99999 years", "-3000 years", 10**9):
            with self.subTest(phrase), self.assertRaisesRegex(ValueError, "further away"):
                FRIDAY.day(phrase)

    @given(st.dates(date(2000, 1, 1), date(2100, 1, 1)), st.integers(-40, 40))
    def test_so_many_weekdays_lie_between(self, today: date, count: int) -> None:
        day = read_day(f"{count:+d} weekdays", today)
        step = 1 if count > 0 else -1
        passed = [today + timedelta(n * step) for n in range(1, abs((day - today).days) + 1)]
        self.assertEqual(sum(one.weekday() < 5 for one in passed), abs(count))

    def test_today_is_the_zones(self) -> None:
        self.assertEqual(Clock("2031-07-14T23:30:00Z", "Europe/Lisbon").today, date(2031, 7, 15))
        self.assertEqual(Clock("2031-07-14T23:30:00Z", "UTC").today, date(2031, 7, 14))

    @given(st.dates(date(2000, 1, 1), date(2100, 1, 1)), st.sampled_from(WEEKDAYS))
    def test_next_weekday_is_the_first_after_today(self, today: date, name: str) -> None:
        day = Clock(f"{today.isoformat()}T12:00:00Z").day(f"next {name}")
        self.assertEqual(WEEKDAYS[day.weekday()], name)
        self.assertTrue(timedelta(1) <= day - today <= timedelta(7))


class Times(unittest.TestCase):
    def test_phrases(self) -> None:
        for phrase, wanted in [
            ("now", "2031-03-14T06:30:00+00:00"),
            ("+90 min", "2031-03-14T08:00:00+00:00"),
            ("-2 hours", "2031-03-14T04:30:00+00:00"),
            ("today 15:00", "2031-03-14T15:00:00+00:00"),
            ("next Monday 9:05", "2031-03-17T09:05:00+00:00"),
            ("+2 weeks 23:59", "2031-03-28T23:59:00+00:00"),
            ("2031-07-01 12:00", "2031-07-01T12:00:00+01:00"),
            ("2031-07-01T12:00:00Z", "2031-07-01T12:00:00+00:00"),
        ]:
            with self.subTest(phrase):
                self.assertEqual(FRIDAY.time(phrase).isoformat(), wanted)
        for phrase in ("soon", "today", "15:00", "today 24:00", "+1 day"):
            with self.subTest(phrase), self.assertRaises(ValueError):
                FRIDAY.time(phrase)


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
