"""Every error as an RFC 9457 problem document; the one map from errors to HTTP status."""

from __future__ import annotations

import logging
import uuid
from copy import deepcopy
from typing import Any

from flask import Response, request
from flask_openapi3 import OpenAPI
from pydantic import BaseModel, ValidationError
from werkzeug.exceptions import HTTPException

from incudo.app.kernel.language import speak
from incudo.app.kernel.unit import DatabaseAway, TakesNothingNew
from incudo.app.people.accounts import TooManyTries, WrongSecret
from incudo.app.shop.devices import UnknownDevice
from incudo.core.kernel.errors import Conflict, DomainError, FieldError, NotFound, NotPermitted, Refused, shorten
from incudo.core.kernel.fields import bound_of, own_errors
from incudo.core.kernel.say import say, together

_log = logging.getLogger(__name__)
#: So many refused fields are named in one answer.
MOST_NAMED = 20
_schemas: dict[str, dict[str, Any]] = {}


class ProblemField(BaseModel):
    """A refused field: where, what was given, which bound it broke."""

    field: str
    value: str
    bound: str


class Problem(BaseModel):
    """What went wrong (RFC 9457)."""

    type: str
    title: str
    status: int
    detail: str
    errors: list[ProblemField] = []

    @classmethod
    def model_json_schema(cls, *args: Any, **options: Any) -> dict[str, Any]:
        """The schema, made once: it stands nine times under every operation."""
        key = repr((args, sorted(options.items(), key=repr)))
        if key not in _schemas:
            _schemas[key] = super().model_json_schema(*args, **options)
        return deepcopy(_schemas[key])


class NotSignedIn(DomainError):
    """No valid session came with the request."""


class Forged(DomainError):
    """A changing request came without the session's token or from another site."""


#: The one place where errors become HTTP.
STATUS: dict[type[DomainError], tuple[int, str]] = {
    Refused: (422, "refused-input"),
    NotPermitted: (403, "not-permitted"),
    Conflict: (409, "conflict"),
    NotFound: (404, "not-found"),
    WrongSecret: (403, "wrong-secret"),
    TooManyTries: (429, "too-many-tries"),
    NotSignedIn: (401, "not-signed-in"),
    UnknownDevice: (401, "unknown-device"),
    Forged: (403, "forged"),
    DatabaseAway: (503, "database-away"),
    TakesNothingNew: (503, "takes-nothing-new"),
}

TITLES = {
    401: say("Sign in first"),
    403: say("Not permitted"),
    404: say("Not found"),
    409: say("Clashes with what is recorded"),
    413: say("Too large"),
    422: say("Something in the input cannot be accepted"),
    429: say("Too many tries"),
    500: say("Something broke on the server"),
    503: say("The database cannot be used now"),
}


def problem(status: int, kind: str, detail: str, errors: list[ProblemField] | None = None) -> Response:
    """A problem document as a response."""
    title = TITLES.get(status, say("Request refused"))
    body = Problem(
        type=f"urn:incudo:{kind}", title=speak(title), status=status, detail=speak(detail), errors=errors or []
    )
    return Response(body.model_dump_json(), status=status, content_type="application/problem+json")


def from_domain(error: DomainError) -> Response:
    """The answer to a refusal of the rules."""
    status, kind = STATUS[type(error)]
    fields: list[ProblemField] = []
    detail = error.words
    if isinstance(error, Refused):
        fields = [_field(e) for e in error.errors[:MOST_NAMED]]
        detail = together((*(e.words for e in error.errors[:MOST_NAMED]), more_than_named(len(error.errors))), "; ")
    response = problem(status, kind, detail, fields)
    if status == 503:
        response.headers["Retry-After"] = "2"
    if isinstance(error, TooManyTries):
        response.headers["Retry-After"] = str(error.seconds)
    return response


def _field(e: FieldError) -> ProblemField:
    return ProblemField(field=speak(e.field), value=speak(e.value), bound=speak(e.bound))


def from_validation(error: ValidationError) -> Response:
    """The answer to a body, path or query that does not fit its declared shape."""
    errors = own_errors(error)
    if any(e["type"] == "json_invalid" for e in errors):
        return malformed()
    fields = [_field(_field_error(e)) for e in errors[:MOST_NAMED]]
    detail = together((*(f"{f.field}: {f.bound}" for f in fields), more_than_named(len(errors))), "; ")
    return problem(422, "refused-input", detail, fields)


def more_than_named(count: int) -> str:
    """What is said of the errors that are not named."""
    return say("and {count} more", count=count - MOST_NAMED) if count > MOST_NAMED else ""


def malformed() -> Response:
    """The answer to a body that is not JSON."""
    return problem(
        422,
        "refused-input",
        say("The body must be JSON."),
        [ProblemField(field="body", value="", bound=speak(say("must be JSON")))],
    )


def _field_error(e: Any) -> FieldError:
    where = ".".join(str(part) for part in e["loc"]) or "body"
    given = e.get("input")
    value = shorten(given) if isinstance(given, (str, int, float, bool)) else ""
    return FieldError(where, value, bound_of(e))


def install(app: OpenAPI) -> None:
    """Answer all errors of an application with problem documents."""

    @app.errorhandler(DomainError)
    def _domain(error: DomainError) -> Response:
        return from_domain(error)

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        status = error.code or 500
        if status == 413:
            most = request.max_content_length
            field = ProblemField(field="body", value="", bound=speak(say("must have at most {most} bytes", most=most)))
            return problem(413, "too-large", say("The body must have at most {most} bytes.", most=most), [field])
        return problem(status, error.name.lower().replace(" ", "-"), error.description or error.name)

    @app.errorhandler(Exception)
    def _broken(error: Exception) -> Response:
        mark = uuid.uuid4().hex[:8]
        _log.exception("broken %s on %s %s", mark, request.method, request.path, exc_info=error)
        return problem(500, "broken", say("Tell the person who runs Incudo this mark: {mark}.", mark=mark))
