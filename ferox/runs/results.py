"""Results as they are kept: when a trial ends, and when it is scored again."""

from __future__ import annotations

import json
import time
from collections.abc import Mapping
from typing import Any

from sqlalchemy import update
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from ferox.core.masking import Masker
from ferox.core.story import read_story
from ferox.formats.result import Result
from ferox.formats.suite import Suite, Task
from ferox.formats.trace import Trace
from ferox.gateway.model_seam.model_requests import ModelRequests
from ferox.store import tables
from ferox.store.writer import Writer

UNJUDGED = "unjudged"
"""The verdict of a trial of which nothing is demanded."""


def keep_result(session: Session, trial: int, trace: Trace, result: Result, script: str) -> None:
    """Keep a finished trial: the trace's head, its result, and the trial's own line."""
    why = trace["events"][-1].get("why")
    head = {k: v for k, v in trace.items() if k != "events"}
    session.merge(tables.TraceHead(trial_id=trial, body=json.dumps(head, ensure_ascii=False)))
    turns = [t for t in result["latency"]["turn_ms"] if t is not None]
    keep_judgements(
        session, {trial: result}, script,
        state="stopped" if why == "stopped" else "done",
        calls=len(read_story(trace).calls),
        turn_ms=sum(turns) if turns else None,
    )  # fmt: skip


def sentence_of(result: Result) -> str | None:
    """What went wrong first, in a sentence; None if nothing did, or if the result is older than
    such sentences."""
    wrong = result.get("went_wrong")
    return wrong["message"] if wrong else None


def verdict_of(result: Result) -> str:
    """A result's verdict as it is kept and shown: one that no check decided is `unjudged`."""
    if result["verdict"] == "pass" and not result.get("judged", True):
        return UNJUDGED
    return result["verdict"]


def requests_to(writer: Writer, trial: int, masker: Masker) -> ModelRequests:
    """Who keeps what the models of a trial are shown."""
    return ModelRequests(
        writer.piece, lambda event, body: writer.model_request(trial, event, body), masker
    )


def keep_judgements(
    session: Session, results: Mapping[int, Result], script: str, **values: Any
) -> None:
    """Keep results of trials under the script that gave them; they are the ones that count."""
    now = time.time()
    session.execute(
        insert(tables.ResultRow),
        [
            {
                "trial_id": trial, "script": script, "scored_at": now,
                "body": json.dumps(result, ensure_ascii=False),
            }
            for trial, result in results.items()
        ],
    )  # fmt: skip
    session.execute(
        update(tables.Trial),
        [
            {
                "id": trial, "script": script, "changed_at": now,
                "verdict": verdict_of(result), "reason": result["reason"],
                "went_wrong": sentence_of(result),
                "failed": json.dumps(
                    [c["id"] for c in result["checks"] if c["passed"] is False]
                ),
                **{f"score_{family}": value for family, value in result["scores"].items()},
                **values,
            }
            for trial, result in results.items()
        ],
    )  # fmt: skip


def keep_script(session: Session, hashed: str, suite: Suite, task: Task) -> None:
    """Keep the script that trials are scored under after their run."""
    told = {
        "clock": suite.clock,
        "zone": suite.zone,
        "task": task.model_dump(mode="json", by_alias=True, exclude_unset=True),
    }
    row = {
        "hash": hashed, "suite": suite.suite, "task": task.task, "at": time.time(),
        "body": json.dumps(told, ensure_ascii=False),
    }  # fmt: skip
    session.execute(insert(tables.StoredScript).on_conflict_do_nothing(), row)
