"""What the trials of a cell come to is kept, until one of them changes."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

CHANGED = (
    "INSERT INTO counted_cell (run_id, suite, task, agent, changed_at, version)"
    " VALUES ({0}.run_id, {0}.suite, {0}.task, {0}.agent, {0}.changed_at, 0)"
    " ON CONFLICT (run_id, suite, task, agent) DO UPDATE SET"
    " changed_at = max(changed_at, excluded.changed_at), version = version + 1, body = NULL"
)


def upgrade() -> None:
    op.create_table(
        "counted_cell",
        sa.Column("run_id", sa.Integer(), sa.ForeignKey("run.id"), primary_key=True),
        sa.Column("suite", sa.String(), primary_key=True),
        sa.Column("task", sa.String(), primary_key=True),
        sa.Column("agent", sa.String(), primary_key=True),
        sa.Column("changed_at", sa.Double(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("body", sa.Text(), nullable=True),
    )
    for change, row in (("INSERT", "NEW"), ("UPDATE", "NEW"), ("DELETE", "OLD")):
        op.execute(
            f"CREATE TRIGGER trial_{change.lower()} AFTER {change} ON trial"
            f" BEGIN {CHANGED.format(row)}; END"
        )
    op.execute(
        "INSERT INTO counted_cell (run_id, suite, task, agent, changed_at, version)"
        " SELECT run_id, suite, task, agent, max(changed_at), 0 FROM trial"
        " GROUP BY run_id, suite, task, agent"
    )


def downgrade() -> None:
    for change in ("insert", "update", "delete"):
        op.execute(f"DROP TRIGGER trial_{change}")
    op.drop_table("counted_cell")
