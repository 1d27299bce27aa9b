"""The lanes of the web server: gunicorn's settings, loaded by it as ``python:incudo.launch.lanes``.

One master, which reads the application in once; each worker serves one lane alone, through
a socket of the lane's own. A lane that is full or stuck does not hold up another.
INCUDO_LANES names the folder of the sockets, INCUDO_WORKERS how many processes work.
"""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from incudo.launch.processes import collect_seldom


@dataclass(frozen=True)
class Lane:
    """What is served apart from the rest.

    ``threads``: how much at once in one process; ``nice``: how far it stands back for
    the others; ``database``: after how many seconds a silent database is given up.
    """

    name: str
    threads: int
    nice: int
    database: float


#: The interlock's question is answered first, always; printing and files wait for everybody else.
INTERLOCK = Lane("interlock", 4, 0, 2)
WORK = Lane("work", 4, 8, 10)
HEAVY = Lane("heavy", 2, 15, 60)
LANES = (INTERLOCK, WORK, HEAVY)


def socket_of(folder: Path, lane: Lane) -> Path:
    """Where a lane listens."""
    return folder / f"{lane.name}.sock"


def planned(workers: int) -> list[Lane]:
    """The lane of each worker that is to run: ``workers`` of them for the work, one for each other lane."""
    return [INTERLOCK, *[WORK] * workers, HEAVY]


def _number() -> int:
    return int(os.environ.get("INCUDO_WORKERS", "2"))


_folder = Path(os.environ.get("INCUDO_LANES", "."))
bind = [f"unix:{socket_of(_folder, lane)}" for lane in LANES]
workers = len(planned(_number()))
worker_class = "gthread"
threads = WORK.threads
preload_app = os.environ.get("INCUDO_RELOAD") != "1"
reload = not preload_app
graceful_timeout = 10
capture_output = True
control_socket_disable = True


def pre_fork(server: Any, worker: Any) -> None:
    """In the master: the new worker takes the first lane that lacks one."""
    missing = planned(_number())
    for other in server.WORKERS.values():
        if getattr(other, "lane", None) in missing:
            missing.remove(other.lane)
    worker.lane = missing[0] if missing else WORK


def post_fork(server: Any, worker: Any) -> None:
    """In the new worker: it listens to its lane alone and stands back as far as that lane does."""
    collect_seldom()
    lane: Lane = worker.lane
    worker.sockets = [s for s in server.LISTENERS if str(s).endswith(f"/{lane.name}.sock")]
    worker.cfg.set("threads", lane.threads)
    os.nice(lane.nice)
    os.environ["INCUDO_DATABASE_SECONDS"] = str(lane.database * int(os.environ.get("INCUDO_PATIENCE", "1")))
