"""A photograph of a machine: made small, and without what a camera writes into it (place, time, owner)."""

from __future__ import annotations

import base64
import binascii
import io
import uuid
import warnings
from typing import Annotated

from PIL import Image, ImageOps, UnidentifiedImageError
from pydantic import StringConstraints

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Command
from incudo.app.shop.gone import note_change
from incudo.app.shop.machines import MachineDetail, machine_detail, machine_here
from incudo.core.kernel.errors import NotFound, Refused
from incudo.core.kernel.say import say
from incudo.store import schema as t

#: Characters of a picture as it is sent (base64), the longest side of what is kept, and of what is looked at, pixels.
MOST_TEXT, LONGEST, MOST_SIDE = 1_900_000, 1280, 12_000
_FORMATS = ("JPEG", "PNG", "WEBP")


class PhotoCommand(Command):
    """A picture as base64 (JPEG, PNG or WebP); empty takes it away."""

    image: Annotated[str, StringConstraints(max_length=MOST_TEXT)]


def photo(w: Work, machine: uuid.UUID) -> bytes:
    """The photograph of a machine, as JPEG. Raises ``NotFound``."""
    row = w.db.get(t.MachinePhoto, machine)
    if row is None:
        raise NotFound(say("There is no photograph of this machine."))
    return row.content


def change_photo(w: Work, who: Who, machine: uuid.UUID, content: bytes | None) -> MachineDetail:
    """Keep another photograph, or none; who did it is kept."""
    machine_here(w, machine)
    row = find(w, t.Machine, machine, "machine")
    there = w.db.get(t.MachinePhoto, machine)
    if content is None:
        if there is not None:
            w.db.delete(there)
            note_change(w, who, say("Photograph of {name}: removed", name=row.name))
    elif there is None or there.content != content:
        w.db.merge(t.MachinePhoto(machine_id=machine, content=content, by_id=who.id, at=w.now))
        note_change(w, who, say("Photograph of {name}: another one", name=row.name))
    w.db.flush()
    return machine_detail(w, machine)


def small(command: PhotoCommand) -> bytes | None:
    """The picture as it is kept: upright, small, nothing but the picture. None for none. Raises ``Refused``."""
    if not command.image:
        return None
    try:
        raw = base64.b64decode(command.image, validate=True)
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(raw), formats=_FORMATS) as opened:
                if max(opened.size) > MOST_SIDE:
                    raise Refused.of("image", opened.size, say("must be at most {most} pixels wide", most=MOST_SIDE))
                upright = ImageOps.exif_transpose(opened).convert("RGB")
    except (
        binascii.Error,
        UnidentifiedImageError,
        OSError,
        SyntaxError,
        ValueError,
        Warning,
        Image.DecompressionBombError,
    ):
        raise Refused.of("image", "", say("must be a photograph as JPEG, PNG or WebP")) from None
    upright.thumbnail((LONGEST, LONGEST))
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    out = io.BytesIO()
    clean.save(out, "JPEG", quality=82)
    return out.getvalue()
