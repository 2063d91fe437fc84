"""The fewest pieces with which something still fails: delta debugging (Zeller and Hildebrandt,
Simplifying and Isolating Failure-Inducing Input, IEEE TSE 28(2), 2002), its algorithm ddmin."""

from __future__ import annotations

from collections.abc import Awaitable, Callable, Sequence
from itertools import pairwise
from typing import Generic, TypeVar

Piece = TypeVar("Piece")


class Minimizing(Generic[Piece]):
    """Leaves pieces out as long as what is left still fails.

    `kept` is what is left so far: it failed whenever it was tried. When `minimize` has come to its
    end, none of it can be left out by itself.
    """

    def __init__(
        self, pieces: Sequence[Piece], fails: Callable[[list[Piece]], Awaitable[bool]]
    ) -> None:
        self.kept = list(pieces)
        self._fails = fails

    async def minimize(self) -> list[Piece]:
        """The pieces that cannot be left out. All of them together have to fail."""
        if await self._keep_if_fails([]):
            return self.kept
        parts = 2
        while len(self.kept) > 1:
            chunks = _chunks(self.kept, parts)
            if await self._try_each(chunks):
                parts = 2
            elif parts > 2 and await self._try_each(_without_each(chunks)):
                parts = max(parts - 1, 2)
            elif parts < len(self.kept):
                parts = min(len(self.kept), 2 * parts)
            else:
                break
        return self.kept

    async def _try_each(self, ways: list[list[Piece]]) -> bool:
        for way in ways:
            if await self._keep_if_fails(way):
                return True
        return False

    async def _keep_if_fails(self, pieces: list[Piece]) -> bool:
        if not await self._fails(pieces):
            return False
        self.kept = pieces
        return True


def _chunks(pieces: list[Piece], parts: int) -> list[list[Piece]]:
    """Pieces in so many parts of nearly the same size, in order."""
    bounds = [len(pieces) * n // parts for n in range(parts + 1)]
    return [pieces[a:b] for a, b in pairwise(bounds)]


def _without_each(chunks: list[list[Piece]]) -> list[list[Piece]]:
    """All but one of the chunks, for each; of two, these are the chunks themselves."""
    return [
        [piece for other in chunks if other is not chunk for piece in other] for chunk in chunks
    ]
