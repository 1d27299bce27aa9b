"""When two names are one."""

from __future__ import annotations

import unicodedata


def alike(name: str) -> str:
    """The same text for names that people, and the database, take for one: without case, accents and outer spaces."""
    letters = unicodedata.normalize("NFKD", name)
    return "".join(c for c in letters if not unicodedata.combining(c)).casefold().strip()
