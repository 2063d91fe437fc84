"""What is kept of work by hand: lists last seen, calls tried."""

from __future__ import annotations

import json
import time
from typing import Any

from sqlalchemy import Engine, delete, select
from sqlalchemy.orm import Session

from ferox.store.tables import StoredCallByHand, StoredToolList

KEPT = 30
"""Tries kept for each tool; the oldest go first."""
LONGEST = 400_000
"""Characters of the longest answer that is kept."""


def seen_before(engine: Engine, server: str, way: str) -> tuple[float, list[dict[str, Any]]] | None:
    """When a server's tools were last seen, and what they were."""
    with Session(engine) as session:
        look = session.get(StoredToolList, (server, way))
        return (look.at, json.loads(look.tools)) if look else None


def keep_look(engine: Engine, server: str, way: str, tools: list[dict[str, Any]]) -> None:
    """Keep what was seen."""
    body = json.dumps(tools, ensure_ascii=False)
    with Session(engine) as session, session.begin():
        session.merge(StoredToolList(server=server, way=way, at=time.time(), tools=body))


def keep_try(
    engine: Engine, server: str, way: str, tool: str, args: dict[str, Any], body: dict[str, Any]
) -> None:
    """Keep a call tried by hand; of a tool's many the newest stay."""
    told = json.dumps(body, ensure_ascii=False)
    if len(told) > LONGEST:
        return
    with Session(engine) as session, session.begin():
        session.add(
            StoredCallByHand(
                server=server, way=way, tool=tool, at=time.time(), body=told,
                args=json.dumps(args, ensure_ascii=False),
            )
        )  # fmt: skip
        session.flush()
        old = (
            select(StoredCallByHand.id)
            .filter_by(server=server, tool=tool)
            .order_by(StoredCallByHand.at.desc(), StoredCallByHand.id.desc())
            .offset(KEPT)
        )
        session.execute(delete(StoredCallByHand).where(StoredCallByHand.id.in_(old)))


def earlier_tries(engine: Engine, server: str, tool: str) -> list[StoredCallByHand]:
    """A tool's tries, the newest first."""
    with Session(engine) as session:
        query = select(StoredCallByHand).filter_by(server=server, tool=tool)
        rows = list(
            session.scalars(
                query.order_by(StoredCallByHand.at.desc(), StoredCallByHand.id.desc()).limit(KEPT)
            )
        )
        session.expunge_all()
        return rows
