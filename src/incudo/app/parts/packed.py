"""The library of parts as one file, out and in: a zip with a JSON file for each part."""

from __future__ import annotations

import base64
import io
import uuid
import zipfile
import zlib
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, insert_once
from incudo.app.kernel.views import Command, View
from incudo.app.parts import library
from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.fields import parsed
from incudo.core.kernel.say import say
from incudo.store import schema as t
from incudo.store.parts import projects as store

#: Parts of one file, and the bytes that they unpack to.
MOST_PARTS, MOST_BYTES = 200, 8_000_000
#: How a file in a zip may be kept, and the mark of one that is locked by a password.
READ, LOCKED = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED), 1
#: Of a file in a zip, so that the same library makes the same file.
_MADE = (2020, 1, 1, 0, 0, 0)


class PackedCommand(Command):
    """A library to import: the zip as base64. ``id`` is made by the browser."""

    id: uuid.UUID
    zip: Annotated[str, Field(min_length=1, max_length=1_900_000)]


class TakenPart(View):
    """What became of one part: new, a new version of one that is here, or the same as that."""

    name: str
    code: str
    became: str


class PackedReport(View):
    """What was in a packed library, part by part."""

    taken: tuple[TakenPart, ...]


def pack(w: Work) -> bytes:
    """The newest version of every part that is not retired."""
    out = store.retired(w.db)
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as z:
        for v in library.current_versions(w):
            if v.project_id not in out:
                code = library.read_file(w, v.content)[0].code
                z.writestr(zipfile.ZipInfo(f"{code}.json", _MADE), v.content)
    return packed.getvalue()


def unpack(w: Work, who: Who, command: PackedCommand) -> PackedReport:
    """Take every part of a library in: all of them or none.

    A part whose code is here becomes its next version, unless it says the same. Raises ``Refused`` at ``zip`` for what
    is no library, and at the file's name and its number for a part that cannot be made.
    """
    files = _unpacked(command.zip)
    faults: list[FieldError] = []
    read: dict[str, tuple[str, str, str]] = {}
    for name, text in files.items():
        try:
            part, kept = library.read_file(w, text)
        except Refused as refused:
            faults += [FieldError(f"{name}: {e.field}", e.value, e.bound) for e in refused.errors]
            continue
        if part.code in {code for code, _, _ in read.values()}:
            faults.append(FieldError(f"{name}: code", part.code, say("is the code of another part of this file")))
        read[name] = part.code, part.name, kept
    if faults:
        raise Refused(*faults)
    newest = {library.read_file(w, v.content)[0].code: v for v in library.current_versions(w)}
    taken = []
    for code, name, kept in read.values():
        there = newest.get(code)
        ids = uuid.uuid5(command.id, code), uuid.uuid5(command.id, f"{code} version")
        if there is None:
            library.add_project(w, who, *ids, parsed(kept, most=library.MOST_TEXT))
            became = say("new")
        elif library.read_file(w, there.content)[1] == kept:
            became = say("the same as here")
        else:
            row = t.ProjectVersion(
                id=ids[1], project_id=there.project_id, number=there.number + 1, content=kept,
                made_by=who.id, made_at=w.now, change=say("from a file"),
            )  # fmt: skip
            insert_once(w, row, ignoring=("made_at", "number"))
            became = say("version {number}", number=row.number)
        taken.append(TakenPart(name=name, code=code, became=became))
    return PackedReport(taken=tuple(taken))


def _unpacked(text: str) -> dict[str, str]:
    """The files of a zip by name. Raises ``Refused`` for what is none, or too large."""
    wrong = say("must be a library that was saved here: a zip with a JSON file for each part")
    try:
        z = zipfile.ZipFile(io.BytesIO(base64.b64decode(text, validate=True)))
        names = [i for i in z.infolist() if not i.is_dir()]
        if not names or any(not i.filename.endswith(".json") for i in names):
            raise Refused.of("zip", "", wrong)
        if len(names) > MOST_PARTS or sum(i.file_size for i in names) > MOST_BYTES:
            most = MOST_BYTES // 10**6
            bound = say("must have at most {parts} parts, {size} MB together", parts=MOST_PARTS, size=most)
            raise Refused.of("zip", len(names), bound)
        if any(i.flag_bits & LOCKED or i.compress_type not in READ for i in names):
            raise Refused.of("zip", "", wrong)
        return {i.filename: z.read(i).decode() for i in names}
    except (ValueError, EOFError, zlib.error, zipfile.BadZipFile):
        # no base64, no zip, broken on the way, or no text: what is wrong with it helps nobody
        raise Refused.of("zip", "", wrong) from None
