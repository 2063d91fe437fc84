"""What models were shown: pieces, each once, and requests made of them."""

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
