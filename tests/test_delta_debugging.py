"""Delta debugging: the fewest pieces with which something still fails."""

from __future__ import annotations

import asyncio
import unittest

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.delta_debugging import Minimizing


def minimized(pieces: list[int], needed: set[int]) -> tuple[list[int], list[list[int]]]:
    """What is left of pieces, all of `needed` of which it takes to fail; and what was tried."""
    tried: list[list[int]] = []

    async def fails(kept: list[int]) -> bool:
        tried.append(kept)
        return needed <= {*kept}

    return asyncio.run(Minimizing(pieces, fails).minimize()), tried


class Minimal(unittest.TestCase):
    def test_worked_by_hand(self) -> None:
        left, tried = minimized([1, 2, 3, 4, 5, 6, 7, 8], {3, 7})
        self.assertEqual(left, [3, 7])
        # None at all, the halves, the quarters, then what is left without each quarter.
        self.assertEqual(tried[:3], [[], [1, 2, 3, 4], [5, 6, 7, 8]])
        self.assertEqual(tried[3:7], [[1, 2], [3, 4], [5, 6], [7, 8]])
        self.assertEqual(tried[7], [3, 4, 5, 6, 7, 8])

    def test_what_fails_without_any_takes_one_try(self) -> None:
        self.assertEqual(minimized([1, 2, 3], set()), ([], [[]]))

    def test_one_piece(self) -> None:
        self.assertEqual(minimized([1], {1})[0], [1])
        self.assertEqual(minimized([], set())[0], [])

    @given(st.sets(st.integers(0, 40)), st.data())
    def test_all_that_is_needed_and_no_more_in_its_order(
        self, pieces: set[int], data: st.DataObject
    ) -> None:
        ordered = sorted(pieces)
        needed = data.draw(st.sets(st.sampled_from(ordered))) if ordered else set()
        self.assertEqual(minimized(ordered, needed)[0], sorted(needed))

    @given(st.lists(st.sets(st.integers(0, 11), min_size=1), min_size=1, max_size=3))
    def test_nothing_left_can_be_left_out_by_itself(self, ways: list[set[int]]) -> None:
        def fails_with(kept: list[int]) -> bool:
            return any(way <= {*kept} for way in ways)

        async def fails(kept: list[int]) -> bool:
            return fails_with(kept)

        left = asyncio.run(Minimizing(list(range(12)), fails).minimize())
        self.assertTrue(fails_with(left))
        for piece in left:
            self.assertFalse(fails_with([other for other in left if other != piece]))

    def test_what_is_left_is_known_when_it_breaks_off(self) -> None:
        tries = 0

        async def fails(kept: list[int]) -> bool:
            nonlocal tries
            tries += 1
            if tries > 3:
                raise TimeoutError
            return 2 in kept

        minimizing = Minimizing([1, 2, 3, 4], fails)
        with self.assertRaises(TimeoutError):
            asyncio.run(minimizing.minimize())
        self.assertEqual(minimizing.kept, [1, 2])
