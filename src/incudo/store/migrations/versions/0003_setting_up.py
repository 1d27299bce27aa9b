"""Setting up: what machines and workholding are, working records, practice rigs."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0003'
down_revision = '0002'

#: Tables that keep what their rows said before; autogenerate does not see this.
VERSIONED = ('workholding',)
#: What a machine is taken for until somebody enters it in the register.
UNKNOWN = (
    '{"format": "incudo-machine/1", "kind": "turret_knee", "make": "not entered yet", "unit": "mm", '
    '"head": {"tilt": true, "nod": {"behind": null}}, '
    '"table": {"length": "1000", "width": "230", "slots": ["50", "115", "180"], "slot_width": "16"}, '
    '"travel": ["600", "300", "400"], "spindle": {"taper": "not entered yet", "watts": 1500, "steps": [80]}, '
    '"handles": [{"axis": "x", "place": "left", "clockwise": "right", "unit": "mm", "per_turn": "5", "graduations": 250}], '
    '"wear": "not entered in the register yet"}'
)


def upgrade() -> None:
    op.create_table('workholding',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=80), nullable=False),
    sa.Column('spec', mysql.LONGTEXT(), nullable=False),
    sa.Column('place', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_workholding')),
    sa.UniqueConstraint('name', name=op.f('uq_workholding_name'))
    )
    op.create_table('machine_note',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('kind', sa.String(length=12), nullable=False),
    sa.Column('words', sa.String(length=400), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_machine_note_machine_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_machine_note_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_machine_note'))
    )
    op.create_index('ix_machine_note_machine', 'machine_note', ['machine_id', 'at'], unique=False)
    op.create_table('rig_exercise',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('group_id', sa.Uuid(), nullable=False),
    sa.Column('rig', sa.String(length=20), nullable=False),
    sa.Column('level', sa.Integer(), nullable=False),
    sa.Column('seed', sa.String(length=40), nullable=False),
    sa.Column('setup', mysql.LONGTEXT(), nullable=False),
    sa.Column('words', sa.String(length=400), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['group_id'], ['class_group.id'], name=op.f('fk_rig_exercise_group_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_rig_exercise_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_rig_exercise'))
    )
    op.create_index(op.f('ix_rig_exercise_group_id'), 'rig_exercise', ['group_id'], unique=False)
    op.create_table('rig_run',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('rig', sa.String(length=20), nullable=False),
    sa.Column('level', sa.Integer(), nullable=False),
    sa.Column('seed', sa.String(length=40), nullable=False),
    sa.Column('setup', mysql.LONGTEXT(), nullable=False),
    sa.Column('guided', sa.Boolean(), nullable=False),
    sa.Column('exercise_id', sa.Uuid(), nullable=True),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['exercise_id'], ['rig_exercise.id'], name=op.f('fk_rig_run_exercise_id')),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_rig_run_student_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_rig_run'))
    )
    op.create_index('ix_rig_run_student', 'rig_run', ['student_id', 'rig', 'at'], unique=False)
    op.create_table('rig_action',
    sa.Column('run_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), autoincrement=False, nullable=False),
    sa.Column('content', sa.String(length=200), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['run_id'], ['rig_run.id'], name=op.f('fk_rig_action_run_id')),
    sa.PrimaryKeyConstraint('run_id', 'number', name=op.f('pk_rig_action'))
    )
    op.create_table('rig_result',
    sa.Column('run_id', sa.Uuid(), nullable=False),
    sa.Column('passed', sa.Boolean(), nullable=False),
    sa.Column('passes', sa.Integer(), nullable=False),
    sa.Column('practised', sa.Integer(), nullable=False),
    sa.Column('reasons', mysql.LONGTEXT(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['run_id'], ['rig_run.id'], name=op.f('fk_rig_result_run_id')),
    sa.PrimaryKeyConstraint('run_id', name=op.f('pk_rig_result'))
    )
    op.create_table('setup',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('machine_id', sa.Uuid(), nullable=False),
    sa.Column('kind', sa.String(length=8), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('assignment_id', sa.Uuid(), nullable=True),
    sa.Column('holding_id', sa.Uuid(), nullable=True),
    sa.Column('settings', mysql.LONGTEXT(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assignment_id'], ['assignment.id'], name=op.f('fk_setup_assignment_id')),
    sa.ForeignKeyConstraint(['holding_id'], ['workholding.id'], name=op.f('fk_setup_holding_id')),
    sa.ForeignKeyConstraint(['machine_id'], ['machine.id'], name=op.f('fk_setup_machine_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_setup_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_setup'))
    )
    op.create_index('ix_setup_assignment', 'setup', ['assignment_id', 'kind', 'at'], unique=False)
    op.create_index('ix_setup_machine', 'setup', ['machine_id', 'kind', 'at'], unique=False)
    op.create_table('setup_end',
    sa.Column('setup_id', sa.Uuid(), nullable=False),
    sa.Column('good', sa.Boolean(), nullable=False),
    sa.Column('words', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['setup_id'], ['setup.id'], name=op.f('fk_setup_end_setup_id')),
    sa.PrimaryKeyConstraint('setup_id', name=op.f('pk_setup_end'))
    )
    op.create_table('setup_pass',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('setup_id', sa.Uuid(), nullable=False),
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['setup_id'], ['setup.id'], name=op.f('fk_setup_pass_setup_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_setup_pass')),
    sa.UniqueConstraint('setup_id', 'number', name='uq_setup_pass_number')
    )
    for table, column, value in (('machine', 'spec', UNKNOWN), ('shop', 'setup_rules', '{}')):
        # rows of the past get it too: a versioned table takes no NULL there afterwards;
        # the colons of JSON must not be taken for parameters
        default = sa.text("'" + value.replace(':', '\\:') + "'")
        op.add_column(table, sa.Column(column, mysql.LONGTEXT(), nullable=False, server_default=default))
        op.alter_column(table, column, existing_type=mysql.LONGTEXT(), existing_nullable=False, server_default=None)
    for table in VERSIONED:
        op.execute(f"ALTER TABLE `{table}` ADD SYSTEM VERSIONING")
