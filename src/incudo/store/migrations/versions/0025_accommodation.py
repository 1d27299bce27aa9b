"""What helps a student to work here, for who teaches alone."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0025'
down_revision = '0024'


def upgrade() -> None:
    op.create_table('accommodation',
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('words', sa.String(length=1000), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_accommodation_by_id')),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_accommodation_student_id')),
    sa.PrimaryKeyConstraint('student_id', name=op.f('pk_accommodation')),
    )
