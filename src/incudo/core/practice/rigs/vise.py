"""The vise rig: a rigid body on a table that turns about whatever holds it.

Table coordinates in mm: X to the right, Y away from the person. The working face of the
fixed jaw looks at the person; the indicator's tip touches it from there, so the reading
grows as the face comes towards the person. The bolts stand before the face and wider
apart than the jaw is long.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length
from incudo.core.practice.rigs.base import Action, Advice, Control, Level, Pass, Rig, RigSetup, State, contact, settle
from incudo.core.setup.jaw import JawSweep, bring_to_pivot, jumped, left_by_meeting, walk_in
from incudo.core.setup.record import VisePass, in_standard
from incudo.core.setup.standard import ViseSchool

LOOSE, SNUG, FIRM, TIGHT = 0, 1, 2, 3
GRIP_WORDS = ("loose", "snug", "half tight", "tight")
#: How far a tap moves the jaw's end when one bolt is snug and the other loose, in mm.
TAPS = {1: 0.012, 2: 0.05, 3: 0.22}
TAP_WORDS = {1: "lightly", 2: "firmly", 3: "hard"}
#: The indicator's whole travel, and how far in the tip is brought at first.
TRAVEL = 0.8
#: How far the vise turns when a bolt is drawn up and the other lags behind, as mm over the jaw.
PULLS = {0: 0.0, 1: 0.0015, 2: 0.014, 3: 0.04}
ENDS = ("left", "right")


@dataclass
class ViseState(State):
    """The vise: middle of the jaw's face and its angle; bolts; indicator; what lies underneath."""

    x: float = 0.0
    y: float = 0.0
    angle: float = 0.0
    bolts: dict[str, int] = field(default_factory=lambda: {"left": FIRM, "right": FIRM})
    table: float = 0.0
    touched: bool = False
    tip_y: float = 0.0
    zero: float = 0.0
    sense: int = 1
    hammer: str = "soft"
    chip: bool = False
    pushed: bool = False
    pull: dict[str, float] = field(default_factory=dict)
    sweeps: list[VisePass] = field(default_factory=list)
    changed: bool = True
    last_end: tuple[str, float] | None = None
    zeroed: bool = False
    aim: float | None = None
    dirt: bool = False
    far: bool = False

    @property
    def school(self) -> ViseSchool:
        return self.setup.rules.vise_school

    @property
    def walks(self) -> bool:
        """Whether both bolts stay snug now; a vise that is far out is swung in about one bolt first."""
        return self.school is ViseSchool.WALK_IN and not self.far

    @property
    def standard(self) -> Fraction:
        """The shop's, in mm over the jaw."""
        return self.setup.rules.vise.mm

    @property
    def length(self) -> float:
        """What is read along: the jaw, or a parallel that reaches beyond the bolts."""
        return self.setup.bolts + 60 if self.school is ViseSchool.LONG_PARALLEL else self.setup.jaw

    def station(self, end: str) -> float:
        """Where one reads at an end: a little inside it."""
        return (self.length / 2 - 6) * (-1 if end == "left" else 1)

    def bolt(self, end: str) -> tuple[float, float]:
        """Where a bolt stands on the table."""
        half = self.setup.bolts / 2 * (-1 if end == "left" else 1)
        return half, -self.setup.bolts_before

    def face(self, x: float) -> float:
        """Y of the jaw's face at a place of the table."""
        return self.y + (x - self.x) * math.tan(self.angle)

    def plunger(self, x: float) -> float:
        """How far the tip is pushed in, 0 to its whole travel."""
        return min(max(self.tip_y - self.face(x), 0.0), TRAVEL)

    def reading(self, x: float) -> float:
        """What the needle shows, in mm; a lever set the other way turns it round."""
        return self.sense * (self.plunger(x) - self.zero)

    def turn(self, about: tuple[float, float], angle: float) -> None:
        """Turn the vise about a point, exactly."""
        dx, dy = self.x - about[0], self.y - about[1]
        c, s = math.cos(angle), math.sin(angle)
        self.x, self.y = about[0] + c * dx - s * dy, about[1] + s * dx + c * dy
        self.angle += angle

    @property
    def tight(self) -> bool:
        return all(v == TIGHT for v in self.bolts.values())

    @property
    def off(self) -> float:
        """How far out of true over the jaw, truly."""
        return abs(math.tan(self.angle)) * self.setup.jaw


class ViseScene(BaseModel):
    """What is drawn of the vise rig. ``crooked`` is the angle as drawn, far too large, where it is shown at all."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["vise"] = "vise"
    jaw: float
    read_along: float
    bolts: float
    bolts_before: float
    grips: dict[str, int]
    table: float
    reading: float | None
    division: float
    travel: float
    turns: int
    shown: str
    crooked: float
    hammer: str
    pushed: bool
    sense: int
    long_parallel: bool


class ViseRig(Rig[ViseState]):
    """Bring the fixed jaw true, tighten, and read it again."""

    id = "vise"
    name = "Vise rig"
    about = "A vise on the table, an indicator at its fixed jaw, a soft hammer and a wrench."
    skill = "align-vise"
    heads = ("left end", "right end", "off over the jaw")
    levels = (
        Level(1, "Near", "Nearly true, clean, and drawn crooked so that you see what you do."),
        Level(2, "Far out", "Beyond the indicator's travel; the lever may turn the needle either way."),
        Level(3, "As found", "Anything may lie underneath, and the bolts pull."),
    )

    def start(self, setup: RigSetup, level: int, seed: str) -> ViseState:
        s = ViseState(setup, level, seed)
        r = s.chance("found")
        span = {1: (0.15, 0.5), 2: (0.9, 2.2), 3: (0.3, 1.6)}[level]
        s.turn((0.0, -setup.bolts_before), r.choice((-1, 1)) * r.uniform(*span) / setup.jaw)
        s.sense = 1 if level == 1 else r.choice((1, -1))
        s.chip = level == 3 and r.random() < 0.6
        gain = {1: 0.7, 2: 1.0, 3: 1.6}[level]
        s.pull = {end: r.choice((-1, 1)) * gain * r.uniform(0.6, 1.3) for end in ENDS}
        s.said = "The vise stands on the table as somebody left it."
        return s

    def standard(self, setup: RigSetup) -> float:
        return float(setup.rules.vise.mm)

    def task(self, s: ViseState) -> str:
        return f"Bring the fixed jaw within {_both(s.setup.rules.vise)} over its length, tight and read again."

    # ── what can be done ──────────────────────────────────────────────

    def act(self, s: ViseState, a: Action) -> None:
        match a.do:
            case "touch":
                self._touch(s)
            case "zero":
                self._needs_touch(s)
                s.zero, s.zeroed, s.aim, s.changed = s.plunger(s.table), True, None, True
                s.last_end = _now(s)
                s.said = "The bezel is turned: the needle stands at 0."
            case "push":
                self._push(s)
            case "run":
                self._run(s, a)
            case "tap":
                self._tap(s, a)
            case "wrench":
                self._wrench(s, a)
            case "hammer" if a.on in ("soft", "steel"):
                s.hammer = a.on
                s.said = f"The {a.on} hammer is in your hand."
            case "clean":
                self._clean(s)
            case _:
                raise Refused.of("action", a.do, "is no action of the vise rig")

    def _needs_touch(self, s: ViseState) -> None:
        if not s.touched:
            raise Refused.of("action", "zero", "bring the tip to the jaw first")

    def _touch(self, s: ViseState) -> None:
        s.touched, s.changed, s.zeroed, s.aim = True, True, False, None
        s.tip_y = s.face(s.table) + TRAVEL / 2
        s.zero = 0.0
        s.last_end = _now(s)
        s.motion = contact(s.table, s.reading(s.table))
        s.said = "The tip touches the jaw, half its travel in."

    def _push(self, s: ViseState) -> None:
        self._needs_touch(s)
        s.pushed = True
        way = "clockwise: the numbers rise" if s.sense > 0 else "anticlockwise: the numbers fall"
        s.said = f"Pushed in by hand, the needle turns {way}."
        now = s.reading(s.table)
        s.motion = tuple((s.table, now + s.sense * 0.15 * math.sin(math.pi * i / 12)) for i in range(13))

    def _run(self, s: ViseState, a: Action) -> None:
        to = s.station(a.on) if a.on in ENDS else a.by
        edge = s.length / 2 + 4
        if abs(to) > edge + 30:
            raise Refused.of("by", a.by, f"must lie between -{edge + 30:.0f} and {edge + 30:.0f}")
        places = [s.table + (to - s.table) * i / 48 for i in range(49)]
        s.table = to
        if not s.touched:
            return
        s.motion = tuple((x, s.reading(x)) for x in places)
        if abs(to) > edge:
            s.fault("The tip ran off the end of the jaw: it dropped, and what it read before is lost.")
            s.touched, s.last_end, s.aim, s.changed = False, None, None, True
            return
        if any(s.tip_y - s.face(x) > TRAVEL for x in places):
            s.said, s.warned = (
                "The indicator is at its stop: it shows no more and can be hurt. Tap it in as you go.",
                True,
            )
        elif any(s.tip_y - s.face(x) < 0 for x in places):
            s.said, s.warned = "The jaw has left the tip: the needle rests and shows nothing.", True
        self._end_reached(s)

    def _end_reached(self, s: ViseState) -> None:
        """At an end, after the other: that is a pass, unless nothing was changed since the last."""
        before, now = s.last_end, _now(s)
        s.last_end = now or before
        if before is None or now is None or before[0] == now[0] or not s.changed:
            return
        read = {end: s.setup.seen(value) for end, value in (before, now)}
        sweep = JawSweep(
            Fraction(s.station("left")),
            Fraction(s.station("right")),
            s.sense * read["left"].mm,
            s.sense * read["right"].mm,
        )
        earlier = s.sweeps[-1] if s.sweeps else None
        s.sweeps.append(VisePass(sweep, s.tight))
        self._weigh(s, earlier)
        off = float(sweep.over(Fraction(s.setup.jaw)))
        cells = (read["left"].text, read["right"].text, s.setup.seen(off).text)
        s.passes.append(Pass(cells, off, self._best(s, sweep), s.tight))
        s.changed = False

    def _weigh(self, s: ViseState, earlier: VisePass | None) -> None:
        """What the newest pass says: where the needle should come to, and whether dirt is likely."""
        last = s.sweeps[-1]
        s.far = any(not 0 < s.plunger(s.station(end)) < TRAVEL for end in ENDS)
        s.aim = s.sense * float(self._bring(s, last.sweep))
        s.dirt = (
            last.tight
            and earlier is not None
            and not earlier.tight
            and jumped(earlier.sweep, last.sweep, s.standard * 2 * last.sweep.travel / Fraction(s.setup.jaw))
        )

    def _bring(self, s: ViseState, sweep: JawSweep) -> Fraction:
        """Where the needle at the right end, the tapped one, should come to by the shop's school."""
        if s.walks:
            return walk_in(sweep, "right").to
        return bring_to_pivot(sweep, Fraction(s.bolt("left")[0]), "right").to

    def _tap(self, s: ViseState, a: Action) -> None:
        if a.on == "moving":
            s.fault("You hit the moving jaw: it gives, it is no reference, and its screw is hurt.", critical=True)
            return
        if a.on not in ENDS or a.way not in ("towards", "away") or a.by not in TAPS:
            raise Refused.of("action", f"{a.on} {a.way} {a.by:g}", "tap left or right, towards or away, 1 to 3")
        if s.hammer == "steel":
            s.fault("A steel hammer dents the jaw. Take the soft one.")
        strength = int(a.by)
        move = TAPS[strength] * s.chance("tap").uniform(0.75, 1.25)
        grips, other = s.bolts, "right" if a.on == "left" else "left"
        lo, hi = min(grips.values()), max(grips.values())
        held = max(grips, key=lambda e: grips[e])
        if lo == TIGHT or (lo >= FIRM and strength < 3):
            s.said = "Nothing moves: the bolts hold."
            return
        at = s.station(a.on) if s.length <= s.setup.bolts else (s.setup.jaw / 2 - 6) * (-1 if a.on == "left" else 1)
        if hi == LOOSE:
            about, move = (-math.copysign(s.setup.jaw / 6, at), -s.setup.bolts_before), move * 4
            note = "Both bolts are loose: the whole vise slides as well as it turns."
        elif lo == LOOSE:
            about, note = s.bolt(held), ""
            if held == a.on:
                move, note = move * 0.4, f"You tapped beside the snug bolt: the {other} end hardly moves you anywhere."
        elif lo == SNUG and hi == SNUG:
            about, move = (0.0, -s.setup.bolts_before), max(move - 0.004, 0) * 0.6
            note = ""
        else:
            about, move, note = s.bolt(held), move * 0.15, "The bolts hold it: it creeps."
        arm = at - about[0]
        before = s.reading(s.table)
        s.turn(about, (1 if a.way == "away" else -1) * move / arm)
        after = s.reading(s.table)
        s.motion = settle(s.table, before, after)
        s.changed, s.last_end, s.said = True, _now(s), note

    def _wrench(self, s: ViseState, a: Action) -> None:
        if a.on not in ENDS or a.way not in ("tighter", "looser"):
            raise Refused.of("action", f"{a.on} {a.way}", "tighten or slacken the left or the right bolt")
        now = s.bolts[a.on]
        new = now + (1 if a.way == "tighter" else -1)
        if not LOOSE <= new <= TIGHT:
            s.said = "It is tight." if new > TIGHT else "It is loose already."
            return
        other = s.bolts["right" if a.on == "left" else "left"]
        before = s.reading(s.table)
        s.bolts[a.on] = new
        s.said = f"The {a.on} bolt is {GRIP_WORDS[new]}."
        if a.way == "tighter" and new >= FIRM:
            pull = PULLS[min(max(new - other, 0), 3)] * s.pull[a.on] * s.chance("pull").uniform(0.7, 1.3)
            s.turn(s.bolt("left" if a.on == "right" else "right"), pull / s.setup.jaw)
            if new - other >= 2:
                s.said += " Drawn up alone it pulled the vise round: tighten by turns, a little each."
        if s.chip and s.tight:
            jump = s.chance("chip").choice((-1, 1)) * s.chance("size").uniform(0.03, 0.09)
            s.turn((0.0, -s.setup.bolts_before), jump / s.setup.jaw)
        s.motion = settle(s.table, before, s.reading(s.table)) if s.touched else ()
        if a.way == "tighter":
            s.changed, s.last_end = True, _now(s)

    def _clean(self, s: ViseState) -> None:
        if max(s.bolts.values()) > LOOSE:
            s.said = "It is bolted down: slacken both bolts before you lift its edge."
            return
        found = s.chip
        s.chip = False
        r = s.chance("set down")
        s.turn((0.0, -s.setup.bolts_before), r.uniform(-0.3, 0.3) / s.setup.jaw)
        s.touched, s.last_end, s.changed, s.aim, s.dirt = False, None, True, None, False
        s.said = (
            "A chip lay underneath. Wiped, stoned, set down again." if found else "Clean underneath. Set down again."
        )

    # ── what is offered, advised, judged ──────────────────────────────

    def controls(self, s: ViseState) -> tuple[Control, ...]:
        far = "" if s.touched else "the tip does not touch the jaw"
        found = [
            Control(Action(do="touch"), "Bring the tip to the jaw", "Indicator"),
            Control(Action(do="push"), "Push the tip in by hand", "Indicator", far),
            Control(Action(do="zero"), "Zero the bezel", "Indicator", far),
            Control(Action(do="run", on="left"), "Run to the left end", "Run the table to the"),
            Control(Action(do="run", on="right"), "Run to the right end", "Run the table to the"),
        ]
        for end in ENDS:
            for way in ("tighter", "looser"):
                words = f"{'Tighten' if way == 'tighter' else 'Slacken'} the {end} bolt"
                closed = "tight" if s.bolts[end] == TIGHT and way == "tighter" else ""
                closed = "loose" if s.bolts[end] == LOOSE and way == "looser" else closed
                found.append(Control(Action(do="wrench", on=end, way=way), words, "Wrench", closed))
        for end in ENDS:
            for way in ("towards", "away"):
                to = "towards you" if way == "towards" else "away from you"
                for by, how in TAP_WORDS.items():
                    label = f"Tap the {end} end {to}, {how}"
                    found.append(Control(Action(do="tap", on=end, way=way, by=by), label, f"Tap the {end} end {to}"))
        other = "steel" if s.hammer == "soft" else "soft"
        found += [
            Control(Action(do="tap", on="moving", way="away", by=2), "Tap the moving jaw", "More"),
            Control(Action(do="hammer", on=other), f"Take the {other} hammer", "More"),
            Control(Action(do="clean"), "Lift, wipe and stone underneath", "More"),
        ]
        return tuple(found)

    def _best(self, s: ViseState, sweep: JawSweep) -> str:
        """The best next tap after a pass, in words. The left bolt is the pivot, by this rig's custom."""
        if in_standard(sweep, Fraction(s.setup.jaw), s.standard):
            return "nothing to tap" if s.tight else "tighten by turns, read again"
        words = f"bring the right end's needle to {s.setup.words(s.aim or 0)}"
        if s.school is ViseSchool.PIVOT:
            rest = left_by_meeting(sweep, Fraction(s.bolt("left")[0]), "right")
            words += f"; to the left end's reading would leave {s.setup.seen(abs(float(rest))).text}"
        return words

    def advice(self, s: ViseState) -> Advice:
        return _advise(self, s)

    def judge(self, s: ViseState) -> tuple[list[str], str]:
        standard = float(s.standard)
        reasons = []
        if not s.tight:
            reasons.append("the bolts are not tight")
        if s.off > standard:
            reasons.append(
                f"the jaw is {s.setup.words(s.off)} out over its length; {_both(s.setup.rules.vise)} is allowed"
            )
        if s.tight and (s.changed or not s.sweeps or not s.sweeps[-1].tight):
            reasons.append("it was not read again over the full length after tightening")
        if s.chip:
            reasons.append("a chip lies underneath: it will move in the first cut")
        way = "nearer to you" if s.angle < 0 else "further from you"
        true = s.setup.seen(s.off).mm == 0
        truth = (
            "The jaw is true as finely as this indicator reads."
            if true
            else f"The right end truly stands {s.setup.words(s.off)} {way} over the jaw."
        )
        return reasons, truth

    def scene(self, s: ViseState) -> ViseScene:
        shown = s.finished or s.level == 1
        reading = s.reading(s.table) if s.touched else None
        text = "" if reading is None else s.setup.words(reading)
        turn = float(s.setup.division.mm) * 60
        return ViseScene(
            jaw=s.setup.jaw,
            read_along=s.length,
            bolts=s.setup.bolts,
            bolts_before=s.setup.bolts_before,
            grips=dict(s.bolts),
            table=s.table,
            reading=reading,
            division=float(s.setup.division.mm),
            travel=TRAVEL,
            turns=0 if reading is None else math.floor(abs(reading) / turn),
            shown=text,
            crooked=max(-0.1, min(0.1, s.angle * 25)) if shown else 0.0,
            hammer=s.hammer,
            pushed=s.pushed,
            sense=s.sense if s.pushed or s.level == 1 else 0,
            long_parallel=s.school is ViseSchool.LONG_PARALLEL,
        )


def _now(s: ViseState) -> tuple[str, float] | None:
    """The end at which the table stands, with the reading there now."""
    if not s.touched:
        return None
    end = next((e for e in ENDS if abs(s.table - s.station(e)) < 0.5), None)
    return None if end is None else (end, s.reading(s.table))


def _both(standard: Length) -> str:
    return f"{standard.text} {standard.unit}"


#: The needle is at its aim when it is this near, in mm. Walking in, the other end moves as much.
NEAR = {ViseSchool.PIVOT: 0.008, ViseSchool.LONG_PARALLEL: 0.008, ViseSchool.WALK_IN: 0.004}
#: A practised hand stops at this part of the standard: the indicator is read to half a division.
MARGIN = Fraction(3, 4)


def _advise(rig: ViseRig, s: ViseState) -> Advice:
    """The shop's school, step by step, from what can be seen: grips, readings, what was said."""
    if s.dirt:
        return _look_underneath(s)
    if not s.touched:
        if s.table != s.station("left"):
            return Advice(
                Action(do="run", on="left"), "Begin over the end that will be the pivot: run to the left end."
            )
        return Advice(Action(do="touch"), "Bring the tip to the jaw, half its travel in, so that it can go both ways.")
    if s.level > 1 and not s.pushed:
        return Advice(Action(do="push"), "A lever may turn the needle either way: push it in by hand and look.")
    if not s.zeroed and s.last_end and s.last_end[0] == "left":
        return Advice(Action(do="zero"), "Zero the bezel here, at the pivot end.")
    if s.aim is None:
        return _other_end(s, "Read the other end.")
    last = s.sweeps[-1]
    if in_standard(last.sweep, Fraction(s.setup.jaw), s.standard * MARGIN):
        return _tighten(s, last)
    return _adjust(s, last)


def _other_end(s: ViseState, why: str) -> Advice:
    to = "left" if s.table > 0 else "right"
    return Advice(Action(do="run", on=to), f"{why} Run to the {to} end.")


def _look_underneath(s: ViseState) -> Advice:
    end = next((e for e in ENDS if s.bolts[e] > LOOSE), None)
    if end is None:
        return Advice(Action(do="clean"), "Lift its edge and look underneath: wipe, stone, set it down again.")
    why = "It was true, and tightening made it jump: that is dirt underneath."
    return Advice(Action(do="wrench", on=end, way="looser"), f"{why} Slacken the {end} bolt until it is loose.")


def _tighten(s: ViseState, last: VisePass) -> Advice:
    if not s.tight:
        end = min(ENDS, key=lambda e: s.bolts[e])
        return Advice(
            Action(do="wrench", on=end, way="tighter"), f"It is true. Tighten by turns: the {end} bolt, a little."
        )
    if s.changed or not last.tight:
        return _other_end(s, "Tight. Tightening moves things: read the whole jaw again.")
    return Advice(Action(do="finish"), "Tight, read again, and true: finish.")


def _adjust(s: ViseState, last: VisePass) -> Advice:
    wanted = {"left": SNUG, "right": SNUG if s.walks else LOOSE}
    for end in ENDS:
        if s.bolts[end] > wanted[end]:
            grip = GRIP_WORDS[wanted[end]]
            return Advice(
                Action(do="wrench", on=end, way="looser"), f"Slacken the {end} bolt until it is {grip}, no further."
            )
        if s.bolts[end] < wanted[end]:
            return Advice(
                Action(do="wrench", on=end, way="tighter"), f"Snug the {end} bolt: it has to hold as a pivot."
            )
    if s.table < 0 and not (s.changed and s.last_end):
        return Advice(Action(do="run", on="right"), "Go to the right end, where you will tap.")
    now, aim = s.reading(s.table), s.aim or 0.0
    gap = s.sense * (aim - now)
    if s.table > 0 and (abs(gap) > NEAR[s.school] or not s.changed):
        return _tap(s, gap, now, aim)
    return _other_end(s, "The needle stands where it should. Read both ends again.")


def _tap(s: ViseState, gap: float, now: float, aim: float) -> Advice:
    way, to = ("towards", "towards you") if gap > 0 else ("away", "away from you")
    stopped = not 0 < s.plunger(s.table) < TRAVEL
    size = 3 if stopped or abs(gap) > 0.3 else 2 if abs(gap) > 0.06 else 1
    why = (
        "The needle is at the end of its travel: tap the jaw in until it moves."
        if stopped
        else f"The needle shows {s.setup.words(now)} and should come to {s.setup.words(aim)}."
    )
    return Advice(Action(do="tap", on="right", way=way, by=size), f"{why} Tap the right end {to}, {TAP_WORDS[size]}.")
