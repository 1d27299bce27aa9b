"""Sessions, tags, calls, knowledge checks, the register's chain."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0002'
down_revision = '0001'

#: Tables that keep what their rows said before; autogenerate does not see this.
VERSIONED = ('device', 'meeting')


def upgrade() -> None:
    op.create_table('device',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=80), nullable=False),
    sa.Column('key_hash', sa.String(length=64), nullable=False),
    sa.Column('active', sa.Boolean(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_device')),
    sa.UniqueConstraint('key_hash', name=op.f('uq_device_key_hash')),
    sa.UniqueConstraint('name', name=op.f('uq_device_name'))
    )
    op.create_table('register_entry',
    sa.Column('seq', sa.Integer(), autoincrement=False, nullable=False),
    sa.Column('entry_id', sa.Uuid(), nullable=False),
    sa.Column('kind', sa.String(length=16), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('previous', sa.String(length=64), nullable=False),
    sa.Column('digest', sa.String(length=64), nullable=False),
    sa.Column('seal', sa.String(length=64), nullable=False),
    sa.PrimaryKeyConstraint('seq', name=op.f('pk_register_entry'))
    )
    op.create_index(op.f('ix_register_entry_entry_id'), 'register_entry', ['entry_id'], unique=False)
    op.create_table('device_state',
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('device_id', sa.Uuid(), nullable=False),
    sa.Column('spindle', sa.Boolean(), nullable=False),
    sa.Column('feed', sa.Boolean(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['device_id'], ['device.id'], name=op.f('fk_device_state_device_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_device_state_machine_id')),
    sa.PrimaryKeyConstraint('machine_id', name=op.f('pk_device_state'))
    )
    op.create_table('bank_version',
    sa.Column('bank', sa.String(length=60), nullable=False),
    sa.Column('number', sa.Integer(), autoincrement=False, nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('made_by', sa.Uuid(), nullable=True),
    sa.Column('made_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['made_by'], ['person.id'], name=op.f('fk_bank_version_made_by')),
    sa.PrimaryKeyConstraint('bank', 'number', name=op.f('pk_bank_version'))
    )
    op.create_table('check_try',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('bank', sa.String(length=60), nullable=False),
    sa.Column('bank_number', sa.Integer(), nullable=False),
    sa.Column('seed', sa.String(length=40), nullable=False),
    sa.Column('questions', sa.String(length=3000), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_check_try_student_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_check_try'))
    )
    op.create_index('ix_check_try_student', 'check_try', ['student_id', 'bank'], unique=False)
    op.create_table('demonstration',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('batch_id', sa.Uuid(), nullable=False),
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('skill', sa.String(length=60), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=True),
    sa.Column('assessor_id', sa.Uuid(), nullable=False),
    sa.Column('outcome', sa.String(length=12), nullable=False),
    sa.Column('seen', sa.String(length=400), nullable=False),
    sa.Column('repeat', sa.String(length=2000), nullable=False),
    sa.Column('note', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assessor_id'], ['person.id'], name=op.f('fk_demonstration_assessor_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_demonstration_machine_id')),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_demonstration_student_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_demonstration'))
    )
    op.create_index(op.f('ix_demonstration_at'), 'demonstration', ['at'], unique=False)
    op.create_index(op.f('ix_demonstration_batch_id'), 'demonstration', ['batch_id'], unique=False)
    op.create_index('ix_demonstration_student', 'demonstration', ['student_id', 'skill'], unique=False)
    op.create_table('incident',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('kind', sa.String(length=12), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=True),
    sa.Column('machine_id', sa.Uuid(), nullable=True),
    sa.Column('what', sa.String(length=1000), nullable=False),
    sa.Column('place', sa.String(length=200), nullable=False),
    sa.Column('witness', sa.String(length=200), nullable=False),
    sa.Column('done', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_incident_machine_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_incident_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_incident'))
    )
    op.create_index(op.f('ix_incident_at'), 'incident', ['at'], unique=False)
    op.create_table('meeting',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('group_id', sa.Uuid(), nullable=False),
    sa.Column('opened_by', sa.Uuid(), nullable=False),
    sa.Column('opened_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.Column('ended_by', sa.Uuid(), nullable=True),
    sa.Column('ended_at', mysql.DATETIME(fsp=6), nullable=True),
    sa.Column('duties', mysql.LONGTEXT(), nullable=False),
    sa.Column('open_slot', sa.Integer(), nullable=True),
    sa.ForeignKeyConstraint(['ended_by'], ['person.id'], name=op.f('fk_meeting_ended_by')),
    sa.ForeignKeyConstraint(['group_id'], ['class_group.id'], name=op.f('fk_meeting_group_id')),
    sa.ForeignKeyConstraint(['opened_by'], ['person.id'], name=op.f('fk_meeting_opened_by')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_meeting')),
    sa.UniqueConstraint('open_slot', name=op.f('uq_meeting_open_slot'))
    )
    op.create_index(op.f('ix_meeting_opened_at'), 'meeting', ['opened_at'], unique=False)
    op.create_table('notice_signed',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_notice_signed_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_notice_signed')),
    sa.UniqueConstraint('person_id', 'version', name=op.f('uq_notice_signed_person_id_version'))
    )
    op.create_table('restoration',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('skill', sa.String(length=60), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=True),
    sa.Column('assessor_id', sa.Uuid(), nullable=False),
    sa.Column('reason', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assessor_id'], ['person.id'], name=op.f('fk_restoration_assessor_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_restoration_machine_id')),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_restoration_student_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_restoration'))
    )
    op.create_index(op.f('ix_restoration_at'), 'restoration', ['at'], unique=False)
    op.create_index('ix_restoration_student', 'restoration', ['student_id', 'skill'], unique=False)
    op.create_table('shop_stop',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('reason', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_shop_stop_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_shop_stop'))
    )
    op.create_index(op.f('ix_shop_stop_at'), 'shop_stop', ['at'], unique=False)
    op.create_table('tag',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=True),
    sa.Column('instrument_id', sa.Uuid(), nullable=True),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('note', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_tag_instrument_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_tag_machine_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_tag_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_tag'))
    )
    op.create_index(op.f('ix_tag_at'), 'tag', ['at'], unique=False)
    op.create_table('check_answer',
    sa.Column('try_id', sa.Uuid(), nullable=False),
    sa.Column('question', sa.String(length=60), nullable=False),
    sa.Column('places', sa.String(length=200), nullable=False),
    sa.Column('number', sa.String(length=40), nullable=False),
    sa.Column('right', sa.Boolean(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['try_id'], ['check_try.id'], name=op.f('fk_check_answer_try_id')),
    sa.PrimaryKeyConstraint('try_id', 'question', name=op.f('pk_check_answer'))
    )
    op.create_index('ix_check_answer_question', 'check_answer', ['question'], unique=False)
    op.create_table('check_result',
    sa.Column('try_id', sa.Uuid(), nullable=False),
    sa.Column('right', sa.Integer(), nullable=False),
    sa.Column('asked', sa.Integer(), nullable=False),
    sa.Column('critical_wrong', sa.Integer(), nullable=False),
    sa.Column('passed', sa.Boolean(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['try_id'], ['check_try.id'], name=op.f('fk_check_result_try_id')),
    sa.PrimaryKeyConstraint('try_id', name=op.f('pk_check_result'))
    )
    op.create_table('meeting_machine',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('meeting_id', sa.Uuid(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('open', sa.Boolean(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_meeting_machine_by_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_meeting_machine_machine_id')),
    sa.ForeignKeyConstraint(['meeting_id'], ['meeting.id'], name=op.f('fk_meeting_machine_meeting_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_meeting_machine'))
    )
    op.create_index(op.f('ix_meeting_machine_meeting_id'), 'meeting_machine', ['meeting_id'], unique=False)
    op.create_table('roll',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('meeting_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('presence', sa.String(length=8), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_roll_by_id')),
    sa.ForeignKeyConstraint(['meeting_id'], ['meeting.id'], name=op.f('fk_roll_meeting_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_roll_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_roll'))
    )
    op.create_index(op.f('ix_roll_meeting_id'), 'roll', ['meeting_id'], unique=False)
    op.create_index('ix_roll_person', 'roll', ['person_id', 'at'], unique=False)
    op.create_table('shop_stop_cleared',
    sa.Column('stop_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('note', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_shop_stop_cleared_person_id')),
    sa.ForeignKeyConstraint(['stop_id'], ['shop_stop.id'], name=op.f('fk_shop_stop_cleared_stop_id')),
    sa.PrimaryKeyConstraint('stop_id', name=op.f('pk_shop_stop_cleared'))
    )
    op.create_table('supervision',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('meeting_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('on', sa.Boolean(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['meeting_id'], ['meeting.id'], name=op.f('fk_supervision_meeting_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_supervision_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_supervision'))
    )
    op.create_index(op.f('ix_supervision_meeting_id'), 'supervision', ['meeting_id'], unique=False)
    op.create_table('tag_cleared',
    sa.Column('tag_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('note', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_tag_cleared_person_id')),
    sa.ForeignKeyConstraint(['tag_id'], ['tag.id'], name=op.f('fk_tag_cleared_tag_id')),
    sa.PrimaryKeyConstraint('tag_id', name=op.f('pk_tag_cleared'))
    )
    op.create_table('call',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('kind', sa.String(length=16), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=True),
    sa.Column('assignment_id', sa.Uuid(), nullable=True),
    sa.Column('what', sa.String(length=60), nullable=False),
    sa.Column('words', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assignment_id'], ['assignment.id'], name=op.f('fk_call_assignment_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_call_machine_id')),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_call_student_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_call'))
    )
    op.create_index(op.f('ix_call_at'), 'call', ['at'], unique=False)
    op.create_table('hold_point',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('assignment_id', sa.Uuid(), nullable=True),
    sa.Column('hold', sa.String(length=20), nullable=False),
    sa.Column('on', sa.Boolean(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assignment_id'], ['assignment.id'], name=op.f('fk_hold_point_assignment_id')),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_hold_point_by_id')),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_hold_point_student_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_hold_point'))
    )
    op.create_index('ix_hold_point_student', 'hold_point', ['student_id'], unique=False)
    op.create_table('machine_event',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('meeting_id', sa.Uuid(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('kind', sa.String(length=12), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('operation', sa.String(length=60), nullable=False),
    sa.Column('assignment_id', sa.Uuid(), nullable=True),
    sa.Column('by_id', sa.Uuid(), nullable=True),
    sa.Column('until', mysql.DATETIME(fsp=6), nullable=True),
    sa.Column('words', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assignment_id'], ['assignment.id'], name=op.f('fk_machine_event_assignment_id')),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_machine_event_by_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_machine_event_machine_id')),
    sa.ForeignKeyConstraint(['meeting_id'], ['meeting.id'], name=op.f('fk_machine_event_meeting_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_machine_event_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_machine_event'))
    )
    op.create_index('ix_machine_event_meeting', 'machine_event', ['meeting_id', 'machine_id', 'at'], unique=False)
    op.create_index('ix_machine_event_person', 'machine_event', ['person_id', 'kind'], unique=False)
    op.create_table('call_end',
    sa.Column('call_id', sa.Uuid(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('outcome', sa.String(length=12), nullable=False),
    sa.Column('words', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_call_end_by_id')),
    sa.ForeignKeyConstraint(['call_id'], ['call.id'], name=op.f('fk_call_end_call_id')),
    sa.PrimaryKeyConstraint('call_id', name=op.f('pk_call_end'))
    )
    for column, table in (('machine_id', 'machine'), ('instrument_id', 'instrument')):
        if not any(c['name'] == 'tagged_out' for c in sa.inspect(op.get_bind()).get_columns(table)):
            continue  # moved by a run that was interrupted after it
        op.execute(
            f"INSERT INTO tag (id, {column}, person_id, note, at) SELECT UUID(), x.id, p.id, x.tagged_out, UTC_TIMESTAMP(6) "
            f"FROM {table} x JOIN (SELECT MIN(id) AS id FROM person WHERE role = 'instructor') p WHERE x.tagged_out <> ''"
        )
        op.drop_column(table, 'tagged_out')
    op.add_column('shop', sa.Column('confirmed_minutes', sa.Integer(), nullable=False, server_default='30'))
    op.add_column('sign_off', sa.Column('refresher', sa.Boolean(), nullable=False, server_default='0'))
    op.add_column('withdrawal', sa.Column('place', sa.String(length=200), nullable=False, server_default=''))
    op.add_column('withdrawal', sa.Column('witness', sa.String(length=200), nullable=False, server_default=''))
    op.add_column('withdrawal', sa.Column('done', sa.String(length=400), nullable=False, server_default=''))
    for table in VERSIONED:
        op.execute(f"ALTER TABLE `{table}` ADD SYSTEM VERSIONING")
