"""Held calls, as the worker that holds them and the screens that decide share them."""

from __future__ import annotations

import time
from typing import Any

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from ferox.store.database import Engine, read_session, write_session
from ferox.store.tables import HeldCall, Run


def rule_of(session: Session, run: int) -> dict[str, Any] | None:
    """Which calls of a run are to be held; None if none are."""
    rule: dict[str, Any] | None = session.scalar(select(Run.hold).where(Run.id == run))
    return rule


def set_rule(engine: Engine, run: int, rule: dict[str, Any] | None) -> None:
    """Say which calls of a run are to be held from now on."""
    with write_session(engine) as session:
        session.execute(update(Run).where(Run.id == run).values(hold=rule or None))


def hold_call(engine: Engine, run: int, trial: int, tool: str, args: dict[str, Any]) -> int:
    """Note that a call is held; its number."""
    with write_session(engine) as session:
        held = HeldCall(run_id=run, trial_id=trial, tool=tool, args=args, at=time.time())
        session.add(held)
        session.flush()
        return held.id


def held_calls(session: Session, run: int) -> list[HeldCall]:
    """The calls of a run that wait for a decision, the longest-waiting first."""
    query = (
        select(HeldCall).where(HeldCall.run_id == run, HeldCall.do.is_(None)).order_by(HeldCall.id)
    )
    return list(session.scalars(query))


def decide_call(engine: Engine, held: int, do: str, value: Any) -> bool:
    """Let a held call go; whether it was still waiting."""
    with write_session(engine) as session:
        done: Any = session.execute(
            update(HeldCall)
            .where(HeldCall.id == held, HeldCall.do.is_(None))
            .values(do=do, value=value)
        )
        return bool(done.rowcount)


def run_of(engine: Engine, held: int) -> int:
    """The run of a held call."""
    with read_session(engine) as session:
        return session.get_one(HeldCall, held).run_id


def call_decision(engine: Engine, held: int) -> tuple[str, Any] | None:
    """What was decided of a held call; None if nothing yet."""
    with read_session(engine) as session:
        row = session.get(HeldCall, held)
        if row is None or row.do is None:
            return None
        return row.do, row.value


def release_call(engine: Engine, held: int) -> None:
    """Nobody waits for this call any more: its trial ended meanwhile."""
    decide_call(engine, held, "gone", None)
