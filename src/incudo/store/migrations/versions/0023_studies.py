"""Repeated-readings studies of a gauge."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0023'
down_revision = '0022'


def upgrade() -> None:
    op.create_table('study',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('instrument_id', sa.Uuid(), nullable=False),
    sa.Column('group_id', sa.Uuid(), nullable=False),
    sa.Column('what', sa.String(length=80), nullable=False),
    sa.Column('parts', sa.Integer(), nullable=False),
    sa.Column('repeats', sa.Integer(), nullable=False),
    sa.Column('width', sa.String(length=20), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_study_by_id')),
    sa.ForeignKeyConstraint(['group_id'], ['class_group.id'], name=op.f('fk_study_group_id')),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_study_instrument_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_study')),
    )
    op.create_index(op.f('ix_study_instrument_id'), 'study', ['instrument_id'])
    op.create_index(op.f('ix_study_group_id'), 'study', ['group_id'])
    op.create_table('study_reading',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('study_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('value', sa.String(length=40), nullable=False),
    sa.Column('unit', sa.String(length=4), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_study_reading_person_id')),
    sa.ForeignKeyConstraint(['study_id'], ['study.id'], name=op.f('fk_study_reading_study_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_study_reading')),
    )
    op.create_index('ix_study_reading_person', 'study_reading', ['study_id', 'person_id', 'number'])
    op.create_table('study_end',
    sa.Column('study_id', sa.Uuid(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_study_end_by_id')),
    sa.ForeignKeyConstraint(['study_id'], ['study.id'], name=op.f('fk_study_end_study_id')),
    sa.PrimaryKeyConstraint('study_id', name=op.f('pk_study_end')),
    )
