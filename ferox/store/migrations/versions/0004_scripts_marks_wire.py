"""Scripts that trials were scored under again, marks of people, and raw messages of calls."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "script",
        sa.Column("hash", sa.String(), nullable=False),
        sa.Column("suite", sa.String(), nullable=False),
        sa.Column("task", sa.String(), nullable=False),
        sa.Column("at", sa.Double(), nullable=False),
        sa.Column("body", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("hash"),
    )
    op.create_table(
        "mark",
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("mark", sa.String(), nullable=True),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("at", sa.Double(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"]),
        sa.PrimaryKeyConstraint("trial_id"),
    )
    op.create_table(
        "wire",
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("call", sa.String(), nullable=False),
        sa.Column("request", sa.Text(), nullable=False),
        sa.Column("answer", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"]),
        sa.PrimaryKeyConstraint("trial_id", "call"),
    )
    op.create_index("trial_by_task", "trial", ["suite", "task", "id"])


def downgrade() -> None:
    op.drop_index("trial_by_task", "trial")
    for table in ("wire", "mark", "script"):
        op.drop_table(table)
