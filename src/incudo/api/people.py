"""Operations of people: sign-in, passwords, the safety notice, class lists."""

from __future__ import annotations

from flask import Response, make_response, request

from incudo.api.kernel import gate
from incudo.api.kernel.common import Done, FindQuery, api, out, run
from incudo.app.people import accounts, class_lists, groups, notices


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
    """Take a class list over."""
    return out(class_lists.take_class_list(gate.unit(), body))


@api.get("/students", responses={200: groups.FoundStudents})
def find_students(query: FindQuery) -> Response:
    """Students by parts of their name."""
    return out(run(lambda w: groups.find_students(w, query.find)))
