"""The first schema."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0001'
down_revision = None

#: Tables that keep what their rows said before; autogenerate does not see this.
VERSIONED = ('class_group', 'instrument', 'machine', 'shop', 'person', 'delegation')


def upgrade() -> None:
    op.create_table('class_group',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=80), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_class_group')),
    sa.UniqueConstraint('name', name=op.f('uq_class_group_name'))
    )
    op.create_table('failure',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('scope', sa.String(length=160), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_failure'))
    )
    op.create_index('ix_failure_scope', 'failure', ['scope', 'at'], unique=False)
    op.create_table('instrument',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=80), nullable=False),
    sa.Column('kind', sa.String(length=30), nullable=False),
    sa.Column('unit', sa.String(length=2), nullable=False),
    sa.Column('least', sa.String(length=20), nullable=False),
    sa.Column('most', sa.String(length=20), nullable=False),
    sa.Column('resolution', sa.String(length=20), nullable=False),
    sa.Column('uncertainty', sa.String(length=20), nullable=False),
    sa.Column('zero_error', sa.String(length=20), nullable=False),
    sa.Column('due', sa.Date(), nullable=False),
    sa.Column('tagged_out', sa.String(length=200), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_instrument')),
    sa.UniqueConstraint('name', name=op.f('uq_instrument_name'))
    )
    op.create_table('machine',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=80), nullable=False),
    sa.Column('about', sa.String(length=200), nullable=False),
    sa.Column('place', sa.Integer(), nullable=False),
    sa.Column('tagged_out', sa.String(length=200), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_machine')),
    sa.UniqueConstraint('name', name=op.f('uq_machine_name'))
    )
    op.create_table('project',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('code', sa.String(length=60), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_project')),
    sa.UniqueConstraint('code', name=op.f('uq_project_code'))
    )
    op.create_table('shop',
    sa.Column('id', sa.Integer(), autoincrement=False, nullable=False),
    sa.Column('name', sa.String(length=80), nullable=False),
    sa.Column('verdict_school', sa.String(length=20), nullable=False),
    sa.Column('unit', sa.String(length=2), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_shop'))
    )
    op.create_table('skill_file',
    sa.Column('number', sa.Integer(), autoincrement=False, nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('made_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.PrimaryKeyConstraint('number', name=op.f('pk_skill_file'))
    )
    op.create_table('person',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('login', sa.String(length=60), nullable=False),
    sa.Column('name', sa.String(length=80), nullable=False),
    sa.Column('role', sa.String(length=12), nullable=False),
    sa.Column('group_id', sa.Uuid(), nullable=True),
    sa.Column('password_hash', sa.String(length=160), nullable=False),
    sa.Column('pin_hash', sa.String(length=160), nullable=True),
    sa.Column('active', sa.Boolean(), nullable=False),
    sa.ForeignKeyConstraint(['group_id'], ['class_group.id'], name=op.f('fk_person_group_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_person')),
    sa.UniqueConstraint('login', name=op.f('uq_person_login'))
    )
    op.create_index(op.f('ix_person_role'), 'person', ['role'], unique=False)
    op.create_table('delegation',
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('skill', sa.String(length=60), nullable=False),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_delegation_person_id')),
    sa.PrimaryKeyConstraint('person_id', 'skill', name=op.f('pk_delegation'))
    )
    op.create_table('project_version',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('project_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('made_by', sa.Uuid(), nullable=False),
    sa.Column('made_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.Column('change', sa.String(length=400), nullable=False),
    sa.ForeignKeyConstraint(['made_by'], ['person.id'], name=op.f('fk_project_version_made_by')),
    sa.ForeignKeyConstraint(['project_id'], ['project.id'], name=op.f('fk_project_version_project_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_project_version')),
    sa.UniqueConstraint('project_id', 'number', name=op.f('uq_project_version_project_id_number'))
    )
    op.create_table('sign_in',
    sa.Column('token_hash', sa.String(length=64), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('csrf', sa.String(length=64), nullable=False),
    sa.Column('made_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.Column('seen_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.Column('ends_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_sign_in_person_id')),
    sa.PrimaryKeyConstraint('token_hash', name=op.f('pk_sign_in'))
    )
    op.create_index(op.f('ix_sign_in_ends_at'), 'sign_in', ['ends_at'], unique=False)
    op.create_table('sign_off',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('batch_id', sa.Uuid(), nullable=False),
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('skill', sa.String(length=60), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=True),
    sa.Column('assessor_id', sa.Uuid(), nullable=False),
    sa.Column('note', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assessor_id'], ['person.id'], name=op.f('fk_sign_off_assessor_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_sign_off_machine_id')),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_sign_off_student_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_sign_off'))
    )
    op.create_index(op.f('ix_sign_off_at'), 'sign_off', ['at'], unique=False)
    op.create_index(op.f('ix_sign_off_batch_id'), 'sign_off', ['batch_id'], unique=False)
    op.create_index('ix_sign_off_student', 'sign_off', ['student_id', 'skill'], unique=False)
    op.create_table('withdrawal',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('skill', sa.String(length=60), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=True),
    sa.Column('assessor_id', sa.Uuid(), nullable=False),
    sa.Column('reason', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assessor_id'], ['person.id'], name=op.f('fk_withdrawal_assessor_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_withdrawal_machine_id')),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_withdrawal_student_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_withdrawal'))
    )
    op.create_index(op.f('ix_withdrawal_at'), 'withdrawal', ['at'], unique=False)
    op.create_index('ix_withdrawal_student', 'withdrawal', ['student_id', 'skill'], unique=False)
    op.create_table('assignment',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('project_version_id', sa.Uuid(), nullable=False),
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=True),
    sa.Column('due', sa.Date(), nullable=True),
    sa.Column('not_before_signed', sa.Boolean(), nullable=False),
    sa.Column('assigned_by', sa.Uuid(), nullable=False),
    sa.Column('assigned_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assigned_by'], ['person.id'], name=op.f('fk_assignment_assigned_by')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_assignment_machine_id')),
    sa.ForeignKeyConstraint(['project_version_id'], ['project_version.id'], name=op.f('fk_assignment_project_version_id')),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_assignment_student_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_assignment'))
    )
    op.create_index('ix_assignment_machine', 'assignment', ['machine_id'], unique=False)
    op.create_table('attempt',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('assignment_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('started_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assignment_id'], ['assignment.id'], name=op.f('fk_attempt_assignment_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_attempt')),
    sa.UniqueConstraint('assignment_id', 'number', name=op.f('uq_attempt_assignment_id_number'))
    )
    op.create_table('hand_in',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('attempt_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['attempt_id'], ['attempt.id'], name=op.f('fk_hand_in_attempt_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_hand_in')),
    sa.UniqueConstraint('attempt_id', 'number', name=op.f('uq_hand_in_attempt_id_number'))
    )
    op.create_index(op.f('ix_hand_in_at'), 'hand_in', ['at'], unique=False)
    op.create_table('progress',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('attempt_id', sa.Uuid(), nullable=False),
    sa.Column('station', sa.String(length=12), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['attempt_id'], ['attempt.id'], name=op.f('fk_progress_attempt_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_progress_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_progress')),
    sa.UniqueConstraint('attempt_id', 'station', name=op.f('uq_progress_attempt_id_station'))
    )
    op.create_table('reading',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('attempt_id', sa.Uuid(), nullable=False),
    sa.Column('characteristic', sa.Integer(), nullable=False),
    sa.Column('round', sa.Integer(), nullable=False),
    sa.Column('checking', sa.Boolean(), nullable=False),
    sa.Column('late', sa.Boolean(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('text', sa.String(length=40), nullable=False),
    sa.Column('unit', sa.String(length=2), nullable=False),
    sa.Column('value_mm', mysql.DECIMAL(precision=16, scale=8), nullable=False),
    sa.Column('instrument_id', sa.Uuid(), nullable=False),
    sa.Column('instrument_unit', sa.String(length=2), nullable=False),
    sa.Column('resolution', sa.String(length=20), nullable=False),
    sa.Column('uncertainty', sa.String(length=20), nullable=False),
    sa.Column('zero_error', sa.String(length=20), nullable=False),
    sa.Column('undecided', sa.String(length=300), nullable=False),
    sa.Column('school', sa.String(length=20), nullable=False),
    sa.Column('verdict', sa.String(length=20), nullable=False),
    sa.Column('supersedes_id', sa.Uuid(), nullable=True),
    sa.Column('why', sa.String(length=200), nullable=False),
    sa.Column('measured_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.Column('saved_at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['attempt_id'], ['attempt.id'], name=op.f('fk_reading_attempt_id')),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_reading_instrument_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_reading_person_id')),
    sa.ForeignKeyConstraint(['supersedes_id'], ['reading.id'], name=op.f('fk_reading_supersedes_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_reading')),
    sa.UniqueConstraint('supersedes_id', name=op.f('uq_reading_supersedes_id'))
    )
    op.create_index('ix_reading_attempt_round', 'reading', ['attempt_id', 'round'], unique=False)
    op.create_index('ix_reading_saved_at', 'reading', ['saved_at'], unique=False)
    op.create_table('comparison',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('hand_in_id', sa.Uuid(), nullable=False),
    sa.Column('assessor_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assessor_id'], ['person.id'], name=op.f('fk_comparison_assessor_id')),
    sa.ForeignKeyConstraint(['hand_in_id'], ['hand_in.id'], name=op.f('fk_comparison_hand_in_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_comparison')),
    sa.UniqueConstraint('hand_in_id', 'assessor_id', name=op.f('uq_comparison_hand_in_id_assessor_id'))
    )
    op.create_table('decision',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('hand_in_id', sa.Uuid(), nullable=False),
    sa.Column('assessor_id', sa.Uuid(), nullable=False),
    sa.Column('outcome', sa.String(length=12), nullable=False),
    sa.Column('remark', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assessor_id'], ['person.id'], name=op.f('fk_decision_assessor_id')),
    sa.ForeignKeyConstraint(['hand_in_id'], ['hand_in.id'], name=op.f('fk_decision_hand_in_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_decision')),
    sa.UniqueConstraint('hand_in_id', name=op.f('uq_decision_hand_in_id'))
    )
    op.create_index(op.f('ix_decision_at'), 'decision', ['at'], unique=False)
    op.create_table('finding',
    sa.Column('decision_id', sa.Uuid(), nullable=False),
    sa.Column('characteristic', sa.Integer(), autoincrement=False, nullable=False),
    sa.Column('verdict', sa.String(length=20), nullable=False),
    sa.Column('by_check', sa.Boolean(), nullable=False),
    sa.Column('agrees', sa.Boolean(), nullable=True),
    sa.Column('disposition', sa.String(length=12), nullable=False),
    sa.Column('reason', sa.String(length=400), nullable=False),
    sa.Column('counts', sa.Boolean(), nullable=False),
    sa.ForeignKeyConstraint(['decision_id'], ['decision.id'], name=op.f('fk_finding_decision_id')),
    sa.PrimaryKeyConstraint('decision_id', 'characteristic', name=op.f('pk_finding'))
    )
    for table in VERSIONED:
        op.execute(f"ALTER TABLE `{table}` ADD SYSTEM VERSIONING")
