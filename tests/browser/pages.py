"""Every page of the demo shop: who opens it, where, and what must be there before it is looked at."""

from __future__ import annotations

from dataclasses import dataclass

from incudo.demo import people
from incudo.demo.load import key
from incudo.launch.shots import hand_in, job


@dataclass(frozen=True)
class Place:
    """A page as it is opened: its name, whose it is, its address, and what shows that it is there."""

    name: str
    who: str
    path: str
    waits_for: str


def places() -> tuple[Place, ...]:
    """Every address of the table of pages at least once, as somebody meets it who uses it."""
    gauge = job("orla", "keel-step-gauge")
    ines = next(i for i, p in enumerate(people.PARTS) if (p.student, p.project) == ("ines", "keel-step-gauge"))
    petrel, kaia = key("machine", "petrel"), key("person", "kaia")
    return (
        Place("floor", "haldane", "/floor", ".plates"),
        Place("session", "haldane", "/session", ".roll li"),
        Place("class", "haldane", "/class", ".cell"),
        Place("parts", "haldane", "/parts", "main h1"),
        Place("plan", "juno", f"{job('juno', 'keel-step-gauge')}/plan", ".plan-finding"),
        Place("plan to approve", "haldane", f"{job('juno', 'keel-step-gauge')}/plan", ".plan-decide"),
        Place("part", "haldane", f"/parts/{key('project', 'keel-step-gauge')}", ".candidate"),
        Place("new part", "haldane", "/parts/new", "main h2"),
        Place("change part", "haldane", f"/parts/{key('project', 'cleat-base')}/change", ".board-picks"),
        Place("assess", "haldane", f"/assess/{kaia}?skill=dials", ".judge"),
        Place("a student's skills", "haldane", f"/skills/{kaia}", "main h1"),
        Place("questions", "haldane", "/questions/the-machine", "main h1"),
        Place("check", "haldane", f"/check/{hand_in(ines, 0)}", "#reading"),
        Place("how we work", "haldane", "/shop", "main h2"),
        Place("machines", "haldane", "/shop/machines", "main table"),
        Place("ready", "haldane", "/shop/ready", "[data-what]"),
        Place("new machine", "haldane", "/shop/machines/new", ".kind"),
        Place("gauges", "haldane", "/shop/gauges", "main table"),
        Place("gauge", "haldane", f"/shop/gauges/{key('instrument', 'm01')}", "main h2"),
        Place("workholding", "haldane", "/shop/workholding", "main table"),
        Place("teaching", "haldane", "/shop/teaching", "main h2"),
        Place("people", "haldane", "/shop/people", "main h2"),
        Place("term", "haldane", f"/group/{key('group', 'Tuesday group')}", ".term"),
        Place("study", "orla", f"/study/{key('study')}", ".study-chart"),
        Place("devices", "haldane", "/shop/devices", "main table"),
        Place("words", "orla", "/words", "[data-word]"),
        Place("records", "haldane", "/records/safety", ".register-holds"),
        Place("machine", "haldane", f"/machines/{petrel}", "main h1"),
        Place("moves", "haldane", f"/machines/{petrel}/moves", "main h1"),
        Place("crib", "haldane", "/crib", ".crib-places"),
        Place("materials", "haldane", "/crib/materials", "main h1, main h2"),
        Place("cutters", "haldane", "/crib/cutters", "main h1, main h2"),
        Place("tables", "haldane", "/crib/tables", "main h1, main h2"),
        Place("report", "haldane", "/report", "main h1, main h2"),
        Place("bench", "orla", "/bench", ".bench-next"),
        Place("job card", "orla", gauge, ".d-sheet"),
        Place("run card", "orla", f"{gauge}/run", ".run-picture svg"),
        Place("dry run", "orla", f"{gauge}/dry", "main h1"),
        Place("find", "orla", f"{gauge}/find", ".datum-list"),
        Place("hold", "orla", gauge.replace("/job/", "/hold/"), ".hold-drawer .on"),
        Place("start", "senna", f"/start/{key('machine', 'dunlin')}", ".ticks"),
        Place("setting up", "orla", f"/setup/{petrel}?what=vise", ".setup-first, main h2"),
        Place("ladder", "senna", "/ladder", ".ladder-map"),
        Place("skills", "senna", f"/skills/{key('person', 'senna')}", "main h1"),
        Place("knowledge", "piet", "/knowledge/the-machine", ".notice, .knowledge"),
        Place("rigs", "orla", "/rigs", "[data-rig]"),
        Place("exercises", "orla", "/exercises", "main h1"),
        Place("exercise", "orla", "/exercises/spindle-speed", "main h1"),
        Place("sheet", "ines", f"/sheet/{key('sheet')}", ".exercise-said"),
        Place("reckoner", "orla", "/reckon", "main h1"),
        Place("calculation", "orla", "/reckon/spindle-speed", "[data-calculation]"),
    )
