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
from fractions import Fraction
from functools import cached_property
from typing import Any

import incudo.core
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from tests.approved.told import mark, short, told
from tests.mutants import DRAWN

NUMBERS = (
    *("0", "1/1000", "1/100", "1/20", "1/10", "1/4", "1/2", "1", "3/2", "2", "3", "5", "8", "10", "25.4"),
    *("50", "100", "-1", "-1/10"),
)
WORDS = ("", "x", "0.5", "1", "2.25", "3/8", "12", "left", "right")
MANY = (collections.abc.Sequence, collections.abc.Iterable, collections.abc.Collection, list)
#: So deep goes one thing inside of another, so often a function is tried, so many of its answers are written out.
DEEP, TRIES, SHOWN = 6, 40, 5


class CannotDrawError(Exception):
    """Nothing of this type can be made from numbers."""


def draw(kind: Any, chance: random.Random, deep: int = 0) -> Any:
    """A value of a type. Raises ``CannotDrawError``, or what its class says of it."""
    of, inside = typing.get_origin(kind), typing.get_args(kind)
    if deep > DEEP:
        raise CannotDrawError(kind)
    plain: dict[Any, Callable[[], Any]] = {
        Fraction: lambda: Fraction(chance.choice(NUMBERS)),
        float: lambda: float(Fraction(chance.choice(NUMBERS))),
        int: lambda: chance.choice((0, 1, 2, 3, 4, 5, 10, 50)),
        bool: lambda: chance.random() < 0.5,
        str: lambda: chance.choice(WORDS),
        Length: lambda: Length(chance.choice(WORDS[2:5]), chance.choice(list(Unit))),
        type(None): lambda: None,
    }
    if kind in plain:
        return plain[kind]()
    if inspect.isclass(kind) and issubclass(kind, enum.Enum):
        return chance.choice(list(kind))
    if of is typing.Annotated:
        return draw(inside[0], chance, deep)
    if of in (typing.Union, types.UnionType):
        return draw(chance.choice(inside), chance, deep + 1)
    if of is typing.Literal:
        return chance.choice(inside)
    if of is tuple and inside[1:] != (Ellipsis,):
        return tuple(draw(x, chance, deep + 1) for x in inside)
    if of is tuple or of in MANY:
        return tuple(draw(inside[0], chance, deep + 1) for _ in range(chance.randrange(5)))
    if of is collections.abc.Mapping:
        return {draw(inside[0], chance, deep + 1): draw(inside[1], chance, deep + 1) for _ in range(2)}
    if dataclasses.is_dataclass(kind) and isinstance(kind, type):
        hints = typing.get_type_hints(kind, include_extras=True)
        return kind(**{f.name: draw(hints[f.name], chance, deep + 1) for f in dataclasses.fields(kind) if f.init})
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
        return told(ask(*args, **named))
    except Refused as refused:
        return "; ".join(f"{e.field}: {e.bound}" for e in refused.errors)
    except (ArithmeticError, ValueError, LookupError, TypeError, AttributeError) as fault:
        return type(fault).__name__


def functions() -> Iterator[str]:
    """Public functions of core and properties of its classes with values drawn by chance: what comes out."""
    for name, function, hints in everything():
        chance, lines = random.Random(name), []
        for _ in range(TRIES):
            try:
                given = {k: draw(v, chance) for k, v in hints.items()}
            except CannotDrawError:
                break
            except (Refused, ArithmeticError, ValueError, LookupError):
                continue
            said = _asked(function, **given)
            if said != "{}":
                lines.append(f"{name} {told(given)} = {said}")
        if lines:
            yield from map(short, lines[:SHOWN])
            yield f"{name} {len(lines)} {mark(lines)}"
