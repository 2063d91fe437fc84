"""Unsupported values: copied, derived in a natural way, in doubt, or from nowhere."""

from __future__ import annotations

import unittest
from typing import Any
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from ferox.core import support
from ferox.core.clock import Clock
from ferox.core.number_sources import numbers_of
from ferox.core.reply_values import stated_values
from ferox.core.scoring import score_trial
from ferox.core.support import CallOutput, JudgedValues, Sources, judge_reply
from ferox.intake.limits import GivenUp
from tests.traces import call, checks, find, reply, script, trace, turn

CLOCK = Clock("2031-07-14T06:30:00Z", "Europe/Lisbon")


def judged(said: str, *results: Any, user: str = "", context: str = "") -> JudgedValues:
    brought = tuple(
        CallOutput(f"c{n}", r if isinstance(r, str) else _text(r), r) for n, r in enumerate(results)
    )
    return judge_reply(said, Sources(CLOCK, (user,), (context, "2031-07-14"), brought))


def _text(result: Any) -> str:
    from ferox.core.matchers import result_text

    return result_text(result)


def origins(said: str, *results: Any, **sources: str) -> dict[str, str]:
    return {v.text: v.origin for v in judged(said, *results, **sources).values}


class Finding(unittest.TestCase):
    def test_each_piece_is_one_value(self) -> None:
        text = "BK1041 at N1 from 14:10 on 14 March 2031, 7.4 m, see https://skerrow.example/a1."
        self.assertEqual(
            [(v.kind, v.text) for v in stated_values(text)],
            [
                ("code", "BK1041"), ("code", "N1"), ("time", "14:10"), ("day", "14 March 2031"),
                ("number", "7.4 m"), ("link", "https://skerrow.example/a1"),
            ],
        )  # fmt: skip

    def test_numbers_with_units_money_and_percent_are_values(self) -> None:
        for text, number, percent in [
            ("9 °C", "9", False),
            ("12 km", "12", False),
            ("12km", "12", False),
            ("£40", "40", False),
            ("5 %", "5", True),
            ("5%", "5", True),
            ("5 percent", "5", True),
            ("−3.5 m", "-3.5", False),
            ("1,250 t", "1250", False),
            ("2 hours", "2", False),
        ]:
            with self.subTest(text):
                (value,) = stated_values(f"It is {text} now.")
                self.assertEqual((str(value.number), value.percent), (number, percent))
                self.assertEqual((value.text, value.small_count), (text, False))

    def test_only_bare_counts_and_numbering_are_left_out(self) -> None:
        found = judged("1. first\n2) second, 3 berths and 10 vessels")
        self.assertEqual((found.values, found.small_counts), ([], 2))
        self.assertEqual(judged("0 vessels").small_counts, 1)
        found = judged("3 m, 11 vessels, 2.5 berths", context="3 11 2.5")
        self.assertEqual([v.text for v in found.values], ["3 m", "11", "2.5"])
        self.assertEqual(found.small_counts, 0)

    @given(st.text("0123456789., %€£mk-:\n", max_size=40))
    def test_values_stand_where_they_are_said_to(self, text: str) -> None:
        for value in stated_values(text):
            self.assertEqual(text[value.start : value.start + len(value.text)], value.text)


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
                self.assertEqual(set(origins(said, context=source).values()), {wanted})

    def test_the_clocks_date_is_known(self) -> None:
        self.assertEqual(set(origins("Today is 14 July 2031.").values()), {"copied"})


TONS = {"rows": [{"t": 1210.5, "imo": "9471102"}, {"t": 2077}, {"t": 3301.5}, {"t": 4400}]}


class OfOneList(unittest.TestCase):
    """Sum 10,989; mean 2,747.25; median (2,077 + 3,301.5) / 2 = 2,689.25; range 3,189.5."""

    def test_each_way(self) -> None:
        for said, wanted in [
            ("10,989 t", "derived"),
            ("2,747.25 t", "derived"),
            ("2,689.25 t", "derived"),
            ("3,189.5 t", "derived"),
            ("10,988 t", "unsupported"),
        ]:
            with self.subTest(said):
                self.assertEqual(set(origins(said, TONS).values()), {wanted})

    def test_the_count_of_a_list(self) -> None:
        rows = {"rows": [{"code": f"N{n}"} for n in range(37)]}
        self.assertEqual(origins("37 berths", rows), {"37": "derived"})
        self.assertEqual(origins("38 berths", rows), {"38": "unsupported"})

    def test_columns_of_a_table_in_text(self) -> None:
        table = "| berth | metres |\n|---|---|\n| N1 | 1210 |\n| N2 | 2077 |\n| S1 | 3300 |"
        self.assertEqual(origins("6,587 m", table), {"6,587 m": "derived"})
        self.assertEqual(origins("6,588 m", table), {"6,588 m": "unsupported"})
        comma = "day,t\n14,1210\n15,2077\n16,3300"
        self.assertEqual(origins("6587 t", comma), {"6587 t": "derived"})

    def test_elements_of_a_list_of_numbers(self) -> None:
        self.assertEqual(origins("6,587 t", {"t": [1210, 2077, 3300]}), {"6,587 t": "derived"})


class OfTwo(unittest.TestCase):
    def test_of_one_kind_in_two_results(self) -> None:
        """7,412 + 2,077 = 9,489; − 5,335; × 15,394,724; ÷ 3.569 (0.280)."""
        for said in ("9489", "5,335", "15,394,724", "3.57", "0.28"):
            self.assertEqual(
                set(origins(f"{said} t", {"gross": 7412}, {"gross": 2077}).values()),
                {"derived"},
                said,
            )

    def test_of_one_record(self) -> None:
        self.assertEqual(origins("5,335 t", {"gross": 7412, "net": 2077}), {"5,335 t": "derived"})

    def test_not_of_two_kinds_in_two_records(self) -> None:
        self.assertEqual(
            origins("9,489", {"gross": 7412}, {"crew": 2077}), {"9,489": "unsupported"}
        )
        other = {"a": {"gross": 7412}, "b": {"crew": 2077}}
        self.assertEqual(origins("9,489", other), {"9,489": "unsupported"})

    def test_of_the_users_words(self) -> None:
        self.assertEqual(origins("9,489", user="Add 7412 and 2077."), {"9,489": "derived"})

    def test_of_the_users_number_and_one_found_anywhere(self) -> None:
        fare = {"fare": 412.5}
        self.assertEqual(origins("£5,775 in all", fare, user="14 people"), {"£5,775": "derived"})
        found = origins("£5,775 in all", fare, {"people": 14})
        self.assertEqual(found, {"£5,775": "unsupported"})

    def test_numbers_inside_codes_and_dates_are_no_values(self) -> None:
        self.assertEqual(origins("550 t", user="BK500 and BK50"), {"550 t": "unsupported"})


class InPercent(unittest.TestCase):
    def test_growth_within_a_record_whose_keys_differ_by_a_number(self) -> None:
        record = {"y2029": 45000, "y2030": 48900}  # 100 · 3,900 / 45,000 = 8.67
        self.assertEqual(origins("It grew by 8.67 %.", record), {"8.67 %": "derived"})
        self.assertEqual(origins("It grew by 8.67.", record), {"8.67": "unsupported"})
        words = {"before": 45000, "after": 48900}
        self.assertEqual(origins("It grew by 8.67 %.", words), {"8.67 %": "derived"})
        # Of keys that differ otherwise only the share is natural: 100 · 48,900 / 45,000.
        other = {"crane": 45000, "quay": 48900}
        self.assertEqual(origins("8.67 %", other), {"8.67 %": "unsupported"})
        self.assertEqual(origins("108.67 %", other), {"108.67 %": "derived"})

    def test_shares_of_one_kind_and_of_a_lists_sum(self) -> None:
        """1,210.5 ÷ 4,400 = 27.51 %; of the sum 10,989: 11.02 %."""
        self.assertEqual(origins("27.51 %", TONS), {"27.51 %": "derived"})
        self.assertEqual(origins("11.02 %", TONS), {"11.02 %": "derived"})
        self.assertEqual(origins("11.02 t", TONS), {"11.02 t": "unsupported"})

    def test_a_number_with_percent_is_never_a_sum(self) -> None:
        self.assertEqual(origins("9,489 %", {"gross": 7412}, {"gross": 2077}),
                         {"9,489 %": "unsupported"})  # fmt: skip

    def test_percentages_have_means_and_points_in_percent(self) -> None:
        rows = {"r": [{"load_percent": 61.25}, {"load_percent": 48.5}, {"load_percent": 90}]}
        self.assertEqual(origins("66.58 %", rows), {"66.58 %": "derived"})  # 199.75 / 3
        self.assertEqual(origins("12.75 %", rows), {"12.75 %": "derived"})  # 61.25 − 48.5
        self.assertEqual(origins("12.75", rows), {"12.75": "unsupported"})
        table = "berth;load\nN1;61.25 %\nN2;48.5 %\nS1;90 %"
        self.assertEqual(origins("66.58 %", table), {"66.58 %": "derived"})


class Lists(unittest.TestCase):
    """How each figure of a list is worked out, by its own words."""

    def how(self, said: str, values: list[float]) -> str | None:
        """How a number comes from a list of records, of which no two are combined in it."""
        (value,) = judged(said, {"rows": [{"load": v} for v in values]}).values
        return value.how

    def test_each_figure(self) -> None:
        loads = [1013.0, 20117.0, 2039.0, 4021.5]  # median (2,039 + 4,021.5) / 2
        for said, words in (
            ("27190.5 t", "the sum of 4 values"), ("6797.625 t", "the mean of 4 values"),
            ("3030.25 t", "the median of 4 values"), ("19104 t", "the range of 4 values"),
        ):  # fmt: skip
            self.assertEqual(self.how(said, loads), words)
        odd = [*loads, 90001.0]
        self.assertEqual(self.how("the median is 4021.5 t", odd), None)  # it is a value itself
        self.assertEqual(self.how("88988 t", odd), "the range of 5 values")

    def test_the_chance_of_a_negative_number_counts_negative_ones(self) -> None:
        (value,) = judged("-30 t", {"t": [20, 50]}).values
        # Of −30, −2 digits: only 20 − 50.
        self.assertEqual(value.chance, round(1 / 90, 6))


class Doubt(unittest.TestCase):
    def test_chance_is_the_share_of_numbers_of_the_form(self) -> None:
        """Of 20 and 50 there are 70, 30, 1000, 2.5 and 0.4; of two digits 70 and 30: 2 of 90."""
        (value,) = judged("70 t", {"t": [20, 50]}).values
        self.assertEqual(value.origin, "derived")
        # Their sum, mean 35, median 35, count 2, range 30, and 70, ±30, 1000, 0.4, 2.5: the
        # distinct ones of two digits are 70, 35 and 30.
        self.assertEqual(value.chance, round(3 / 90, 6))

    def test_where_many_numbers_fit_it_says_nothing(self) -> None:
        rows = {"t": [11, 13, 17, 19, 23, 29, 31, 37, 41, 43]}
        (value,) = judged("72 t", rows).values
        self.assertEqual(value.origin, "doubtful")
        assert value.chance is not None and value.how is not None
        self.assertGreater(value.chance, 0.05)

    def test_a_number_that_cannot_be_worked_out_stays_unsupported(self) -> None:
        rows = {"t": [11, 13, 17, 19, 23, 29, 31, 37, 41, 43]}
        self.assertEqual(origins("7,211 t", rows), {"7,211 t": "unsupported"})

    def test_few_invented_percentages_hold(self) -> None:
        """Twelve months of a harbour: of invented percentages hardly one is taken for worked out
        without doubt, and the true growth is."""
        months = {f"m{n}": v for n, v in enumerate((4120, 3985, 4410, 4655, 4502, 4790), 1)}
        invented = [f"{n / 10:.1f} %" for n in range(113, 1003, 10)]
        found = [origins(f"It is {text}.", months)[text] for text in invented]
        self.assertEqual(len(found), 89)
        self.assertLess(found.count("derived"), 9)
        self.assertEqual(origins("10.66 %", months), {"10.66 %": "derived"})  # m2 to m3

    @given(st.lists(st.integers(11, 10**6), min_size=2, max_size=9))
    def test_a_chance_is_a_share_and_sums_are_found(self, values: list[int]) -> None:
        total = sum(values)
        for value in judged(f"{total} t", {"t": values}).values:
            self.assertNotEqual(value.origin, "unsupported")
            if value.chance is not None:
                self.assertTrue(0 <= value.chance <= 1)
                self.assertEqual(value.origin == "doubtful", value.chance > 0.05)


class Gathering(unittest.TestCase):
    def test_what_numbers_have_in_common(self) -> None:
        numbers = numbers_of(
            ["5 of 7"], [], [{"a": 1, "b": 2.5, "in": [{"a": 3}, {"a": 4}]}, "8 t"]
        )
        self.assertEqual([str(n.value) for n in numbers.user], ["5", "7"])
        self.assertEqual([str(n.value) for n in numbers.kinds["a"]], ["1", "3", "4"])
        self.assertEqual([[str(n.value) for n in one] for one in numbers.lists], [["3", "4"]])
        self.assertEqual([[n.key for n in one] for one in numbers.records], [["a", "b"]])
        self.assertEqual(len(numbers.everywhere), 7)

    def test_rubbish_is_survived(self) -> None:
        nan, inf = float("nan"), float("inf")
        numbers_of(["x"], ["|||\n||\n|"], [{"a": nan, "b": [inf, True, None]}, [[[]]], "1|2\n3|4"])

    @given(
        st.recursive(
            st.none() | st.integers() | st.floats() | st.text(max_size=6),
            lambda x: st.lists(x, max_size=4) | st.dictionaries(st.text(max_size=3), x),
        )
    )
    def test_any_result_can_be_drawn_on(self, result: Any) -> None:
        judged("It is 12.5 % of 40 m.", result)


class Scored(unittest.TestCase):
    SPEC = {"answer": [{"values": "supported"}]}

    def test_values_are_looked_for_in_what_came_before(self) -> None:
        spec = script(self.SPEC)
        window = call("c1", "tides/tide_window", 1, result={"opens": "14:10", "m": 7.4})
        good = score_trial(spec, trace(turn(), window, reply(2, "N1 for 9471102 at 14:10, 7.4 m.")))
        self.assertIs(checks(good)["answer.0"], True)
        bad = score_trial(spec, trace(turn(), window, reply(2, "2 tries: N1 at 14:10, S2, 8.5 m.")))
        self.assertEqual(
            find(bad, "answer.0")["message"],
            '4 values looked at; 1 small count left out; from nothing that was seen: "S2", "8.5 m"',
        )

    def test_error_messages_and_instructions_count_too(self) -> None:
        error = {"kind": "tool_error", "message": "No vessel with IMO 9999999."}
        failed = call("c1", "tides/tide_window", 1, error=error)
        traced = trace(turn(), failed, reply(2, "9999999 is unknown; ask channel 12."))
        self.assertIs(checks(score_trial(script(self.SPEC), traced))["answer.0"], False)
        traced["instructions"] = "The duty officer listens on channel 12."
        self.assertIs(checks(score_trial(script(self.SPEC), traced))["answer.0"], True)

    def test_doubt_does_not_fail_unless_it_must(self) -> None:
        many = call("c1", "tides/tide_window", 1, result={"t": [11, 13, 17, 19, 23, 29, 31, 37]})
        traced = trace(turn(), many, reply(2, "It is 54 t."))
        loose = find(score_trial(script(self.SPEC), traced), "answer.0")
        self.assertIs(loose["passed"], True)
        self.assertIn("in doubt: 54 t (worked out as", loose["message"])
        self.assertRegex(loose["message"], r"but so would be \d+ % of such numbers\)")
        strict = score_trial(script({"answer": [{"values": "strict"}]}), traced)
        self.assertIs(checks(strict)["answer.0"], False)


class OneDocument(unittest.TestCase):
    """`data`, `claims_tools` and `json` read the same: data, else the text, else its one block."""

    CHECKS = [
        {"data": "$.used[0]", "is": "tide_window"},
        {"claims_tools": "$.used"},
        {"json": {"type": "object", "required": ["used"]}},
    ]

    def judged(self, text: str, data: Any = None) -> list[bool | None]:
        used = call("c1", "tides/tide_window", 1)
        result = score_trial(
            script({"answer": self.CHECKS}), trace(turn(), used, reply(2, text, data))
        )
        return [c["passed"] for c in result["checks"] if c["family"] == "outcome"]

    def test_each_place(self) -> None:
        document = '{"used": ["tide_window"]}'
        for text, data in [
            ("Done.", {"used": ["tide_window"]}),
            (document, None),
            (f"Here:\n```json\n{document}\n```\nThat is all.", None),
        ]:
            self.assertEqual(self.judged(text, data), [True, True, True], text)

    def test_none(self) -> None:
        self.assertEqual(self.judged("Done."), [False, False, False])
        two = '```\n{"used": []}\n```\n```\n{"used": []}\n```'
        self.assertEqual(self.judged(two), [False, False, False])


class Places(unittest.TestCase):
    """Where a value is from, by name."""

    def test_each_text_has_a_name(self) -> None:
        brought = (CallOutput("c1", "14:10", "14:10"), CallOutput("c2", "7.4", 7.4))
        sources = Sources(CLOCK, ("Book N1.", "Now."), ("Be brief.", "2031-07-14"), brought)
        self.assertEqual(
            [sources.place_name(place) for place in range(len(sources.texts))],
            ["user", "user", "instructions", "clock", "c1", "c2"],
        )

    def test_only_what_came_before_the_reply(self) -> None:
        events = [
            turn(),
            call("c1", "tides/high_water", 1, result="8.1 m"),
            reply(2, "It is 8.1 m."),
        ]
        later = call("c2", "tides/high_water", 3, result="8.2 m")
        spec = script({"answer": [{"values": "supported"}]})
        self.assertIs(checks(score_trial(spec, trace(*events, later)))["answer.0"], True)
        early = [turn(), reply(2, "It is 8.2 m."), later]
        self.assertIs(checks(score_trial(spec, trace(*early)))["answer.0"], False)


class TooMuch(unittest.TestCase):
    """What is too much to look through is not tested; up to there it is."""

    def bounded(self, name: str, most: int) -> None:
        with mock.patch.object(support, name, most):
            judged("70 m and 80 m", "70 and 80")
        with mock.patch.object(support, name, most - 1), self.assertRaises(GivenUp):
            judged("70 m and 80 m", "70 and 80")

    def test_a_reply(self) -> None:
        self.bounded("LONGEST_REPLY", len("70 m and 80 m"))

    def test_what_it_may_draw_on(self) -> None:
        self.bounded("MOST_READ", len("70 and 80") + len("2031-07-14"))

    def test_comparisons(self) -> None:
        numbers = sum(map(len, Sources(CLOCK, ("",), ("", "2031-07-14"), (
            CallOutput("c0", "70 and 80", "70 and 80"),)).numbers_written))  # fmt: skip
        self.bounded("MOST_COMPARED", 2 * numbers)


class Rounding(unittest.TestCase):
    def test_a_result_may_be_told_without_its_decimals(self) -> None:
        berth = {"a": 10.5, "b": 2.25}
        self.assertEqual(origins("It is 8 m.", berth), {"8 m": "doubtful"})
        self.assertEqual(origins("It is 8.3 m.", berth), {"8.3 m": "derived"})
        self.assertEqual(origins("It is 8.35 m.", berth), {"8.35 m": "unsupported"})

    def test_chance_counts_results_with_as_many_digits_before_the_point(self) -> None:
        (value,) = judged("It is 8.25 m.", {"a": 10.5, "b": 2.25}).values
        assert value.chance is not None
        # 8.25, and the ratios 4.67 and 0.21, of the 1,000 numbers from 0.00 to 9.99.
        self.assertEqual((value.origin, value.chance), ("derived", 0.003))
