"""A part can be taken out of the library and put back; what stands in versions stays as it was given."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0012'
down_revision = '0011'


def upgrade() -> None:
    op.create_table('project_shelving',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('project_id', sa.Uuid(), nullable=False),
    sa.Column('retired', sa.Boolean(), nullable=False),
    sa.Column('by', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['project_id'], ['project.id'], name=op.f('fk_project_shelving_project_id')),
    sa.ForeignKeyConstraint(['by'], ['person.id'], name=op.f('fk_project_shelving_by')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_project_shelving'))
    )
    op.create_index('ix_project_shelving_project', 'project_shelving', ['project_id', 'at'], unique=False)
