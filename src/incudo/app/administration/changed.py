"""What somebody changed of how the shop works, in words: what holds now, and what held before."""

from __future__ import annotations

from incudo.core.kernel.say import say, together
from incudo.core.measuring.verdict import School
from incudo.core.parts.drawing.placed import Projection
from incudo.core.setup.standard import HeadSchool, SetupRules, ViseSchool


def changed(key: str, before: object, now: object) -> str:
    """A setting of the shop's row by the name of its column."""
    schools = {School.GUARD_BAND: say("guard band"), School.BARE_LIMITS: say("bare limits")}
    angles = {Projection.THIRD: say("third angle"), Projection.FIRST: say("first angle")}
    match key:
        case "name":
            return say("The shop's name: {now}; before: {before}", now=now, before=before)
        case "unit":
            return say("Default unit: {now}; before: {before}", now=now, before=before)
        case "verdict_school":
            judged, was = (schools[School(str(x))] for x in (now, before))
            return say("Readings are judged by: {now}; before: {before}", now=judged, before=was)
        case "projection":
            drawn, was = (angles[Projection(str(x))] for x in (now, before))
            return say("Drawings: {now}; before: {before}", now=drawn, before=was)
        case "zone":
            return say("Time zone: {now}; before: {before}", now=now, before=before)
        case "spelling":
            written, so_before = (x or say("as the texts stand") for x in (now, before))
            return say("English is spelled: {now}; before: {before}", now=written, before=so_before)
        case _:
            return say("A confirmation holds for {now} minutes; before: {before}", now=now, before=before)


def changed_rules(before: SetupRules, now: SetupRules) -> str:
    """The rules of setting up that are not as they were."""
    old, new = _rules(before), _rules(now)
    return say(
        "Setting up: {now}; before: {before}",
        now=together((x for x in new if x not in old), ", "),
        before=together((x for x in old if x not in new), ", "),
    )


def _rules(r: SetupRules) -> list[str]:
    heads = {
        HeadSchool.TILT_FIRST: say("the head side to side first"),
        HeadSchool.NOD_FIRST: say("the head front to back first"),
    }
    vises = {
        ViseSchool.PIVOT: say("the vise pivoted about one bolt"),
        ViseSchool.WALK_IN: say("the vise walked in"),
        ViseSchool.LONG_PARALLEL: say("the vise read along a long parallel"),
    }
    return [
        heads[r.head_school],
        vises[r.vise_school],
        say("the head within {rise} over {span} {unit}", rise=r.head_rise, span=r.head_span, unit=r.unit),
        say("the jaw within {rise} {unit}", rise=r.vise_rise, unit=r.unit),
        say("a setup is good for {hours} hours", hours=r.hours),
        say("somebody else's setup is read again") if r.same_person else say("somebody else's setup is used as it is"),
    ]
