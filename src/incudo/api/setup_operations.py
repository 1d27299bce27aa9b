"""Operations of setting up: the registers, working records, holding the work, practice rigs."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import (
    AssignmentPath,
    CutterQuery,
    MachinePath,
    RunPath,
    SetupPath,
    UptoQuery,
    api,
    out,
    run,
)
from incudo.app.locating import finding, moves
from incudo.app.locating import views as findviews
from incudo.app.practice import rigs
from incudo.app.setup import holding
from incudo.app.setup import records as setups
from incudo.app.setup import views as setupviews
from incudo.app.shop import machines as machine_register


@api.get("/machines/<uuid:machine>", responses={200: machine_register.MachineDetail})
def machine_detail(path: MachinePath) -> Response:
    """A machine of the register."""
    return out(run(lambda w: machine_register.machine_detail(w, path.machine)))


@api.put("/machines/<uuid:machine>", responses={200: machine_register.MachineDetail})
def machine_change(path: MachinePath, body: machine_register.MachineChange) -> Response:
    """Change a machine's entry."""
    return out(run(lambda w: machine_register.machine_change(w, path.machine, body)))


@api.post("/machines/<uuid:machine>/notes", responses={200: machine_register.MachineDetail})
def machine_note(path: MachinePath, body: machine_register.NoteCommand) -> Response:
    """Say what was done to a machine: head or vise moved, wear, service."""
    return out(run(lambda w: machine_register.machine_note(w, gate.who(), path.machine, body)))


@api.get("/workholding", responses={200: machine_register.HoldingList})
def holding_list() -> Response:
    """Vises, parallels, clamps."""
    return out(run(machine_register.holding_list))


@api.put("/workholding", responses={200: machine_register.HoldingList})
def holding_change(body: machine_register.HoldingChange) -> Response:
    """Add or change an entry of the workholding register."""
    return out(run(lambda w: machine_register.holding_change(w, body)))


@api.get("/machines/<uuid:machine>/setups", responses={200: setupviews.SetupBench})
def setup_bench(path: MachinePath) -> Response:
    """How a machine is set up, and how its head wanders."""
    return out(run(lambda w: setups.setup_bench(w, gate.who(), path.machine)))


@api.post("/machines/<uuid:machine>/setups", responses={200: setupviews.SetupPage})
def begin_setup(path: MachinePath, body: setupviews.BeginSetup) -> Response:
    """Begin a working record of a head or a vise."""
    return out(run(lambda w: setups.begin_setup(w, gate.who(), path.machine, body)))


@api.get("/setups/<uuid:setup>", responses={200: setupviews.SetupPage})
def setup_page(path: SetupPath) -> Response:
    """A working record with its next thing."""
    return out(run(lambda w: setups.setup_page(w, gate.who(), path.setup)))


@api.post("/setups/<uuid:setup>/passes", responses={200: setupviews.SetupPage})
def save_pass(path: SetupPath, body: setupviews.PassCommand) -> Response:
    """Keep one sweep."""
    return out(run(lambda w: setups.save_pass(w, gate.who(), path.setup, body)))


@api.post("/setups/<uuid:setup>/acceptance", responses={200: setupviews.SetupPage})
def accept_setup(path: SetupPath, body: setupviews.AcceptCommand) -> Response:
    """Accept a setup that was tightened and read again."""
    return out(run(lambda w: setups.accept_setup(w, gate.who(), path.setup, body)))


@api.get("/job-cards/<uuid:assignment>/holding", responses={200: holding.HoldingPage})
def holding_page(path: AssignmentPath) -> Response:
    """How the work of a job card is or could be held."""
    return out(run(lambda w: holding.holding_page(w, gate.who(), path.assignment)))


@api.post("/job-cards/<uuid:assignment>/holding/check", responses={200: holding.HoldAnswer})
def hold_check(path: AssignmentPath, body: holding.HoldQuestion) -> Response:
    """What comes of holding it so; keeps nothing."""
    return out(run(lambda w: holding.hold_check(w, gate.who(), path.assignment, body)))


@api.post("/job-cards/<uuid:assignment>/holding", responses={200: holding.HoldingPage})
def keep_hold(path: AssignmentPath, body: holding.KeepHolding) -> Response:
    """Keep how the work is held."""
    return out(run(lambda w: holding.keep_hold(w, gate.who(), path.assignment, body)))


@api.post("/strap", responses={200: holding.StrapAnswer})
def strap_check(body: holding.StrapQuestion) -> Response:
    """The share of a strap clamp's force on the work."""
    return out(holding.strap_check(body))


@api.get("/machines/<uuid:machine>/moves", responses={200: moves.MovesPage})
def moves_page(path: MachinePath) -> Response:
    """A machine's handles and their lost motion."""
    return out(run(lambda w: moves.moves_page(w, path.machine)))


@api.post("/machines/<uuid:machine>/moves", responses={200: moves.MovesAnswer})
def moves_check(path: MachinePath, body: moves.MovesQuestion) -> Response:
    """How to come from place to place; keeps nothing."""
    return out(run(lambda w: moves.moves_check(w, path.machine, body)))


@api.post("/machines/<uuid:machine>/lost-motion", responses={200: moves.MovesPage})
def keep_lost_motion(path: MachinePath, body: moves.LostMotionCommand) -> Response:
    """Keep a measurement of a handle's lost motion."""
    return out(run(lambda w: moves.keep_lost_motion(w, gate.who(), path.machine, body)))


@api.get("/job-cards/<uuid:assignment>/datums", responses={200: findviews.FindPage})
def find_page(path: AssignmentPath, query: CutterQuery) -> Response:
    """The datum record of a job card, and where everything else is from it."""
    return out(run(lambda w: finding.find_page(w, gate.who(), path.assignment, query.cutter)))


@api.post("/job-cards/<uuid:assignment>/datums/check", responses={200: findviews.FindAnswer})
def find_check(path: AssignmentPath, body: findviews.FindQuestion) -> Response:
    """What touches tell; keeps nothing."""
    return out(run(lambda w: finding.find_check(w, gate.who(), path.assignment, body)))


@api.post("/job-cards/<uuid:assignment>/datums", responses={200: findviews.FindPage})
def keep_find(path: AssignmentPath, body: findviews.KeepFind) -> Response:
    """Keep what was found in the datum record."""
    return out(run(lambda w: finding.keep_find(w, gate.who(), path.assignment, body)))


@api.get("/rigs", responses={200: rigs.RigList})
def rig_list() -> Response:
    """The practice rigs and exercises."""
    return out(run(lambda w: rigs.rig_list(w, gate.who())))


@api.post("/rigs/runs", responses={200: rigs.RigRunView})
def begin_run(body: rigs.BeginRun) -> Response:
    """Begin a run of a rig."""
    return out(run(lambda w: rigs.begin_run(w, gate.who(), body)))


@api.get("/rigs/runs/<uuid:run>", responses={200: rigs.RigRunView})
def rig_run(path: RunPath, query: UptoQuery) -> Response:
    """A run, after its last action or after so many of them."""
    return out(run(lambda w: rigs.rig_run(w, gate.who(), path.run, query.upto)))


@api.post("/rigs/runs/<uuid:run>/actions", responses={200: rigs.RigRunView})
def rig_act(path: RunPath, body: rigs.RigActs) -> Response:
    """Do something at one's own run."""
    return out(run(lambda w: rigs.rig_act(w, gate.who(), path.run, body)))


@api.post("/rigs/exercises", responses={200: rigs.RigList})
def set_exercise(body: rigs.SetExercise) -> Response:
    """Set a rig as an exercise for a group."""
    return out(run(lambda w: rigs.set_exercise(w, gate.who(), body)))
