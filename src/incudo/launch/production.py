"""``./incudo serve``: the web server alone, for a shop's own machine."""

from __future__ import annotations

import os
import sys

from incudo.api.server import Settings
from incudo.app.people.accounts import CHEAP
from incudo.launch.configuration import WEB
from incudo.store.kernel.migrate import migrate

_LOOPBACK = ("127.0.0.1", "localhost", "[::1]")


def serve() -> None:
    """Migrate if an owner's address is given, then become gunicorn.

    INCUDO_DATABASE, INCUDO_SECRET: as in ``incudo.api.server``. INCUDO_BIND:
    address and port (default 127.0.0.1:8420). INCUDO_TLS_CERT and INCUDO_TLS_KEY,
    or INCUDO_BEHIND_PROXY=1, are needed to listen beyond loopback.
    INCUDO_OWNER_DATABASE and INCUDO_APP_ACCOUNT: migrate first.
    """
    os.environ.setdefault("INCUDO_WEB", str(WEB))
    bind = os.environ.get("INCUDO_BIND", "127.0.0.1:8420")
    cert, key = os.environ.get("INCUDO_TLS_CERT"), os.environ.get("INCUDO_TLS_KEY")
    proxied = os.environ.get("INCUDO_BEHIND_PROXY") == "1"
    if bind.rpartition(":")[0] not in _LOOPBACK and not (proxied or (cert and key)):
        raise SystemExit(
            f"{bind} is beyond this machine: set INCUDO_TLS_CERT and INCUDO_TLS_KEY, "
            "or INCUDO_BEHIND_PROXY=1 behind a proxy that has TLS."
        )
    if os.environ.get(CHEAP):
        raise SystemExit(f"{CHEAP} is for test runs alone: passwords would be kept almost in the open. Take it away.")
    if cert or proxied:
        os.environ["INCUDO_SECURE_COOKIES"] = "1"
    Settings.from_environment()
    owner = os.environ.get("INCUDO_OWNER_DATABASE")
    if owner:
        migrate(owner, os.environ.get("INCUDO_APP_ACCOUNT", "'incudo_app'@'127.0.0.1'"))
    command = [sys.executable, "-m", "gunicorn", "--bind", bind, "--worker-class", "gthread"]
    command += ["--workers", os.environ.get("INCUDO_WORKERS", "2"), "--threads", "4", "--no-control-socket"]
    if cert and key:
        command += ["--certfile", cert, "--keyfile", key]
    os.execv(sys.executable, [*command, "incudo.api.server:from_environment()"])  # noqa: S606
