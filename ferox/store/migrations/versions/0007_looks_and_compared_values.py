"""Looks at runs that end once they are decided; and on each trial what comparisons read."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

WHOLE = ("model_calls", "tokens_in", "tokens_out", "tokens_cached")
NUMBERS = ("model_ms", "tool_ms", "agent_ms", "first_words_ms", *WHOLE)

OF_RESULTS = """
UPDATE trial SET
  tool_ms = json_extract(newest.body, '$.latency.tool_ms'),
  model_ms = json_extract(newest.body, '$.latency.model_ms'),
  agent_ms = json_extract(newest.body, '$.latency.agent_ms'),
  tokens_in = json_extract(newest.body, '$.tokens.input'),
  tokens_out = json_extract(newest.body, '$.tokens.output'),
  choices = nullif(json_extract(newest.body, '$.confusions'), '[]')
FROM (SELECT max(id), trial_id, body FROM result GROUP BY trial_id) AS newest
WHERE newest.trial_id = trial.id
"""
OF_REQUESTS = """
UPDATE trial SET model_calls =
  (SELECT count(*) FROM model_request WHERE model_request.trial_id = trial.id)
WHERE id IN (SELECT trial_id FROM trace_head WHERE json_extract(body, '$.model_seam'))
"""
OF_EVENTS = """
UPDATE trial SET first_words_ms = 1000 * (words.t - turn.t)
FROM (SELECT trial_id, min(json_extract(body, '$.t')) AS t FROM event
      WHERE json_extract(body, '$.kind') IN ('partial', 'reply') GROUP BY trial_id) AS words,
     (SELECT trial_id, min(json_extract(body, '$.t')) AS t FROM event
      WHERE json_extract(body, '$.kind') = 'turn' GROUP BY trial_id) AS turn
WHERE words.trial_id = trial.id AND turn.trial_id = trial.id
"""


def upgrade() -> None:
    op.add_column("run", sa.Column("plan", sa.String(), nullable=True))
    op.add_column("run", sa.Column("looks", sa.Text(), nullable=True))
    for name in NUMBERS:
        whole = name in WHOLE
        column = sa.Column(name, sa.Integer()) if whole else sa.Column(name, sa.Double())
        op.add_column("trial", column)
    op.add_column("trial", sa.Column("choices", sa.String(), nullable=True))
    for statement in (OF_RESULTS, OF_REQUESTS, OF_EVENTS):
        op.execute(statement)
    _count_choices()


def _count_choices() -> None:
    """What was chosen instead, counted; what was chosen as expected was not kept."""
    connection = op.get_bind()
    update = sa.text("UPDATE trial SET choices = :choices WHERE id = :id")
    listed = sa.text("SELECT id, choices FROM trial WHERE choices IS NOT NULL")
    for trial, confusions in connection.execute(listed).all():
        counted: dict[str, dict[str, int]] = {}
        for one in json.loads(confusions):
            row = counted.setdefault(one["expected"], {})
            row[one["chosen"]] = row.get(one["chosen"], 0) + 1
        connection.execute(update, {"id": trial, "choices": json.dumps(counted)})


def downgrade() -> None:
    for name in (*NUMBERS, "choices"):
        op.drop_column("trial", name)
    op.drop_column("run", "looks")
    op.drop_column("run", "plan")
