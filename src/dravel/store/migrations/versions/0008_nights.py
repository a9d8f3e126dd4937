"""Nights under way with their marks, and sessions. Nothing is ever deleted."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "nights",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("body", sa.Text, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("ended", sa.Boolean, nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
    )
    op.create_table(
        "marks",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("night_id", sa.String(64), sa.ForeignKey("nights.id"), nullable=False, index=True),
        sa.Column("body", sa.Text, nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
    )
    op.create_table(
        "sessions",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("night_id", sa.String(64), sa.ForeignKey("nights.id"), nullable=True, index=True),
        sa.Column("rig_id", sa.String(80), nullable=False, index=True),
        sa.Column("night", sa.String(10), nullable=False, index=True),
        sa.Column("body", sa.Text, nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
    )


def downgrade() -> None:
    for name in ("sessions", "marks", "nights"):
        op.drop_table(name)
