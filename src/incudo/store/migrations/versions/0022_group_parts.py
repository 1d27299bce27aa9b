"""The parts that a group makes in its term."""

import sqlalchemy as sa
from alembic import op

revision = '0022'
down_revision = '0021'


def upgrade() -> None:
    op.create_table('group_part',
    sa.Column('group_id', sa.Uuid(), nullable=False),
    sa.Column('project_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['group_id'], ['class_group.id'], name=op.f('fk_group_part_group_id')),
    sa.ForeignKeyConstraint(['project_id'], ['project.id'], name=op.f('fk_group_part_project_id')),
    sa.PrimaryKeyConstraint('group_id', 'project_id', name=op.f('pk_group_part')),
    )
    op.execute("ALTER TABLE `group_part` ADD SYSTEM VERSIONING")
