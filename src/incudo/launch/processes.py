"""Small helpers for child processes on Linux."""

from __future__ import annotations

import ctypes
import gc
import os
import signal
import socket
import subprocess

_PR_SET_PDEATHSIG = 1


def die_with_parent() -> None:
    """In a fresh child: be asked to end when the launcher itself is killed."""
    ctypes.CDLL(None, use_errno=True).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def collect_seldom() -> None:
    """Let the collector of cycles pass over what was read in at the start, and come by less often.

    What a use case makes is freed when it ends, without it; walking over every mapper and every kept statement each
    few hundred objects cost a seventh of the processor time. Measured: docs/decisions.md.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 10, 10)


def free_port() -> int:
    """A port that nothing listens on now."""
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        port: int = s.getsockname()[1]
        return port


def kill_group(pid: int) -> None:
    """End what is left of a process group that we started."""
    try:
        os.killpg(pid, signal.SIGKILL)
    except ProcessLookupError:
        return


def children(pid: int) -> list[int]:
    """The processes that a process has started and that have not ended."""
    listed = subprocess.run(["ps", "-o", "pid=", "--ppid", str(pid)], capture_output=True, text=True, check=False)
    return [int(p) for p in listed.stdout.split()]
