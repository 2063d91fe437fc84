"""What models were shown, the set-up of cells, and what went wrong in trials."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Add what this revision adds."""
    op.create_table(
        "piece",
        sa.Column("hash", sa.String(), nullable=False),
        sa.Column("body", sa.LargeBinary(), nullable=False),
        sa.PrimaryKeyConstraint("hash"),
    )
    op.create_table(
        "model_request",
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("event", sa.String(), nullable=False),
        sa.Column("body", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"]),
        sa.PrimaryKeyConstraint("trial_id", "event"),
    )
    op.create_table(
        "cell_setup",
        sa.Column("run_id", sa.Integer(), nullable=False),
        sa.Column("suite", sa.String(), nullable=False),
        sa.Column("agent", sa.String(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("body", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["run_id"], ["run.id"]),
        sa.PrimaryKeyConstraint("run_id", "suite", "agent"),
    )
    op.create_index("cell_setup_by_key", "cell_setup", ["suite", "agent", "key"])
    op.add_column("trial", sa.Column("went_wrong", sa.String(), nullable=True))
    op.add_column("trial", sa.Column("failed", sa.String(), nullable=True))
    _read_results()


def _read_results() -> None:
    """Tell of the trials that are there which checks failed, by their newest results."""
    connection = op.get_bind()
    newest = sa.text(
        "SELECT r.trial_id, r.body FROM result r JOIN trial t ON t.id = r.trial_id"
        " WHERE t.verdict = 'fail' ORDER BY r.id"
    )
    update = sa.text("UPDATE trial SET failed = :failed, went_wrong = :wrong WHERE id = :id")
    for id, body in connection.execute(newest).all():
        failed = [c for c in json.loads(body)["checks"] if c["passed"] is False]
        told = {"id": id, "failed": json.dumps([c["id"] for c in failed])}
        connection.execute(update, {**told, "wrong": failed[0]["message"] if failed else None})


def downgrade() -> None:
    """Take away what this revision added."""
    op.drop_column("trial", "failed")
    op.drop_column("trial", "went_wrong")
    for table in ("cell_setup", "model_request", "piece"):
        op.drop_table(table)
