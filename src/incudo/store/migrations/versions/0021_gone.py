"""Machines, gauges and workholding that have left the shop, and who changed what of the shop."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0021'
down_revision = '0020'


def upgrade() -> None:
    for table in ('machine', 'instrument', 'workholding'):
        op.add_column(table, sa.Column('gone', sa.String(length=400), nullable=False, server_default=''))
    op.create_table('shop_act',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('thing', sa.String(length=12), nullable=False),
    sa.Column('thing_id', sa.Uuid(), nullable=True),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('words', sa.String(length=2000), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_shop_act_by_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_shop_act')),
    )
    op.create_index('ix_shop_act_at', 'shop_act', ['at'])
