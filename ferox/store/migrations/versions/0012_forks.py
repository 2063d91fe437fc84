"""Runs of forks: of which trial they are, and from which point of it they go on."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("run", sa.Column("fork_of", sa.Integer(), nullable=True))
    op.add_column("run", sa.Column("fork", sa.Text(), nullable=True))
    op.create_index("ix_run_fork_of", "run", ["fork_of"])


def downgrade() -> None:
    op.drop_index("ix_run_fork_of", "run")
    op.drop_column("run", "fork")
    op.drop_column("run", "fork_of")
