"""How long operations took at the machine, for the times of the next plan."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0028'
down_revision = '0027'


def upgrade() -> None:
    op.create_table('operation_time',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('work', sa.String(length=20), nullable=False),
    sa.Column('reckoned', sa.Integer(), nullable=False),
    sa.Column('taken', sa.Integer(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_operation_time_machine_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_operation_time')),
    )
    op.create_index('ix_operation_time_machine_id_at', 'operation_time', ['machine_id', 'at'])
