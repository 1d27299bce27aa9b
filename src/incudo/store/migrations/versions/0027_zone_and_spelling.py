"""The shop's time zone, by which its days begin and end, and how it spells English."""

import sqlalchemy as sa
import tzlocal
from alembic import op

revision = '0027'
down_revision = '0026'


def upgrade() -> None:
    # papers were dated by this server's clock until now
    op.add_column(
        'shop', sa.Column('zone', sa.String(length=64), nullable=False, server_default=tzlocal.get_localzone_name())
    )
    op.alter_column('shop', 'zone', existing_type=sa.String(length=64), existing_nullable=False, server_default=None)
    op.add_column('shop', sa.Column('spelling', sa.String(length=20), nullable=False, server_default=''))
