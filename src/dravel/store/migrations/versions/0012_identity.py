"""Which data these are: a name that browsers keep what they hold under, and that a restore changes."""

import secrets

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    made = op.create_table("identity", sa.Column("id", sa.String(32), primary_key=True))
    op.bulk_insert(made, [{"id": secrets.token_hex(8)}])


def downgrade() -> None:
    op.drop_table("identity")
