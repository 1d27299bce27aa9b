"""Operations of the register of safety."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import api, out, run
from incudo.app.kernel.views import Command
from incudo.app.register.chain import RegisterState, RegisterWalk, state, walk


class WalkCommand(Command):
    """``restart`` begins at the first entry; without it the check goes on where the last call ended."""

    restart: bool = False


@api.get("/register", responses={200: RegisterState})
def register_state() -> Response:
    """Whether the register of safety holds: chain, seals, heads taken away, rows."""
    return out(run(lambda w: state(w, gate.heads())))


@api.post("/register/walk", responses={200: RegisterWalk})
def register_walk(body: WalkCommand) -> Response:
    """Go on with a check of the whole register, or begin one."""
    return out(run(lambda w: walk(w, gate.heads(), restart=body.restart)))
