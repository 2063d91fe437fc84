"""What is kept of work by hand: lists last seen, calls made."""

from __future__ import annotations

import time
from typing import Any

from sqlalchemy import delete, select

from ferox.core.json_values import compact_json
from ferox.store.database import Engine, read_session, write_session
from ferox.store.tables import JsonText, StoredCallByHand, StoredToolList

KEPT = 30
"""Calls kept for each tool; the oldest go first."""
LONGEST = 400_000
"""Characters of the longest answer that is kept."""


def seen_before(
    engine: Engine, server: str, mode: str
) -> tuple[float, list[dict[str, Any]]] | None:
    """When a server's tools were last seen, and what they were."""
    with read_session(engine) as session:
        look = session.get(StoredToolList, (server, mode))
        return (look.at, look.tools) if look else None


def keep_look(engine: Engine, server: str, mode: str, tools: list[dict[str, Any]]) -> None:
    """Keep what was seen."""
    with write_session(engine) as session:
        session.merge(StoredToolList(server=server, mode=mode, at=time.time(), tools=tools))


def keep_call(
    engine: Engine,
    server: str,
    mode: str,
    *,
    tool: str,
    args: dict[str, Any],
    answer: dict[str, Any],
) -> None:
    """Keep a call made by hand; of a tool's many the newest stay."""
    text = compact_json(answer)
    if len(text) > LONGEST:
        return
    with write_session(engine) as session:
        session.add(
            StoredCallByHand(
                server=server,
                mode=mode,
                tool=tool,
                at=time.time(),
                body=JsonText(text),
                args=args,
            )
        )
        session.flush()
        old = (
            select(StoredCallByHand.id)
            .filter_by(server=server, tool=tool)
            .order_by(StoredCallByHand.at.desc(), StoredCallByHand.id.desc())
            .offset(KEPT)
        )
        session.execute(delete(StoredCallByHand).where(StoredCallByHand.id.in_(old)))


def earlier_calls(engine: Engine, server: str, tool: str) -> list[StoredCallByHand]:
    """A tool's calls by hand, the newest first."""
    newest = (StoredCallByHand.at.desc(), StoredCallByHand.id.desc())
    query = select(StoredCallByHand).filter_by(server=server, tool=tool).order_by(*newest)
    with read_session(engine) as session:
        return list(session.scalars(query.limit(KEPT)))
