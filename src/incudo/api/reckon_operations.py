"""Operations of the reckoner."""

from __future__ import annotations

from flask import Response

from incudo.api.common import ReckonPath, api, out, run
from incudo.app import reckoner


@api.get("/reckonings", responses={200: reckoner.ReckonList})
def reckon_list() -> Response:
    """Every calculation with its inputs, units and bounds."""
    return out(run(reckoner.reckon_list))


@api.post("/reckonings/<string:name>", responses={200: reckoner.ReckonAnswer})
def reckon_check(path: ReckonPath, body: reckoner.ReckonQuestion) -> Response:
    """Work one out; keeps nothing."""
    return out(reckoner.reckon_check(path.name, body))
