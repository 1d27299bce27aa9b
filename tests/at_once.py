"""Several acts at the same moment."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

from incudo.core.kernel.errors import DomainError


def at_once(acts: list[Callable[[], Any]]) -> list[Any]:
    """Run them all at the same moment; gives each result, or the refusal."""
    gate, found = threading.Barrier(len(acts)), [None] * len(acts)

    def run(n: int) -> None:
        gate.wait()
        try:
            found[n] = acts[n]()
        except DomainError as refused:
            found[n] = refused  # type: ignore[call-overload]

    threads = [threading.Thread(target=run, args=(n,)) for n in range(len(acts))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return found
