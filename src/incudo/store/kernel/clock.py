"""The clock of the machine that this runs on."""

from __future__ import annotations

from zoneinfo import ZoneInfoNotFoundError, available_timezones

import tzlocal


def server_zone() -> str:
    """The IANA name of this machine's time zone; UTC where it has none that is known."""
    try:
        name = tzlocal.get_localzone_name()
    except (ZoneInfoNotFoundError, LookupError, ValueError):
        return "UTC"
    return name if name in available_timezones() else "UTC"
