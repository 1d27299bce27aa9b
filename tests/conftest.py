"""One private MariaDB for the whole run; nothing here reaches beyond this machine."""

from __future__ import annotations

import os
import socket
from collections.abc import Iterator

import pytest
from hypothesis import settings

# before anything hashes: see incudo.app.people.accounts
os.environ["INCUDO_CHEAP_SECRETS"] = "1"

from incudo.launch.mariadb import PrivateMariaDB
from incudo.launch.supervise import Supervisor
from tests.loaded import loaded_shop

# The same examples in every run, so that a red run always means the change that was made;
# HYPOTHESIS_PROFILE=search looks for new ones.
settings.register_profile("same", derandomize=True, deadline=None)
settings.register_profile("search", deadline=None, max_examples=1000)
settings.register_profile("brief", derandomize=True, deadline=None, max_examples=20)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "same"))


#: First what needs no shop, while one is loaded beside it; then what takes long; last what is short, so that both
#: workers end together.
ORDER = (
    "tests/core/parts/features",
    "tests/core/cutting",
    "tests/core/planning",
    "tests/core/practice",
    "tests/browser/administration",
    "tests/browser",
    "tests/launch",
    "tests/api/administration",
    "tests/api",
    "tests/app",
    "tests/store",
    "tests/devices",
    "tests/core",
)


@pytest.hookimpl(tryfirst=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Files in the order above, within a file as they stand; what a sweep leaves out of the standard run is long.

    ``sweep(n)`` stands at a test of many cases: the standard run has ``n`` of them, evenly apart, always the same.
    """
    items.sort(key=lambda i: next((n for n, place in enumerate(ORDER) if i.nodeid.startswith(place)), len(ORDER)))
    sweeps: dict[str, list[pytest.Item]] = {}
    for item in items:
        if item.get_closest_marker("sweep"):
            sweeps.setdefault(item.nodeid.partition("[")[0], []).append(item)
    for cases in sweeps.values():
        mark = cases[0].get_closest_marker("sweep")
        few = {i * len(cases) // mark.args[0] for i in range(mark.args[0])} if mark else set()
        for number, case in enumerate(cases):
            if number not in few:
                case.add_marker("long")


@pytest.fixture(autouse=True)
def _loopback_only(monkeypatch: pytest.MonkeyPatch) -> None:
    """A test that reaches for another machine fails by itself."""
    real = socket.socket.connect

    def connect(self: socket.socket, address: object) -> None:
        host = address[0] if isinstance(address, tuple) else "127.0.0.1"
        if host not in ("127.0.0.1", "localhost", "::1"):
            raise AssertionError(f"a test reached for {host}")
        real(self, address)  # type: ignore[arg-type]

    monkeypatch.setattr(socket.socket, "connect", connect)


@pytest.fixture(scope="session")
def loaded(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Supervisor]:
    """A copy of the demo shop with its database running, and nothing else of it."""
    supervisor = Supervisor(loaded_shop(tmp_path_factory.mktemp("instance")), workers=1)
    try:
        supervisor.start_database()
        yield supervisor
    finally:
        supervisor.stop()


@pytest.fixture(scope="session")
def database(loaded: Supervisor) -> PrivateMariaDB:
    """Its database."""
    return loaded.database
