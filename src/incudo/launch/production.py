"""``./incudo serve``: the web server alone, for a shop's own machine."""

from __future__ import annotations

import os
import signal
import sys
import threading

from incudo.api.server import Settings
from incudo.app.kernel.unit import Unit
from incudo.app.people.accounts import CHEAP
from incudo.launch.configuration import WEB
from incudo.launch.web import LOOPBACK, Front, WebServer, patience_from, proxies_from
from incudo.store.kernel.database import open_engine
from incudo.store.kernel.migrate import migrate


def serve() -> None:
    """Migrate if an owner's address is given, then keep the web server running until asked to stop.

    INCUDO_DATABASE, INCUDO_SECRET: as in ``incudo.api.server``. INCUDO_BIND:
    address and port (default 127.0.0.1:8420). INCUDO_TLS_CERT and INCUDO_TLS_KEY,
    or INCUDO_PROXIES (how many proxies of the shop's own stand before it, which have TLS),
    are needed to listen beyond loopback. INCUDO_OWNER_DATABASE and INCUDO_APP_ACCOUNT: migrate first.
    """
    os.environ.setdefault("INCUDO_WEB", str(WEB))
    front = Front(
        os.environ.get("INCUDO_BIND", "127.0.0.1:8420"),
        os.environ.get("INCUDO_TLS_CERT", ""),
        os.environ.get("INCUDO_TLS_KEY", ""),
        proxies_from(os.environ.get("INCUDO_PROXIES", "0")),
        patience_from(os.environ.get("INCUDO_PATIENCE", "1")),
    )
    tls = bool(front.certificate and front.key)
    if front.bind.rpartition(":")[0] not in LOOPBACK and not (front.proxies or tls):
        raise SystemExit(
            f"{front.bind} is beyond this machine: set INCUDO_TLS_CERT and INCUDO_TLS_KEY, "
            "or INCUDO_PROXIES=1 behind a proxy that has TLS."
        )
    if os.environ.get(CHEAP):
        raise SystemExit(f"{CHEAP} is for test runs alone: passwords would be kept almost in the open. Take it away.")
    if tls or front.proxies:
        os.environ["INCUDO_SECURE_COOKIES"] = "1"
    Settings.from_environment()
    owner = os.environ.get("INCUDO_OWNER_DATABASE")
    if owner:
        migrate(owner, os.environ.get("INCUDO_APP_ACCOUNT", "'incudo_app'@'127.0.0.1'"))
    tell_first_code()
    _keep(WebServer(front, workers=int(os.environ.get("INCUDO_WORKERS", "2"))))


def tell_first_code() -> None:
    """Print the code that sets an empty installation up; nothing where there is a shop."""
    from incudo.launch.own_shop import first_code_words

    settings = Settings.from_environment()
    unit = Unit(open_engine(settings.database), key=settings.register_key)
    for line in first_code_words(unit, "the address of this server"):
        print(line, flush=True)
    unit.engine.dispose()


def _keep(web: WebServer) -> None:
    """Run until SIGINT or SIGTERM; what dies is started again."""
    ending = threading.Event()
    for which in (signal.SIGINT, signal.SIGTERM):
        signal.signal(which, lambda *_: ending.set())
    try:
        web.start(dict(os.environ))
        while not ending.wait(1):
            if web.dead:
                print(f"The {web.dead} ended unexpectedly: starting it again", file=sys.stderr, flush=True)
                web.start(dict(os.environ))
    finally:
        web.stop()
