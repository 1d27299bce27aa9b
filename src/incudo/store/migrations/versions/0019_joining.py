"""Codes by which people come in, what was changed of them, and when they signed in last."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0019'
down_revision = '0018'


def upgrade() -> None:
    op.create_table('invitation',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=True),
    sa.Column('code_hash', sa.String(length=64), nullable=False),
    sa.Column('made_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.Column('ends_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_invitation_by_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_invitation_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_invitation')),
    sa.UniqueConstraint('code_hash', name=op.f('uq_invitation_code_hash')),
    )
    op.create_index('ix_invitation_person', 'invitation', ['person_id', 'made_at'])
    op.create_table('invitation_taken',
    sa.Column('invitation_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['invitation_id'], ['invitation.id'], name=op.f('fk_invitation_taken_invitation_id')),
    sa.PrimaryKeyConstraint('invitation_id', name=op.f('pk_invitation_taken')),
    )
    op.create_table('person_act',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=True),
    sa.Column('words', sa.String(length=2000), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_person_act_by_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_person_act_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_person_act')),
    )
    op.create_index('ix_person_act_person', 'person_act', ['person_id', 'at'])
    op.create_table('last_sign_in',
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_last_sign_in_person_id')),
    sa.PrimaryKeyConstraint('person_id', name=op.f('pk_last_sign_in')),
    )
    op.create_table('first_code',
    sa.Column('id', sa.Integer(), autoincrement=False, nullable=False),
    sa.Column('code_hash', sa.String(length=64), nullable=False),
    sa.Column('ends_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_first_code')),
    )
