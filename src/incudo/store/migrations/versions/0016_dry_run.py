"""Dry runs of a plan, act by act, with the dials as they were when each was begun."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0016'
down_revision = '0015'


def upgrade() -> None:
    op.create_table('dry_run',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('assignment_id', sa.Uuid(), nullable=False),
    sa.Column('plan_version_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('dials', mysql.LONGTEXT(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assignment_id'], ['assignment.id'], name=op.f('fk_dry_run_assignment_id')),
    sa.ForeignKeyConstraint(['plan_version_id'], ['plan_version.id'], name=op.f('fk_dry_run_plan_version_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_dry_run_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_dry_run')),
    )
    op.create_index(op.f('ix_dry_run_assignment_id'), 'dry_run', ['assignment_id', 'at'])
    op.create_table('dry_act',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('run_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('step', sa.String(length=60), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('outcome', mysql.LONGTEXT(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['run_id'], ['dry_run.id'], name=op.f('fk_dry_act_run_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_dry_act')),
    sa.UniqueConstraint('run_id', 'number', name=op.f('uq_dry_act_run_id_number')),
    )
