"""Long work: what was asked, how far it is, and what came of it."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "jobs",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("kind", sa.String(40), nullable=False),
        sa.Column("given", sa.Text, nullable=False),
        sa.Column("state", sa.String(10), nullable=False),
        sa.Column("done", sa.Integer, nullable=False),
        sa.Column("total", sa.Integer, nullable=False),
        sa.Column("words", sa.Text, nullable=False),
        sa.Column("result", sa.Text),
        sa.Column("stop", sa.Boolean, nullable=False),
        sa.Column("made_at", sa.String(40), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("jobs")
