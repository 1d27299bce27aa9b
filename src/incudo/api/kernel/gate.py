"""The gate in front of every operation: session, role, forged requests; before any body is read."""

from __future__ import annotations

import hmac
import secrets
from collections.abc import Callable
from typing import cast
from urllib.parse import urlsplit

from flask import Flask, Response, current_app, g, request
from itsdangerous import BadSignature, URLSafeSerializer

from incudo.api.kernel.problems import Forged, NotSignedIn
from incudo.app.administration.access import ACCESS, DEVICES, OPEN
from incudo.app.administration.manner import Manners
from incudo.app.kernel.unit import Reader, Unit, Who
from incudo.app.people.accounts import Session, session_of
from incudo.core.kernel.errors import NotPermitted
from incudo.core.kernel.say import say
from incudo.core.register.chain import Head

SESSION_COOKIE = "incudo_session"
DEVICE_COOKIE = "incudo_device"
TOKEN_HEADER = "X-Incudo-Token"  # noqa: S105 (the name of a header)
_YEAR = 365 * 24 * 3600


def unit() -> Unit:
    """The application's way to the use cases."""
    return cast(Unit, current_app.extensions["incudo_unit"])


def heads(last: int = 0) -> tuple[Head, ...]:
    """The heads of the register that were taken away: all, or the last so many."""
    read: Callable[[int], tuple[Head, ...]] = current_app.extensions["incudo_heads"]
    return read(last)


def reader() -> Unit:
    """The way to use cases that only read registers: to the replica, where one is configured and answers."""
    return cast(Reader, current_app.extensions["incudo_reader"]).nearest()


def manners() -> Manners:
    """How the shop writes, as this process knows it."""
    return cast(Manners, current_app.extensions["incudo_manners"])


def who() -> Who:
    """The person behind the current request."""
    return cast(Session, g.session).who


def token() -> str:
    """The session token of the current request, or empty."""
    return request.cookies.get(SESSION_COOKIE, "")


def known_device() -> str | None:
    """The id of the device from its signed cookie; none before somebody signed in on it."""
    try:
        return str(_signer().loads(request.cookies.get(DEVICE_COOKIE, "")))
    except BadSignature:
        return None


def device() -> str:
    """The id of the device: from its signed cookie, else by its network address."""
    return known_device() or f"address {request.remote_addr}"


def _signer() -> URLSafeSerializer:
    return URLSafeSerializer(current_app.config["SECRET_KEY"], salt="device")


def set_session(response: Response, value: str, seconds: int) -> None:
    """Give the browser its session, and an id to a device that has none."""
    secure = current_app.config["SECURE_COOKIES"]
    response.set_cookie(
        SESSION_COOKIE, value, max_age=seconds, httponly=True, samesite="Strict", secure=secure, path="/"
    )
    if DEVICE_COOKIE not in request.cookies:
        mark = str(_signer().dumps(secrets.token_urlsafe(16)))
        response.set_cookie(
            DEVICE_COOKIE, mark, max_age=_YEAR, httponly=True, samesite="Strict", secure=secure, path="/"
        )


def check() -> None:
    """Authorise the current request. Raises ``NotSignedIn``, ``Forged`` or ``NotPermitted``."""
    if not request.path.startswith("/api/") or request.endpoint is None:
        return
    operation = request.endpoint.rpartition(".")[2]
    if request.method not in ("GET", "HEAD"):
        _same_site()
    if operation in OPEN or operation in DEVICES:
        return
    session = unit().run(lambda w: session_of(w, token())) if token() else None
    if session is None:
        raise NotSignedIn(say("Sign in first; what you entered is kept."))
    if session.role not in ACCESS.get(operation, frozenset()):
        raise NotPermitted(say("That is not open to the role {role}.", role=session.role))
    if request.method not in ("GET", "HEAD"):
        sent = request.headers.get(TOKEN_HEADER, "")
        if not hmac.compare_digest(sent.encode(), session.csrf.encode()):
            raise Forged(say("The request did not carry this session's token; reload the page."))
    g.session = session


def _same_site() -> None:
    origin = request.headers.get("Origin")
    if origin and urlsplit(origin).netloc != request.host:
        raise Forged(say("The request came from another site."))


def install(app: Flask) -> None:
    """Put the gate and the security headers on an application."""
    app.before_request(check)

    @app.after_request
    def _headers(response: Response) -> Response:
        response.headers.setdefault(
            "Content-Security-Policy",
            "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
            "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
        )
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "same-origin"
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response
