"""Sentences of ours are kept as template and values, so that they can be said in another language."""

import sqlalchemy as sa
from alembic import op

revision = '0010'
down_revision = '0009'

COLUMNS = {
    'found': ('words', 400),
    'reading': ('undecided', 300),
    'exercise_answer': ('slip', 120),
    'setup_end': ('words', 400),
    'call_end': ('words', 400),
}


def upgrade() -> None:
    for table, (column, length) in COLUMNS.items():
        op.alter_column(
            table, column, existing_type=sa.String(length), type_=sa.String(2000), existing_nullable=False
        )
    # slips have no values: what was kept as English is its own template; done twice it changes nothing
    op.execute(
        "UPDATE exercise_answer SET slip = JSON_OBJECT('say', slip, 'with', JSON_OBJECT()) "
        "WHERE slip <> '' AND slip NOT LIKE '{\"say\": %'"
    )
    op.execute("UPDATE exercise_answer SET unit = 'rpm' WHERE unit = '1/min'")
    op.execute("UPDATE reckoned SET content = REPLACE(content, '\"1/min\"', '\"rpm\"')")
    if sa.inspect(op.get_bind()).has_table('lost_motion'):
        op.rename_table('lost_motion', 'measured_backlash')
    indexes = {i['name'] for i in sa.inspect(op.get_bind()).get_indexes('measured_backlash')}
    if 'ix_lost_motion_machine' in indexes:
        op.execute('ALTER TABLE measured_backlash RENAME INDEX ix_lost_motion_machine TO ix_measured_backlash_machine')
