"""First layout: entries, rigs and revisions."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "entries",
        sa.Column("kind", sa.String(20), primary_key=True),
        sa.Column("id", sa.String(80), primary_key=True),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("archived", sa.Boolean, nullable=False),
        sa.Column("body", sa.Text, nullable=False),
        sa.CheckConstraint("kind in ('part', 'target', 'site', 'practice')"),
    )
    op.create_table(
        "rigs",
        sa.Column("id", sa.String(80), primary_key=True),
        sa.Column("head", sa.Integer, nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("archived", sa.Boolean, nullable=False),
    )
    op.create_table(
        "revisions",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("rig_id", sa.String(80), sa.ForeignKey("rigs.id"), nullable=False, index=True),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("parent", sa.Integer),
        sa.Column("redo", sa.Integer),
        sa.Column("note", sa.String(200), nullable=False),
        sa.Column("saved_at", sa.String(40), nullable=False),
        sa.Column("body", sa.Text, nullable=False),
        sa.UniqueConstraint("rig_id", "number"),
    )


def downgrade() -> None:
    for table in ("revisions", "rigs", "entries"):
        op.drop_table(table)
