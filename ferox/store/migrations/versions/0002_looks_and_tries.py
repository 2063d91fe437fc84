"""What was last seen of a server, and the calls tried by hand."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "look",
        sa.Column("server", sa.String(), nullable=False),
        sa.Column("way", sa.String(), nullable=False),
        sa.Column("at", sa.Double(), nullable=False),
        sa.Column("tools", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("server", "way"),
    )
    op.create_table(
        "tried",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("server", sa.String(), nullable=False),
        sa.Column("way", sa.String(), nullable=False),
        sa.Column("tool", sa.String(), nullable=False),
        sa.Column("at", sa.Double(), nullable=False),
        sa.Column("args", sa.Text(), nullable=False),
        sa.Column("body", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("tried_by_tool", "tried", ["server", "tool", "at"])


def downgrade() -> None:
    op.drop_index("tried_by_tool", "tried")
    op.drop_table("tried")
    op.drop_table("look")
