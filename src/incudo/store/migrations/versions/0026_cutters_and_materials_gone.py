"""Cutters and materials can leave the shop; no two materials have one name."""

import sqlalchemy as sa
from alembic import op

revision = '0026'
down_revision = '0025'


def upgrade() -> None:
    for table in ('cutter', 'material'):
        op.add_column(table, sa.Column('gone', sa.String(length=400), nullable=False, server_default=''))
    # two instructors who gave two materials one name at the same moment both got it
    told_apart = "CONCAT(LEFT(m.name, 70), ' ', LEFT(SHA1(m.`key`), 6))"
    op.execute(
        "UPDATE material m JOIN material other ON other.name = m.name AND other.`key` < m.`key` "
        f"SET m.content = JSON_SET(m.content, '$.material.name', {told_apart}), m.name = {told_apart}"
    )
    op.create_unique_constraint(op.f('uq_material_name'), 'material', ['name'])
