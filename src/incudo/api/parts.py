"""Operations of parts: the library, drawings, assigning, readings."""

from __future__ import annotations

from typing import cast

from flask import Response, request

from incudo.api.kernel import gate
from incudo.api.kernel.common import (
    AttemptPath,
    CandidateQuery,
    GroupPath,
    PaperQuery,
    ProjectPath,
    VersionPath,
    api,
    out,
    pdf,
    run,
)
from incudo.app.administration import papers
from incudo.app.kernel.views import View
from incudo.app.parts import assigning, choices, drafts, drawings, library, packed, readings, sawing, term
from incudo.app.people import accounts


class ProjectList(View):
    projects: tuple[library.ProjectCard, ...]


class Given(View):
    given: tuple[assigning.Assigned, ...]


def _lasting(response: Response) -> Response:
    """What never changes in a language may be kept by the browser."""
    response.headers["Cache-Control"] = "private, max-age=86400, immutable"
    response.headers["Vary"] = "Accept-Language"
    return response


def _kept(response: Response) -> Response:
    """What the shop may draw otherwise tomorrow: the browser keeps it and asks whether it still holds."""
    response.headers["Cache-Control"] = "private, no-cache"
    response.headers["Vary"] = "Accept-Language"
    response.add_etag()
    return cast(Response, response.make_conditional(request))


@api.get("/projects", responses={200: ProjectList})
def project_list() -> Response:
    """The library of parts."""
    return out(ProjectList(projects=run(library.project_list)))


@api.get("/projects/library.zip", responses={200: None})
def library_zip() -> Response:
    """The whole library as one file."""
    response = Response(run(packed.pack), content_type="application/zip")
    response.headers["Content-Disposition"] = 'attachment; filename="library.zip"'
    return response


@api.post("/projects/library", responses={200: packed.PackedReport})
def library_take(body: packed.PackedCommand) -> Response:
    """Take a library in: all of its parts or none."""
    return out(run(lambda w: packed.unpack(w, gate.who(), body)))


@api.get("/projects/<uuid:project>", responses={200: library.ProjectDetail})
def project_detail(path: ProjectPath) -> Response:
    """One part in its newest version."""
    return out(run(lambda w: library.project_detail(w, path.project)))


@api.get("/projects/<uuid:project>/candidates", responses={200: assigning.Candidates})
def project_candidates(path: ProjectPath, query: CandidateQuery) -> Response:
    """Who could be given this part, and what each still lacks."""
    return out(run(lambda w: assigning.project_candidates(w, path.project, query.machine, query.group)))


@api.post("/projects/<uuid:project>/versions", responses={200: library.ProjectDetail})
def project_change(path: ProjectPath, body: library.ChangeCommand) -> Response:
    """Save a changed project file as the next version."""
    return out(run(lambda w: library.project_change(w, gate.who(), path.project, body)))


@api.get("/versions/<uuid:version>/drawing", responses={200: drawings.DrawingView})
def drawing(path: VersionPath) -> Response:
    """The drawing of a version, in the shop's projection."""
    return _kept(out(run(lambda w: drawings.drawing(w, path.version))))


@api.get("/versions/<uuid:version>/drawing.svg", responses={200: None})
def drawing_file(path: VersionPath) -> Response:
    """The drawing of a version as a file that prints by itself."""
    text = run(lambda w: drawings.drawing_file(w, path.version))
    return _kept(Response(text, content_type="image/svg+xml"))


@api.get("/versions/<uuid:version>/drawing.pdf", responses={200: None})
def part_print(path: VersionPath, query: PaperQuery) -> Response:
    """The drawing of a version to scale, with a measuring sheet, to print."""
    name, data = run(lambda w: papers.part_print(w, path.version, query.paper))
    return pdf(name, data)


@api.get("/versions/<uuid:version>/outline.svg", responses={200: None})
def outline(path: VersionPath) -> Response:
    """The thumbnail of a version."""
    text = run(lambda w: drawings.outline(w, path.version))
    return _lasting(Response(text, content_type="image/svg+xml"))


@api.get("/versions/<uuid:version>/drawing.dxf", responses={200: None})
def drawing_dxf(path: VersionPath) -> Response:
    """The drawing of a version as a DXF file."""
    text = run(lambda w: drawings.drawing_dxf(w, path.version))
    response = _kept(Response(text, content_type="application/dxf"))
    response.headers["Content-Disposition"] = "attachment; filename=drawing.dxf"
    return response


@api.post("/projects/<uuid:project>/shelf", responses={200: library.ProjectDetail})
def project_shelve(path: ProjectPath, body: library.ShelveCommand) -> Response:
    """Take a part out of the library, or put it back."""
    return out(run(lambda w: library.project_shelve(w, gate.who(), path.project, body)))


@api.post("/projects/<uuid:project>/saw-list", responses={200: sawing.SawList})
def saw_list(path: ProjectPath, body: sawing.SawCommand) -> Response:
    """Which piece comes off which bar for a group that has the part; keeps nothing."""
    return out(run(lambda w: sawing.saw_list(w, path.project, body)))


@api.post("/givings", responses={200: Given})
def give(body: assigning.GiveCommand) -> Response:
    """Give a part to several students in one act."""
    return out(Given(given=run(lambda w: assigning.give(w, gate.who(), body))))


@api.post("/assignments", responses={200: assigning.Assigned})
def assign(body: assigning.AssignCommand) -> Response:
    """Give a part to a student."""
    return out(run(lambda w: assigning.assign(w, gate.who(), body)))


@api.post("/attempts/<uuid:attempt>/readings", responses={200: readings.SavedReading})
def save_reading(path: AttemptPath, body: readings.ReadingCommand) -> Response:
    """Save a reading of one's own part; it is judged at once."""
    return out(run(lambda w: readings.save_reading(w, gate.who(), path.attempt, body)))


@api.post("/attempts/<uuid:attempt>/check-readings", responses={200: readings.SavedReading})
def save_check_reading(path: AttemptPath, body: readings.ReadingCommand) -> Response:
    """Save an assessor's own reading of a part that was handed in."""
    return out(run(lambda w: readings.save_check_reading(w, gate.who(), path.attempt, body)))


@api.post("/project-checks", responses={200: library.CheckedProject})
def project_check(body: library.ProjectFile) -> Response:
    """What a project file would look like; saves nothing."""
    return out(run(lambda w: library.project_check(w, body)))


@api.get("/part-choices", responses={200: choices.PartChoices})
def part_choices() -> Response:
    """What a page for making parts offers: kinds of feature, materials, threads, skills."""
    return out(run(choices.part_choices))


@api.post("/part-drafts", responses={200: drafts.DraftView})
def part_draft(body: drafts.DraftCommand) -> Response:
    """A part as far as it can be made, after an act on it; keeps nothing."""
    return out(run(lambda w: drafts.part_draft(w, body)))


@api.post("/projects", responses={200: library.ProjectDetail})
def project_new(body: library.NewCommand) -> Response:
    """Put a new part into the library."""
    return out(run(lambda w: library.project_new(w, gate.who(), body)))


@api.get("/groups/<uuid:group>/term", responses={200: term.TermPage})
def term_page(path: GroupPath) -> Response:
    """The parts of a group's term, and how far each student is."""
    return out(run(lambda w: term.term_page(w, path.group)))


@api.put("/groups/<uuid:group>/term", responses={200: term.TermPage})
def change_term(path: GroupPath, body: term.TermCommand) -> Response:
    """Say which parts a group makes, and in which order."""
    return out(run(lambda w: term.change_term(w, path.group, body)))


@api.post("/groups/<uuid:group>/next-term", responses={200: term.TermPage})
def begin_next_term(path: GroupPath, body: term.NextTermCommand) -> Response:
    """End a group's term and begin the next one with the same parts; gives the new group's page."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: term.begin_next(w, gate.who(), path.group, body)))
