"""Operations of plans: building, saving, handing in, approving, comparing."""

from __future__ import annotations

import uuid

from flask import Response
from pydantic import BaseModel

from incudo.api.kernel import gate
from incudo.api.kernel.common import (
    AssignmentPath,
    GroupPath,
    GroupQuery,
    PaperQuery,
    ProjectPath,
    VersionPath,
    api,
    out,
    pdf,
    run,
)
from incudo.app.administration import plan_papers
from incudo.app.planning import acts, group, keeping, laying_out, views
from incudo.app.planning.setting import TaskCommand


class PlanPath(BaseModel):
    """A plan that was handed in."""

    plan: uuid.UUID


class PlanQuery(BaseModel):
    """For which machine, where the job card names none."""

    machine: uuid.UUID | None = None


@api.get("/job-cards/<uuid:assignment>/plan", responses={200: views.PlanPage})
def plan_page(path: AssignmentPath, query: PlanQuery) -> Response:
    """Where the plan of a job card stands."""
    return out(run(lambda w: keeping.plan_page(w, gate.who(), path.assignment, query.machine)))


@api.post("/job-cards/<uuid:assignment>/plan/look", responses={200: views.PlanLook})
def plan_look(path: AssignmentPath, body: acts.LookCommand) -> Response:
    """A plan as it comes out, after an act on it; keeps nothing."""
    return out(run(lambda w: acts.plan_look(w, gate.who(), path.assignment, body)))


@api.post("/job-cards/<uuid:assignment>/plan/frames", responses={200: views.PlanFrames})
def plan_frames(path: AssignmentPath, body: acts.FramesCommand) -> Response:
    """The part before every operation of a plan; keeps nothing."""
    return out(run(lambda w: acts.plan_frames(w, gate.who(), path.assignment, body)))


@api.post("/job-cards/<uuid:assignment>/plan/offers", responses={200: views.OfferList})
def plan_offers(path: AssignmentPath, body: acts.OffersCommand) -> Response:
    """What can be done in a holding with something that was touched; keeps nothing."""
    return out(run(lambda w: acts.plan_offers(w, gate.who(), path.assignment, body)))


@api.post("/job-cards/<uuid:assignment>/plan/own", responses={200: views.OwnView})
def plan_own(path: AssignmentPath, body: keeping.OwnCommand) -> Response:
    """Incudo's own plan beside another; keeps nothing."""
    return out(run(lambda w: keeping.own_beside(w, gate.who(), path.assignment, body)))


@api.post("/job-cards/<uuid:assignment>/plan", responses={200: views.PlanPage})
def save_plan(path: AssignmentPath, body: keeping.SavePlan) -> Response:
    """Save a plan."""
    return out(run(lambda w: keeping.save_plan(w, gate.who(), path.assignment, body)))


@api.post("/job-cards/<uuid:assignment>/plan/hand-ins", responses={200: views.PlanPage})
def hand_in_plan(path: AssignmentPath, body: keeping.HandInPlan) -> Response:
    """Hand the saved plan in."""
    return out(run(lambda w: keeping.hand_in_plan(w, gate.who(), path.assignment, body)))


@api.post("/job-cards/<uuid:assignment>/plan/task", responses={200: views.PlanPage})
def set_plan_task(path: AssignmentPath, body: TaskCommand) -> Response:
    """Set how a job card is planned."""
    return out(run(lambda w: keeping.set_plan_task(w, gate.who(), path.assignment, body)))


@api.get("/versions/<uuid:version>/touch", responses={200: views.TouchDrawing})
def touch_drawing(path: VersionPath) -> Response:
    """The drawing of a part with what can be touched on it."""
    return out(run(lambda w: acts.touch_drawing(w, path.version)))


@api.post("/plans/<uuid:plan>/decision", responses={200: views.PlanPage})
def decide_plan(path: PlanPath, body: keeping.DecidePlan) -> Response:
    """Approve a plan, or send it back with remarks."""
    return out(run(lambda w: keeping.decide_plan(w, gate.who(), path.plan, body)))


@api.get("/plans/<uuid:plan>/shown", responses={200: group.ShownPlan})
def shown_plan(path: PlanPath) -> Response:
    """A plan of somebody's, to be shown to a class without a name."""
    return out(run(lambda w: group.shown_plan(w, gate.who(), path.plan)))


@api.get("/projects/<uuid:project>/plans", responses={200: group.GroupPlans})
def group_plans(path: ProjectPath, query: GroupQuery) -> Response:
    """The plans of a group for one part."""
    return out(run(lambda w: group.group_plans(w, gate.who(), path.project, query.group)))


@api.get("/job-cards/<uuid:assignment>/plan.pdf", responses={200: None})
def plan_paper(path: AssignmentPath, query: PaperQuery) -> Response:
    """The saved plan as a card to print."""
    name, data = run(lambda w: plan_papers.plan_paper(w, gate.who(), path.assignment, query.paper))
    return pdf(name, data)


@api.get("/job-cards/<uuid:assignment>/plan.csv", responses={200: None})
def plan_table(path: AssignmentPath) -> Response:
    """The saved plan as a table."""
    text = run(lambda w: plan_papers.plan_table(w, gate.who(), path.assignment))
    response = Response(text, content_type="text/csv; charset=utf-8")
    response.headers["Content-Disposition"] = "attachment; filename=plan.csv"
    return response


@api.get("/groups/<uuid:group>/plan-needs", responses={200: laying_out.GroupNeeds})
def group_needs(path: GroupPath) -> Response:
    """What the plans of a group's open job cards are cut and held with."""
    return out(run(lambda w: laying_out.group_needs(w, path.group)))
