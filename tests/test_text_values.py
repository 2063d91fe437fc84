"""Values taken from results that are text: pieces, columns, patterns; matched, each, mentioned."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.matcher import MatcherError
from ferox.core.matchers import compile_matcher
from ferox.core.text_tables import table_column
from ferox.core.value_sources import read_source
from ferox.intake.limits import GivenUp
from tests.traces import call, checks, find, judged, reply, turn

LISTING = """Berths of Skerrow Sound

- N1 for MV Calder Finch (IMO 9471102)
- N2 for MV Tern (IMO 9000001)
* S4, empty

Charts: https://charts.example/n1 and https://charts.example/n2."""
TABLE = """Vessels today:

| IMO     | Name       |
|---------|------------|
| 9471102 | MV Finch   |
| 9000001 | MV Tern    |
"""


def pieces(result: Any, **spec: str) -> list[Any]:
    return read_source({"from": "found", **spec}).nodes(result)


class Pieces(unittest.TestCase):
    def test_lines_items_and_links(self) -> None:
        self.assertEqual(pieces("a\n\n  b \n", of="lines"), ["a", "b"])
        self.assertEqual(
            pieces(LISTING, of="items"),
            ["N1 for MV Calder Finch (IMO 9471102)", "N2 for MV Tern (IMO 9000001)", "S4, empty"],
        )
        self.assertEqual(
            pieces(LISTING, of="links"), ["https://charts.example/n1", "https://charts.example/n2"]
        )
        self.assertEqual(pieces("1. one\n2) two\nthree", of="items"), ["one", "two"])

    def test_a_pattern_gives_its_first_group_or_all_it_fits(self) -> None:
        self.assertEqual(pieces(LISTING, pattern=r"IMO (\d{7})"), ["9471102", "9000001"])
        self.assertEqual(pieces(LISTING, pattern=r"\b[NS]\d\b"), ["N1", "N2", "S4"])
        self.assertEqual(pieces(LISTING, of="items", pattern=r"^(S\d)|^(N\d)"), ["N1", "N2", "S4"])
        self.assertEqual(pieces("abc", pattern="x*"), [])

    def test_a_column_of_a_table(self) -> None:
        self.assertEqual(pieces(TABLE, column="imo"), ["9471102", "9000001"])
        self.assertEqual(table_column("berth,depth\nN1,9.5\n", "Depth"), ["9.5"])
        self.assertEqual(pieces(TABLE, column="flag"), [])

    def test_texts_within_json(self) -> None:
        result = {"pages": [{"text": "BK1 and BK2"}, {"text": "BK3", "n": 4}]}
        self.assertEqual(pieces(result, path="$.pages[*].text", pattern=r"BK\d"),
                         ["BK1", "BK2", "BK3"])  # fmt: skip
        self.assertEqual(pieces(result, pattern=r"\d"), ["1", "2", "3", "4"])
        self.assertEqual(pieces(None, of="lines"), [])

    def test_what_cannot_be_understood_is_refused(self) -> None:
        for spec in ({"of": "words"}, {"pattern": "("}, {"path": "$["}, {"path": 3}):
            with self.subTest(spec), self.assertRaises(ValueError):
                compile_matcher({"from": "found", **spec})
        with self.assertRaises(MatcherError):
            compile_matcher({"day": {"from": "found"}})

    def test_too_many_pieces_are_given_up(self) -> None:
        with self.assertRaises(GivenUp):
            pieces("x\n" * 20_000, of="lines")

    @given(st.lists(st.text("abcdefgh ", min_size=1).filter(str.strip), max_size=6))
    def test_the_lines_of_a_list_are_its_items(self, words: list[str]) -> None:
        text = "\n".join(f"- {word}" for word in words)
        self.assertEqual(pieces(text, of="items"), [word.strip() for word in words])


class InACall(unittest.TestCase):
    """Calls whose arguments stand in an earlier result's text."""

    def args_of(self, given_arg: Any, spec: dict[str, Any]) -> bool | None:
        expect = {
            "calls": [
                {"as": "found", "tool": "harbour/list_berths"},
                {"as": "details", "tool": "harbour/vessel_details", "args": {"imo": spec}},
            ]
        }
        calls = [
            call("c1", "harbour/list_berths", 1, result=LISTING),
            call("c2", "harbour/vessel_details", 2, {"imo": given_arg}),
        ]
        return checks(judged(expect, turn(), *calls, reply(3)))["details.args.imo"]

    def test_an_argument_that_a_pattern_found(self) -> None:
        spec = {"from": "found", "pattern": r"IMO (\d{7})"}
        self.assertIs(self.args_of("9000001", spec), True)
        self.assertIs(self.args_of("9999999", spec), False)

    def test_a_number_is_found_as_text(self) -> None:
        spec = {"from": "found", "pattern": r"IMO (\d{7})"}
        self.assertIs(self.args_of(9000001, spec), True)
        self.assertIs(self.args_of(True, {"from": "found", "pattern": "1"}), False)

    def test_a_value_of_json_is_not_loosely_equal(self) -> None:
        self.assertIs(self.args_of(9000001, {"from": "found", "path": "$"}), False)

    def test_each_piece_expects_a_call(self) -> None:
        each = {"from": "found", "of": "items", "pattern": r"IMO (\d{7})", "arg": "imo"}
        expect = {
            "calls": [
                {"as": "found", "tool": "harbour/list_berths"},
                {"as": "details", "tool": "harbour/vessel_details", "each": each},
            ]
        }
        listed = call("c1", "harbour/list_berths", 1, result=LISTING)
        one = call("c2", "harbour/vessel_details", 2, {"imo": "9471102"})
        two = call("c3", "harbour/vessel_details", 3, {"imo": 9000001})
        both = judged(expect, turn(), listed, one, two, reply(4))
        self.assertEqual((both["verdict"], both["scores"]["choice"]), ("pass", 1.0))
        lacking = judged(expect, turn(), listed, one, reply(4))
        self.assertEqual((lacking["verdict"], lacking["scores"]["choice"]), ("fail", 0.8))


class Mentions(unittest.TestCase):
    """What an answer mentions of a text: every value, some of them, none but these."""

    def mentioned(self, said: str, **spec: Any) -> tuple[bool | None, str]:
        source = {"from": "found", "pattern": r"https?://\S+/n\d"}
        expect = {
            "calls": [{"as": "found", "tool": "harbour/list_berths"}],
            "answer": [{"mentions": source, **spec}],
        }
        listed = call("c1", "harbour/list_berths", 1, result=LISTING)
        check = find(judged(expect, turn(), listed, reply(2, said)), "answer.0")
        return check["passed"], check["message"]

    def test_every_one(self) -> None:
        both = "See https://charts.example/n1 and https://charts.example/n2."
        self.assertIs(self.mentioned(both)[0], True)
        passed, message = self.mentioned("See https://charts.example/n1.")
        self.assertIs(passed, False)
        self.assertIn('"https://charts.example/n2"', message)

    def test_at_least_some(self) -> None:
        self.assertIs(self.mentioned("See https://charts.example/n2.", at_least=1)[0], True)
        passed, message = self.mentioned("See the charts.", at_least=1)
        self.assertIs(passed, False)
        self.assertIn("0 of 2, and 1 are wanted", message)

    def test_none_but_these(self) -> None:
        some = {"at_least": 0, "only": True}
        self.assertIs(self.mentioned("See https://charts.example/n1", **some)[0], True)
        self.assertEqual(self.mentioned("See the charts.", **some)[1],
                         "the answer mentions nothing of this kind")  # fmt: skip
        passed, message = self.mentioned("See https://elsewhere.example/n1", **some)
        self.assertIs(passed, False)
        self.assertIn('"https://elsewhere.example/n1" too', message)

    def test_all_of_them_and_no_others(self) -> None:
        both = "https://charts.example/n1 https://charts.example/n2"
        self.assertIs(self.mentioned(both, only=True)[0], True)
        self.assertIs(self.mentioned("https://charts.example/n1", only=True)[0], False)
        self.assertIs(self.mentioned(f"{both} http://x.example/n3", only=True)[0], False)

    def test_links_numbers_and_times_of_the_answer_are_known_by_themselves(self) -> None:
        def said(words: str, wanted: Any, **spec: Any) -> bool | None:
            expect = {"answer": [{"mentions": wanted, "only": True, **spec}]}
            return checks(judged(expect, turn(), reply(2, words)))["answer.0"]

        self.assertIs(said("7.40 m and 8 m", [7.4, 8], **{"as": "number"}), True)
        self.assertIs(said("7.4 m, 8 m and 12 m", [7.4, 8], **{"as": "number"}), False)
        self.assertIs(said("at 2:10 pm", ["14:10"], **{"as": "time"}), True)
        self.assertIs(said("at 14:10 or 15:10", ["14:10"], **{"as": "time"}), False)

    def test_order_is_that_of_the_mentioned_ones(self) -> None:
        back = "https://charts.example/n2 https://charts.example/n1"
        self.assertIs(self.mentioned(back, in_order=True)[0], False)
        self.assertIs(self.mentioned("https://charts.example/n2", at_least=1, in_order=True)[0],
                      True)  # fmt: skip
