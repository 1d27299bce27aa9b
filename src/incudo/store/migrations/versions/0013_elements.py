"""Readings of more than one sort: positions, angles in degrees, and what is answered yes or no; gauges of a thread; the shop's projection."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0013'
down_revision = '0012'


def upgrade() -> None:
    three, two = sa.String(3), sa.String(2)
    op.add_column('reading', sa.Column('element', sa.String(8), server_default='', nullable=False))
    op.alter_column('reading', 'element', existing_type=sa.String(8), existing_nullable=False, server_default=None)
    op.alter_column('reading', 'unit', existing_type=two, type_=three, existing_nullable=False)
    op.alter_column('reading', 'instrument_unit', existing_type=two, type_=three, existing_nullable=False)
    op.alter_column('reading', 'value_mm', existing_type=mysql.DECIMAL(16, 8), nullable=True)
    op.add_column('shop', sa.Column('projection', sa.String(5), server_default='third', nullable=False))
    op.alter_column('shop', 'projection', existing_type=sa.String(5), existing_nullable=False, server_default=None)
    op.add_column('instrument', sa.Column('thread', sa.String(40), server_default='', nullable=False))
    op.alter_column('instrument', 'thread', existing_type=sa.String(40), existing_nullable=False, server_default=None)
    op.alter_column('instrument', 'unit', existing_type=two, type_=three, existing_nullable=False)
