"""Values for the arguments of core's functions, drawn by their types from a few round numbers: bounds are met often."""

from __future__ import annotations

import collections.abc
import dataclasses
import enum
import importlib
import inspect
import pkgutil
import random
import types
import typing
from collections.abc import Callable, Iterator
from datetime import date, datetime
from decimal import Decimal
from fractions import Fraction
from functools import cached_property
from typing import Any

import incudo.core
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from tests.approved.told import mark, short, told
from tests.approved.worlds import World, jobs
from tests.core.skills import records
from tests.mutants import DRAWN

NUMBERS = (
    *("0", "1/1000", "1/100", "1/20", "1/10", "1/4", "1/2", "1", "3/2", "2", "3", "5", "8", "10", "25.4"),
    *("50", "100", "-1", "-1/10"),
)
#: Of things of a job: a cutter of a thousandth would take a day over it.
COARSE = ("1", "2", "3", "5", "8", "10", "25.4", "50")
WORDS = ("", "x", "0.5", "1", "2.25", "3/8", "12", "left", "right")
MANY = (collections.abc.Sequence, collections.abc.Iterable, collections.abc.Collection, list)
DAYS = (0, 1, 7, 30, 90, 365)
#: So deep goes one thing inside of another, so often a function is tried (with things of a job less often).
DEEP, TRIES, HEAVY = 6, 40, 8
#: What takes seconds, and has a page of its own.
LONG = {
    "own_plan",
    "sound_job",
    "made_up",
    "done_right",
    "with_slip",
    "slips",
    "slips_at",
    "vary",
    "DryRun",
    "Job",
    "saw",
}


class CannotDrawError(Exception):
    """Nothing of this type can be made from numbers, nor is it in the world."""


@dataclasses.dataclass(frozen=True)
class Drawer:
    """Draws values by their types: from a world what is in it, everything else from numbers."""

    chance: random.Random
    world: World
    numbers: tuple[str, ...] = NUMBERS

    def draw(self, kind: Any, deep: int = 0) -> Any:
        """A value of a type. Raises ``CannotDrawError``, or what its class says of it."""
        chance, of, inside = self.chance, typing.get_origin(kind), typing.get_args(kind)
        if deep > DEEP:
            raise CannotDrawError(kind)
        plain: dict[Any, Callable[[], Any]] = {
            Fraction: lambda: Fraction(chance.choice(self.numbers)),
            float: lambda: float(Fraction(chance.choice(self.numbers))),
            Decimal: lambda: Decimal(str(float(Fraction(chance.choice(self.numbers))))),
            int: lambda: chance.choice((0, 1, 2, 3, 4, 5, 10, 50)),
            bool: lambda: chance.random() < 0.5,
            str: lambda: chance.choice(WORDS),
            Length: lambda: Length(chance.choice(WORDS[2:5]), chance.choice(list(Unit))),
            datetime: lambda: records.ago(chance.choice(DAYS)),
            date: lambda: records.ago(chance.choice(DAYS)).date(),
            random.Random: lambda: random.Random(chance.randrange(9)),
            type(None): lambda: None,
        }
        if kind in plain:
            return plain[kind]()
        if inspect.isclass(kind) and issubclass(kind, enum.Enum):
            return chance.choice(list(kind))
        if inspect.isclass(kind) and self.world.of.get(kind):
            return self.world.one(kind, chance)
        if of is typing.Annotated:
            return self.draw(inside[0], deep)
        if of in (typing.Union, types.UnionType):
            return self.draw(chance.choice(inside), deep + 1)
        if of is typing.Literal:
            return chance.choice(inside)
        if of is tuple and inside[1:] != (Ellipsis,):
            return tuple(self.draw(x, deep + 1) for x in inside)
        if of is tuple or of in MANY:
            return tuple(self.draw(inside[0], deep + 1) for _ in range(chance.randrange(5)))
        if of in (set, frozenset):
            return of(self.draw(inside[0], deep + 1) for _ in range(chance.randrange(5)))
        if of in (dict, collections.abc.Mapping):
            return {self.draw(inside[0], deep + 1): self.draw(inside[1], deep + 1) for _ in range(2)}
        if dataclasses.is_dataclass(kind) and isinstance(kind, type):
            hints = typing.get_type_hints(kind, include_extras=True)
            return kind(**{f.name: self.draw(hints[f.name], deep + 1) for f in dataclasses.fields(kind) if f.init})
        raise CannotDrawError(kind)


def everything() -> Iterator[tuple[str, Callable[..., Any], dict[str, Any]]]:
    """Every public function of core that can be given drawn values, and every property of a class that can."""
    for found in sorted(pkgutil.walk_packages(incudo.core.__path__, "incudo.core."), key=lambda m: m.name):
        module = importlib.import_module(found.name)
        if DRAWN & set(found.name.replace(".", "_").split("_")):
            continue
        for name, thing in sorted(vars(module).items()):
            if name.startswith("_") or getattr(thing, "__module__", "") != module.__name__:
                continue
            if inspect.isfunction(thing):
                hints = typing.get_type_hints(thing, include_extras=True)
                hints.pop("return", None)
                yield f"{found.name}.{name}", thing, hints
            elif dataclasses.is_dataclass(thing) and isinstance(thing, type):
                yield f"{found.name}.{name}", properties_of, {"of": thing}


def properties_of(of: Any) -> dict[str, Any]:
    """Everything that a value says of itself without being given anything."""
    kinds = (property, cached_property)
    names = sorted(n for n, v in vars(type(of)).items() if not n.startswith("_") and isinstance(v, kinds))
    return {n: _asked(getattr, of, n) for n in names}


def _asked(ask: Callable[..., Any], *args: Any, **named: Any) -> str:
    try:
        found = ask(*args, **named)
        return told(list(found) if isinstance(found, Iterator) else found)
    except Refused as refused:
        return "; ".join(f"{e.field}: {e.bound}" for e in refused.errors)
    except Exception as fault:
        return type(fault).__name__


def functions() -> Iterator[str]:
    """Public functions of core and properties of its classes with values drawn by chance: what comes out; the first
    answer in words, all of them as a mark.
    """
    for name, function, hints in everything():
        if name.rpartition(".")[2] in LONG:
            continue
        lines: list[str] = []
        for number in range(TRIES):
            chance = random.Random(f"{name} {number}")
            world = jobs()[number % len(jobs())]
            heavy = any(world.of.get(kind) for kind in hints.values() if inspect.isclass(kind))
            if heavy and number >= HEAVY:
                break
            drawer = Drawer(chance, world, COARSE if heavy else NUMBERS)
            try:
                given = {k: drawer.draw(v) for k, v in hints.items()}
            except (CannotDrawError, Refused, ArithmeticError, ValueError, LookupError, TypeError):
                continue
            said = _asked(function, **given)
            if said != "{}":
                lines.append(f"{name} {', '.join(_named(drawer.world, x) for x in given.values())} = {said}")
        if lines:
            yield f"{short(lines[0])} [{len(lines)} {mark(lines)}]"


def _named(world: World, x: Any) -> str:
    return type(x).__name__ if type(x) in world.of else told(x)
