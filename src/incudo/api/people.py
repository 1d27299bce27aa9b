"""Operations of people: sign-in, passwords, the safety notice, class lists."""

from __future__ import annotations

import uuid

from flask import Response, make_response, request
from pydantic import BaseModel, Field

from incudo.api.kernel import gate
from incudo.api.kernel.common import Done, FindQuery, GroupPath, StudentPath, api, attached, out, run
from incudo.app.administration import data_papers
from incudo.app.people import accommodations, accounts, class_lists, everybody, groups, joining, notices, own_data
from incudo.core.people.roles import Role


class PersonPath(BaseModel):
    person: uuid.UUID


class PeopleQuery(BaseModel):
    find: str = Field("", max_length=80)
    role: Role | None = None
    active: bool = True


@api.post("/sign-in", responses={200: accounts.Me})
def sign_in(body: accounts.SignInCommand) -> Response:
    """Sign in with login and password."""
    address = request.remote_addr or ""
    me, token = accounts.sign_in(gate.unit(), body, gate.device(), address)
    response = make_response(out(me))
    gate.set_session(response, token, accounts.SIGN_IN_HOURS * 3600)
    return response


@api.post("/sign-out", responses={200: Done})
def sign_out() -> Response:
    """End this session."""
    run(lambda w: accounts.sign_out(w, gate.token()))
    response = make_response(out(Done(done=True)))
    gate.set_session(response, "", 0)
    return response


@api.get("/me", responses={200: accounts.Me})
def who_am_i() -> Response:
    """Who is signed in."""
    return out(run(lambda w: accounts.me(w, gate.token())))


@api.post("/password", responses={200: Done})
def change_password(body: accounts.PasswordCommand) -> Response:
    """Change one's own password."""
    accounts.change_password(gate.unit(), gate.who(), body, gate.device(), gate.token())
    return out(Done(done=True))


@api.get("/notice", responses={200: notices.NoticeView})
def notice() -> Response:
    """The safety notice, and when one signed it."""
    return out(run(lambda w: notices.notice(w, gate.who())))


@api.post("/notice", responses={200: notices.NoticeView})
def sign_notice(body: notices.NoticeCommand) -> Response:
    """Sign the safety notice."""
    return out(run(lambda w: notices.sign_notice(w, gate.who(), body)))


@api.post("/class-lists/check", responses={200: class_lists.ClassListReport})
def class_list_check(body: class_lists.ClassListText) -> Response:
    """What would become of each line of a class list; changes nothing."""
    return out(run(lambda w: class_lists.check_class_list(w, body)))


@api.post("/class-lists", responses={200: class_lists.ClassListReport})
def class_list_take(body: class_lists.ClassListCommand) -> Response:
    """Import a class list; the codes of its students are in the answer, this once."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: class_lists.take_class_list(w, gate.who(), body)))


@api.get("/students", responses={200: groups.FoundStudents})
def find_students(query: FindQuery) -> Response:
    """Students by parts of their name."""
    return out(run(lambda w: groups.find_students(w, query.find)))


@api.get("/people", responses={200: everybody.PeopleList})
def people_list(query: PeopleQuery) -> Response:
    """People by parts of their name, and all groups."""
    return out(
        run(lambda w: everybody.people_list(w, gate.who(), query.find, query.role, active=query.active)),
    )


@api.post("/people", responses={200: everybody.CodeView})
def add_person(body: everybody.NewPersonCommand) -> Response:
    """Somebody new; the code by which they come in is in the answer, this once."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: everybody.add_person(w, gate.who(), body)))


@api.get("/people/<uuid:person>/acts", responses={200: everybody.PersonActs})
def person_acts(path: PersonPath) -> Response:
    """What was changed of somebody."""
    return out(run(lambda w: everybody.person_acts(w, path.person)))


@api.put("/people/<uuid:person>", responses={200: everybody.PeopleList})
def change_person(path: PersonPath, body: everybody.PersonCommand) -> Response:
    """Change somebody's name, role, group, or whether they work here."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: everybody.change_person(w, gate.who(), path.person, body)))


@api.post("/people/<uuid:person>/data", responses={200: own_data.PersonData})
def take_out_data(path: PersonPath, body: own_data.TakeOut) -> Response:
    """Everything that is kept of somebody, for them: one's own, or with an instructor's PIN another's."""
    if own_data.needs_pin(gate.who(), path.person, body.pin):
        accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: own_data.person_data(w, gate.who(), path.person)))


@api.post("/people/<uuid:person>/data-paper", responses={200: None})
def take_out_paper(path: PersonPath, body: data_papers.TakeOutPaper) -> Response:
    """The same to be read on paper, as PDF."""
    if own_data.needs_pin(gate.who(), path.person, body.pin):
        accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    name, data = run(lambda w: data_papers.data_paper(w, gate.who(), path.person, body.paper))
    return attached(Response(data, content_type="application/pdf"), name)


@api.post("/people/<uuid:person>/codes", responses={200: everybody.CodeView})
def new_code(path: PersonPath, body: everybody.CodeForCommand) -> Response:
    """A new code for somebody; it is in the answer, this once."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: everybody.new_code(w, gate.who(), path.person)))


@api.post("/groups", responses={200: everybody.PeopleList})
def add_group(body: everybody.NewGroupCommand) -> Response:
    """A new group with its term."""
    return out(run(lambda w: everybody.add_group(w, body)))


@api.put("/groups/<uuid:group>", responses={200: everybody.PeopleList})
def change_group(path: GroupPath, body: everybody.GroupCommand) -> Response:
    """Change a group's name and term."""
    return out(run(lambda w: everybody.change_group(w, path.group, body)))


@api.post("/codes/look", responses={200: joining.JoinView})
def look_at_code(body: joining.CodeCommand) -> Response:
    """Whose code it is; nobody is signed in."""
    return out(joining.look(gate.unit(), body, gate.known_device(), request.remote_addr or ""))


@api.post("/codes/take", responses={200: joining.JoinView})
def take_code(body: joining.JoinCommand) -> Response:
    """Use a code: choose a password, and a PIN where acts are confirmed."""
    return out(joining.join(gate.unit(), body, gate.known_device(), request.remote_addr or ""))


@api.get("/students/<uuid:student>/accommodation", responses={200: accommodations.AccommodationView})
def accommodation(path: StudentPath) -> Response:
    """What helps a student to work here; for who teaches."""
    return out(run(lambda w: accommodations.accommodation(w, path.student)))


@api.put("/students/<uuid:student>/accommodation", responses={200: accommodations.AccommodationView})
def change_accommodation(path: StudentPath, body: accommodations.AccommodationCommand) -> Response:
    """Change what was agreed."""
    return out(run(lambda w: accommodations.change_accommodation(w, gate.who(), path.student, body)))
