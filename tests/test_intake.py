"""The door: what it lets through unchanged, what it refuses and where, what it replaces."""

from __future__ import annotations

import json
import re
import unittest
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from hypothesis import given
from hypothesis import strategies as some

from ferox.intake.files import read_text, write_whole
from ferox.intake.json_text import read_json, read_json_noting
from ferox.intake.limits import GivenUp, IntakeError, Limits, check_value, storable_json
from ferox.intake.patterns import HEAVIEST, PatternError, compile_pattern
from ferox.intake.visible import visible_json, visible_text
from ferox.intake.yaml_text import read_yaml_text
from ferox.web.trials.shortened import DEEPEST, LONGEST_TEXT, shorten_value

LEAVES = (
    some.none()
    | some.booleans()
    | some.integers(-(10**20), 10**20)
    | some.floats(allow_nan=False, allow_infinity=False)
    | some.text()
)
JSON = some.recursive(
    LEAVES, lambda v: some.lists(v, max_size=4) | some.dictionaries(some.text(), v, max_size=4)
)
SIGNS = some.text(some.characters(codec=None, categories=["L", "N", "P", "S", "Z", "C"]))
"""Texts of any characters, halves of some among them."""


STEERING = "[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069\ud800-\udfff]"


class Json(unittest.TestCase):
    @given(JSON)
    def test_what_is_within_the_limits_comes_through_as_it_is(self, value: Any) -> None:
        for ascii_only in (True, False):
            self.assertEqual(read_json(json.dumps(value, ensure_ascii=ascii_only)), value)

    def test_an_error_says_where(self) -> None:
        for text, words in (
            ('{"a": 1,\n "b": x}', "line 2, column 7: no JSON"), (b'"\xff"', "no UTF-8 at byte 2"),
            ("[[[1]]]", "more than 2 levels"), ("[1, 2, 3, 4]", "more than 4 values"),
            ("12345", "more than 4 digits"), ("  12345678901234567  ", "more than 20 bytes"),
        ):  # fmt: skip
            with self.subTest(text), self.assertRaisesRegex(IntakeError, words):
                read_json(text, Limits(max_bytes=20, max_depth=2, max_nodes=4, max_digits=4))
        read_json("[[1, 2]]", Limits(max_depth=2, max_nodes=4, max_digits=4))

    def test_no_way_of_writing_passes_the_limits(self) -> None:
        for text, words in (
            ("[1e400]", "inf is not a JSON number"), ("-1E+999", "-inf is not"),
            (f"{'9' * 200}.5e270", "inf is not"), ("[NaN]", "nan is not"),
            ("-Infinity", "-inf is not"), ("[" * 102 + "]" * 102, "more than 100 levels"),
            ('{"a":' * 101 + "1" + "}" * 101, "more than 100 levels"),
            (f"[{'1' * 101}]", "more than 100 digits"),
        ):  # fmt: skip
            for written in (text, text.encode(), text.encode("utf-16"), text.encode("utf-32-le")):
                with self.subTest(written), self.assertRaisesRegex(IntakeError, words):
                    read_json(written)
        with self.assertRaisesRegex(IntakeError, "more than 9 values"):
            read_json("[1, 2, 3, 4, 5, 6, 7, 8, 9]", Limits(max_nodes=9))
        for fine in ('["1e400", "NaN", "\\u0000"]', f"[{'1' * 100}]", "[" * 100 + "]" * 100):
            self.assertEqual(read_json(fine), json.loads(fine))

    def test_halves_of_characters_are_replaced_and_noted_and_pairs_are_not(self) -> None:
        self.assertEqual(read_json_noting('{"\\ud800": ["x\\udfff"]}'), ({"�": ["x�"]}, True))
        self.assertEqual(read_json_noting('"\\ud83d\\ude00"'), ("😀", False))

    @given(some.dictionaries(SIGNS, SIGNS | some.lists(SIGNS)))
    def test_what_is_made_storable_can_be_stored(self, value: Any) -> None:
        made = storable_json(value)
        json.dumps(made, ensure_ascii=False).encode()
        try:
            json.dumps(value, ensure_ascii=False).encode()
        except UnicodeEncodeError:
            self.assertNotEqual(made, value)
        else:
            self.assertIs(made, value)

    def test_depth_counts_what_stands_inside(self) -> None:
        value: Any = 1
        for _ in range(3):
            value = [value]
        check_value(value, Limits(max_depth=3))
        with self.assertRaises(IntakeError):
            check_value([value], Limits(max_depth=3))


class Yaml(unittest.TestCase):
    @given(JSON.filter(lambda v: v is not None))
    def test_json_is_yaml_with_a_place_for_each_value(self, value: Any) -> None:
        text = json.dumps(value)
        if re.search(r"\\u(d[89a-f]|00[0189]|007f|fff[ef])", text):
            return  # signs that YAML does not take
        read = read_yaml_text(text)
        if not read.faults:
            self.assertEqual(read.value, value)
            self.assertIn((), read.places)

    def test_a_fault_stands_at_its_place(self) -> None:
        for text, place in (
            ("a: 1\na: 2\n", (2, 1)), ("a:\n  b: .inf\n", (2, 3)), ("a: [1\n", (1, 4)),
            (f"a: {'9' * 101}\n", (1, 1)),
        ):  # fmt: skip
            (fault,) = read_yaml_text(text).faults
            self.assertEqual((fault.line, fault.column), place, text)


class Patterns(unittest.TestCase):
    @given(
        some.from_regex(r"[a-c.?*+|\[\](){}0-3^$\\dws-]{0,12}", fullmatch=True),
        some.text("abc012 "),
    )
    def test_they_find_what_pythons_re_finds(self, source: str, text: str) -> None:
        try:
            plain = re.compile(source)
        except (re.error, OverflowError):
            with self.assertRaises(PatternError):
                compile_pattern(source)
            return
        try:
            ours = compile_pattern(source)
        except PatternError:
            return  # heavier than anybody needs
        found = plain.search(text)
        self.assertEqual(ours.is_found_in(text), found is not None)

    def test_groups_lookaround_and_the_last_piece(self) -> None:
        self.assertEqual(
            compile_pattern(r"(?i)berth (\w+)").last_match("Berth N1, then berth N2."), "N2"
        )
        self.assertEqual(compile_pattern(r"(?<=IMO )\d{7}").first_match("IMO 9471102"), "9471102")
        self.assertIsNone(compile_pattern("x").last_match("abc"))

    def test_a_search_that_runs_wild_is_given_up_on_a_short_text_too(self) -> None:
        for source in ("^(a|aa)+$", "(?x)^(a|aa) +$", "^(a|aa)(?#again)+$", "^(?:a|aa){9,}$"):
            with self.subTest(source), self.assertRaises(GivenUp):
                compile_pattern(source).first_match("a" * 60 + "!")

    def test_counts_as_people_write_them_are_light(self) -> None:
        for source in (
            r"^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}$", r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}",
            r"^(([0-9a-fA-F]{1,4}:){7}[0-9a-fA-F]{1,4}|([0-9a-fA-F]{1,4}:){1,7}:)$", "a{10000}",
            r"(?:[^\]]{2}\{3\}){100}",
        ):  # fmt: skip
            compile_pattern(source)
        with self.assertRaisesRegex(PatternError, "multiply"):
            compile_pattern(f"(?:aaaa){{{HEAVIEST}}}")


class Visible(unittest.TestCase):
    @given(SIGNS)
    def test_nothing_that_steers_is_left(self, text: str) -> None:
        shown = visible_text(text)
        self.assertNotRegex(
            shown, "[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069\ud800-\udfff]"
        )
        self.assertEqual(visible_text(shown), shown)

    def test_how_it_is_shown(self) -> None:
        self.assertEqual(visible_text("a\x1b[2J\tb\nc\u202ed\r"), "a␛[2J\tb\nc⟨U+202E⟩d␍")
        self.assertEqual(visible_text("Größe 7 m, 北 😀"), "Größe 7 m, 北 😀")

    @given(some.dictionaries(some.text(), some.text()))
    def test_json_reads_back_the_same(self, value: dict[str, str]) -> None:
        shown = visible_json(json.dumps(value, ensure_ascii=False))
        self.assertEqual(json.loads(shown), value)
        self.assertNotRegex(shown, STEERING)


class Files(unittest.TestCase):
    def test_a_write_that_fails_changes_nothing(self) -> None:
        with TemporaryDirectory() as folder:
            path = Path(folder, "a.txt")
            write_whole(path, lambda file: file.write("before"))

            def fails(file: Any) -> None:
                file.write("half")
                raise OSError(28, "No space left on device")

            with self.assertRaises(OSError):
                write_whole(path, fails)
            self.assertEqual(read_text(path), "before")
            self.assertEqual([p.name for p in Path(folder).iterdir()], ["a.txt"])
            with self.assertRaisesRegex(IntakeError, "larger than 3 bytes"):
                read_text(path, 3)
            with self.assertRaisesRegex(IntakeError, "not an ordinary file"):
                read_text(Path(folder))


class Cutting(unittest.TestCase):
    @given(JSON)
    def test_what_fits_is_whole(self, value: Any) -> None:
        kept, short = shorten_value(value, 10**6)
        self.assertEqual((kept, short), (value, False))
        kept, short = shorten_value(value, 20)
        self.assertTrue(short or kept == value)

    def test_long_wide_and_deep(self) -> None:
        text, short = shorten_value("x" * 50_000, 10**6)
        self.assertEqual(text, "x" * LONGEST_TEXT + "… (50,000 characters in all)")
        self.assertTrue(short)
        wide, short = shorten_value(list(range(10**5)), 2_000)
        self.assertTrue(short and len(wide) <= 250)
        deep: Any = 1
        for _ in range(500):
            deep = {"a": deep}
        kept, short = shorten_value(deep, 10**6)
        self.assertTrue(short)
        self.assertLess(json.dumps(kept).count("{"), DEEPEST + 1)
        image = {"type": "image", "mimeType": "image/png", "data": "x" * 100_000}
        self.assertEqual(shorten_value([image], 10**6), ([image], False))
