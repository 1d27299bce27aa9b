"""The run card: what was done at the machine, step by step, in the order in which it came in."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0015'
down_revision = '0014'


def _key(column: str, other: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f'{other}.id'], name=op.f(f'fk_run_tick_{column}'))


def upgrade() -> None:
    op.create_table('run_tick',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('attempt_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('step', sa.String(length=60), nullable=False),
    sa.Column('kind', sa.String(length=8), nullable=False),
    sa.Column('value', sa.String(length=20), nullable=False),
    sa.Column('millimetres', sa.String(length=60), nullable=False),
    sa.Column('good', sa.Boolean(), nullable=False),
    sa.Column('words', sa.String(length=2000), nullable=False),
    sa.Column('place', sa.Integer(), nullable=False),
    sa.Column('places', sa.Integer(), nullable=False),
    sa.Column('title', sa.String(length=2000), nullable=False),
    sa.Column('planned', sa.Integer(), nullable=False),
    sa.Column('plan_version_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('done_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    _key('attempt_id', 'attempt'),
    _key('plan_version_id', 'plan_version'),
    _key('person_id', 'person'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_run_tick')),
    sa.UniqueConstraint('attempt_id', 'number', name=op.f('uq_run_tick_attempt_id_number')),
    )
