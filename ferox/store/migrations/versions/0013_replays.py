"""Replays of runs, and what became of each of their trials."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "replay",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("run.id"), nullable=False),
        sa.Column("created_at", sa.Double(), nullable=False),
        sa.Column("finished_at", sa.Double(), nullable=True),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("stop", sa.Boolean(), nullable=False),
        sa.Column("trials", sa.Text(), nullable=False),
        sa.Column("message", sa.String(), nullable=True),
    )
    op.create_index("ix_replay_run_id", "replay", ["run_id"])
    op.create_table(
        "replayed_trial",
        sa.Column("replay_id", sa.Integer(), sa.ForeignKey("replay.id"), primary_key=True),
        sa.Column("trial_id", sa.Integer(), sa.ForeignKey("trial.id"), primary_key=True),
        sa.Column("verdict", sa.String(), nullable=False),
        sa.Column("asked_model", sa.Boolean(), nullable=False),
        sa.Column("body", sa.Text(), nullable=False),
    )
    op.create_index("replayed_by_trial", "replayed_trial", ["trial_id"])


def downgrade() -> None:
    op.drop_table("replayed_trial")
    op.drop_table("replay")
