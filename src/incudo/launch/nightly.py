"""A backup every night while a shop runs, the oldest taken away: by three settings of the environment."""

from __future__ import annotations

import os
import re
import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from pathlib import Path

from incudo.launch.backup import back_up, keys_file
from incudo.launch.supervise import Supervisor

FOLDER, KEEP, AT = "INCUDO_BACKUPS", "INCUDO_BACKUPS_KEEP", "INCUDO_BACKUPS_AT"
#: So many are kept where nothing is said, and at most; and when in the night one is made.
USUAL, MOST, NIGHT = 14, 400, time(3)
#: Seconds between two looks at the clock, and after a backup that could not be made.
LOOK, AGAIN = 60, 3600
_NAME = re.compile(r"nightly-(\d{8}-\d{4})Z\.incudo")


@dataclass(frozen=True)
class Nights:
    """Where backups go, how many are kept, and at what time of the machine's own day one is made."""

    folder: Path
    keep: int = USUAL
    at: time = NIGHT

    def due(self, now: datetime) -> bool:
        """Whether the last night, or one before while nothing ran, has no backup yet. ``now`` is the shop's time."""
        night = now.replace(hour=self.at.hour, minute=self.at.minute, second=0, microsecond=0)
        if night > now:
            night -= timedelta(days=1)
        made = self.made()
        return not made or max(made) < night

    def made(self) -> dict[datetime, Path]:
        """The backups that are there, by when they were made."""
        found = ((_NAME.fullmatch(f.name), f) for f in self.folder.glob("nightly-*"))
        return {datetime.strptime(f"{m[1]}+0000", "%Y%m%d-%H%M%z"): f for m, f in found if m}

    def file(self, now: datetime) -> Path:
        """What a backup made now is called."""
        return self.folder / f"nightly-{now.astimezone(UTC):%Y%m%d-%H%M}Z.incudo"

    def tidy(self) -> list[Path]:
        """Take the oldest away until so many are left as are kept. Gives what was taken away."""
        made = self.made()
        old = [made[at] for at in sorted(made)[: max(0, len(made) - self.keep)]]
        for file in old:
            file.unlink()
            keys_file(file).unlink(missing_ok=True)
        return old


def nights_from(environment: Mapping[str, str]) -> Nights | None:
    """The setting, or nothing where no folder is named. Raises ``SystemExit`` for what cannot be."""
    if not environment.get(FOLDER):
        return None
    folder = Path(environment[FOLDER]).absolute()
    if not folder.is_dir() or not os.access(folder, os.W_OK):
        raise SystemExit(f"{FOLDER}: {folder} must be a folder that can be written to.")
    keep = environment.get(KEEP, str(USUAL))
    if not keep.isascii() or not keep.isdigit() or not 1 <= int(keep) <= MOST:
        raise SystemExit(f"{KEEP} must be 1 to {MOST}, not {keep!r}.")
    try:
        at = time.fromisoformat(environment.get(AT, NIGHT.isoformat()))
    except ValueError:
        raise SystemExit(f"{AT} must be a time of the day such as 03:00, not {environment[AT]!r}.") from None
    return Nights(folder, int(keep), at)


def night_watch(shop: Supervisor, nights: Nights, ended: threading.Event, say: Callable[[str], None]) -> None:
    """Make a backup whenever one is due, until told to end. One that cannot be made is tried again later."""
    wait = 0
    while not ended.wait(wait):
        wait = LOOK
        now = datetime.now().astimezone()
        if not nights.due(now):
            continue
        try:
            back_up(shop, nights.file(now))
            for old in nights.tidy():
                say(f"{old.name} taken away; {nights.keep} are kept")
        except (SystemExit, OSError) as error:
            if not ended.is_set():
                say(f"no backup: {error}")
            wait = AGAIN
