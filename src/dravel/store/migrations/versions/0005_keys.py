"""Keys under which things were made, so that a repeated creation is answered as the first was."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.create_table(
        "keys",
        sa.Column("key", sa.String(80), primary_key=True),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("made", sa.String(80), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("keys")
