"""Operations of the reckoner."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import AssignmentPath, FillQuery, MaterialPath, ReckonPath, api, out, run
from incudo.app.reckoning import materials, reckoner, views
from incudo.app.shop import stock_page as stock_page_room


@api.get("/reckonings", responses={200: views.ReckonList})
def reckon_list() -> Response:
    """Every calculation with its inputs, units and bounds; what can be chosen to fill them."""
    return out(run(reckoner.reckon_list))


@api.get("/reckoning-fills", responses={200: views.Fills})
def reckon_fill(query: FillQuery) -> Response:
    """What a machine, a material and a cutter say for the inputs."""
    return out(run(lambda w: reckoner.reckon_fill(w, query.machine, query.material, query.cutter)))


@api.post("/reckonings/<string:name>", responses={200: views.ReckonAnswer})
def reckon_check(path: ReckonPath, body: views.ReckonQuestion) -> Response:
    """Work one out; keeps nothing. Closed to whoever has an exercise question on it open."""
    return out(run(lambda w: reckoner.reckon_check(w, gate.who(), path.name, body)))


@api.post("/job-cards/<uuid:assignment>/reckonings", responses={200: views.ReckonedList})
def keep_reckoning(path: AssignmentPath, body: views.KeepReckoning) -> Response:
    """Keep a calculation on a job card."""
    return out(run(lambda w: reckoner.keep_reckoning(w, gate.who(), path.assignment, body)))


@api.get("/materials", responses={200: materials.MaterialForms})
def material_forms() -> Response:
    """The materials as they can be changed."""
    return out(run(materials.material_forms))


@api.post("/materials/look", responses={200: materials.MaterialAtWork})
def material_look(body: materials.MaterialLook) -> Response:
    """What a material's ranges come to at the machine; keeps nothing."""
    return out(run(lambda w: materials.material_look(w, body)))


@api.post("/materials", responses={200: stock_page_room.StockPage})
def material_add(body: materials.NewMaterial) -> Response:
    """A material that the shop has not had."""
    return out(run(lambda w: materials.material_add(w, body)))


@api.put("/materials/<string:material>", responses={200: stock_page_room.StockPage})
def material_change(path: MaterialPath, body: materials.MaterialChange) -> Response:
    """What is known of a material."""
    return out(run(lambda w: materials.material_change(w, path.material, body)))
