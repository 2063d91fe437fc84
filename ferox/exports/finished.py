"""The finished trials of a run, a few at a time: a run of any length fits into memory."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from ferox.formats.result import Result
from ferox.formats.trace import Trace
from ferox.store.database import Session, let_go
from ferox.store.results import read_results
from ferox.store.tables import Trial
from ferox.store.traces import read_traces
from ferox.store.trials import read_trials

AT_ONCE = 25
"""Trials that are read together."""
OnTrial = Callable[[], None]
"""Called after each trial that is written; it may raise to give up."""


class FinishedTrial(NamedTuple):
    """A trial's line, with its trace and its newest result."""

    line: Trial
    trace: Trace
    result: Result


def finished_lines(session: Session, numbers: Sequence[int]) -> Iterator[Trial]:
    """The lines of trials, in the order of `numbers`."""
    for start in range(0, len(numbers), AT_ONCE):
        chosen = numbers[start : start + AT_ONCE]
        lines = read_trials(session, chosen)
        yield from (lines[number] for number in chosen)
        let_go(session)


def finished_trials(session: Session, numbers: Sequence[int]) -> Iterator[FinishedTrial]:
    """Trials with trace and result, in the order of `numbers`."""
    for start in range(0, len(numbers), AT_ONCE):
        chosen = numbers[start : start + AT_ONCE]
        lines, traces = read_trials(session, chosen), read_traces(session, chosen)
        results = read_results(session, chosen)
        for number in chosen:
            yield FinishedTrial(lines[number], traces[number], results[number])
        let_go(session)
