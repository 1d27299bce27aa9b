"""The heads of the register, written outside the database: one JSON line for each.

Whoever keeps this file elsewhere (another disk, paper) can show later that the
register was not shortened or made anew.
"""

from __future__ import annotations

import json
import logging
import os
from collections import deque
from pathlib import Path

from incudo.core.register.chain import Head

_log = logging.getLogger(__name__)


class HeadsFile:
    """A file of heads; with no path nothing is kept."""

    def __init__(self, path: Path | None) -> None:
        self.path = path

    def add(self, head: Head) -> None:
        """Append one head. A disk that fails is logged and stops nobody from working."""
        if self.path is None:
            return
        line = json.dumps({"seq": head.seq, "digest": head.digest, "seal": head.seal})
        try:
            file = os.open(self.path, os.O_WRONLY | os.O_APPEND | os.O_CREAT, 0o600)
            try:
                os.write(file, f"{line}\n".encode())
                os.fsync(file)
            finally:
                os.close(file)
        except OSError as error:
            _log.error("a head of the register could not be written: %s", error)

    def read(self, last: int = 0) -> tuple[Head, ...]:
        """The heads that were taken away, all or the ``last`` so many; broken lines are left out."""
        if self.path is None or not self.path.exists():
            return ()
        found = []
        with self.path.open(encoding="utf-8") as lines:
            wanted = deque(lines, maxlen=last or None)
        for line in wanted:
            try:
                data = json.loads(line)
                found.append(Head(int(data["seq"]), str(data["digest"]), str(data["seal"])))
            except (ValueError, KeyError, TypeError):
                _log.warning("a line of %s is no head", self.path)
        return tuple(found)
