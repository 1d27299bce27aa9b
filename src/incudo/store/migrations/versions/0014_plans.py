"""Plans: how planning is set, plans as they were saved, handing in, and what was decided about them."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0014'
down_revision = '0013'


def _key(table: str, column: str, other: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f'{other}.id'], name=op.f(f'fk_{table}_{column}'))


def upgrade() -> None:
    op.create_table('plan_task',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('assignment_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('mode', sa.String(length=8), nullable=False),
    sa.Column('gaps', sa.String(length=80), nullable=False),
    sa.Column('judged', sa.String(length=8), nullable=False),
    sa.Column('approval', sa.Boolean(), nullable=False),
    sa.Column('given', mysql.LONGTEXT(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    _key('plan_task', 'assignment_id', 'assignment'),
    _key('plan_task', 'by_id', 'person'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_plan_task')),
    sa.UniqueConstraint('assignment_id', 'number', name=op.f('uq_plan_task_assignment_id_number')),
    )
    op.create_table('plan_version',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('assignment_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('numbers', mysql.LONGTEXT(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    _key('plan_version', 'assignment_id', 'assignment'),
    _key('plan_version', 'machine_id', 'machine'),
    _key('plan_version', 'person_id', 'person'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_plan_version')),
    sa.UniqueConstraint('assignment_id', 'number', name=op.f('uq_plan_version_assignment_id_number')),
    )
    op.create_table('plan_hand_in',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('assignment_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('version_id', sa.Uuid(), nullable=False),
    sa.Column('findings', mysql.LONGTEXT(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    _key('plan_hand_in', 'assignment_id', 'assignment'),
    _key('plan_hand_in', 'version_id', 'plan_version'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_plan_hand_in')),
    sa.UniqueConstraint('assignment_id', 'number', name=op.f('uq_plan_hand_in_assignment_id_number')),
    )
    op.create_table('plan_decision',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('plan_hand_in_id', sa.Uuid(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('approved', sa.Boolean(), nullable=False),
    sa.Column('remark', sa.String(length=400), nullable=False),
    sa.Column('remarks', mysql.LONGTEXT(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    _key('plan_decision', 'plan_hand_in_id', 'plan_hand_in'),
    _key('plan_decision', 'by_id', 'person'),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_plan_decision')),
    sa.UniqueConstraint('plan_hand_in_id', name=op.f('uq_plan_decision_plan_hand_in_id')),
    )
