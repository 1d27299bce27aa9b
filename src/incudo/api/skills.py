"""Operations of skills: the class, acts of assessors, knowledge checks, the ladder."""

from __future__ import annotations

import json

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import (
    BankPath,
    GroupQuery,
    PaperQuery,
    StudentPath,
    StudentQuery,
    api,
    attached,
    out,
    pdf,
    run,
)
from incudo.app.administration import papers
from incudo.app.people import accounts
from incudo.app.skills import banks, credentials, knowledge, ladder, lapses, signing, standing, views, words


@api.get("/students/<uuid:student>/skill-record.pdf", responses={200: None})
def skill_record(path: StudentPath, query: PaperQuery) -> Response:
    """A student's skill record to print."""
    name, data = run(lambda w: papers.skill_record(w, gate.who(), path.student, query.paper))
    return pdf(name, data)


@api.get("/students/<uuid:student>/credentials.json", responses={200: None})
def skill_credentials(path: StudentPath) -> Response:
    """What a student is signed for, as a file of open credentials signed by the shop."""
    name, document = run(lambda w: credentials.credentials(w, gate.who(), path.student))
    text = json.dumps(document, ensure_ascii=False, indent=1)
    return attached(Response(text, content_type="application/json"), name)


@api.post("/credentials/check", responses={200: credentials.CheckedFile})
def check_credentials(body: credentials.CredentialFile) -> Response:
    """Whether a file of credentials is as this shop gave it out; for anybody."""
    return out(run(lambda w: credentials.check_credentials(w, body)))


@api.get("/class", responses={200: standing.ClassTable})
def class_table(query: GroupQuery) -> Response:
    """The students of a group by skills; without one of the group that meets now."""
    return out(run(lambda w: standing.class_table(w, query.group)))


@api.get("/students/<uuid:student>/skills", responses={200: views.StudentSkills})
def student_skills(path: StudentPath) -> Response:
    """One student's skills, their evidence, and what they may do now."""
    return out(run(lambda w: standing.student_skills(w, gate.who(), path.student)))


@api.get("/students/<uuid:student>/decision", responses={200: ladder.PastDecision})
def past_decision(path: StudentPath, query: ladder.PastQuestion) -> Response:
    """A decision about a past moment, asked again."""
    return out(run(lambda w: ladder.past_decision(w, path.student, query)))


@api.post("/sign-offs", responses={200: views.StudentSkills})
def sign_skills(body: signing.SignCommand) -> Response:
    """Record what was seen and sign skills, several under one PIN."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: signing.sign_skills(w, gate.who(), body)))


@api.post("/withdrawals", responses={200: views.StudentSkills})
def withdraw_skill(body: signing.WithdrawCommand) -> Response:
    """Withdraw a skill after an unsafe act."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: signing.withdraw_skill(w, gate.who(), body)))


@api.post("/restorations", responses={200: views.StudentSkills})
def restore_skill(body: signing.RestoreCommand) -> Response:
    """Reinstate a skill that was withdrawn."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: signing.restore_skill(w, gate.who(), body)))


@api.get("/skill-map", responses={200: ladder.SkillMapView})
def skill_map(query: StudentQuery) -> Response:
    """The skill graph as a picture; with a student, where they stand."""
    return out(run(lambda w: ladder.skill_map(w, gate.who(), query.student)))


@api.get("/skill-graph", responses={200: ladder.GraphFile})
def skill_graph() -> Response:
    """The skill graph as an open file."""
    return out(run(ladder.graph_file))


@api.post("/skill-graph/check", responses={200: ladder.GraphCheck})
def skill_graph_check(body: ladder.GraphText) -> Response:
    """What a skill file would change; saves nothing."""
    return out(run(lambda w: ladder.graph_check(w, body)))


@api.get("/lapses", responses={200: lapses.LapsesPage})
def lapses_page() -> Response:
    """How long sign-offs hold."""
    return out(run(lapses.lapses_page))


@api.post("/lapses/look", responses={200: lapses.LapsesPage})
def lapses_look(body: lapses.LapsesCommand) -> Response:
    """For whom a sign-off would lapse today; saves nothing."""
    return out(run(lambda w: lapses.lapses_look(w, body)))


@api.put("/lapses", responses={200: lapses.LapsesPage})
def lapses_change(body: lapses.LapsesCommand) -> Response:
    """Change how long sign-offs hold."""
    return out(run(lambda w: lapses.lapses_change(w, gate.who(), body)))


@api.put("/skill-graph", responses={200: ladder.GraphFile})
def skill_graph_change(body: ladder.GraphCommand) -> Response:
    """Save a changed skill graph as its next version."""
    return out(run(lambda w: ladder.graph_change(w, gate.who(), body)))


@api.get("/checks/<bank>", responses={200: knowledge.CheckView})
def check_state(path: BankPath) -> Response:
    """Where a student stands with a knowledge check."""
    return out(run(lambda w: knowledge.check_state(w, gate.who(), path.bank)))


@api.post("/checks/<bank>/tries", responses={200: knowledge.CheckView})
def begin_check(path: BankPath, body: knowledge.BeginCommand) -> Response:
    """Begin a knowledge check."""
    return out(run(lambda w: knowledge.begin_check(w, gate.who(), path.bank, body)))


@api.post("/checks/<bank>/answers", responses={200: knowledge.CheckView})
def answer_check(path: BankPath, body: knowledge.AnswerCommand) -> Response:
    """Answer the question that is asked."""
    return out(run(lambda w: knowledge.answer_check(w, gate.who(), path.bank, body)))


@api.get("/banks", responses={200: banks.BankList})
def bank_list() -> Response:
    """Question banks, and what the class fails."""
    return out(run(banks.bank_list))


@api.get("/banks/<bank>", responses={200: banks.BankDetail})
def bank_detail(path: BankPath) -> Response:
    """One question bank with its file."""
    return out(run(lambda w: banks.bank_detail(w, path.bank)))


@api.put("/banks/<bank>", responses={200: banks.BankDetail})
def change_bank(path: BankPath, body: banks.BankCommand) -> Response:
    """Save a changed question bank as its next version."""
    return out(run(lambda w: banks.change_bank(w, gate.who(), path.bank, body)))


@api.get("/glossary", responses={200: words.GlossaryView})
def glossary() -> Response:
    """The words of the trade, one sentence each."""
    return out(words.glossary())
