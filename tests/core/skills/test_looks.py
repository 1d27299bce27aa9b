"""Drawn options: what is drawn is what is said, and what is right follows from the drawing by itself."""

from __future__ import annotations

import math
import re
from typing import Any

import pytest

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.skills.looks import Caliper, Collar, Cut, Needle, Stylus, Thimble, Zone
from incudo.core.skills.questions import Judge, judge_answer, present, read_bank, solve
from tests.core.skills.test_questions import SOURCES, WHY

JUDGED = [q for b in shipped.banks().values() for q in b.questions if isinstance(q, Judge)]
OPTIONS = [(q, o) for q in JUDGED for o in q.options]


def named(question: str) -> Judge:
    return next(q for q in JUDGED if q.id == question)


@pytest.mark.parametrize("q", JUDGED, ids=[q.id for q in JUDGED])
def test_every_option_is_drawn_differently_and_says_nothing_of_what_is_right(q: Judge) -> None:
    pictures = [o.draw.picture(o.says) for o in q.options]
    assert len({p.shapes for p in pictures}) == len(q.options)
    for picture in pictures:
        spots = [s for shape in picture.shapes for s in shape.points]
        assert all(math.isfinite(x) and math.isfinite(y) for x, y in spots)
        wide = max(x for x, _ in spots) - min(x for x, _ in spots)
        tall = max(y for _, y in spots) - min(y for _, y in spots)
        assert 0.1 < tall / wide < 3, "it fits on a tile"
        assert not re.search(r"\b(right answer|wrong|correct|good|bad)\b", picture.words.replace("good half", ""))


@pytest.mark.parametrize("question", ["mi-see-worn", "mi-see-climb"])
def test_climbing_follows_from_how_the_teeth_move(question: str) -> None:
    """Clockwise from above: a tooth at angle a moves with (sin a, -cos a)."""
    for o in named(question).options:
        assert isinstance(o.draw, Cut)
        at_work = math.radians(90 if o.draw.work == "above" else -90)
        tooth = math.sin(at_work)
        feed = 1 if o.draw.moves == "right" else -1
        climbs = tooth * feed > 0
        assert o.right == (climbs if question == "mi-see-climb" else not climbs), o.says


@pytest.mark.parametrize("question", ["me-see-346", "me-see-1263", "me-see-210"])
def test_the_micrometer_shows_what_is_asked_for(question: str) -> None:
    asked = float(re.findall(r"\d+\.\d+", named(question).text)[0])
    for o in named(question).options:
        assert isinstance(o.draw, Thimble)
        assert o.right == (o.draw.reading == asked)
        step = 0.025 if o.draw.unit == "in" else 0.5
        on = round(o.draw.reading / step % 1 * (25 if o.draw.unit == "in" else 50))
        assert str(on) in o.says, "the thimble shows what is said of it"


@pytest.mark.parametrize("question", ["me-see-accept", "hl-see-ream"])
def test_a_part_is_accepted_when_all_it_can_be_lies_inside(question: str) -> None:
    for o in named(question).options:
        z = o.draw
        assert isinstance(z, Zone)
        assert o.right == (z.low <= z.reading - z.sure and z.reading + z.sure <= z.high), o.says


def test_an_instrument_may_judge_when_it_is_sure_to_a_tenth_of_the_width() -> None:
    for o in named("me-see-tool").options:
        assert isinstance(o.draw, Zone)
        assert o.right == (o.draw.sure <= (o.draw.high - o.draw.low) / 10 + 1e-9)


def test_what_is_said_of_a_dial_is_what_it_shows() -> None:
    for _, o in OPTIONS:
        said = [float(x) for x in re.findall(r"-?\d+", o.says)]
        if isinstance(o.draw, Collar) and o.says.startswith("at "):
            assert o.draw.at == said[0]
        if isinstance(o.draw, Needle) and "between" in o.says:
            assert [o.draw.low, o.draw.high] == said
        if isinstance(o.draw, Stylus) and said:
            assert o.draw.angle == said[0]


@pytest.mark.parametrize(
    ("question", "allowed"), [("lo-see-jaw", 2), ("lo-see-along", 4), ("me-see-runout", 5), ("hl-see-wall", 1)]
)
def test_a_sweep_is_right_within_what_is_allowed(question: str, allowed: float) -> None:
    for o in named(question).options:
        assert isinstance(o.draw, Needle)
        assert o.right == (abs(o.draw.high - o.draw.low) <= allowed), o.says


@pytest.mark.parametrize("tilt", [-12.0, -5.0, 0.0, 5.0, 12.0])
def test_the_jaws_of_a_caliper_touch_the_bar_and_do_not_cut_it(tilt: float) -> None:
    """In the caliper's own frame: no corner of the bar that lies between the jaws is beyond them, and one touches."""
    look = Caliper(look="caliper", tilt=tilt)
    _, left, right, _ = [s.points for s in look.shapes()]
    c, s = math.cos(math.radians(tilt)), math.sin(math.radians(tilt))
    inner_right, inner_left = right[0][0] * c + right[0][1] * s, left[1][0] * c + left[1][1] * s
    low = -right[0][0] * s + right[0][1] * c
    sides = [(x, y / 100) for x in (-20, 20) for y in range(-3000, 801)]
    seen = [x * c + y * s for x, y in sides if -x * s + y * c >= low - 1e-9]
    assert max(seen) == pytest.approx(inner_right, abs=0.02)
    assert min(seen) == pytest.approx(inner_left, abs=0.02)


def option(look: dict[str, Any], **more: Any) -> dict[str, Any]:
    return {"says": "seen so", "draw": look, **more}


STEEP, FLAT = {"look": "stylus", "angle": 60}, {"look": "stylus", "angle": 5}


@pytest.mark.parametrize(
    ("options", "where", "bound"),
    [
        ([option(STEEP), option(FLAT)], "questions.q.options", "some must be right and some wrong"),
        ([option(STEEP, right=True), option(FLAT, right=True)], "questions.q.options", "some must be right"),
        ([option(STEEP, right=True), option(STEEP)], "questions.q.options", "every drawing may appear only once"),
        ([option(STEEP, right=True), option({"look": "stylus", "angle": 76})], "angle", "at most 75"),
        ([option(STEEP, right=True), option({"look": "moon"})], "draw", "look must be one of"),
        ([option(STEEP, right=True), option({**FLAT, "bent": 1})], "bent", "is not a known field"),
    ],
)
def test_a_drawing_that_cannot_be_is_refused_at_its_place(options: Any, where: str, bound: str) -> None:
    question = {"id": "q", "kind": "judge", "text": "Which one?", "options": options, **WHY}
    head = {"format": "incudo-questions/1", "bank": "b", "name": "Bank", "draw": 1, "pass_percent": 80}
    with pytest.raises(Refused) as refused:
        read_bank({**head, "questions": [question]}, SOURCES)
    found = refused.value.errors
    assert any(e.field.endswith(where) and bound in e.bound for e in found), found


def test_a_word_is_asked_by_its_sentence_and_the_others_are_explained() -> None:
    bank = shipped.banks()["locating"]
    q = bank.get("lo-word-backlash")
    shown = present(q, "s", SOURCES)
    assert "the handle turns that far before the table moves" in shown.text
    assert "backlash" not in shown.text.lower()
    assert sorted(shown.options) == sorted(("backlash", "runout", "lead", "chatter"))
    right, _ = solve(q, "s", SOURCES)
    assert shown.options[right[0]] == "backlash"
    judged = judge_answer(q, "s", SOURCES, right, "")
    assert judged.right
    assert "chatter: Vibration" in judged.otherwise
    asked = {**q.model_dump(), "others": ["no such word", "lead"]}
    head = {"format": "incudo-questions/1", "bank": "b", "name": "Bank", "draw": 1, "pass_percent": 80}
    with pytest.raises(Refused, match="is not in the glossary"):
        read_bank({**head, "questions": [asked]}, SOURCES)
