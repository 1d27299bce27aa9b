"""The vise rig: a rigid body on a table that turns about whatever holds it.

Table coordinates in mm: X to the right, Y away from the person. The working face of the
fixed jaw looks at the person; the indicator's tip touches it from there, so the reading
grows as the face comes towards the person. The bolts stand before the face and wider
apart than the jaw is long.
"""

from __future__ import annotations

import math
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, sense
from incudo.core.kernel.say import say
from incudo.core.practice.rigs.base import Action, Advice, Control, Level, Pass, Rig, RigSetup, contact, settle
from incudo.core.practice.rigs.vise.advice import advise, best_move, bring_to
from incudo.core.practice.rigs.vise.controls import controls_of
from incudo.core.practice.rigs.vise.scene import ViseScene, now_of, scene_of
from incudo.core.practice.rigs.vise.state import (
    ENDS,
    FIRM,
    GRIP_WORDS,
    LOOSE,
    PULLS,
    SNUG,
    TAPS,
    TIGHT,
    TRAVEL,
    ViseState,
)
from incudo.core.setup.jaw import JawSweep, jumped
from incudo.core.setup.record import VisePass


class ViseRig(Rig[ViseState]):
    """Bring the fixed jaw true, tighten, and read it again."""

    id = "vise"
    name = say("Vise rig")
    about = say("A vise on the table, an indicator at its fixed jaw, a soft hammer and a wrench.")
    skill = "align-vise"
    heads = (say("left end"), say("right end"), say("off over the jaw"))
    levels = (
        Level(1, say("Near"), say("Nearly true, clean, and drawn crooked so that you see what you do.")),
        Level(2, say("Far out"), say("Beyond the indicator's travel; the lever may turn the needle either way.")),
        Level(3, say("As found"), say("Anything may lie underneath, and the bolts pull.")),
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
        s.said = say("The vise sits on the table as somebody left it.")
        return s

    def standard(self, setup: RigSetup) -> float:
        return float(setup.rules.vise.mm)

    def task(self, s: ViseState) -> str:
        return say(
            "Bring the fixed jaw within {both} over its length, tight and read again.", both=_both(s.setup.rules.vise)
        )

    # ── what can be done ──────────────────────────────────────────────

    def act(self, s: ViseState, a: Action) -> None:
        match a.do:
            case "touch":
                self._touch(s)
            case "zero":
                self._needs_touch(s)
                s.zero, s.zeroed, s.aim, s.changed = s.plunger(s.table), True, None, True
                s.last_end = now_of(s)
                s.said = say("The bezel is turned: the needle reads 0.")
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
                s.said = say("The {on} hammer is in your hand.", on=a.on)
            case "clean":
                self._clean(s)
            case _:
                raise Refused.of("action", a.do, say("is not an action of the vise rig"))

    def _needs_touch(self, s: ViseState) -> None:
        if not s.touched:
            raise Refused.of("action", "zero", say("bring the tip to the jaw first"))

    def _touch(self, s: ViseState) -> None:
        s.touched, s.changed, s.zeroed, s.aim = True, True, False, None
        s.tip_y = s.face(s.table) + TRAVEL / 2
        s.zero = 0.0
        s.last_end = now_of(s)
        s.motion = contact(s.table, s.reading(s.table))
        s.said = say("The tip touches the jaw, half its travel in.")

    def _push(self, s: ViseState) -> None:
        self._needs_touch(s)
        s.pushed = True
        way = say("clockwise: the numbers rise") if s.sense > 0 else say("anticlockwise: the numbers fall")
        s.said = say("Pushed in by hand, the needle turns {way}.", way=way)
        now = s.reading(s.table)
        s.motion = tuple((s.table, now + s.sense * 0.15 * math.sin(math.pi * i / 12)) for i in range(13))

    def _run(self, s: ViseState, a: Action) -> None:
        to = s.station(a.on) if a.on in ENDS else a.by
        edge = s.length / 2 + 4
        if abs(to) > edge + 30:
            raise Refused.of("by", a.by, say("must lie between -{edge} and {edge}", edge=f"{edge + 30:.0f}"))
        places = [s.table + (to - s.table) * i / 48 for i in range(49)]
        s.table = to
        if not s.touched:
            return
        s.motion = tuple((x, s.reading(x)) for x in places)
        if abs(to) > edge:
            s.fault(say("The tip ran off the end of the jaw: it dropped, and what it read before is lost."))
            s.touched, s.last_end, s.aim, s.changed = False, None, None, True
            return
        if any(s.tip_y - s.face(x) > TRAVEL for x in places):
            s.said, s.warned = (
                say("The indicator is at its stop: it shows no more and can be hurt. Tap it in as you go."),
                True,
            )
        elif any(s.tip_y - s.face(x) < 0 for x in places):
            s.said, s.warned = say("The jaw has left the tip: the needle rests and shows nothing."), True
        self._end_reached(s)

    def _end_reached(self, s: ViseState) -> None:
        """At an end, after the other: that is a pass, unless nothing was changed since the last."""
        before, now = s.last_end, now_of(s)
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
        s.passes.append(Pass(cells, off, best_move(s, sweep), s.tight))
        s.changed = False

    def _weigh(self, s: ViseState, earlier: VisePass | None) -> None:
        """What the newest pass says: where the needle should come to, and whether dirt is likely."""
        last = s.sweeps[-1]
        s.far = any(not 0 < s.plunger(s.station(end)) < TRAVEL for end in ENDS)
        s.aim = s.sense * float(bring_to(s, last.sweep))
        s.dirt = (
            last.tight
            and earlier is not None
            and not earlier.tight
            and jumped(earlier.sweep, last.sweep, s.standard * 2 * last.sweep.travel / Fraction(s.setup.jaw))
        )

    def _tap(self, s: ViseState, a: Action) -> None:
        if a.on == "moving":
            s.fault(say("You hit the moving jaw: it gives, it is no reference, and its screw is hurt."), critical=True)
            return
        if a.on not in ENDS or a.way not in ("towards", "away") or a.by not in TAPS:
            raise Refused.of("action", f"{a.on} {a.way} {a.by:g}", say("tap left or right, towards or away, 1 to 3"))
        if s.hammer == "steel":
            s.fault(say("A steel hammer dents the jaw. Take the soft one."))
        strength = int(a.by)
        move = TAPS[strength] * s.chance("tap").uniform(0.75, 1.25)
        grips, other = s.bolts, "right" if a.on == "left" else "left"
        lo, hi = min(grips.values()), max(grips.values())
        held = max(grips, key=lambda e: grips[e])
        if lo == TIGHT or (lo >= FIRM and strength < 3):
            s.said = say("Nothing moves: the bolts hold.")
            return
        at = s.station(a.on) if s.length <= s.setup.bolts else (s.setup.jaw / 2 - 6) * (-1 if a.on == "left" else 1)
        if hi == LOOSE:
            about, move = (-math.copysign(s.setup.jaw / 6, at), -s.setup.bolts_before), move * 4
            note = say("Both bolts are loose: the whole vise slides as well as it turns.")
        elif lo == LOOSE:
            about, note = s.bolt(held), ""
            if held == a.on:
                move, note = (
                    move * 0.4,
                    say("You tapped next to the snug bolt: the {other} end hardly moves you anywhere.", other=other),
                )
        elif lo == SNUG and hi == SNUG:
            about, move = (0.0, -s.setup.bolts_before), max(move - 0.004, 0) * 0.6
            note = ""
        else:
            about, move, note = s.bolt(held), move * 0.15, say("The bolts hold it: it creeps.")
        arm = at - about[0]
        before = s.reading(s.table)
        s.turn(about, (1 if a.way == "away" else -1) * move / arm)
        after = s.reading(s.table)
        s.motion = settle(s.table, before, after)
        s.changed, s.last_end, s.said = True, now_of(s), note

    def _wrench(self, s: ViseState, a: Action) -> None:
        if a.on not in ENDS or a.way not in ("tighter", "looser"):
            raise Refused.of("action", f"{a.on} {a.way}", say("tighten or slacken the left or the right bolt"))
        now = s.bolts[a.on]
        new = now + (1 if a.way == "tighter" else -1)
        if not LOOSE <= new <= TIGHT:
            s.said = say("It is tight.") if new > TIGHT else say("It is loose already.")
            return
        other = s.bolts["right" if a.on == "left" else "left"]
        before = s.reading(s.table)
        s.bolts[a.on] = new
        s.said = say("The {on} bolt is {grip_words}.", on=a.on, grip_words=GRIP_WORDS[new])
        if a.way == "tighter" and new >= FIRM:
            pull = PULLS[min(max(new - other, 0), 3)] * s.pull[a.on] * s.chance("pull").uniform(0.7, 1.3)
            s.turn(s.bolt("left" if a.on == "right" else "right"), pull / s.setup.jaw)
            if new - other >= 2:
                s.said += say(" Drawn up alone it pulled the vise round: tighten by turns, a little each.")
        if s.chip and s.tight:
            jump = s.chance("chip").choice((-1, 1)) * s.chance("size").uniform(0.03, 0.09)
            s.turn((0.0, -s.setup.bolts_before), jump / s.setup.jaw)
        s.motion = settle(s.table, before, s.reading(s.table)) if s.touched else ()
        if a.way == "tighter":
            s.changed, s.last_end = True, now_of(s)

    def _clean(self, s: ViseState) -> None:
        if max(s.bolts.values()) > LOOSE:
            s.said = say("It is bolted down: slacken both bolts before you lift its edge.")
            return
        found = s.chip
        s.chip = False
        r = s.chance(say("set down"))
        s.turn((0.0, -s.setup.bolts_before), r.uniform(-0.3, 0.3) / s.setup.jaw)
        s.touched, s.last_end, s.changed, s.aim, s.dirt = False, None, True, None, False
        s.said = (
            say("A chip lay underneath. Wiped, stoned, set down again.")
            if found
            else say("Clean underneath. Set down again.")
        )

    # ── what is offered, advised, judged ──────────────────────────────

    def controls(self, s: ViseState) -> tuple[Control, ...]:
        return controls_of(s)

    def advice(self, s: ViseState) -> Advice:
        return advise(s)

    def judge(self, s: ViseState) -> tuple[list[str], str]:
        standard = float(s.standard)
        reasons = []
        if not s.tight:
            reasons.append(say("the bolts are not tight"))
        if s.off > standard:
            reasons.append(
                say(
                    "the jaw is {off} out over its length; {both} is allowed",
                    off=s.setup.words(s.off),
                    both=_both(s.setup.rules.vise),
                )
            )
        if s.tight and (s.changed or not s.sweeps or not s.sweeps[-1].tight):
            reasons.append(say("it was not read again over the full length after tightening"))
        if s.chip:
            reasons.append(say("a chip lies underneath: it will move in the first cut"))
        way = say("further from you") if sense(s.angle) == 1 else say("nearer to you")
        true = s.setup.seen(s.off).mm == 0
        truth = (
            say("The jaw is true as finely as this indicator reads.")
            if true
            else say("The right end is really {off} {way} over the jaw.", off=s.setup.words(s.off), way=way)
        )
        return reasons, truth

    def scene(self, s: ViseState) -> ViseScene:
        return scene_of(s)


def _both(standard: Length) -> str:
    return f"{standard.text} {standard.unit}"
