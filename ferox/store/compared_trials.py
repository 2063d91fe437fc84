"""The trials of one side of a comparison, a line each: small enough for tens of thousands."""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

from sqlalchemy import String, select, type_coerce
from sqlalchemy.orm import Session

from ferox.formats.result import FAMILIES
from ferox.store.tables import Trial


class ComparedTrial(NamedTuple):
    """What a comparison needs of a trial. None is what was not seen, or not tested."""

    id: int
    suite: str
    task: str
    agent: str
    script: str | None
    verdict: str
    calls: int
    model_calls: int | None
    turn_ms: float | None
    model_ms: float | None
    tool_ms: float | None
    agent_ms: float | None
    first_words_ms: float | None
    tokens_in: int | None
    tokens_out: int | None
    tokens_cached: int | None
    failed: Sequence[str]
    choices: str
    """JSON text, empty if they were not counted: see `read_choices`."""
    scores: tuple[float | None, ...]
    """In the order of the families."""


COLUMNS = [name for name in ComparedTrial._fields if name not in ("failed", "choices", "scores")]


def read_compared_trials(session: Session, run: int, agent: str | None) -> list[ComparedTrial]:
    """The judged trials of a run, or of one agent in it, and those that could not run."""
    chosen = [Trial.run_id == run, Trial.verdict.in_(("pass", "fail", "error"))]
    if agent is not None:
        chosen.append(Trial.agent == agent)
    columns = [getattr(Trial, name) for name in COLUMNS]
    # Texts as they are stored: most are alike, and reading each as JSON takes longest.
    columns += [type_coerce(Trial.failed, String), type_coerce(Trial.choices, String)]
    scores = [getattr(Trial, f"score_{family}") for family in FAMILIES]
    query = select(*columns, *scores).where(*chosen)
    count = len(columns)
    found = []
    # Past the session, which looks at every row as if it were an entity.
    rows = session.connection().execute(
        query.order_by(Trial.suite, Trial.task, Trial.agent, Trial.number)
    )
    for row in rows:
        read = (_read_names(row[count - 2] or "[]"), row[count - 1] or "")
        found.append(ComparedTrial._make((*row[: count - 2], *read, row[count:])))
    return found


@lru_cache(maxsize=4096)
def _read_names(text: str) -> tuple[str, ...]:
    """Names as they are stored, parsed once however many trials have the same."""
    return tuple(json.loads(text))
