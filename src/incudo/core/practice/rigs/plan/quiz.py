"""What both rigs share: a right answer among wrong ones, and the drawing."""

from __future__ import annotations

import random
from collections.abc import Iterable
from typing import TypeVar

from pydantic import BaseModel

from incudo.core.parts.drawing import render
from incudo.core.parts.drawing.found import found_sheet
from incudo.core.parts.project import Project
from incudo.core.practice.rigs.quiz import Option, Question

P = TypeVar("P", bound=BaseModel)


def asked(
    words: str,
    picture: P,
    right: str,
    wrong: Iterable[tuple[str, str]],
    why: str,
    chance: random.Random,
    *,
    critical: bool = False,
) -> Question[P]:
    """A question with its answers in an order by chance. ``wrong`` are labels with the slip behind each; a label that
    reads like another is left out.
    """
    found = {right: ""}
    for label, slip in wrong:
        found.setdefault(label, slip)
    labels = list(found.items())
    chance.shuffle(labels)
    options = tuple(Option(i, label, slip) for i, (label, slip) in zip("abcdef", labels, strict=False))
    return Question(words, picture, options, next(o.id for o in options if o.label == right), why, critical)


def svg_of(project: Project) -> str:
    """The drawing of a part as SVG."""
    drawing, _ = found_sheet(project)
    return render(drawing)
