"""The application: API, built front end, configuration from the environment."""

from __future__ import annotations

import logging
import os
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from flask import Response, request, send_from_directory
from flask_openapi3 import Info, OpenAPI
from pydantic import ValidationError
from werkzeug.exceptions import NotFound
from werkzeug.middleware.proxy_fix import ProxyFix

from incudo import __version__
from incudo.api import (
    administration,
    cutting,
    jobcards,
    locating,
    parts,
    people,
    planning,
    practice,
    reckoning,
    register,
    session,
    setup,
    shop,
    skills,
)
from incudo.api.kernel import body, gate, problems
from incudo.api.kernel.common import api
from incudo.api.kernel.heads import HeadsFile
from incudo.app.administration.manner import Manners
from incudo.app.kernel import language
from incudo.app.kernel.unit import Reader, Unit
from incudo.store.kernel.database import open_engine

#: Importing these fills the blueprint.
_FILLED = (
    people,
    register,
    shop,
    skills,
    parts,
    setup,
    locating,
    reckoning,
    planning,
    practice,
    session,
    cutting,
    jobcards,
    administration,
)
_IMMUTABLE = "public, max-age=31536000, immutable"


@dataclass(frozen=True)
class Settings:
    """What the server needs to know; every one has its environment variable."""

    database: str
    secret: str
    web: Path
    register_key: str = ""
    heads: Path | None = None
    secure_cookies: bool = False
    trusted_proxies: int = 0
    replica: str = ""

    @classmethod
    def from_environment(cls) -> Settings:
        """Read every setting; docs/operations.md says what each is for."""
        needed = ("INCUDO_DATABASE", "INCUDO_SECRET", "INCUDO_REGISTER_KEY", "INCUDO_WEB")
        missing = [n for n in needed if not os.environ.get(n)]
        if missing:
            raise SystemExit(f"Set these first: {', '.join(missing)}")
        return cls(
            database=os.environ["INCUDO_DATABASE"],
            secret=os.environ["INCUDO_SECRET"],
            web=Path(os.environ["INCUDO_WEB"]),
            register_key=os.environ["INCUDO_REGISTER_KEY"],
            heads=Path(os.environ["INCUDO_HEADS"]) if os.environ.get("INCUDO_HEADS") else None,
            secure_cookies=os.environ.get("INCUDO_SECURE_COOKIES") == "1",
            replica=os.environ.get("INCUDO_REPLICA", ""),
            trusted_proxies=int(os.environ.get("INCUDO_TRUSTED_PROXIES", "0")),
        )


def create_app(settings: Settings, unit: Unit | None = None) -> OpenAPI:
    """The whole application. ``unit`` is passed in by tests that set the clock."""
    app = OpenAPI(
        __name__,
        info=Info(title="Incudo", version=__version__),
        validation_error_callback=_invalid,
        static_folder=None,
    )
    app.config.update(
        SECRET_KEY=settings.secret,
        SECURE_COOKIES=settings.secure_cookies,
        MAX_CONTENT_LENGTH=body.MOST_BYTES_OF_A_FILE,
        MAX_FORM_MEMORY_SIZE=body.MOST_BYTES_OF_A_FILE,
    )
    heads = HeadsFile(settings.heads)
    app.extensions["incudo_unit"] = unit or Unit(
        open_engine(settings.database), key=settings.register_key, on_head=heads.add
    )
    app.extensions["incudo_heads"] = heads.read
    app.extensions["incudo_reader"] = Reader(
        app.extensions["incudo_unit"], Unit(open_engine(settings.replica), tries=1) if settings.replica else None
    )
    manners = app.extensions["incudo_manners"] = Manners(app.extensions["incudo_unit"])
    if settings.trusted_proxies:
        app.wsgi_app = ProxyFix(  # type: ignore[method-assign]
            app.wsgi_app, x_for=settings.trusted_proxies, x_proto=1, x_host=0
        )

    @app.before_request
    def _language() -> None:
        spelling = manners.now().spelling if request.path.startswith("/api/") else ""
        language.use(request.accept_languages.best_match(language.languages(), language.ENGLISH), spelling)

    problems.install(app)
    gate.install(app)
    body.install(app)
    app.register_api(api)
    _serve_web(app, settings.web)
    return app


def from_environment() -> OpenAPI:
    """What gunicorn loads."""
    logging.basicConfig(level=logging.INFO, format="%(asctime)s %(levelname)s %(name)s %(message)s")
    return create_app(Settings.from_environment())


def _invalid(error: ValidationError) -> Response:
    return problems.from_validation(error)


def _serve_web(app: OpenAPI, folder: Path) -> None:
    """The built front end: long-lived names under /assets, the page for every other path."""

    @app.get("/", doc_ui=False)
    @app.get("/<path:path>", doc_ui=False)
    def page(**_: Any) -> Response:
        path = (request.view_args or {}).get("path", "")
        if path.startswith("api/"):
            raise NotFound("There is no such address.")
        if path and (folder / path).is_file() and ".." not in path:
            return _file(folder, path)
        if path.startswith("assets/"):
            raise NotFound("There is no such file.")
        return _file(folder, "index.html")


def _file(folder: Path, path: str) -> Response:
    packed = (folder / f"{path}.br").is_file() and "br" in request.headers.get("Accept-Encoding", "")
    response = send_from_directory(folder, f"{path}.br" if packed else path, mimetype=_type(path))
    if packed:
        response.headers["Content-Encoding"] = "br"
    response.headers["Vary"] = "Accept-Encoding"
    response.headers["Cache-Control"] = _IMMUTABLE if path.startswith("assets/") else "no-cache"
    return response


def _type(path: str) -> str | None:
    if path.endswith(".js"):
        return "text/javascript"
    return "application/manifest+json" if path.endswith(".webmanifest") else None
