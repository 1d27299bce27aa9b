"""The shop's time zone, by which its days begin and end, and how it spells English."""

import sqlalchemy as sa
from alembic import op

from incudo.store.kernel.clock import server_zone

revision = '0027'
down_revision = '0026'


def upgrade() -> None:
    # papers were dated by this server's clock until now
    op.add_column(
        'shop', sa.Column('zone', sa.String(length=64), nullable=False, server_default=server_zone())
    )
    op.alter_column('shop', 'zone', existing_type=sa.String(length=64), existing_nullable=False, server_default=None)
    op.add_column('shop', sa.Column('spelling', sa.String(length=20), nullable=False, server_default=''))
