"""Operations of job cards: card, bench, handing in, checking."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import SLOW, AssignmentPath, AttemptPath, HandInPath, api, out, polled, run
from incudo.app.jobcards import bench as bench_room
from incudo.app.jobcards import card, checking, progress
from incudo.core.people.roles import Role
from incudo.store.kernel.changes import ALL, SHOP, of_person


@api.get("/bench", responses={200: bench_room.Bench})
def bench() -> Response:
    """The student's home."""
    return polled(lambda w: bench_room.bench(w, gate.who()), [of_person(gate.who().id), SHOP], SLOW)


@api.get("/job-cards/<uuid:assignment>", responses={200: card.JobCard})
def job_card(path: AssignmentPath) -> Response:
    """A job card, from Ready to Sign."""
    concerns = [ALL] if gate.who().role is not Role.STUDENT else [of_person(gate.who().id), SHOP]
    return polled(lambda w: card.job_card(w, gate.who(), path.assignment), concerns, SLOW)


@api.post("/attempts/<uuid:attempt>/stations", responses={200: card.JobCard})
def tick_station(path: AttemptPath, body: progress.TickCommand) -> Response:
    """Tick a station of one's own job card."""
    return out(run(lambda w: progress.tick_station(w, gate.who(), path.attempt, body)))


@api.post("/attempts/<uuid:attempt>/hand-ins", responses={200: card.JobCard})
def hand_in(path: AttemptPath, body: progress.HandInCommand) -> Response:
    """Hand the part in."""
    return out(run(lambda w: progress.hand_in(w, gate.who(), path.attempt, body)))


@api.get("/hand-ins/<uuid:hand_in>", responses={200: checking.CheckSheet})
def check_sheet(path: HandInPath) -> Response:
    """An assessor's check sheet; blind until they open the comparison."""
    return out(run(lambda w: checking.check_sheet(w, gate.who(), path.hand_in)))


@api.post("/hand-ins/<uuid:hand_in>/comparison", responses={200: checking.CheckSheet})
def open_comparison(path: HandInPath, body: checking.OpenCommand) -> Response:
    """Show the student's readings beside one's own."""
    return out(run(lambda w: checking.open_comparison(w, gate.who(), path.hand_in, body)))


@api.post("/hand-ins/<uuid:hand_in>/decision", responses={200: checking.CheckSheet})
def decide(path: HandInPath, body: checking.DecideCommand) -> Response:
    """Decide about a part."""
    return out(run(lambda w: checking.decide(w, gate.who(), path.hand_in, body)))
