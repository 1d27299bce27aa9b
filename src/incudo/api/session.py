"""Operations of the open session: roll, machines, starts, calls; and the devices."""

from __future__ import annotations

from flask import Response, request

from incudo.api.kernel import gate
from incudo.api.kernel.common import LIVE, SLOW, CallPath, Done, MachinePath, api, out, polled, run
from incudo.app.people import accounts
from incudo.app.people.accommodations import AccommodationsHere
from incudo.app.session import (
    calls,
    duties,
    ending,
    floor,
    interlock,
    page,
    prestart,
    roll,
    sessions,
    starts,
    views,
    wall,
)
from incudo.app.shop.devices import hash_key
from incudo.store.kernel.changes import ALL, SHOP, of_machine, of_person

DEVICE_KEY = "Authorization"


@api.get("/floor", responses={200: floor.Floor})
def floor_page() -> Response:
    """The instructor's home."""
    return polled(floor.floor, [ALL], LIVE)


@api.get("/floor/accommodations", responses={200: AccommodationsHere})
def accommodations_here() -> Response:
    """What helps the students who are here; for who teaches."""
    return polled(floor.accommodations_here, [ALL], SLOW)


@api.get("/session", responses={200: views.SessionPage})
def session_page() -> Response:
    """The open session, or what is needed to open one."""
    return polled(page.session_page, [ALL], SLOW)


@api.post("/session", responses={200: views.SessionPage})
def open_session(body: sessions.OpenSession) -> Response:
    """Open a meeting of a group."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: sessions.open_session(w, gate.who(), body)))


@api.post("/session/roll", responses={200: views.SessionPage})
def mark_roll(body: roll.RollCommand) -> Response:
    """Call the roll."""
    return out(run(lambda w: roll.mark_roll(w, gate.who(), body)))


@api.post("/session/supervision", responses={200: views.SessionPage})
def supervise(body: sessions.SuperviseCommand) -> Response:
    """Supervise the session, or leave it."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: sessions.supervise(w, gate.who(), body)))


@api.post("/session/machines", responses={200: views.SessionPage})
def open_machine(body: sessions.MachineOpenCommand) -> Response:
    """Open or close a machine for this session."""
    return out(run(lambda w: sessions.open_machine(w, gate.who(), body)))


@api.post("/session/duties", responses={200: views.SessionPage})
def share_duties() -> Response:
    """Share out the cleaning."""
    return out(run(duties.duties_now))


@api.post("/session/end", responses={200: views.SessionPage})
def end_session(body: ending.EndSession) -> Response:
    """End the session."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: ending.end_session(w, gate.who(), body)))


@api.get("/machines/<uuid:machine>/start", responses={200: prestart.StartPage})
def start_page(path: MachinePath) -> Response:
    """A machine as the person in front of it sees it."""
    concerns = [of_person(gate.who().id), of_machine(path.machine), SHOP]
    return polled(lambda w: prestart.start_page(w, gate.who(), path.machine), concerns, LIVE)


@api.post("/machines/<uuid:machine>/steps", responses={200: prestart.StartPage})
def machine_step(path: MachinePath, body: starts.StepCommand) -> Response:
    """Come to a machine, leave it, take its handles."""
    return out(run(lambda w: starts.step(w, gate.who(), path.machine, body)))


@api.post("/machines/<uuid:machine>/starts", responses={200: starts.StartAnswer})
def machine_start(path: MachinePath, body: starts.StartCommand) -> Response:
    """I am about to start."""
    return out(run(lambda w: starts.start(w, gate.who(), path.machine, body)))


@api.post("/machines/<uuid:machine>/ends", responses={200: prestart.StartPage})
def machine_end(path: MachinePath, body: starts.EndCommand) -> Response:
    """The spindle has stopped; the run is over."""
    return out(run(lambda w: starts.end(w, gate.who(), path.machine, body)))


@api.post("/machines/<uuid:machine>/confirmations", responses={200: prestart.StartPage})
def confirm_start(path: MachinePath, body: starts.ConfirmCommand) -> Response:
    """An assessor stands beside a student for one operation."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: starts.confirm(w, gate.who(), path.machine, body)))


@api.get("/calls", responses={200: calls.CallList})
def my_calls() -> Response:
    """One's own calls and what came of them."""
    return polled(lambda w: calls.my_calls(w, gate.who()), [of_person(gate.who().id), SHOP], SLOW)


@api.post("/calls", responses={200: calls.CallList})
def call(body: calls.CallCommand) -> Response:
    """Call an instructor."""
    return out(run(lambda w: calls.call(w, gate.who(), body)))


@api.post("/calls/<uuid:call>/end", responses={200: calls.CallList})
def answer_call(path: CallPath, body: calls.AnswerCallCommand) -> Response:
    """Answer a call, or take one's own back."""
    return out(run(lambda w: calls.answer_call(w, gate.who(), path.call, body)))


@api.post("/hold-points", responses={200: Done})
def set_hold(body: calls.HoldCommand) -> Response:
    """Set or lift a hold point for a student."""
    run(lambda w: calls.set_hold(w, gate.who(), body))
    return out(Done(done=True))


@api.post("/interlock", responses={200: interlock.DeviceCommands})
def device_report(body: interlock.DeviceReport) -> Response:
    """What a device sees, and what it is told. The key goes as a bearer token."""
    return out(run(lambda w: interlock.device_report(w, _key(), body)))


@api.get("/wall", responses={200: wall.Wall})
def wall_page() -> Response:
    """The shop for a wall. The key of a wall goes as a bearer token."""
    key = _key()
    return polled(wall.wall, [ALL], LIVE, (hash_key(key), lambda w: wall.let_in(w, key)))


def _key() -> str:
    scheme, _, key = request.headers.get(DEVICE_KEY, "").partition(" ")
    return key if scheme == "Bearer" else ""
