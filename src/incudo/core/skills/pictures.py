"""Pictures to point at: our own drawings, described in text files.

A picture has plain lines, and regions that can be touched. A region has a look
when all is well and, for scenes, one when something is wrong. Paths are in the
picture's own units, y downwards.
"""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated, Any, Literal

from pydantic import Field

from incudo.core.kernel.fields import Key, Strict, Word, read_model

_Path = Annotated[str, Field(pattern=r"^[MLHVCQAZmlhvcqaz0-9 .,-]+$", max_length=2000)]


class Region(Strict):
    """Something to touch: ``area`` is where, ``well`` and ``wrong`` are how it looks."""

    id: Key
    name: Word
    area: _Path
    well: tuple[_Path, ...] = ()
    wrong: tuple[_Path, ...] = ()
    wrong_name: str = ""


class Picture(Strict):
    """A drawing with regions."""

    format: Literal["incudo-picture/1"]
    picture: Key
    name: Word
    width: Annotated[int, Field(ge=50, le=2000)]
    height: Annotated[int, Field(ge=50, le=2000)]
    lines: tuple[_Path, ...] = ()
    regions: Annotated[tuple[Region, ...], Field(min_length=2, max_length=40)]

    def region(self, key: str) -> Region | None:
        """The part of the picture with this key, if there is one."""
        return next((r for r in self.regions if r.id == key), None)

    def drawn(self, faults: Collection[str] = ()) -> tuple[str, ...]:
        """All lines to draw, with these regions wrong and the others well."""
        found = list(self.lines)
        for r in self.regions:
            found += r.wrong if r.id in faults else r.well
        return tuple(found)


def read_picture(data: Any) -> Picture:
    """Check a picture file's content. Raises ``Refused``."""
    return read_model(Picture, data)
