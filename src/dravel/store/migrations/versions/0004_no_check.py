"""Entries are of any kind: a list of kinds in the table had to be rebuilt with every new one."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    # SQLite cannot drop a constraint in place: a new table takes the rows over.
    op.create_table(
        "entries_new",
        sa.Column("kind", sa.String(20), primary_key=True),
        sa.Column("id", sa.String(80), primary_key=True),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("archived", sa.Boolean, nullable=False),
        sa.Column("body", sa.Text, nullable=False),
    )
    op.execute("INSERT INTO entries_new SELECT kind, id, version, position, archived, body FROM entries")
    op.drop_table("entries")
    op.rename_table("entries_new", "entries")


def downgrade() -> None:
    """Nothing to do: what the list of kinds allowed is allowed."""
