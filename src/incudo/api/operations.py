"""Operations of sign-in, parts, readings, checks and registers, each passed on to its use case."""

from __future__ import annotations

import uuid

from flask import Response, make_response, request

from incudo.api.kernel import gate
from incudo.api.kernel.common import (
    AssignmentPath,
    AttemptPath,
    Done,
    HandInPath,
    Health,
    MachineQuery,
    PageQuery,
    ProjectPath,
    RegisterPath,
    VersionPath,
    api,
    out,
    run,
)
from incudo.app.administration import registers, shop
from incudo.app.jobcards import card as jobcards
from incudo.app.jobcards import checking as checks
from incudo.app.kernel.views import View
from incudo.app.parts import library as projects
from incudo.app.parts import readings
from incudo.app.people import accounts as people
from incudo.app.people import notices
from incudo.app.register.chain import RegisterState, state
from incudo.core.skills.permission import Role


class ProjectList(View):
    projects: tuple[projects.ProjectCard, ...]


class Candidates(View):
    candidates: tuple[projects.Candidate, ...]


@api.get("/health", responses={200: Health})
def health() -> Response:
    """Whether the server and its database answer."""
    run(lambda w: shop.name_of(w))
    return out(Health(ok=True))


@api.post("/sign-in", responses={200: people.Me})
def sign_in(body: people.SignInCommand) -> Response:
    """Sign in with login and password."""
    address = request.remote_addr or ""
    me, token = people.sign_in(gate.unit(), body, gate.device(), address)
    response = make_response(out(me))
    gate.set_session(response, token, people.SIGN_IN_HOURS * 3600)
    return response


@api.post("/sign-out", responses={200: Done})
def sign_out() -> Response:
    """End this session."""
    run(lambda w: people.sign_out(w, gate.token()))
    response = make_response(out(Done(done=True)))
    gate.set_session(response, "", 0)
    return response


@api.get("/me", responses={200: people.Me})
def who_am_i() -> Response:
    """Who is signed in."""
    return out(run(lambda w: people.me(w, gate.token())))


@api.post("/password", responses={200: Done})
def change_password(body: people.PasswordCommand) -> Response:
    """Change one's own password."""
    people.change_password(gate.unit(), gate.who(), body, gate.device())
    return out(Done(done=True))


@api.get("/notice", responses={200: notices.NoticeView})
def notice() -> Response:
    """The safety notice, and when one signed it."""
    return out(run(lambda w: notices.notice(w, gate.who())))


@api.post("/notice", responses={200: notices.NoticeView})
def sign_notice(body: notices.NoticeCommand) -> Response:
    """Sign the safety notice."""
    return out(run(lambda w: notices.sign_notice(w, gate.who(), body)))


@api.get("/bench", responses={200: jobcards.Bench})
def bench() -> Response:
    """The student's home."""
    return out(run(lambda w: jobcards.bench(w, gate.who())))


@api.get("/projects", responses={200: ProjectList})
def project_list() -> Response:
    """The library of parts."""
    return out(ProjectList(projects=run(projects.project_list)))


@api.get("/projects/<uuid:project>", responses={200: projects.ProjectDetail})
def project_detail(path: ProjectPath) -> Response:
    """One part in its newest version."""
    return out(run(lambda w: projects.project_detail(w, path.project)))


@api.get("/projects/<uuid:project>/candidates", responses={200: Candidates})
def project_candidates(path: ProjectPath, query: MachineQuery) -> Response:
    """Who could be given this part, and what each still lacks."""
    found = run(lambda w: projects.project_candidates(w, path.project, query.machine))
    return out(Candidates(candidates=found))


@api.post("/project-checks", responses={200: projects.CheckedProject})
def project_check(body: projects.ProjectFile) -> Response:
    """What a project file would look like; saves nothing."""
    return out(run(lambda w: projects.project_check(w, body)))


@api.post("/projects/<uuid:project>/versions", responses={200: projects.ProjectDetail})
def project_change(path: ProjectPath, body: projects.ChangeCommand) -> Response:
    """Save a changed project file as the next version."""
    return out(run(lambda w: projects.project_change(w, gate.who(), path.project, body)))


@api.get("/versions/<uuid:version>/drawing", responses={200: projects.DrawingView})
def drawing(path: VersionPath) -> Response:
    """The drawing of a version; it never changes."""
    response = out(run(lambda w: projects.drawing(w, path.version)))
    response.headers["Cache-Control"] = "private, max-age=86400, immutable"
    return response


@api.get("/versions/<uuid:version>/drawing.svg", responses={200: None})
def drawing_file(path: VersionPath) -> Response:
    """The drawing of a version as a file that prints by itself."""
    return _svg(run(lambda w: projects.drawing_file(w, path.version)))


@api.get("/versions/<uuid:version>/outline.svg", responses={200: None})
def outline(path: VersionPath) -> Response:
    """The thumbnail of a version."""
    return _svg(run(lambda w: projects.outline(w, path.version)))


def _svg(text: str) -> Response:
    response = Response(text, content_type="image/svg+xml")
    response.headers["Cache-Control"] = "private, max-age=86400, immutable"
    return response


@api.post("/assignments", responses={200: projects.Assigned})
def assign(body: projects.AssignCommand) -> Response:
    """Give a part to a student."""
    return out(run(lambda w: projects.assign(w, gate.who(), body)))


@api.get("/job-cards/<uuid:assignment>", responses={200: jobcards.JobCard})
def job_card(path: AssignmentPath) -> Response:
    """A job card, from Ready to Sign."""
    return out(run(lambda w: jobcards.job_card(w, gate.who(), path.assignment)))


@api.post("/attempts/<uuid:attempt>/stations", responses={200: jobcards.JobCard})
def tick_station(path: AttemptPath, body: jobcards.TickCommand) -> Response:
    """Tick a station of one's own job card."""
    return out(run(lambda w: jobcards.tick_station(w, gate.who(), path.attempt, body)))


@api.post("/attempts/<uuid:attempt>/readings", responses={200: readings.SavedReading})
def save_reading(path: AttemptPath, body: readings.ReadingCommand) -> Response:
    """Save a reading of one's own part; it is judged at once."""
    return out(run(lambda w: readings.save_reading(w, gate.who(), path.attempt, body)))


@api.post("/attempts/<uuid:attempt>/hand-ins", responses={200: jobcards.JobCard})
def hand_in(path: AttemptPath, body: jobcards.HandInCommand) -> Response:
    """Hand the part in."""
    return out(run(lambda w: jobcards.hand_in(w, gate.who(), path.attempt, body)))


@api.get("/hand-ins/<uuid:hand_in>", responses={200: checks.CheckSheet})
def check_sheet(path: HandInPath) -> Response:
    """An assessor's check sheet; blind until he opens the comparison."""
    return out(run(lambda w: checks.check_sheet(w, gate.who(), path.hand_in)))


@api.post("/attempts/<uuid:attempt>/check-readings", responses={200: readings.SavedReading})
def save_check_reading(path: AttemptPath, body: readings.ReadingCommand) -> Response:
    """Save an assessor's own reading of a part that was handed in."""
    return out(run(lambda w: readings.save_check_reading(w, gate.who(), path.attempt, body)))


@api.post("/hand-ins/<uuid:hand_in>/comparison", responses={200: checks.CheckSheet})
def open_comparison(path: HandInPath, body: checks.OpenCommand) -> Response:
    """Show the student's readings beside one's own."""
    return out(run(lambda w: checks.open_comparison(w, gate.who(), path.hand_in, body)))


@api.post("/hand-ins/<uuid:hand_in>/decision", responses={200: checks.CheckSheet})
def decide(path: HandInPath, body: checks.DecideCommand) -> Response:
    """Decide about a part."""
    return out(run(lambda w: checks.decide(w, gate.who(), path.hand_in, body)))


@api.get("/shop", responses={200: shop.ShopView})
def shop_view() -> Response:
    """Machines, instruments, delegations, schools."""
    return out(run(shop.shop_view))


@api.put("/shop", responses={200: shop.ShopView})
def shop_change(body: shop.ShopCommand) -> Response:
    """Change the shop's school of judging."""
    return out(run(lambda w: shop.shop_change(w, body)))


@api.put("/delegations", responses={200: shop.ShopView})
def delegate(body: shop.DelegationCommand) -> Response:
    """Say what an assistant may sign."""
    return out(run(lambda w: shop.delegate(w, body)))


@api.get("/register", responses={200: RegisterState})
def register_state() -> Response:
    """Whether the register of safety holds: chain, seals, heads taken away, rows."""
    return out(run(lambda w: state(w, gate.heads())))


def _blind_for() -> uuid.UUID | None:
    who = gate.who()
    return None if who.role is Role.AUDITOR else who.id


@api.get("/registers/<name>", responses={200: registers.Register})
def register(path: RegisterPath, query: PageQuery) -> Response:
    """A page of an append-only register."""
    return out(run(lambda w: registers.register(w, path.name, query.page, _blind_for())))


@api.get("/registers/<name>/file", responses={200: None})
def register_file(path: RegisterPath) -> Response:
    """A whole register as CSV."""
    text = run(lambda w: registers.register_file(w, path.name, _blind_for()))
    response = Response(text, content_type="text/csv; charset=utf-8")
    response.headers["Content-Disposition"] = f'attachment; filename="{path.name}.csv"'
    return response
