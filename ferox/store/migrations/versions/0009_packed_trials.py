"""A finished trial is packed: its trace, raw messages and model requests together; results too."""

import json
import zlib
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

AT_A_TIME = 500


def _text(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))


def _pack(text: str) -> bytes:
    return zlib.compress(text.encode(errors="replace"), 6)


def _unpack(body: bytes, like: bytes | None) -> str:
    unpacker = zlib.decompressobj(zdict=_read(like)) if like else zlib.decompressobj()
    return (unpacker.decompress(body) + unpacker.flush()).decode()


def _read(packed: bytes) -> bytes:
    return zlib.decompress(packed)[-32 * 1024 :]


def _pack_trial(trial: int, head: str) -> None:
    connection, of_trial = op.get_bind(), {"trial": trial}

    def rows(query: str) -> Any:
        return connection.execute(sa.text(query), of_trial).all()

    events = rows("SELECT body FROM event WHERE trial_id = :trial ORDER BY n")
    wire = rows("SELECT call, request, answer FROM wire WHERE trial_id = :trial")
    requests = rows("SELECT event, body FROM model_request WHERE trial_id = :trial")
    packed = {
        "head": json.loads(head),
        "requests": {event: json.loads(body) for event, body in requests},
        "wire": {call: [request, answer] for call, request, answer in wire},
        "events": [json.loads(body) for (body,) in events],
    }
    insert = "INSERT INTO packed_trace (trial_id, body) VALUES (:trial, :body)"
    connection.execute(sa.text(insert), {**of_trial, "body": _pack(_text(packed))})
    for table in ("event", "wire", "model_request"):
        connection.execute(sa.text(f"DELETE FROM {table} WHERE trial_id = :trial"), of_trial)


def upgrade() -> None:
    """Pack what is finished."""
    connection = op.get_bind()
    op.create_table(
        "packed_trace",
        sa.Column("trial_id", sa.Integer(), sa.ForeignKey("trial.id"), primary_key=True),
        sa.Column("like", sa.Integer(), nullable=True),
        sa.Column("body", sa.LargeBinary(), nullable=False),
    )
    query = sa.text(
        "SELECT trial_id, body FROM trace_head WHERE trial_id > :after ORDER BY trial_id"
        f" LIMIT {AT_A_TIME}"
    )
    after = -1
    while heads := connection.execute(query, {"after": after}).all():
        for trial, head in heads:
            _pack_trial(trial, head)
        after = heads[-1][0]
    op.drop_table("trace_head")
    _make_results_anew(sa.LargeBinary(), [sa.Column("like", sa.Integer(), nullable=True)])
    _move_results(lambda body, like: _pack(body))


def _make_results_anew(body: Any, others: list[Any]) -> None:
    """A table for results beside the one that is there, which waits to be emptied."""
    op.drop_index("result_by_trial", "result")
    op.rename_table("result", "older_result")
    op.create_table(
        "result",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("trial_id", sa.Integer(), sa.ForeignKey("trial.id"), nullable=False),
        sa.Column("script", sa.String(), nullable=False),
        sa.Column("scored_at", sa.Double(), nullable=False),
        *others,
        sa.Column("body", body, nullable=False),
    )
    op.create_index("result_by_trial", "result", ["trial_id"])


def _move_results(change: Any) -> None:
    connection = op.get_bind()
    is_packed = "like" in {c["name"] for c in sa.inspect(connection).get_columns("older_result")}
    like = '(SELECT b.body FROM older_result AS b WHERE b.id = r."like")' if is_packed else "NULL"
    query = sa.text(
        f"SELECT r.id, r.trial_id, r.script, r.scored_at, r.body, {like} FROM older_result AS r"
        f" WHERE r.id > :after ORDER BY r.id LIMIT {AT_A_TIME}"
    )
    insert = sa.text(
        "INSERT INTO result (id, trial_id, script, scored_at, body)"
        " VALUES (:id, :trial, :script, :at, :body)"
    )
    after = -1
    while rows := connection.execute(query, {"after": after}).all():
        moved = [
            {"id": id, "trial": trial, "script": script, "at": at, "body": change(body, base)}
            for id, trial, script, at, body, base in rows
        ]
        connection.execute(insert, moved)
        after = rows[-1][0]
    op.drop_table("older_result")


def downgrade() -> None:
    """Unpack everything into rows."""
    connection = op.get_bind()
    op.create_table(
        "trace_head",
        sa.Column("trial_id", sa.Integer(), sa.ForeignKey("trial.id"), primary_key=True),
        sa.Column("body", sa.Text(), nullable=False),
    )
    query = sa.text(
        "SELECT p.trial_id, p.body, b.body FROM packed_trace AS p"
        ' LEFT JOIN packed_trace AS b ON b.trial_id = p."like" WHERE p.trial_id > :after'
        f" ORDER BY p.trial_id LIMIT {AT_A_TIME}"
    )
    after = -1
    while rows := connection.execute(query, {"after": after}).all():
        for trial, body, like in rows:
            _unpack_trial(trial, json.loads(_unpack(body, like)))
        after = rows[-1][0]
    op.drop_table("packed_trace")
    _make_results_anew(sa.Text(), [])
    _move_results(_unpack)


def _unpack_trial(trial: int, packed: dict[str, Any]) -> None:
    def keep(insert: str, rows: list[dict[str, Any]]) -> None:
        if rows:
            op.get_bind().execute(sa.text(insert), [{"trial": trial, **row} for row in rows])

    head = [{"body": _text(packed["head"])}]
    keep("INSERT INTO trace_head (trial_id, body) VALUES (:trial, :body)", head)
    keep(
        "INSERT INTO event (trial_id, n, body) VALUES (:trial, :n, :body)",
        [{"n": n, "body": _text(event)} for n, event in enumerate(packed["events"])],
    )
    keep(
        "INSERT INTO wire (trial_id, call, request, answer)"
        " VALUES (:trial, :call, :request, :answer)",
        [{"call": c, "request": raw[0], "answer": raw[1]} for c, raw in packed["wire"].items()],
    )
    keep(
        "INSERT INTO model_request (trial_id, event, body) VALUES (:trial, :event, :body)",
        [{"event": e, "body": _text(body)} for e, body in packed["requests"].items()],
    )
