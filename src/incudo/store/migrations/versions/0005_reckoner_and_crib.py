"""Cutters, materials and the crib; reckonings on job cards; exercises."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0005'
down_revision = '0004'

#: Tables that keep what their rows said before; autogenerate does not see this.
VERSIONED = ('material', 'cutter')


def upgrade() -> None:
    op.create_table('material',
    sa.Column('key', sa.String(length=60), nullable=False),
    sa.Column('name', sa.String(length=80), nullable=False),
    sa.Column('place', sa.Integer(), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.PrimaryKeyConstraint('key', name=op.f('pk_material'))
    )
    op.create_table('cutter',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('name', sa.String(length=80), nullable=False),
    sa.Column('place', sa.Integer(), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_cutter')),
    sa.UniqueConstraint('name', name=op.f('uq_cutter_name'))
    )
    op.create_table('crib_issue',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('cutter_id', sa.Uuid(), nullable=True),
    sa.Column('instrument_id', sa.Uuid(), nullable=True),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('note', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['cutter_id'], ['cutter.id'], name=op.f('fk_crib_issue_cutter_id')),
    sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id'], name=op.f('fk_crib_issue_instrument_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_crib_issue_person_id')),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_crib_issue_by_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_crib_issue'))
    )
    op.create_index('ix_crib_issue_at', 'crib_issue', ['at'], unique=False)
    op.create_table('crib_return',
    sa.Column('issue_id', sa.Uuid(), nullable=False),
    sa.Column('by_id', sa.Uuid(), nullable=False),
    sa.Column('condition', sa.String(length=12), nullable=False),
    sa.Column('note', sa.String(length=400), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['issue_id'], ['crib_issue.id'], name=op.f('fk_crib_return_issue_id')),
    sa.ForeignKeyConstraint(['by_id'], ['person.id'], name=op.f('fk_crib_return_by_id')),
    sa.PrimaryKeyConstraint('issue_id', name=op.f('pk_crib_return'))
    )
    op.create_table('reckoned',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('assignment_id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('calculation', sa.String(length=60), nullable=False),
    sa.Column('note', sa.String(length=400), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['assignment_id'], ['assignment.id'], name=op.f('fk_reckoned_assignment_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_reckoned_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_reckoned'))
    )
    op.create_index('ix_reckoned_assignment', 'reckoned', ['assignment_id', 'at'], unique=False)
    op.create_table('exercise_sheet',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('group_id', sa.Uuid(), nullable=False),
    sa.Column('title', sa.String(length=80), nullable=False),
    sa.Column('words', sa.String(length=400), nullable=False),
    sa.Column('questions', mysql.LONGTEXT(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['group_id'], ['class_group.id'], name=op.f('fk_exercise_sheet_group_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_exercise_sheet_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_exercise_sheet'))
    )
    op.create_index('ix_exercise_sheet_group_id', 'exercise_sheet', ['group_id'], unique=False)
    op.create_table('exercise_question',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('calculation', sa.String(length=60), nullable=False),
    sa.Column('seed', sa.String(length=40), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.Column('sheet_id', sa.Uuid(), nullable=True),
    sa.Column('number', sa.Integer(), nullable=True),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_exercise_question_student_id')),
    sa.ForeignKeyConstraint(['sheet_id'], ['exercise_sheet.id'], name=op.f('fk_exercise_question_sheet_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_exercise_question'))
    )
    op.create_index('ix_exercise_question_student', 'exercise_question', ['student_id', 'calculation', 'at'], unique=False)
    op.create_index('uq_exercise_question_sheet', 'exercise_question', ['sheet_id', 'student_id', 'number'], unique=True)
    op.create_table('exercise_answer',
    sa.Column('question_id', sa.Uuid(), nullable=False),
    sa.Column('answer', sa.String(length=80), nullable=False),
    sa.Column('unit', sa.String(length=16), nullable=False),
    sa.Column('right', sa.Boolean(), nullable=False),
    sa.Column('slip', sa.String(length=120), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.ForeignKeyConstraint(['question_id'], ['exercise_question.id'], name=op.f('fk_exercise_answer_question_id')),
    sa.PrimaryKeyConstraint('question_id', name=op.f('pk_exercise_answer'))
    )
    op.create_index('ix_exercise_answer_at', 'exercise_answer', ['at'], unique=False)
    op.add_column('tag', sa.Column('cutter_id', sa.Uuid(), nullable=True))
    op.create_foreign_key(op.f('fk_tag_cutter_id'), 'tag', 'cutter', ['cutter_id'], ['id'])
    for table in VERSIONED:
        op.execute(f"ALTER TABLE `{table}` ADD SYSTEM VERSIONING")
