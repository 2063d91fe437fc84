"""Likeness of wordings: words without their endings, weighed and compared."""

from __future__ import annotations

import unittest
from collections import Counter

from ferox.core.likeness import cosine_likeness, stem_word, text_likeness, word_bag


class Words(unittest.TestCase):
    def test_the_commonest_endings_are_left_out(self) -> None:
        for word, stem in (
            ("berths", "berth"), ("bookings", "book"), ("booking", "book"), ("entries", "entry"),
            ("booked", "book"), ("reaches", "reach"), ("tide", "tide"), ("is", "is"),
            ("ring", "ring"), ("gas", "gas"), ("ties", "tie"),
        ):  # fmt: skip
            with self.subTest(word):
                self.assertEqual(stem_word(word), stem)

    def test_a_bag_counts_words_and_leaves_the_empty_ones_out(self) -> None:
        self.assertEqual(
            word_bag("List the berths of a berth_plan"), Counter(list=1, berth=2, plan=1)
        )


class Cosine(unittest.TestCase):
    def test_by_hand(self) -> None:
        # (1·2 + 2·1) / (√5 · √5) = 0.8
        one, other = {"tide": 1.0, "berth": 2.0}, {"tide": 2.0, "berth": 1.0}
        self.assertAlmostEqual(cosine_likeness(one, other), 0.8)
        self.assertEqual(cosine_likeness(one, {"pilot": 3.0}), 0.0)
        self.assertEqual(cosine_likeness(one, {}), 0.0)
        self.assertAlmostEqual(text_likeness("two berths", "a berth for two ships"), 2 / 6**0.5)
