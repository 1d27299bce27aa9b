"""Signs that something was not right, as they were chosen at the machine."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0017'
down_revision = '0016'


def _key(column: str, other: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f'{other}.id'], name=op.f(f'fk_noticed_sign_{column}'))


def upgrade() -> None:
    op.create_table('noticed_sign',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('attempt_id', sa.Uuid(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('step', sa.String(length=60), nullable=False),
    sa.Column('sign', sa.String(length=40), nullable=False),
    sa.Column('name', sa.String(length=2000), nullable=False),
    sa.Column('during', sa.String(length=2000), nullable=False),
    sa.Column('noticed_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    _key('attempt_id', 'attempt'),
    _key('machine_id', 'machine'),
    _key('person_id', 'person'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_noticed_sign')),
    )
    op.create_index(op.f('ix_noticed_sign_person_id'), 'noticed_sign', ['person_id', 'at'])
