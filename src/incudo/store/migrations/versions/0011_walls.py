"""A device is there for something: an interlock, or a wall that shows the shop and changes nothing."""

import sqlalchemy as sa
from alembic import op

revision = '0011'
down_revision = '0010'


def upgrade() -> None:
    op.add_column('device', sa.Column('purpose', sa.String(20), nullable=False, server_default='interlock'))
