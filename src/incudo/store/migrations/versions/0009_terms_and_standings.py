"""Groups have terms, students are enrolled in them; standings are kept; changes are counted; checks remembered."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0009'
down_revision = '0008'


def upgrade() -> None:
    op.add_column('class_group', sa.Column('begins', sa.Date(), nullable=True))
    op.add_column('class_group', sa.Column('ends', sa.Date(), nullable=True))
    op.create_table('enrolment',
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.Column('group_id', sa.Uuid(), nullable=False),
    sa.Column('begins', sa.Date(), nullable=False),
    sa.Column('ends', sa.Date(), nullable=True),
    sa.ForeignKeyConstraint(['group_id'], ['class_group.id'], name=op.f('fk_enrolment_group_id')),
    sa.ForeignKeyConstraint(['person_id'], ['person.id'], name=op.f('fk_enrolment_person_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_enrolment'))
    )
    op.create_index('ix_enrolment_person', 'enrolment', ['person_id', 'begins'], unique=False)
    op.create_index('ix_enrolment_group', 'enrolment', ['group_id', 'begins'], unique=False)
    columns = sa.inspect(op.get_bind()).get_columns('person')
    if any(c['name'] == 'group_id' for c in columns):
        # an enrolment has its person's id here, so that a migration that is run again adds none twice
        op.execute(
            "INSERT IGNORE INTO enrolment (id, person_id, group_id, begins) "
            "SELECT id, id, group_id, DATE(ROW_START) FROM person WHERE group_id IS NOT NULL"
        )
        op.drop_constraint(op.f('fk_person_group_id'), 'person', type_='foreignkey')
        op.drop_column('person', 'group_id')
    op.execute("ALTER TABLE `enrolment` ADD SYSTEM VERSIONING")
    op.create_table('skill_standing',
    sa.Column('student_id', sa.Uuid(), nullable=False),
    sa.Column('acts', sa.Integer(), nullable=False),
    sa.Column('worked_out', sa.Integer(), nullable=False),
    sa.Column('basis', sa.String(length=64), nullable=False),
    sa.Column('since', mysql.DATETIME(fsp=6), nullable=True),
    sa.Column('until', mysql.DATETIME(fsp=6), nullable=True),
    sa.Column('to_sign', sa.String(length=2000), nullable=False),
    sa.Column('content', mysql.LONGTEXT(), nullable=False),
    sa.ForeignKeyConstraint(['student_id'], ['person.id'], name=op.f('fk_skill_standing_student_id')),
    sa.PrimaryKeyConstraint('student_id', name=op.f('pk_skill_standing'))
    )
    op.create_table('change_count',
    sa.Column('concern', sa.String(length=40), nullable=False),
    sa.Column('slot', sa.Integer(), autoincrement=False, nullable=False),
    sa.Column('number', sa.BigInteger(), nullable=False),
    sa.PrimaryKeyConstraint('concern', 'slot', name=op.f('pk_change_count'))
    )
    op.create_table('register_checked',
    sa.Column('scope', sa.String(length=8), nullable=False),
    sa.Column('seq', sa.Integer(), nullable=False),
    sa.Column('digest', sa.String(length=64), nullable=False),
    sa.Column('seal', sa.String(length=64), nullable=False),
    sa.Column('at', mysql.DATETIME(fsp=6), nullable=False),
    sa.PrimaryKeyConstraint('scope', name=op.f('pk_register_checked'))
    )
    op.create_table('pending',
    sa.Column('kind', sa.String(length=8), nullable=False),
    sa.Column('id', sa.Uuid(), nullable=False),
    sa.Column('person_id', sa.Uuid(), nullable=False),
    sa.PrimaryKeyConstraint('kind', 'id', name=op.f('pk_pending'))
    )
    op.create_index('ix_pending_person', 'pending', ['kind', 'person_id'], unique=False)
    op.execute(
        "INSERT IGNORE INTO pending (kind, id, person_id) SELECT 'card', a.id, a.student_id FROM assignment a "
        "WHERE NOT EXISTS (SELECT 1 FROM attempt b JOIN hand_in h ON h.attempt_id = b.id "
        "JOIN decision d ON d.hand_in_id = h.id WHERE b.assignment_id = a.id AND d.outcome = 'accepted')"
    )
    op.execute(
        "INSERT IGNORE INTO pending (kind, id, person_id) SELECT 'hand_in', h.id, a.student_id FROM hand_in h "
        "JOIN attempt b ON b.id = h.attempt_id JOIN assignment a ON a.id = b.assignment_id "
        "LEFT JOIN decision d ON d.hand_in_id = h.id WHERE d.id IS NULL"
    )
    op.execute(
        "INSERT IGNORE INTO pending (kind, id, person_id) SELECT 'issue', i.id, i.person_id FROM crib_issue i "
        "LEFT JOIN crib_return r ON r.issue_id = i.id WHERE r.issue_id IS NULL"
    )
    op.create_index('ix_progress_at', 'progress', ['at'], unique=False)
    op.create_index('ix_check_answer_at', 'check_answer', ['at'], unique=False)
    op.drop_index('ix_check_answer_question', 'check_answer')
    op.create_index('ix_assignment_assigned_at', 'assignment', ['assigned_at'], unique=False)
