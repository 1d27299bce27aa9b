"""Operations of the register of safety."""

from __future__ import annotations

from flask import Response

from incudo.api.kernel import gate
from incudo.api.kernel.common import api, out, run
from incudo.app.register.chain import RegisterState, state


@api.get("/register", responses={200: RegisterState})
def register_state() -> Response:
    """Whether the register of safety holds: chain, seals, heads taken away, rows."""
    return out(run(lambda w: state(w, gate.heads())))
