"""What a drawing says in words below its views."""

from __future__ import annotations

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import capital, say, together
from incudo.core.parts.drawing.placed import Projection
from incudo.core.parts.project import Project, ViewName

NOTE_LINE = 20.0
NOTE_CHARACTERS = 62


def notes_of(project: Project, projection: Projection) -> list[str]:
    """Views and projection, unit, datums, the title block's tolerances, and what the features say."""
    names = [n.value for n in ViewName if n in project.views]
    views = capital(together((together(names[:-1], ", "), names[-1]), say(" and ")))
    angle = say("third angle") if projection is Projection.THIRD else say("first angle")
    unit = say("Sizes in inches.") if project.unit is Unit.INCH else say("Sizes in millimetres.")
    notes = [say("{views}, {angle}.", views=views, angle=angle), unit]
    if project.is_placed:
        notes = [together(notes)]
    if project.datums:
        listed = together((say("{letter}: {name}", letter=d.letter, name=d.name) for d in project.datums), ", ")
        notes.append(say("Datum {listed}.", listed=listed))
    if project.title_block:
        notes.append(say("Unmarked: {listed}.", listed=together(tolerance_lines(project), ", ")))
    return [*notes, *project.notes]


def tolerance_lines(project: Project) -> list[str]:
    """The title block's tolerance for each number of decimal places."""
    words = (say("whole numbers"), say("one place"), say("two places"), say("three places"), say("four places"))
    each = (*words, say("more places"))
    places = sorted(project.title_block.items())
    return [say("{places} ±{text}", places=each[min(n, 5)], text=text) for n, text in places]


def wrapped(text: str) -> list[str]:
    """A note in lines that fit beside each other on a sheet."""
    lines, line = [], ""
    for word in text.split():
        if line and len(line) + 1 + len(word) > NOTE_CHARACTERS:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}".strip()
    return [*lines, line]
