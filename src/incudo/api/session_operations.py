"""Operations of the open session: roll, machines, starts, calls, tags, stop; and the devices."""

from __future__ import annotations

from flask import Response, request

from incudo.api.kernel import gate
from incudo.api.kernel.common import CallPath, Done, MachinePath, TagPath, api, out, run
from incudo.app.kernel.views import Named
from incudo.app.people import accounts as people
from incudo.app.session import calls, floor, sessions
from incudo.app.session import interlock as devices
from incudo.app.session import starts as machines
from incudo.app.shop import tags

DEVICE_KEY = "Authorization"


@api.get("/floor", responses={200: floor.Floor})
def floor_page() -> Response:
    """The instructor's home."""
    return out(run(floor.floor))


@api.get("/session", responses={200: sessions.SessionPage})
def session_page() -> Response:
    """The open session, or what is needed to open one."""
    return out(run(sessions.session_page))


@api.post("/session", responses={200: sessions.SessionPage})
def open_session(body: sessions.OpenSession) -> Response:
    """Open a meeting of a group."""
    people.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: sessions.open_session(w, gate.who(), body)))


@api.post("/session/roll", responses={200: sessions.SessionPage})
def mark_roll(body: sessions.RollCommand) -> Response:
    """Call the roll."""
    return out(run(lambda w: sessions.mark_roll(w, gate.who(), body)))


@api.post("/session/supervision", responses={200: sessions.SessionPage})
def supervise(body: sessions.SuperviseCommand) -> Response:
    """Take over the supervision, or leave it."""
    people.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: sessions.supervise(w, gate.who(), body)))


@api.post("/session/machines", responses={200: sessions.SessionPage})
def open_machine(body: sessions.MachineOpenCommand) -> Response:
    """Open or close a machine for this session."""
    return out(run(lambda w: sessions.open_machine(w, gate.who(), body)))


@api.post("/session/duties", responses={200: sessions.SessionPage})
def share_duties() -> Response:
    """Share out the cleaning."""
    return out(run(sessions.duties_now))


@api.post("/session/end", responses={200: sessions.SessionPage})
def end_session(body: sessions.EndSession) -> Response:
    """End the session."""
    people.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: sessions.end_session(w, gate.who(), body)))


@api.get("/machines/<uuid:machine>/start", responses={200: machines.StartPage})
def start_page(path: MachinePath) -> Response:
    """A machine as the person in front of it sees it."""
    return out(run(lambda w: machines.start_page(w, gate.who(), path.machine)))


@api.post("/machines/<uuid:machine>/steps", responses={200: machines.StartPage})
def machine_step(path: MachinePath, body: machines.StepCommand) -> Response:
    """Come to a machine, leave it, take its handles."""
    return out(run(lambda w: machines.step(w, gate.who(), path.machine, body)))


@api.post("/machines/<uuid:machine>/starts", responses={200: machines.StartAnswer})
def machine_start(path: MachinePath, body: machines.StartCommand) -> Response:
    """I am about to start."""
    return out(run(lambda w: machines.start(w, gate.who(), path.machine, body)))


@api.post("/machines/<uuid:machine>/ends", responses={200: machines.StartPage})
def machine_end(path: MachinePath, body: machines.EndCommand) -> Response:
    """The spindle stands; the run is over."""
    return out(run(lambda w: machines.end(w, gate.who(), path.machine, body)))


@api.post("/machines/<uuid:machine>/confirmations", responses={200: machines.StartPage})
def confirm_start(path: MachinePath, body: machines.ConfirmCommand) -> Response:
    """An assessor stands beside a student for one operation."""
    people.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: machines.confirm(w, gate.who(), path.machine, body)))


@api.get("/calls", responses={200: calls.CallList})
def my_calls() -> Response:
    """One's own calls and what came of them."""
    return out(run(lambda w: calls.my_calls(w, gate.who())))


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


@api.get("/tags", responses={200: tags.TagList})
def tag_list() -> Response:
    """What is closed, and the stop that is in force."""
    return out(run(tags.tag_list))


@api.post("/tags", responses={200: tags.TagList})
def tag_out(body: tags.TagCommand) -> Response:
    """Close a faulty machine or gauge."""
    return out(run(lambda w: tags.tag_out(w, gate.who(), body)))


@api.post("/tags/<uuid:tag>/clear", responses={200: tags.TagList})
def clear_tag(path: TagPath, body: tags.ClearTagCommand) -> Response:
    """The fault is gone."""
    people.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: tags.clear_tag(w, gate.who(), path.tag, body)))


@api.post("/stops", responses={200: tags.TagList})
def stop_all(body: tags.StopCommand) -> Response:
    """Stop spindles and feeds of all machines."""
    return out(run(lambda w: tags.stop_all(w, gate.who(), body)))


@api.post("/stops/clear", responses={200: tags.TagList})
def clear_stop(body: tags.ClearStopCommand) -> Response:
    """Lift the stop of all machines."""
    people.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: tags.clear_stop(w, gate.who(), body)))


@api.post("/incidents", responses={200: Named})
def report_incident(body: tags.IncidentCommand) -> Response:
    """Write down an incident or a near miss."""
    return out(run(lambda w: tags.report_incident(w, gate.who(), body)))


@api.post("/interlock", responses={200: devices.DeviceCommands})
def device_report(body: devices.DeviceReport) -> Response:
    """What a device sees, and what it is told. The key goes as a bearer token."""
    scheme, _, key = request.headers.get(DEVICE_KEY, "").partition(" ")
    return out(run(lambda w: devices.device_report(w, key if scheme == "Bearer" else "", body)))
