"""Checks of gauges against blocks, with what came of them."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0020'
down_revision = '0019'


def upgrade() -> None:
    op.create_table('gauge_check',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('instrument_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.Column('standard', sa.String(length=80), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('zero_error', sa.String(length=20), nullable=False),
    sa.Column('uncertainty', sa.String(length=20), nullable=False),
    sa.Column('holds', sa.Boolean(), nullable=False),
    sa.Column('due', sa.Date(), nullable=True),
    sa.Column('words', sa.String(length=2000), nullable=False),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_gauge_check_instrument_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_gauge_check_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_gauge_check')),
    )
    op.create_index('ix_gauge_check_instrument', 'gauge_check', ['instrument_id', 'at'])
