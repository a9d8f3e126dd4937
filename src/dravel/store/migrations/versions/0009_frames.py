"""Frames as they were measured, by the rig that took them. Nothing is ever deleted."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.create_table(
        "frames",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("rig_id", sa.String(80), sa.ForeignKey("rigs.id"), nullable=False, index=True),
        sa.Column("archived", sa.Boolean, nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("body", sa.Text, nullable=False),
    )


def downgrade() -> None:
    op.drop_table("frames")
