"""How the demo shop's machines were set up: heads that drift, vises that were moved, setups of today."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Iterator
from datetime import timedelta
from functools import partial
from importlib import resources
from typing import Any

from incudo.app.locating import finding, moves
from incudo.app.locating import views as findviews
from incudo.app.setup import holding
from incudo.app.setup import records as setups
from incudo.app.setup import views as setupviews
from incudo.app.shop import machines as machine_register
from incudo.app.shop.workholding import HoldingChange
from incudo.core.kernel.quantity import Unit
from incudo.core.setup.tram import HeadAxis
from incudo.core.shop.cutter import Cutter
from incudo.core.shop.machine import Machine, read_machine
from incudo.core.shop.table import read
from incudo.core.shop.workholding import read_holding
from incudo.demo.story import Story, key, who
from incudo.shipped import read_yaml

Event = tuple[float, float, Callable[[], object]]


def _load(name: str) -> Any:
    return read_yaml(resources.files("incudo.demo").joinpath(f"equipment/{name}.yaml").read_text())


def machine_entries() -> dict[str, Machine]:
    """The register entries of the four machines."""
    return {name: read_machine(data) for name, data in _load("machines").items()}


def holding_entries() -> tuple[HoldingChange, ...]:
    """The vises, the drawer and the clamps, as they are entered."""
    return tuple(
        HoldingChange(id=key("holding", k), name=e["name"], of=read_holding(e["of"]))
        for k, e in _load("workholding").items()
    )


def cutter_file() -> str:
    """The crib's cutters as CSV."""
    return resources.files("incudo.demo").joinpath("equipment/cutters.csv").read_text(encoding="utf-8")


def cutter_entries() -> tuple[Cutter, ...]:
    """The crib's cutters. Raises ``ValueError`` naming the first line that cannot be."""
    lines = read(Cutter, cutter_file())
    if bad := [x for x in lines if x.row is None]:
        raise ValueError(f"cutters.csv, line {bad[0].number}: {bad[0].errors}")
    return tuple(x.row for x in lines if x.row)


def setting_events(story: Story) -> Iterator[Event]:
    """All of it, as events of the past."""
    told = _load("setups")
    for record in told["heads"]:
        yield *record["ago"], partial(_head, story, told["read"][record["machine"]], record)
    for record in told["vises"]:
        yield *record["ago"], partial(_vise, story, told["read"][record["machine"]], record)
    for x in told["lost"]:
        yield *x["ago"], partial(_backlash, story, x)
    for x in told["notes"]:
        yield *x["ago"], partial(_note, story, x["machine"], x["by"], x["kind"], x["words"])


def _note(story: Story, machine: str, by: str, kind: str, words: str) -> None:
    command = machine_register.NoteCommand(
        id=key("note", machine, story.now), kind=machine_register.NoteKind(kind), words=words
    )
    story.run(lambda w: machine_register.machine_note(w, who(by), key("machine", machine), command))


def _backlash(story: Story, x: dict[str, Any]) -> None:
    command = moves.BacklashCommand(
        id=key("lost", x["machine"], x["handle"], story.now),
        handle=x["handle"],
        numbers="rise",
        middle=tuple(x["middle"]),
        end=tuple(x["end"]),
    )
    story.run(lambda w: moves.keep_backlash(w, who(x["by"]), key("machine", x["machine"]), command))


def found_today(story: Story, by: str, assignment: uuid.UUID, what: findviews.EdgeFind | findviews.DepthFind) -> None:
    """What somebody found for their job card this evening."""
    command = findviews.KeepFind(id=key("found", by, what.kind, story.now), find=what)
    story.run(lambda w: finding.keep_find(w, who(by), assignment, command))


def moved_today(story: Story) -> None:
    """Gannet's vise was bumped after it was set, and somebody said so."""
    _note(story, "gannet", "bryn", "vise", "bumped with the long bar while lifting it on")


def _head(story: Story, read: dict[str, str], record: dict[str, Any]) -> None:
    unit = Unit(read["unit"])
    settings = setupviews.HeadSettings(
        unit=unit, division=read["division"], span=read["span"], cutter=read["cutter"], cutter_unit=unit
    )
    rows = [{"axis": HeadAxis(axis), "low": a, "high": b, "tight": tight} for axis, a, b, tight in record["sweeps"]]
    _record(story, record, settings, rows)


def _vise(story: Story, read: dict[str, str], record: dict[str, Any]) -> None:
    settings = setupviews.ViseSettings(
        vise=key("holding", read["vise"]),
        unit=Unit(read["unit"]),
        division=read["division"],
        left_at=f"-{read['reach']}",
        right_at=read["reach"],
    )
    _record(story, record, settings, [{"low": a, "high": b, "tight": tight} for a, b, tight in record["sweeps"]])


def _record(
    story: Story,
    record: dict[str, Any],
    settings: setupviews.HeadSettings | setupviews.ViseSettings,
    rows: list[dict[str, Any]],
) -> None:
    person, place = who(record["by"]), key("machine", record["machine"])
    setup = key("setup", record["machine"], settings.kind, story.now)
    begin = setupviews.BeginSetup(id=setup, settings=settings)
    story.run(lambda w: setups.begin_setup(w, person, place, begin))
    for i, row in enumerate(rows):
        story.now += timedelta(seconds=40)
        sweep = setupviews.PassCommand(id=key(setup, i), **row)
        story.run(lambda w, c=sweep: setups.save_pass(w, person, setup, c))  # type: ignore[misc]
    accept = setupviews.AcceptCommand(id=key(setup, "accepted"))
    story.run(lambda w: setups.accept_setup(w, person, setup, accept))


def hold_today(
    story: Story, by: str, assignment: uuid.UUID, stock: tuple[str, str, str], cuts: tuple[str, ...]
) -> None:
    """How somebody holds the work of their job card this evening: across, along, height."""
    across, along, height = stock
    command = holding.KeepHolding(
        id=key("hold", by, assignment),
        vise=key("holding", "vise-6"),
        unit=Unit.INCH,
        across=across,
        along=along,
        height=height,
        cuts=cuts,
    )
    story.run(lambda w: holding.keep_hold(w, who(by), assignment, command))
