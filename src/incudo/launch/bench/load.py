"""The college's database: made once, kept in a folder of its own."""

from __future__ import annotations

import shutil
import time
import uuid
from datetime import UTC, datetime

from incudo.app.kernel.unit import Unit
from incudo.app.skills.standings import AT_ONCE, keep_standings
from incudo.launch.bench.bulk import Bulk, owner
from incudo.launch.bench.college import College, Say
from incudo.launch.configuration import Instance, home
from incudo.launch.supervise import Supervisor, wipe
from incudo.store.kernel.database import Session
from incudo.store.people import groups

PORT, DATABASE_PORT = 8440, 33440
#: What the data set is made by; another number makes it anew.
MADE_BY = "1"
#: What an application that runs all the time keeps by itself, worked out here from the rows.
_PENDING = (
    "INSERT INTO pending (kind, id, person_id) SELECT 'card', a.id, a.student_id FROM assignment a "
    "WHERE NOT EXISTS (SELECT 1 FROM attempt b JOIN hand_in h ON h.attempt_id = b.id "
    "JOIN decision d ON d.hand_in_id = h.id WHERE b.assignment_id = a.id AND d.outcome = 'accepted')",
    "INSERT INTO pending (kind, id, person_id) SELECT 'hand_in', h.id, a.student_id FROM hand_in h "
    "JOIN attempt b ON b.id = h.attempt_id JOIN assignment a ON a.id = b.assignment_id "
    "LEFT JOIN decision d ON d.hand_in_id = h.id WHERE d.id IS NULL",
    "INSERT INTO pending (kind, id, person_id) SELECT 'issue', i.id, i.person_id FROM crib_issue i "
    "LEFT JOIN crib_return r ON r.issue_id = i.id WHERE r.issue_id IS NULL",
)


def open_college(say: Say, *, fresh: bool) -> Supervisor:
    """The database of the college, started; its data are made if they are not there or of another day."""
    instance = Instance.at(home() / "bench", PORT, DATABASE_PORT)
    supervisor = Supervisor(instance, say, workers=2)
    supervisor.hold()
    mark, today = instance.folder / "loaded", f"{MADE_BY} {datetime.now(UTC):%Y-%m-%d %p}"
    # its last evening is the evening of the day on which it was made
    if fresh or not mark.exists() or mark.read_text() != today:
        mark.unlink(missing_ok=True)
        instance.heads.unlink(missing_ok=True)
        wipe(instance.folder / "mariadb")
        supervisor.start_database()
        _make(supervisor, say)
        mark.write_text(today)
    else:
        supervisor.start_database()
    return supervisor


def _make(supervisor: Supervisor, say: Say) -> None:
    began, unit = time.monotonic(), supervisor.unit()
    rows = supervisor.instance.folder / "rows"
    shutil.rmtree(rows, ignore_errors=True)
    rows.mkdir()
    college, bulk = College(datetime.now(UTC), supervisor.instance.register_key), Bulk(rows)
    college.set_up(unit)
    college.write(bulk, say)
    say(f"{sum(bulk.counts.values()):,} rows written in {time.monotonic() - began:.0f} s; loading them")
    bulk.load(supervisor.database)
    with owner(supervisor.database) as cursor:
        for statement in _PENDING:
            cursor.execute(statement)
        cursor.execute("ANALYZE TABLE reading, assignment, attempt, hand_in, decision, finding, person, roll")
    shutil.rmtree(rows)
    say(f"loaded after {time.monotonic() - began:.0f} s; working out where everybody stands")
    _standings(unit)
    unit.engine.dispose()
    counts = ", ".join(f"{n:,} {name}" for name, n in sorted(bulk.counts.items(), key=lambda x: -x[1])[:8])
    say(f"ready after {time.monotonic() - began:.0f} s: {counts}")


def _standings(unit: Unit) -> None:
    """Of those who are here; the others' are worked out when somebody asks."""

    def here(db: Session) -> list[uuid.UUID]:
        return list(db.scalars(groups.here(datetime.now(UTC).date())))

    ids = unit.run(lambda w: here(w.db))
    for n in range(0, len(ids), AT_ONCE):
        unit.run(lambda w, n=n: keep_standings(w, ids[n : n + AT_ONCE]))  # type: ignore[misc]
