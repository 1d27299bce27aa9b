"""The head rig: a head on two axes, bolts that drag, an indicator swung over the table by hand.

Angles are radians: ``tilt`` positive when the top leans right (the right of the sweep is
low), ``nod`` positive when it leans back. The tilt's pivot is over the spindle, the nod's
lies behind it, so nodding moves both needles.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together
from incudo.core.practice.rigs.base import Action, Advice, Control, Level, Pass, Rig, RigSetup, contact, settle
from incudo.core.practice.rigs.head.advice import advise, best_move
from incudo.core.practice.rigs.head.controls import controls_of
from incudo.core.practice.rigs.head.scene import HeadScene, scene_of
from incudo.core.practice.rigs.head.state import (
    ARM,
    AXIS_WORDS,
    BOLTS,
    DEGREES,
    DRAG,
    GRIP_WORDS,
    HALF,
    LOOSE,
    PLACES,
    PULLS,
    TAP,
    TIGHT,
    TRAVEL,
    TURNS,
    WAYS,
    HeadState,
)
from incudo.core.setup.record import HeadPass
from incudo.core.setup.tram import STATIONS, HeadAxis, Sweep


class HeadRig(Rig[HeadState]):
    """Square the head to the table, tighten, read it again."""

    id = "head"
    name = say("Head rig")
    about = say("A head on its bolts, an indicator in the spindle, a table with its slots.")
    skill = "square-head"
    heads = ("axis", say("left or front"), say("right or rear"), "off")
    levels = (
        Level(1, say("Side to side"), say("Only the tilt, on a clean table, and drawn so that you see it.")),
        Level(2, say("Both ways"), say("Tilt and nod; a T-slot lies where one of the stations would be.")),
        Level(3, say("Worn"), say("Nobody knows where the nod pivots; the knee is free; the table has seen things.")),
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
        s.said = say("The head is as the last group left it.")
        return s

    def standard(self, setup: RigSetup) -> float:
        return float(setup.rules.head.rise.mm)

    def task(self, s: HeadState) -> str:
        ways = say("side to side") if s.level == 1 else say("both ways")
        return say("Square the head {ways} within {words}, tight and read again.", ways=ways, words=s.standard.words)

    # ── what can be done ──────────────────────────────────────────────

    def act(self, s: HeadState, a: Action) -> None:
        match a.do:
            case "isolate":
                s.isolated = True
                s.said = say("Isolated, out of gear: the spindle turns freely by hand.")
            case "wipe":
                found, s.burr, s.wiped = s.burr, "", True
                s.stamp += 1
                s.said = (
                    say("A burr stood up at the {found}. Stoned flat.", found=found)
                    if found
                    else say("The table is clean and smooth.")
                )
            case "parallels":
                s.parallels, s.down = not s.parallels, False
                s.stamp += 1
                s.said = (
                    say("A parallel lies under each station.") if s.parallels else say("The parallels are put away.")
                )
            case "clamp":
                s.clamped = not s.clamped
                s.stamp += 1
                s.said = (
                    say("The knee is clamped as it will be when cutting.") if s.clamped else say("The knee is free.")
                )
            case "lift":
                s.down, s.said = False, say("The tip is clear of the table.")
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
                raise Refused.of("action", f"{a.do} {a.on}".strip(), say("is not an action of the head rig"))

    def _touch(self, s: HeadState) -> None:
        if s.in_slot(s.at):
            s.said, s.warned = (
                say("There is a T-slot under the tip: it finds no table here. Lay a parallel under each station."),
                True,
            )
            return
        if not s.read or s.stopped:
            while s.stopped:
                s.base += TRAVEL / 2 if s.plunger(s.at) == 0.0 else -TRAVEL / 2
            s.base += TRAVEL / 2 - s.plunger(s.at)
            s.stamp += 1
            s.rebased = bool(s.sweeps)
        s.down, s.said = True, say("The tip touches, with travel left both ways.")
        s.motion = contact(DEGREES[s.at], s.reading(s.at))
        self._note(s)

    def _zero(self, s: HeadState) -> None:
        if not s.down:
            raise Refused.of("action", "zero", say("bring the tip to the table first"))
        s.zero = s.plunger(s.at)
        s.stamp += 1
        self._note(s)
        s.said = say("The bezel is turned: the needle reads 0.")

    def _swing(self, s: HeadState, to: str) -> None:
        if not s.isolated:
            s.fault(
                say("You turned a spindle by hand that could start: isolate it and take it out of gear first."),
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
            s.fault(say("The tip dropped into the T-slot and caught: lift it before you swing, and bridge the slot."))
            return
        self._note(s)

    def _note(self, s: HeadState) -> None:
        """Read where the tip stands; two stations of an axis read in the same state are a pass."""
        if s.stopped:
            s.said, s.warned = (
                say("The needle is at the end of its travel here: it says nothing. Reset the tip."),
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
        cells = (AXIS_WORDS[axis], seen[0].text, seen[1].text, s.setup.seen(off).text)
        s.passes.append(Pass(cells, off, best_move(s, sweep), s.tight))

    def _wrench(self, s: HeadState, a: Action) -> None:
        axis = next((x for x, bolts in BOLTS.items() if a.on in bolts), None)
        if axis is None or a.way not in ("tighter", "looser") or axis not in s.axes:
            raise Refused.of("action", f"{a.on} {a.way}", say("tighten or slacken a bolt of this head"))
        new = s.bolts[a.on] + (1 if a.way == "tighter" else -1)
        if not LOOSE <= new <= TIGHT:
            s.said = say("It is tight.") if new > TIGHT else say("It is loose already.")
            return
        s.bolts[a.on] = new
        s.said = say("The bolt {replace} is {grip_words}.", replace=a.on.replace("-", " "), grip_words=GRIP_WORDS[new])
        s.stamp += 1
        grips = [s.bolts[b] for b in BOLTS[axis]]
        if a.way == "tighter" and new >= HALF:
            lag = min(new - min(grips), 3)
            self._turn(s, axis, PULLS[lag] * s.pull[a.on] * s.chance("pull").uniform(0.7, 1.3))
            if lag >= 2:
                s.said += say(" Drawn up alone it pulled the head over: tighten crosswise, a little each.")
        if grips.count(LOOSE) >= 2:
            swing = s.chance("swing").choice((-1, 1)) * s.chance("far").uniform(0.003, 0.006)
            self._turn(s, axis, swing)
            s.down = False
            s.fault(
                say(
                    "Two bolts loose: the head swung over by its own weight. Never further than a drag, one hand holds."
                ),
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
            raise Refused.of("action", f"{a.on} {a.way} {a.by:g}", say("turn the tilt or nod screw one way, 1 to 3"))
        axis = HeadAxis(a.on)
        grips = [s.bolts[b] for b in BOLTS[axis]]
        if max(grips) > DRAG:
            s.said = say("The screw binds: the bolts of this axis still hold. Forcing it strips it.")
            s.warned = True
            return
        self._turn(s, axis, sign * TURNS[int(a.by)] * s.chance("screw").uniform(0.8, 1.2))
        s.stamp += 1
        self._show(s)

    def _tap(self, s: HeadState, side: str) -> None:
        """A tap with the soft hammer at the head's side: finer than the screw, and it works half tight."""
        held = max(s.bolts[b] for b in BOLTS[HeadAxis.TILT])
        if held == TIGHT:
            s.said = say("Nothing moves: the bolts hold.")
            return
        share = 1.0 if held <= DRAG else 0.5
        self._turn(s, HeadAxis.TILT, (-1 if side == "right" else 1) * TAP * share * s.chance("tap").uniform(0.7, 1.3))
        s.stamp += 1
        self._show(s)

    # ── what is offered, advised, judged ──────────────────────────────

    def controls(self, s: HeadState) -> tuple[Control, ...]:
        return controls_of(s)

    def advice(self, s: HeadState) -> Advice:
        return advise(s)

    def judge(self, s: HeadState) -> tuple[list[str], str]:
        span = float(s.standard.span.mm)
        allowed = float(s.standard.rise.mm)
        off = {HeadAxis.TILT: abs(s.tilt) * span, HeadAxis.NOD: abs(s.nod) * span}
        reasons = []
        if not all(s.bolts[b] == TIGHT for a in s.axes for b in BOLTS[a]):
            reasons.append(say("the bolts are not tight"))
        for axis in s.axes:
            if off[axis] > allowed:
                reasons.append(
                    say(
                        "{axis_words} it is {off} out; {words} is allowed",
                        axis_words=AXIS_WORDS[axis],
                        off=s.setup.words(off[axis]),
                        words=s.standard.words,
                    )
                )
            if s.swept.get(axis) != s.stamp:
                reasons.append(
                    say("{axis_words} it was not read again after the last tightening", axis_words=AXIS_WORDS[axis])
                )
        if not s.clamped:
            reasons.append(say("the knee is free: it will stand differently when you cut"))
        if s.burr:
            reasons.append(say("a burr at the {burr} lifted the tip there", burr=s.burr))
        said = together((f"{AXIS_WORDS[a]} {s.setup.words(off[a])}" for a in s.axes), ", ")
        return reasons, say(
            "Truly out over {text} {unit}: {said}.", text=s.standard.span.text, unit=s.standard.span.unit, said=said
        )

    def scene(self, s: HeadState) -> HeadScene:
        return scene_of(s)
