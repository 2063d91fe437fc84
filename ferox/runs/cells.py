"""Which tasks and agents a run is of."""

from __future__ import annotations

import random
from collections.abc import Iterable, Sequence

from ferox.store.runs import Cell
from ferox.workspace import Workspace


def chosen_cells(
    workspace: Workspace, suites: Sequence[str], agents: Sequence[str], tasks: Sequence[str] = ()
) -> list[Cell]:
    """Suite, task and agent of each cell of a run, in the order of the files.

    `tasks` narrows it to some, by name or, where two suites have one of that name, as SUITE/TASK.
    """
    return [
        (suite, task.task, agent)
        for suite in suites
        for task in workspace.suites[suite].tasks
        if not tasks or task.task in tasks or f"{suite}/{task.task}" in tasks
        for agent in agents
    ]


def mixed_trials(
    cells: Iterable[Cell], numbers: Iterable[int], seed: int
) -> list[tuple[str, str, str, int]]:
    """Trials of cells in an order by lot, the same for the same seed: a slow hour or a rate limit
    then strikes all agents alike."""
    trials = [(*cell, number) for cell in cells for number in numbers]
    random.Random(seed).shuffle(trials)
    return trials
