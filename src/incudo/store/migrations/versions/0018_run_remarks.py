"""What an instructor says to whoever is cutting, on their run card."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0018'
down_revision = '0017'


def upgrade() -> None:
    op.create_table('run_remark',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('attempt_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('step', sa.String(length=60), nullable=False),
    sa.Column('words', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['attempt_id'], ['attempt.id'], name=op.f('fk_run_remark_attempt_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_run_remark_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_run_remark')),
    )
    op.create_index(op.f('ix_run_remark_attempt_id'), 'run_remark', ['attempt_id', 'at'])
