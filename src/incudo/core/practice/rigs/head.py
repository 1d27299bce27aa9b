"""The head rig: a head on two axes, bolts that drag, an indicator swung over the table by hand.

Angles are radians: ``tilt`` positive when the top leans right (the right of the sweep is
low), ``nod`` positive when it leans back. The tilt's pivot is over the spindle, the nod's
lies behind it, so nodding moves both needles.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.errors import Refused
from incudo.core.practice.rigs.base import Action, Advice, Control, Level, Pass, Rig, RigSetup, State, contact, settle
from incudo.core.setup.record import Do, HeadPass, axes_in_order, head_next, pivot_learnt
from incudo.core.setup.standard import Slope
from incudo.core.setup.tram import STATIONS, HeadAxis, Sweep, Target, turn_words

LOOSE, DRAG, HALF, TIGHT = 0, 1, 2, 3
GRIP_WORDS = ("loose", "at a drag", "half tight", "tight")
TRAVEL = 0.8
#: The arm: how far from the spindle the tip touches, in mm.
ARM = 100.0
#: A turn of the screw, small to large, in radians.
TURNS = {1: 0.00005, 2: 0.0003, 3: 0.0018}
#: A tap at the side of the head while its bolts drag, in radians.
TAP = 0.00004
TURN_WORDS = {1: "a hair", 2: "a little", 3: "a lot"}
#: What a bolt pulls when it is drawn up and the slackest of its axis lags so much behind, in radians.
PULLS = {0: 0.0, 1: 0.000008, 2: 0.00012, 3: 0.0003}
BOLTS = {
    HeadAxis.TILT: ("top-left", "bottom-right", "top-right", "bottom-left"),
    HeadAxis.NOD: ("nod-left", "nod-right"),
}
PLACES = {"right": (1, 0), "rear": (0, 1), "left": (-1, 0), "front": (0, -1)}
DEGREES = {"right": 0.0, "rear": 90.0, "left": 180.0, "front": 270.0}
#: Which way a screw turns the head: (axis, way) → sign of the angle.
WAYS = {("tilt", "clockwise"): 1, ("tilt", "anticlockwise"): -1, ("nod", "back"): 1, ("nod", "forward"): -1}
_AXIS_WORDS = {HeadAxis.TILT: "side to side", HeadAxis.NOD: "front to back"}


@dataclass
class HeadState(State):
    """The head's angles, bolts, the arm, the knee, what lies on the table."""

    tilt: float = 0.0
    nod: float = 0.0
    behind: float = 120.0
    behind_known: bool = True
    base: float = 0.0
    bolts: dict[str, int] = field(default_factory=lambda: {b: TIGHT for a in BOLTS.values() for b in a})
    pull: dict[str, float] = field(default_factory=dict)
    at: str = "right"
    down: bool = False
    zero: float = 0.0
    isolated: bool = False
    wiped: bool = False
    parallels: bool = False
    clamped: bool = True
    burr: str = ""
    slot: str = ""
    sag: float = 0.0
    stamp: int = 0
    read: dict[str, tuple[int, float]] = field(default_factory=dict)
    sweeps: list[HeadPass] = field(default_factory=list)
    swept: dict[HeadAxis, int] = field(default_factory=dict)
    rebased: bool = False

    @property
    def axes(self) -> tuple[HeadAxis, ...]:
        return axes_in_order(self.setup.rules, tilt=True, nod=self.level > 1)

    @property
    def standard(self) -> Slope:
        return self.setup.rules.head

    @property
    def tight(self) -> bool:
        return all(v == TIGHT for v in self.bolts.values())

    def in_slot(self, station: str) -> bool:
        return station == self.slot and not self.parallels

    def plunger(self, station: str) -> float:
        """How far the tip is pushed in at a station; 0 when it hangs in a slot."""
        if self.in_slot(station):
            return 0.0
        x, y = PLACES[station]
        sag = 0.0 if self.clamped else self.sag * ARM * y
        burr = 0.03 if station == self.burr else 0.0
        value = self.base + ARM * (self.tilt * x + self.nod * y) + sag + burr
        return min(max(value, 0.0), TRAVEL)

    def reading(self, station: str) -> float:
        return self.plunger(station) - self.zero

    @property
    def stopped(self) -> bool:
        """Whether the needle is at an end of its travel where the tip stands."""
        return self.plunger(self.at) in (0.0, TRAVEL)


class HeadScene(BaseModel):
    """What is drawn of the head rig. ``lean`` and ``bow`` are angles as drawn, far too large, where shown at all."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["head"] = "head"
    at: str
    degrees: float
    down: bool
    reading: float | None
    division: float
    travel: float
    turns: int
    shown: str
    grips: dict[str, int]
    isolated: bool
    clamped: bool
    parallels: bool
    nods: bool
    lean: float
    bow: float
    slots: tuple[str, ...]


class HeadRig(Rig[HeadState]):
    """Square the head to the table, tighten, read it again."""

    id = "head"
    name = "Head rig"
    about = "A head on its bolts, an indicator in the spindle, a table with its slots."
    skill = "square-head"
    heads = ("axis", "left or front", "right or rear", "off")
    levels = (
        Level(1, "Side to side", "Only the tilt, on a clean table, and drawn so that you see it."),
        Level(2, "Both ways", "Tilt and nod; a T-slot lies where one of the stations would be."),
        Level(3, "Worn", "Nobody knows where the nod pivots; the knee is free; the table has seen things."),
    )

    def start(self, setup: RigSetup, level: int, seed: str) -> HeadState:
        s = HeadState(setup, level, seed)
        r = s.chance("found")
        s.tilt = r.choice((-1, 1)) * r.uniform(0.0005, 0.0018)
        if level > 1:
            s.nod = r.choice((-1, 1)) * r.uniform(0.0005, 0.0015)
            s.slot = r.choice(("front", "rear"))
        s.behind = r.uniform(90, 180)
        s.behind_known = level < 3
        if level == 3:
            s.burr = r.choice(("left", "right", "front", "rear"))
            s.clamped, s.sag = False, r.choice((-1, 1)) * r.uniform(0.0003, 0.0006)
        gain = {1: 0.6, 2: 1.0, 3: 1.5}[level]
        for bolts in BOLTS.values():
            # neighbours in the crosswise order pull against each other, so that evenness cancels most of it
            side = r.choice((-1, 1))
            s.pull |= {b: side * (-1) ** i * gain * r.uniform(0.6, 1.3) for i, b in enumerate(bolts)}
        s.said = "The head is as the last group left it."
        return s

    def standard(self, setup: RigSetup) -> float:
        return float(setup.rules.head.rise.mm)

    def task(self, s: HeadState) -> str:
        ways = "side to side" if s.level == 1 else "both ways"
        return f"Square the head {ways} within {s.standard.words}, tight and read again."

    # ── what can be done ──────────────────────────────────────────────

    def act(self, s: HeadState, a: Action) -> None:
        match a.do:
            case "isolate":
                s.isolated = True
                s.said = "Isolated, out of gear: the spindle turns freely by hand."
            case "wipe":
                found, s.burr, s.wiped = s.burr, "", True
                s.stamp += 1
                s.said = f"A burr stood up at the {found}. Stoned flat." if found else "The table is clean and smooth."
            case "parallels":
                s.parallels, s.down = not s.parallels, False
                s.stamp += 1
                s.said = "A parallel lies under each station." if s.parallels else "The parallels are put away."
            case "clamp":
                s.clamped = not s.clamped
                s.stamp += 1
                s.said = "The knee is clamped as it will be when cutting." if s.clamped else "The knee is free."
            case "lift":
                s.down, s.said = False, "The tip is clear of the table."
            case "touch":
                self._touch(s)
            case "zero":
                self._zero(s)
            case "swing" if a.on in PLACES:
                self._swing(s, a.on)
            case "wrench":
                self._wrench(s, a)
            case "screw":
                self._screw(s, a)
            case "tap" if a.on in ("left", "right"):
                self._tap(s, a.on)
            case _:
                raise Refused.of("action", f"{a.do} {a.on}".strip(), "is no action of the head rig")

    def _touch(self, s: HeadState) -> None:
        if s.in_slot(s.at):
            s.said, s.warned = (
                "There is a T-slot under the tip: it finds no table here. Lay a parallel under each station.",
                True,
            )
            return
        if not s.read or s.stopped:
            while s.stopped:
                s.base += TRAVEL / 2 if s.plunger(s.at) == 0.0 else -TRAVEL / 2
            s.base += TRAVEL / 2 - s.plunger(s.at)
            s.stamp += 1
            s.rebased = bool(s.sweeps)
        s.down, s.said = True, "The tip touches, with travel left both ways."
        s.motion = contact(DEGREES[s.at], s.reading(s.at))
        self._note(s)

    def _zero(self, s: HeadState) -> None:
        if not s.down:
            raise Refused.of("action", "zero", "bring the tip to the table first")
        s.zero = s.plunger(s.at)
        s.stamp += 1
        self._note(s)
        s.said = "The bezel is turned: the needle stands at 0."

    def _swing(self, s: HeadState, to: str) -> None:
        if not s.isolated:
            s.fault(
                "You turned a spindle by hand that could start: isolate it and take it out of gear first.",
                critical=True,
            )
        begun, s.at = s.at, to
        if not s.down:
            return
        a, b = DEGREES[begun], DEGREES[to]
        turn = (b - a + 180) % 360 - 180 or 180.0
        first, last = s.reading(begun), s.reading(to)
        s.motion = tuple((a + turn * i / 30, first + (last - first) * i / 30) for i in range(31))
        if s.in_slot(to):
            s.down = False
            s.fault("The tip dropped into the T-slot and caught: lift it before you swing, and bridge the slot.")
            return
        self._note(s)

    def _note(self, s: HeadState) -> None:
        """Read where the tip stands; two stations of an axis read in the same state are a pass."""
        if s.stopped:
            s.said, s.warned = (
                "The needle is at the end of its travel here: it says nothing. Bring the tip in anew.",
                True,
            )
            s.read.pop(s.at, None)
            return
        s.read[s.at] = (s.stamp, s.reading(s.at))
        for axis, (low, high) in STATIONS.items():
            both = [s.read.get(x) for x in (low, high)]
            if s.at not in (low, high) or None in both or s.swept.get(axis) == s.stamp:
                continue
            (n, a), (m, b) = both  # type: ignore[misc]
            if n == m == s.stamp:
                self._pass(s, axis, a, b)

    def _pass(self, s: HeadState, axis: HeadAxis, low: float, high: float) -> None:
        s.swept[axis], s.rebased = s.stamp, False
        seen = s.setup.seen(low), s.setup.seen(high)
        sweep = Sweep(axis, seen[0].mm, seen[1].mm, Fraction(2 * ARM))
        s.sweeps.append(HeadPass(sweep, s.tight))
        off = float(abs(sweep.rise) * s.standard.span.mm / sweep.span)
        cells = (_AXIS_WORDS[axis], seen[0].text, seen[1].text, s.setup.seen(off).text)
        s.passes.append(Pass(cells, off, self._best(s, sweep), s.tight))

    def _wrench(self, s: HeadState, a: Action) -> None:
        axis = next((x for x, bolts in BOLTS.items() if a.on in bolts), None)
        if axis is None or a.way not in ("tighter", "looser") or axis not in s.axes:
            raise Refused.of("action", f"{a.on} {a.way}", "tighten or slacken a bolt of this head")
        new = s.bolts[a.on] + (1 if a.way == "tighter" else -1)
        if not LOOSE <= new <= TIGHT:
            s.said = "It is tight." if new > TIGHT else "It is loose already."
            return
        s.bolts[a.on] = new
        s.said = f"The bolt {a.on.replace('-', ' ')} is {GRIP_WORDS[new]}."
        s.stamp += 1
        grips = [s.bolts[b] for b in BOLTS[axis]]
        if a.way == "tighter" and new >= HALF:
            lag = min(new - min(grips), 3)
            self._turn(s, axis, PULLS[lag] * s.pull[a.on] * s.chance("pull").uniform(0.7, 1.3))
            if lag >= 2:
                s.said += " Drawn up alone it pulled the head over: tighten crosswise, a little each."
        if grips.count(LOOSE) >= 2:
            swing = s.chance("swing").choice((-1, 1)) * s.chance("far").uniform(0.003, 0.006)
            self._turn(s, axis, swing)
            s.down = False
            s.fault(
                "Two bolts loose: the head swung over by its own weight. Never further than a drag, one hand holds.",
                critical=True,
            )
        self._show(s)

    def _turn(self, s: HeadState, axis: HeadAxis, by: float) -> None:
        if axis is HeadAxis.TILT:
            s.tilt += by
        else:
            s.nod += by
            s.base -= s.behind * by

    def _show(self, s: HeadState) -> None:
        """The needle goes where the head has gone."""
        if s.down:
            before = s.read.get(s.at, (0, s.reading(s.at)))[1]
            after = s.reading(s.at)
            s.motion = settle(DEGREES[s.at], before, after)
            self._note(s)

    def _screw(self, s: HeadState, a: Action) -> None:
        sign = WAYS.get((a.on, a.way))
        if sign is None or a.on not in s.axes or a.by not in TURNS:
            raise Refused.of("action", f"{a.on} {a.way} {a.by:g}", "turn the tilt or nod screw one way, 1 to 3")
        axis = HeadAxis(a.on)
        grips = [s.bolts[b] for b in BOLTS[axis]]
        if max(grips) > DRAG:
            s.said = "The screw binds: the bolts of this axis still hold. Forcing it strips it."
            s.warned = True
            return
        self._turn(s, axis, sign * TURNS[int(a.by)] * s.chance("screw").uniform(0.8, 1.2))
        s.stamp += 1
        self._show(s)

    def _tap(self, s: HeadState, side: str) -> None:
        """A tap with the soft hammer at the head's side: finer than the screw, and it works half tight."""
        held = max(s.bolts[b] for b in BOLTS[HeadAxis.TILT])
        if held == TIGHT:
            s.said = "Nothing moves: the bolts hold."
            return
        share = 1.0 if held <= DRAG else 0.5
        self._turn(s, HeadAxis.TILT, (-1 if side == "right" else 1) * TAP * share * s.chance("tap").uniform(0.7, 1.3))
        s.stamp += 1
        self._show(s)

    # ── what is offered, advised, judged ──────────────────────────────

    def controls(self, s: HeadState) -> tuple[Control, ...]:
        up = "" if s.down else "the tip does not touch"
        found = [
            Control(Action(do="isolate"), "Isolate, out of gear", "Before", "done" if s.isolated else ""),
            Control(Action(do="wipe"), "Wipe and stone the table", "Before"),
            Control(Action(do="clamp"), "Free the knee" if s.clamped else "Clamp the knee", "Before"),
            Control(
                Action(do="parallels"),
                "Put the parallels away" if s.parallels else "Lay a parallel under each station",
                "Before",
            ),
            Control(
                Action(do="touch"),
                "Bring the tip to the table",
                "Indicator",
                "it touches" if s.down and not s.stopped else "",
            ),
            Control(Action(do="lift"), "Lift the tip clear", "Indicator", up),
            Control(Action(do="zero"), "Zero the bezel", "Indicator", up),
        ]
        for station in ("left", "right", "front", "rear"):
            closed = "it stands there" if s.at == station else ""
            found.append(Control(Action(do="swing", on=station), f"Swing to the {station}", "Spindle, by hand", closed))
        for axis in s.axes:
            for bolt in BOLTS[axis]:
                name = bolt.replace("-", " ")
                group = f"Bolts, {_AXIS_WORDS[axis]}"
                now = s.bolts[bolt]
                for way, verb, end in (("tighter", "Tighten", TIGHT), ("looser", "Slacken", LOOSE)):
                    closed = GRIP_WORDS[end] if now == end else ""
                    found.append(Control(Action(do="wrench", on=bolt, way=way), f"{verb} {name}", group, closed))
            for (on, way), _ in WAYS.items():
                if on == axis:
                    for by, how in TURN_WORDS.items():
                        label = f"Head {way}, {how}"
                        group = f"Screw, {_AXIS_WORDS[axis]}: {way}"
                        found.append(Control(Action(do="screw", on=on, way=way, by=by), label, group))
        found += [
            Control(Action(do="tap", on=side), f"Tap the head at its {side}", "Soft hammer")
            for side in ("left", "right")
        ]
        return tuple(found)

    def _behind(self, s: HeadState) -> Fraction | None:
        return Fraction(s.behind) if s.behind_known else pivot_learnt(s.sweeps)

    def _best(self, s: HeadState, sweep: Sweep) -> str:
        if s.standard.allows(sweep.rise, sweep.span):
            return "leave it" if s.tight else "tighten crosswise, read again"
        nxt = head_next([HeadPass(sweep, s.tight)], (sweep.axis,), s.standard, self._behind(s))
        if nxt.target is None:
            return "turn the screw a little and read both again: that tells where it pivots"
        station, to = _worked(sweep, nxt.target)
        return f"bring the {station} needle to {s.setup.words(float(to))}"

    def advice(self, s: HeadState) -> Advice:
        return _advise(self, s)

    def judge(self, s: HeadState) -> tuple[list[str], str]:
        span = float(s.standard.span.mm)
        allowed = float(s.standard.rise.mm)
        off = {HeadAxis.TILT: abs(s.tilt) * span, HeadAxis.NOD: abs(s.nod) * span}
        reasons = []
        if not all(s.bolts[b] == TIGHT for a in s.axes for b in BOLTS[a]):
            reasons.append("the bolts are not tight")
        for axis in s.axes:
            if off[axis] > allowed:
                reasons.append(
                    f"{_AXIS_WORDS[axis]} it is {s.setup.words(off[axis])} out; {s.standard.words} is allowed"
                )
            if s.swept.get(axis) != s.stamp:
                reasons.append(f"{_AXIS_WORDS[axis]} it was not read again after the last tightening")
        if not s.clamped:
            reasons.append("the knee is free: it will stand differently when you cut")
        if s.burr:
            reasons.append(f"a burr at the {s.burr} lifted the tip there")
        said = ", ".join(f"{_AXIS_WORDS[a]} {s.setup.words(off[a])}" for a in s.axes)
        return reasons, f"Truly out over {s.standard.span.text} {s.standard.span.unit}: {said}."

    def scene(self, s: HeadState) -> HeadScene:
        shown = s.finished or s.level == 1
        reading = s.reading(s.at) if s.down else None
        turn = float(s.setup.division.mm) * 60
        return HeadScene(
            at=s.at,
            degrees=DEGREES[s.at],
            down=s.down,
            reading=reading,
            division=float(s.setup.division.mm),
            travel=TRAVEL,
            turns=0 if reading is None else math.floor(abs(reading) / turn),
            shown="" if reading is None else s.setup.words(reading),
            grips={b: s.bolts[b] for a in s.axes for b in BOLTS[a]},
            isolated=s.isolated,
            clamped=s.clamped,
            parallels=s.parallels,
            nods=s.level > 1,
            lean=max(-0.2, min(0.2, s.tilt * 80)) if shown else 0.0,
            bow=max(-0.2, min(0.2, s.nod * 80)) if shown else 0.0,
            slots=(s.slot,) if s.slot else (),
        )


def _worked(sweep: Sweep, to: Target) -> tuple[str, Fraction]:
    """At which station one works: at the right, or at the front, where the needle moves most."""
    return ("right", to.high) if sweep.axis is HeadAxis.TILT else ("front", to.low)


NEAR = 0.006
MARGIN = Fraction(3, 4)


def _advise(rig: HeadRig, s: HeadState) -> Advice:
    """The shop's school, step by step, from what can be seen."""
    for ready, what, words in (
        (s.isolated, "isolate", "Isolate the spindle and take it out of gear before you turn it by hand."),
        (s.wiped, "wipe", "Wipe the table and stone what stands up: a burr lifts the tip."),
        (s.clamped, "clamp", "Clamp the knee as it will be when cutting: free, it sags."),
        (s.parallels or not s.slot, "parallels", "A T-slot lies at a station: lay a parallel under each."),
    ):
        if not ready:
            return Advice(Action(do=what), words)
    nxt = _step(s, rig)
    if nxt is None:
        return Advice(Action(do="finish"), "Tight, read again both ways, and square: finish.")
    return nxt


def _good(s: HeadState, p: HeadPass) -> bool:
    """Whether a practised hand leaves it: with some to spare while tightening is still to come."""
    return s.standard.allows(p.sweep.rise if p.tight else p.sweep.rise / MARGIN, p.sweep.span)


def _step(s: HeadState, rig: HeadRig) -> Advice | None:
    passes = [p for p in s.sweeps if p.sweep.axis in s.axes]
    for axis in s.axes:
        mine = [p for p in passes if p.sweep.axis is axis]
        if not mine:
            return _read(s, axis, f"Read {_AXIS_WORDS[axis]}.")
        if not _good(s, mine[-1]):
            return _adjust(s, axis, mine[-1].sweep, rig)
        slack = [b for b in BOLTS[axis] if s.bolts[b] < TIGHT]
        if slack:
            bolt = min(slack, key=lambda b: s.bolts[b])
            name = bolt.replace("-", " ")
            return Advice(
                Action(do="wrench", on=bolt, way="tighter"), f"It is square. Tighten crosswise, a little each: {name}."
            )
        if s.swept.get(axis) != s.stamp and not (axis is not s.axes[-1] and _later(s, passes, axis)):
            return _read(s, axis, f"Tight. Read {_AXIS_WORDS[axis]} again: tightening moves the head.")
    return next(
        (
            _read(s, a, f"Read {_AXIS_WORDS[a]} once more: the other axis was moved since.")
            for a in s.axes
            if s.swept.get(a) != s.stamp
        ),
        None,
    )


def _later(s: HeadState, passes: list[HeadPass], axis: HeadAxis) -> bool:
    """Whether this axis was read tight once; it is read again at the end."""
    mine = [p for p in passes if p.sweep.axis is axis]
    return bool(mine) and mine[-1].tight


def _read(s: HeadState, axis: HeadAxis, why: str) -> Advice:
    low, high = STATIONS[axis]
    fresh = [x for x in (low, high) if s.read.get(x, (-1, 0.0))[0] == s.stamp]
    if s.down and s.at in (low, high) and s.at in fresh and not s.sweeps and s.zero == 0.0 and len(fresh) == 1:
        return Advice(Action(do="zero"), "Zero the bezel here; the other end is read against it.")
    to = next((x for x in (low, high) if x not in fresh), low)
    if s.at in (low, high) and s.at not in fresh:
        to = s.at
    if s.at != to:
        if s.down and s.slot:
            return Advice(Action(do="lift"), f"{why} Lift the tip clear before you swing.")
        return Advice(Action(do="swing", on=to), f"{why} Swing to the {to} by hand.")
    if not s.down or s.stopped:
        return Advice(Action(do="touch"), f"{why} Bring the tip to the table at the {to}.")
    other = high if to == low else low
    return Advice(Action(do="swing", on=other), f"{why} Swing to the {other} by hand.")


def _adjust(s: HeadState, axis: HeadAxis, sweep: Sweep, rig: HeadRig) -> Advice:
    for bolt in BOLTS[axis]:
        if s.bolts[bolt] > DRAG:
            name = bolt.replace("-", " ")
            return Advice(
                Action(do="wrench", on=bolt, way="looser"),
                f"{turn_words(sweep)[0]} Slacken {name} to a drag, never loose.",
            )
    nxt = head_next([HeadPass(sweep, False)], (axis,), s.standard, rig._behind(s))
    aim = nxt.target if nxt.do is Do.ADJUST else _half(sweep)
    station = "right" if axis is HeadAxis.TILT else "front"
    stamp, seen = s.read.get(station, (-1, 0.0))
    if s.down and s.stopped:
        return Advice(Action(do="touch"), "The needle is at the end of its travel: bring the tip in anew.")
    if s.rebased:
        return _read(s, axis, "The knee was moved: read both ends again.")
    if aim is None and s.swept.get(axis) != s.stamp and abs(seen - float(sweep.low)) > 0.02:
        return _read(s, axis, "Read both ends again: that tells where the nod pivots.")
    to = None if aim is None else float(_worked(sweep, aim)[1])
    if to is not None and stamp == s.stamp and abs(to - seen) <= NEAR:
        return _read(s, axis, "The needle stands where it should. Read both ends again.")
    if s.at != station:
        if s.down and s.slot:
            return Advice(Action(do="lift"), "Lift the tip clear before you swing.")
        return Advice(Action(do="swing", on=station), f"Swing to the {station}, where you watch the needle.")
    if not s.down:
        return Advice(Action(do="touch"), f"Bring the tip to the table at the {station}.")
    if to is None:
        way = "forward" if sweep.rise > 0 else "back"
        return Advice(
            Action(do="screw", on="nod", way=way, by=2),
            f"Where the nod pivots is not known. {turn_words(sweep)[1]} Turn the screw: head {way}, a little.",
        )
    return _turn_advice(s, axis, to - s.reading(station), to)


def _half(sweep: Sweep) -> Target:
    middle = (sweep.low + sweep.high) / 2
    return Target(middle, middle, middle - sweep.low, middle - sweep.high)


def _turn_advice(s: HeadState, axis: HeadAxis, gap: float, to: float) -> Advice:
    """The right needle rises as the head goes clockwise; the front one falls as it nods back."""
    if axis is HeadAxis.TILT:
        way, per = ("clockwise" if gap > 0 else "anticlockwise"), ARM
        station = "right"
    else:
        way, per = ("forward" if gap > 0 else "back"), ARM + s.behind
        station = "front"
    turn = abs(gap) / per
    size = 3 if turn > 0.0022 else 2 if turn > 0.0004 else 1
    words = (
        f"The {station} needle shows {s.setup.words(s.reading(station))} and should come to {s.setup.words(to)}. "
        f"Turn the screw: head {way}, {TURN_WORDS[size]}."
    )
    return Advice(Action(do="screw", on=str(axis), way=way, by=size), words)
