"""Cutters and materials can leave the shop; no two materials have one name."""

import hashlib

import sqlalchemy as sa
from alembic import op

revision = '0026'
down_revision = '0025'


def upgrade() -> None:
    for table in ('cutter', 'material'):
        op.add_column(table, sa.Column('gone', sa.String(length=400), nullable=False, server_default=''))
    # two instructors who gave two materials one name at the same moment both got it; told apart one by one, for rows
    # of the past that end at the same moment would stand in each other's way
    twice = (
        "SELECT DISTINCT m.`key`, m.name FROM material m JOIN material other "
        "ON other.name = m.name AND other.`key` < m.`key`"
    )
    for key, name in op.get_bind().execute(sa.text(twice)).all():
        told_apart = f"{name[:70]} {hashlib.sha256(key.encode()).hexdigest()[:6]}"
        op.get_bind().execute(
            sa.text(
                "UPDATE material SET content = JSON_SET(content, '$.material.name', :name), name = :name "
                "WHERE `key` = :key"
            ),
            {"key": key, "name": told_apart},
        )
    op.create_unique_constraint(op.f('uq_material_name'), 'material', ['name'])
