"""Which calls are attempts, extra or replacements, and what a matcher may look at."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.core.scoring import score_trial
from tests.traces import call, checks, failed, find, judged, reply, script, trace, turn

WINDOW, HIGH, BOOK = "tides/tide_window", "tides/high_water", "harbour/assign_berth"


class Attempts(unittest.TestCase):
    EXPECT = {"calls": [{"as": "w", "tool": WINDOW}], "others": "counted"}

    def test_a_failure_before_the_matched_call_is_an_attempt_at_it(self) -> None:
        result = judged(self.EXPECT, failed("c1", WINDOW, 1), call("c2", WINDOW, 2))
        self.assertEqual((result["attempts"], result["extra"]), ({"w": ["c1"]}, []))

    def test_a_failure_after_one_that_failed_too_is_an_attempt(self) -> None:
        result = judged(self.EXPECT, failed("c1", WINDOW, 1), failed("c2", WINDOW, 2))
        self.assertEqual((result["matched"], result["extra"]), ({"w": ["c1"]}, []))
        self.assertEqual(result["attempts"], {"w": ["c2"]})

    def test_a_failure_after_a_good_one_is_extra(self) -> None:
        result = judged(self.EXPECT, call("c1", WINDOW, 1), failed("c2", WINDOW, 2))
        self.assertEqual((result["attempts"], result["extra"]), ({}, ["c2"]))

    def test_a_good_call_that_is_not_the_best_is_extra_and_no_attempt(self) -> None:
        expect = {"calls": [{"as": "w", "tool": WINDOW, "args": {"day": "y"}}], "others": "counted"}
        first, best = call("c1", WINDOW, 1, {"day": "x"}), call("c2", WINDOW, 2, {"day": "y"})
        result = judged(expect, first, best)
        self.assertEqual((result["matched"], result["attempts"]), ({"w": ["c2"]}, {}))
        self.assertEqual(result["extra"], ["c1"])


class Extra(unittest.TestCase):
    def test_before_the_user_spoke_only_what_is_forbidden_counts(self) -> None:
        expect = {"calls": [], "never": [BOOK]}
        early = [call("c0", HIGH, 0.2), call("c1", BOOK, 0.4)]
        result = judged(expect, *early, turn(1), reply(2))
        self.assertEqual(result["extra"], ["c1"])


class Replaced(unittest.TestCase):
    """*X chosen where Y was expected*: a missing and an extra call in the same gap."""

    def confused(self, expect: list[str], *called: str) -> list[tuple[str, str]]:
        calls = [call(f"c{i}", tool, i) for i, tool in enumerate(called, 1)]
        result = judged({"calls": [{"tool": tool} for tool in expect]}, *calls)
        return [(c["expected"], c["chosen"]) for c in result["confusions"]]

    def test_two_in_one_gap_are_paired_in_order(self) -> None:
        found = self.confused([HIGH, WINDOW], "harbour/list_berths", BOOK)
        self.assertEqual(found, [(HIGH, "harbour/list_berths"), (WINDOW, BOOK)])

    def test_another_gap_is_no_replacement(self) -> None:
        self.assertEqual(self.confused([HIGH, WINDOW], WINDOW, BOOK), [])
        self.assertEqual(self.confused([HIGH, WINDOW], BOOK, WINDOW), [(HIGH, BOOK)])


class SeenBefore(unittest.TestCase):
    """`seen` and `from_user` look at what came before a call, and at nothing later."""

    def seen(self, *events: object) -> bool | None:
        expect = {"calls": [{"as": "b", "tool": BOOK, "args": {"berth": {"seen": True}}}]}
        return checks(judged(expect, *events))["b.args.berth"]

    def test_a_result_counts_once_it_is_there(self) -> None:
        book = call("c2", BOOK, 2, {"berth": "N7"})
        before = call("c1", "harbour/list_berths", 1, result={"free": ["N7"]})
        self.assertIs(self.seen(turn(), before, book, reply(3)), True)
        beside = {**before, "s": 5.0}  # it ends while the booking is already on its way
        self.assertIs(self.seen(turn(), beside, book, reply(9)), False)
        self.assertIs(self.seen(turn(), book, {**before, "t": 3}, reply(4)), False)

    def test_words_count_once_they_were_said(self) -> None:
        expect = {"calls": [{"as": "b", "tool": BOOK, "args": {"berth": {"from_user": True}}}]}
        book = call("c1", BOOK, 2, {"berth": "N7"})
        later = [turn(0, "Book one."), book, reply(3), turn(4, "I meant N7."), reply(5)]
        self.assertIs(checks(judged(expect, *later))["b.args.berth"], False)
        earlier = [turn(0, "Book N7."), book, reply(3)]
        self.assertIs(checks(judged(expect, *earlier))["b.args.berth"], True)


class EachItem(unittest.TestCase):
    def test_one_result_that_is_not_a_list_is_one_item(self) -> None:
        expect = {"calls": [
            {"as": "fleet", "tool": "harbour/list_berths"},
            {"as": "look", "tool": "harbour/vessel_details",
             "each": {"from": "fleet", "path": "$.imo", "arg": "imo"}},
        ]}  # fmt: skip
        fleet = call("c1", "harbour/list_berths", 1, result={"imo": "1"})
        look = call("c2", "harbour/vessel_details", 2, {"imo": "1"})
        self.assertEqual(judged(expect, fleet, look)["verdict"], "pass")
        self.assertIs(find(judged(expect, fleet), "look.called")["passed"], False)


class Arguments(unittest.TestCase):
    def test_arguments_besides_those_expected_are_named(self) -> None:
        expect = {"calls": [{"as": "b", "tool": BOOK, "args": {"berth": "N1"}, "only_args": True}]}
        more = judged(expect, call("c1", BOOK, 1, {"berth": "N1", "note": "x", "imo": "1"}))
        check = find(more, "b.only_args")
        self.assertEqual((check["passed"], check["message"]), (False, "also gave imo, note"))
        check = find(judged(expect, call("c1", BOOK, 1, {"berth": "N1"})), "b.only_args")
        self.assertEqual((check["passed"], check["message"]), (True, "gave nothing besides"))

    def test_a_matcher_that_is_given_up_tests_nothing(self) -> None:
        slow = {"matches": "^(a|aa)+$"}
        expect = {"calls": [{"as": "b", "tool": BOOK, "args": {"berth": slow}}]}
        check = find(judged(expect, call("c1", BOOK, 1, {"berth": "a" * 99 + "!"})), "b.args.berth")
        self.assertIsNone(check["passed"])
        self.assertIn("not tested: the pattern", check["message"])


class Order(unittest.TestCase):
    """What a chain's check says of two calls, by their moments."""

    def said(self, first: Any, second: Any) -> tuple[bool | None, str]:
        expect = {
            "calls": [{"as": "w", "tool": WINDOW}, {"as": "b", "tool": BOOK}],
            "order": [["w", "b"]],
        }
        check = find(judged(expect, first, second), "order.w.b")
        return check["passed"], check["message"]

    def test_each_way(self) -> None:
        book = call("c2", BOOK, 2)
        self.assertEqual(
            self.said(call("c1", WINDOW, 1, s=1.0), book),
            (True, "w was answered before b started"),
        )
        flying = (False, "b started while w was still in flight")
        self.assertEqual(self.said(call("c1", WINDOW, 1, s=1.5), book), flying)
        self.assertEqual(self.said(call("c1", WINDOW, 2), book), flying)
        self.assertEqual(self.said(call("c1", WINDOW, 2.1), book), (False, "b came before w"))
        never = (False, "w was never answered, so b did not come after it")
        self.assertEqual(self.said(call("c1", WINDOW, 1, s=None), book), never)


class LostPlaces(unittest.TestCase):
    def test_a_copy_that_could_not_be_seen_hides_no_replacement_behind_it(self) -> None:
        expect = {"calls": [{"tool": "own/note", "as": "n"}, {"tool": WINDOW, "as": "w"}]}
        spec = script(expect)
        result = score_trial(spec, trace(call("c1", HIGH, 1), own_seen=False))
        self.assertEqual(
            [(c["expected"], c["chosen"]) for c in result["confusions"]], [(WINDOW, HIGH)]
        )
