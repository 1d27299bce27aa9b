"""How faces stand to each other, against a block that is really turned in space and measured at its corners."""

from __future__ import annotations

import itertools
import random
from dataclasses import dataclass
from fractions import Fraction
from types import SimpleNamespace
from typing import Any

import numpy as np
import numpy.typing as npt
import pytest

from incudo.core.cutting.dry.causes import Cause, Code, Off
from incudo.core.cutting.dry.lie import Lie, Stands
from incudo.core.kernel.quantity import Unit
from incudo.core.parts.features.frame import SIDES, Plane
from incudo.core.planning.file import OPPOSITE, HeldIn
from incudo.core.planning.place import Place
from incudo.core.planning.settle import Settled

Vector = npt.NDArray[np.float64]
SIZE = (60, 38, 25)
WIDE, HAIR = Fraction(50), Fraction(1, 1000)


def plane(name: str) -> Plane:
    axis, out = SIDES[name]
    spans: Any = tuple((Fraction(0), Fraction(0)) if a == axis else (Fraction(0), Fraction(SIZE[a])) for a in range(3))
    return Plane(name, name, axis, SIZE[axis] if out > 0 else 0, out, spans)  # type: ignore[arg-type]


def stage(up: str, fixed: str, *, soft_bar: bool, held: HeldIn = HeldIn.VISE, bar: bool = False) -> Any:
    holding = SimpleNamespace(up=up, fixed=fixed, soft_bar=soft_bar, held=held)
    return SimpleNamespace(place=Place.of(up, fixed), holding=holding, piece=SimpleNamespace(bar=bar))


def about(axis: int, angle: float) -> Vector:
    a, b = (axis + 1) % 3, (axis + 2) % 3
    m = np.eye(3)
    m[a, a] = m[b, b] = np.cos(angle)
    m[a, b], m[b, a] = -np.sin(angle), np.sin(angle)
    return m


def unit_of(v: Vector) -> Vector:
    return v / np.linalg.norm(v)


@dataclass
class Block:
    """Faces by their true normals, in the part's own axes; the part as it lies is a rotation to the machine's axes."""

    normals: dict[str, Vector]
    lies: Vector

    def hold(self, s: Any, seat: float, jaw: float) -> None:
        below, fixed = self.normals[OPPOSITE[s.holding.up]], self.normals[s.holding.fixed]
        on_seat = about(1, seat) @ np.array([0.0, 0.0, -1.0])
        at_jaw = about(2, jaw) @ np.array([0.0, 1.0, 0.0])
        if s.holding.soft_bar:
            # flat on the jaw, and along the jaw as the seat has it
            first, second, to_first, to_second = fixed, below, at_jaw, on_seat
        else:
            first, second, to_first, to_second = below, fixed, on_seat, at_jaw

        def frame(a: Vector, b: Vector) -> Vector:
            e1 = unit_of(a)
            e2 = unit_of(b - e1 * (b @ e1))
            return np.column_stack([e1, e2, np.cross(e1, e2)])

        self.lies = frame(to_first, to_second) @ frame(first, second).T

    def cut(self, s: Any, name: str, tilt: float, nod: float) -> None:
        axis, out = SIDES[name]
        machine = s.place.along(axis)
        normal = np.zeros(3)
        normal[machine] = out * s.place.signs[machine]
        if machine != 2:
            # the side of the cutter: along its travel level, upwards as the spindle leans
            normal = (about(1, tilt) if machine == 0 else about(0, nod)) @ normal
        self.normals[name] = self.lies.T @ normal

    def drill(self, s: Any, tilt: float, nod: float) -> Vector:
        """The direction of a hole that the quill drills, in the part's own axes, 1 along the axis that it follows."""
        found = self.lies.T @ about(1, tilt) @ about(0, nod) @ np.array([0.0, 0.0, 1.0])
        return found / found[SIDES[s.holding.up][0]]

    def shown(self, face: str, datum: str, run: tuple[int, ...]) -> float:
        """What an indicator shows over a face that runs along these axes of the part, the part on its datum."""
        n, d = self.normals[face], self.normals[datum]
        normal_axis, datum_axis = SIDES[face][0], SIDES[datum][0]
        heights = []
        for corner in itertools.product(*((0.0, float(SIZE[a])) if a in run else (0.0,) for a in range(3))):
            p = np.array(corner)
            p[normal_axis] = -sum(n[a] * p[a] for a in range(3) if a != normal_axis) / n[normal_axis]
            # a part on its datum turns so that this lies flat; then the indicator reads across the face
            seen = p - d * (p @ d) / (d @ d) if normal_axis != datum_axis else p
            heights.append(seen[normal_axis] if normal_axis != datum_axis else p @ unit_of(d))
        return max(heights) - min(heights)


@pytest.mark.parametrize("seed", range(40))
def test_a_block_turned_over_and_over_is_as_true_as_in_space(seed: int) -> None:
    chance = random.Random(seed)
    lie, block = Lie(), Block({n: np.eye(3)[a] * o for n, (a, o) in SIDES.items()}, np.eye(3))
    holes: dict[str, tuple[int, Vector]] = {}
    for n in range(5):
        up = chance.choice(list(SIDES))
        fixed = chance.choice([f for f in SIDES if SIDES[f][0] != SIDES[up][0]])
        s = stage(up, fixed, soft_bar=chance.random() < 0.5)
        seat, jaw, tilt, nod = (Fraction(chance.randint(-30, 30), 10_000) for _ in range(4))
        lie.hold(s, Stands(Off(seat), Off(jaw), Off(tilt), Off(nod)))
        block.hold(s, float(seat), float(jaw))
        beside = [f for f in SIDES if f not in (up, OPPOSITE[up], fixed, OPPOSITE[fixed])]
        for name in (up, chance.choice(beside)):
            lie.cut(s, plane(name), Settled(width=WIDE), WIDE)
            block.cut(s, name, float(tilt), float(nod))
        lie.drill(s, f"hole {n}", quill=True)
        holes[f"hole {n}"] = (SIDES[up][0], block.drill(s, float(tilt), float(nod)))
    for one, other in itertools.permutations(SIDES, 2):
        a, b = plane(one), plane(other)
        if a.axis == b.axis:
            found = float(lie.parallel(a, b, Fraction(1)).mm)
            there = block.shown(one, other, tuple(x for x in range(3) if x != a.axis))
        else:
            found = float(lie.square(a, b, Fraction(1)).mm)
            there = block.shown(one, other, (b.axis,))
        assert found == pytest.approx(there, abs=0.01), (one, other)
    for (name, (along, way)), (face, (axis, out)) in itertools.product(holes.items(), SIDES.items()):
        if axis != along:
            there = float(way @ unit_of(block.normals[face])) * out
            assert float(lie.leans(name, along, face, axis).mm) == pytest.approx(there, abs=2e-4), (name, face)


def test_under_a_leaning_cutter_a_face_is_hollow_along_its_feed_and_stepped_across() -> None:
    lean = Fraction(3, 1000)
    for run, across, stands, uneven in (
        (
            0,
            1,
            Stands(tilt=Off(lean)),
            0.03,
        ),  # at the edge of 40 a radius of 25 reaches 25 - 15 less far: 10 times 0.003
        (0, 1, Stands(nod=Off(lean)), 0.0),
        (0, 3, Stands(nod=Off(lean)), 0.12),  # lanes of 40 apart
        (1, 1, Stands(nod=Off(lean)), 0.03),
        (1, 3, Stands(tilt=Off(lean)), 0.12),
    ):
        lie = Lie()
        lie.hold(stage("top", "rear", soft_bar=False), stands)
        lie.cut(
            stage("top", "rear", soft_bar=False),
            plane("top"),
            Settled(run=run, across=across, width=Fraction(40)),
            WIDE,
        )
        assert float(lie.uneven["top"].mm) == pytest.approx(uneven, abs=1e-3), (run, across)


@pytest.mark.parametrize("held", [HeldIn.STRAPS, HeldIn.V_BLOCK])
def test_only_in_a_vise_is_work_as_the_jaw_stands(held: HeldIn) -> None:
    lie = Lie()
    lie.hold(stage("top", "rear", soft_bar=False, held=held), Stands(seat=Off(HAIR), jaw=Off(HAIR)))
    assert lie.work[2].mm == 0
    assert bool(lie.work[1].mm) is (held is HeldIn.STRAPS)


def test_what_was_cut_out_of_true_is_laid_to_its_act_and_no_more_once_it_is_turned_over() -> None:
    """A chip under the first face leaves it out of true with nothing: what is cut from it follows it."""
    chip = Cause("h1.hold", Code.CHIP, "", Fraction(1, 4), "A chip lay under the left end of the work", Unit.MM)
    lie, top, bottom, left = Lie(), plane("top"), plane("bottom"), plane("left")
    lie.hold(stage("top", "rear", soft_bar=False), Stands(seat=Off(HAIR, (chip,))))
    lie.cut(stage("top", "rear", soft_bar=False), top, Settled(width=WIDE), WIDE)
    assert lie.parallel(top, bottom, Fraction(1)) == Off(HAIR * SIZE[0], (chip,))
    lie.hold(stage("bottom", "rear", soft_bar=False), Stands())
    lie.cut(stage("bottom", "rear", soft_bar=False), bottom, Settled(width=WIDE), WIDE)
    assert lie.parallel(top, bottom, Fraction(1)) == Off()
    assert lie.square(left, bottom, Fraction(1)) == Off(HAIR * SIZE[2], (chip,)), "the sawn end is out with both"
