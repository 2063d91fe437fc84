"""On which cluster a run is carried out, and which of its trials were lost on the way."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("run", sa.Column("on", sa.String(), nullable=True))
    op.create_table(
        "lost_try",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("trial_id", sa.Integer(), sa.ForeignKey("trial.id"), nullable=False),
        sa.Column("machine", sa.String(), nullable=False),
        sa.Column("at", sa.Double(), nullable=False),
    )
    op.create_index("lost_try_by_trial", "lost_try", ["trial_id"])


def downgrade() -> None:
    op.drop_table("lost_try")
    op.drop_column("run", "on")
