"""What became of a cell of the board since its predecessor."""

from __future__ import annotations

from typing import NamedTuple

from ferox.core.statistics import wilson_interval


class Tally(NamedTuple):
    """How often a cell passed of its judged trials, and the check that failed most."""

    passes: int
    n: int
    failed_check: str | None


def kind_of_change(was: Tally | None, now: Tally, *, known: bool = False) -> str | None:
    """What became of a cell since its predecessor: a kind of the ledger, None if nothing did.

    `known`: it is said to fail for now, so it is either that or mended.
    """
    if known:
        return "known" if now.passes < now.n else "mended"
    if was is None:
        if now.passes == now.n:
            return None
        return "wavers" if now.passes else "fails"
    rates = was.passes / was.n, now.passes / now.n
    if rates[0] != rates[1] and not _chance_alone(was, now):
        return "broke" if rates[1] < rates[0] else "mended"
    if now.passes < now.n and was.failed_check != now.failed_check:
        return "otherwise"
    return "wavers" if 0 < now.passes < now.n else None


def _chance_alone(was: Tally, now: Tally) -> bool:
    """Whether a cell that wavered still wavers so much alike that nothing need have changed: the
    Wilson intervals of its two pass rates meet."""
    if not (0 < was.passes < was.n and 0 < now.passes < now.n):
        return False
    one, two = wilson_interval(was.passes, was.n), wilson_interval(now.passes, now.n)
    return one.low <= two.high and two.low <= one.high
