"""A row that is written to see whether the database can be; when a session was last seen was never read."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0007'
down_revision = '0006'


def upgrade() -> None:
    op.create_table('pulse',
    sa.Column('id', sa.Integer(), autoincrement=False, nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_pulse'))
    )
    op.drop_column('sign_in', 'seen_at')
