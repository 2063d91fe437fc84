"""Where the trials of a run are from, and which part of a run it is."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("run", sa.Column("origin", sa.String(), nullable=True))
    op.add_column("run", sa.Column("shard", sa.Text(), nullable=True))


def downgrade() -> None:
    op.drop_column("run", "shard")
    op.drop_column("run", "origin")
