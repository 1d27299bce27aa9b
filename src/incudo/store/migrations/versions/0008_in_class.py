"""Sheets that are answered in class, with the reckoner closed, until who teaches ends them."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0008'
down_revision = '0007'


def upgrade() -> None:
    op.add_column('exercise_sheet', sa.Column('in_class', sa.Boolean(), nullable=False, server_default='0'))
    op.create_table('exercise_sheet_end',
    sa.Column('sheet_id', sa.Uuid(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_exercise_sheet_end_by_id')),
    sa.ForeignKeyConstraint(['sheet_id'], ['exercise_sheet.id'], name=op.f('fk_exercise_sheet_end_sheet_id')),
    sa.PrimaryKeyConstraint('sheet_id', name=op.f('pk_exercise_sheet_end'))
    )
