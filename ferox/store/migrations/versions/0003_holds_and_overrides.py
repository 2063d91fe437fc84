"""Calls that are held, and what a run overrides."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("run", sa.Column("hold", sa.Text(), nullable=True))
    op.add_column("run", sa.Column("overrides", sa.Text(), nullable=False, server_default="{}"))
    op.create_table(
        "held",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("run_id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("tool", sa.String(), nullable=False),
        sa.Column("args", sa.Text(), nullable=False),
        sa.Column("at", sa.Double(), nullable=False),
        sa.Column("do", sa.String(), nullable=True),
        sa.Column("value", sa.Text(), nullable=True),
        sa.ForeignKeyConstraint(["run_id"], ["run.id"]),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("held_by_run", "held", ["run_id", "do"])


def downgrade() -> None:
    op.drop_index("held_by_run", "held")
    op.drop_table("held")
    op.drop_column("run", "overrides")
    op.drop_column("run", "hold")
