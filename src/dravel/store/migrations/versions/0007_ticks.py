"""Ticks of builds: which card was done when, on which device. Nothing is ever deleted."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.create_table(
        "ticks",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("rig_id", sa.String(80), sa.ForeignKey("rigs.id"), nullable=False, index=True),
        sa.Column("build", sa.Integer, nullable=False),
        sa.Column("card", sa.String(120), nullable=False),
        sa.Column("done", sa.Boolean, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("device", sa.String(80), nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
    )


def downgrade() -> None:
    op.drop_table("ticks")
