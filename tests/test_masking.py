"""Credentials masked: known values wherever they stand, and fields named like one."""

from __future__ import annotations

import json
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.masking import MASK, Masker

KEY = "gull-7"
"""Six characters: the shortest that is looked for."""


class Known(unittest.TestCase):
    def test_a_secret_of_six_characters_is_masked_and_a_shorter_one_is_a_word(self) -> None:
        self.assertEqual(Masker([KEY]).mask(f"key {KEY}!"), f"key {MASK}!")
        self.assertEqual(Masker(["gull7"]).mask("key gull7!"), "key gull7!")

    def test_the_longer_of_two_that_begin_alike_is_masked_whole(self) -> None:
        masker = Masker([KEY, f"{KEY}-harbour"])
        self.assertEqual(masker.mask(f"{KEY}-harbour, {KEY}"), f"{MASK}, {MASK}")

    def test_in_keys_lists_and_json_in_text(self) -> None:
        masker = Masker([KEY], names=False)
        self.assertEqual(masker.mask({KEY: [KEY, 7, None]}), {MASK: [MASK, 7, None]})
        inside = masker.mask(json.dumps({"a": [KEY], "b": "ä"}))
        self.assertEqual(json.loads(inside), {"a": [MASK], "b": "ä"})
        # Found inside by its name, which a look at the text alone would not.
        named = Masker([], names=True).mask('{"password": "swordfish", "berth": "N1"}')
        self.assertEqual(json.loads(named), {"password": MASK, "berth": "N1"})
        self.assertEqual(masker.mask(f"[{KEY}"), f"[{MASK}")

    @given(st.recursive(st.none() | st.integers() | st.text("gul-7x", max_size=8),
                        lambda x: st.lists(x, max_size=3) | st.dictionaries(st.text(max_size=3), x),
                        max_leaves=6))  # fmt: skip
    def test_no_known_value_is_left(self, value: Any) -> None:
        self.assertNotIn(KEY, json.dumps(Masker([KEY], names=False).mask(value)))


class Named(unittest.TestCase):
    def test_fields_by_their_names(self) -> None:
        masker = Masker()
        for name in ("password", "api_key", "apiKey", "X-Api-Key", "session_token", "db_secret"):
            with self.subTest(name):
                self.assertEqual(masker.mask({name: "tide"}), {name: MASK})
                self.assertEqual(masker.mask({name: 7}), {name: MASK})
        for name in ("progress_token", "nextPageToken", "keys", "tokens", "secretary"):
            with self.subTest(name):
                self.assertEqual(masker.mask({name: "tide"}), {name: "tide"})

    def test_what_holds_no_credential_stays(self) -> None:
        value = {"password": "", "secret": True, "token": None, "credentials": {"user": "x"}}
        self.assertEqual(Masker().mask(value), value)
        self.assertEqual(Masker(names=False).mask({"password": "tide"}), {"password": "tide"})
