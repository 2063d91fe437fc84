"""What is alike in many trials and runs is stored once: parts of traces, parts of snapshots."""

import hashlib
import json
import zlib
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

OF_TRACES = ("tools", "voices", "seen_by_model", "instructions")
OF_SNAPSHOTS = (
    *("agents", "instructions", "servers", "suites", "stand_ins"),
    *("recordings", "model_recordings"),
)
AT_A_TIME = 500


def _text(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))


class _Pieces:
    """Puts parts of documents away, each once."""

    def __init__(self) -> None:
        self._connection = op.get_bind()
        self._there: set[str] = set()

    def put(self, value: Any) -> str:
        text = _text(value)
        hashed = hashlib.blake2b(text.encode(errors="replace"), digest_size=12).hexdigest()
        if hashed not in self._there:
            self._there.add(hashed)
            insert = sa.text("INSERT OR IGNORE INTO piece (hash, body) VALUES (:hash, :body)")
            body = zlib.compress(text.encode(errors="replace"), 3)
            self._connection.execute(insert, {"hash": hashed, "body": body})
        return hashed


def _rewrite(table: str, key: str, change: Any) -> None:
    """Change every body of a table, some at a time."""
    connection = op.get_bind()
    after = -1
    query = sa.text(
        f"SELECT {key}, body FROM {table} WHERE {key} > :after ORDER BY {key} LIMIT {AT_A_TIME}"
    )
    update = sa.text(f"UPDATE {table} SET body = :body WHERE {key} = :key")
    while rows := connection.execute(query, {"after": after}).all():
        changed = [{"key": row[0], "body": _text(change(json.loads(row[1])))} for row in rows]
        connection.execute(update, changed)
        after = rows[-1][0]


def upgrade() -> None:
    """Put what is alike away as pieces."""
    pieces = _Pieces()

    def trace(body: dict[str, Any]) -> dict[str, Any]:
        away = {key: pieces.put(body[key]) for key in OF_TRACES if key in body}
        return {**{k: v for k, v in body.items() if k not in away}, "pieces": away}

    def snapshot(body: dict[str, Any]) -> dict[str, Any]:
        away = {
            key: {name: pieces.put(value) for name, value in body[key].items()}
            for key in OF_SNAPSHOTS
            if key in body
        }
        return {**{k: v for k, v in body.items() if k not in away}, "pieces": away}

    _rewrite("trace_head", "trial_id", trace)
    _rewrite("snapshot", "run_id", snapshot)


def downgrade() -> None:
    """Bring the pieces back into the documents."""
    connection = op.get_bind()
    query = sa.text("SELECT body FROM piece WHERE hash = :hash")

    def read(hashed: str) -> Any:
        return json.loads(zlib.decompress(connection.execute(query, {"hash": hashed}).scalar_one()))

    def whole(body: dict[str, Any]) -> dict[str, Any]:
        back = {
            key: {name: read(hashed) for name, hashed in value.items()}
            if isinstance(value, dict)
            else read(value)
            for key, value in body.pop("pieces", {}).items()
        }
        return {**body, **back}

    _rewrite("trace_head", "trial_id", whole)
    _rewrite("snapshot", "run_id", whole)
