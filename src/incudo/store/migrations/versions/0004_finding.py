"""Finding: where the places of a part were found, and measured backlash."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0004'
down_revision = '0003'

#: Tables that keep what their rows said before; autogenerate does not see this.
VERSIONED = ()


def upgrade() -> None:
    op.create_table('found',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('assignment_id', sa.Uuid(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('kind', sa.String(length=12), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('datums', sa.String(length=2000), nullable=False),
    sa.Column('words', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assignment_id'], ['assignment.id'], name=op.f('fk_found_assignment_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_found_machine_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_found_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_found'))
    )
    op.create_index('ix_found_assignment', 'found', ['assignment_id', 'at'], unique=False)
    op.create_table('lost_motion',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('axis', sa.String(length=8), nullable=False),
    sa.Column('handle', sa.String(length=80), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('content', sa.String(length=1000), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_lost_motion_machine_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_lost_motion_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_lost_motion'))
    )
    op.create_index('ix_lost_motion_machine', 'lost_motion', ['machine_id', 'at'], unique=False)
