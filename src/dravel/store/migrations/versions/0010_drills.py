"""Drills of the fault trainer that were answered."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.create_table(
        "drills",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("hidden", sa.String(80), nullable=False),
        sa.Column("said", sa.String(80), nullable=False),
        sa.Column("asked", sa.Integer, nullable=False),
    )


def downgrade() -> None:
    op.drop_table("drills")
