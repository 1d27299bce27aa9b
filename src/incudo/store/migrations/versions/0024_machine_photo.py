"""A photograph of a machine."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0024'
down_revision = '0023'


def upgrade() -> None:
    op.create_table('machine_photo',
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('content', mysql.MEDIUMBLOB(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_machine_photo_by_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_machine_photo_machine_id')),
    sa.PrimaryKeyConstraint('machine_id', name=op.f('pk_machine_photo')),
    )
