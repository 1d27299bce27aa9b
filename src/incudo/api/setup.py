"""Operations of setting up."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import AssignmentPath, MachinePath, SetupPath, api, out, run
from incudo.app.setup import bench, holding, records, views


@api.get("/machines/<uuid:machine>/setups", responses={200: views.SetupBench})
def setup_bench(path: MachinePath) -> Response:
    """How a machine is set up, and how its head drifts."""
    return out(run(lambda w: bench.setup_bench(w, gate.who(), path.machine)))


@api.post("/machines/<uuid:machine>/setups", responses={200: views.SetupPage})
def begin_setup(path: MachinePath, body: views.BeginSetup) -> Response:
    """Begin a working record of a head or a vise."""
    return out(run(lambda w: records.begin_setup(w, gate.who(), path.machine, body)))


@api.get("/setups/<uuid:setup>", responses={200: views.SetupPage})
def setup_page(path: SetupPath) -> Response:
    """A working record with its next thing."""
    return out(run(lambda w: records.setup_page(w, gate.who(), path.setup)))


@api.post("/setups/<uuid:setup>/passes", responses={200: views.SetupPage})
def save_pass(path: SetupPath, body: views.PassCommand) -> Response:
    """Keep one sweep."""
    return out(run(lambda w: records.save_pass(w, gate.who(), path.setup, body)))


@api.post("/setups/<uuid:setup>/acceptance", responses={200: views.SetupPage})
def accept_setup(path: SetupPath, body: views.AcceptCommand) -> Response:
    """Accept a setup that was tightened and read again."""
    return out(run(lambda w: records.accept_setup(w, gate.who(), path.setup, body)))


@api.get("/job-cards/<uuid:assignment>/holding", responses={200: holding.HoldingPage})
def holding_page(path: AssignmentPath) -> Response:
    """How the work of a job card is or could be held."""
    return out(run(lambda w: holding.holding_page(w, gate.who(), path.assignment)))


@api.post("/job-cards/<uuid:assignment>/holding/check", responses={200: holding.HoldAnswer})
def hold_check(path: AssignmentPath, body: holding.HoldQuestion) -> Response:
    """How work holds that is clamped like this; keeps nothing."""
    return out(run(lambda w: holding.hold_check(w, gate.who(), path.assignment, body)))


@api.post("/job-cards/<uuid:assignment>/holding", responses={200: holding.HoldingPage})
def keep_hold(path: AssignmentPath, body: holding.KeepHolding) -> Response:
    """Keep how the work is held."""
    return out(run(lambda w: holding.keep_hold(w, gate.who(), path.assignment, body)))


@api.post("/strap", responses={200: holding.StrapAnswer})
def strap_check(body: holding.StrapQuestion) -> Response:
    """The share of a strap clamp's force on the work."""
    return out(holding.strap_check(body))
