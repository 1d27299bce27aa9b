"""What a page for making parts offers: kinds of feature and of requirement, materials, threads, skills."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict

from incudo import shipped
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import View
from incudo.app.skills.graph import skill_graph
from incudo.core.parts.features import kinds
from incudo.core.parts.features.asking import specs
from incudo.store.shop import crib as store


class KeyedChoice(View):
    """Something to choose, by its key and name."""

    id: str
    name: str


class FeatureField(View):
    """A field of a feature: where it lies in the file, what it is called, what can stand in it."""

    path: str
    words: str
    of: str
    empty: str
    across: int | None
    choices: tuple[KeyedChoice, ...]


class FeatureVariant(View):
    """One way to say a feature, with its fields."""

    key: str
    words: str
    fields: tuple[FeatureField, ...]


class FeatureGroup(View):
    """A place in the file that can be said in several ways."""

    path: str
    words: str
    variants: tuple[FeatureVariant, ...]


class FeatureKind(View):
    """A kind of feature with its fields."""

    key: str
    words: str
    help: str
    fields: tuple[FeatureField, ...]
    groups: tuple[FeatureGroup, ...]
    on: tuple[str, ...]


class AskKind(View):
    """A kind of requirement with the names of its fields; an empty one has no such field."""

    key: str
    words: str
    tolerance: str
    empty: str
    readings: str
    datum: bool


class PartChoices(View):
    """What a part is made from: kinds of feature and of requirement, materials, threads, skills that are operations."""

    kinds: tuple[FeatureKind, ...]
    asks: tuple[AskKind, ...]
    materials: tuple[str, ...]
    threads: tuple[KeyedChoice, ...]
    operations: tuple[KeyedChoice, ...]
    skills: tuple[KeyedChoice, ...]


def part_choices(w: Work) -> PartChoices:
    """What a page for making parts offers."""
    skills = skill_graph(w).skills
    return PartChoices(
        kinds=tuple(_kind(k) for k in kinds.kinds()),
        asks=tuple(AskKind.model_validate(asdict(s)) for s in specs()),
        materials=tuple(m.name for m in store.materials(w.db)),
        threads=tuple(KeyedChoice(id=t.designation, name=str(t.unit)) for t in shipped.threads().values()),
        operations=tuple(KeyedChoice(id=s.id, name=s.name) for s in skills if s.operation),
        skills=tuple(KeyedChoice(id=s.id, name=s.name) for s in skills),
    )


def _fields(found: Iterable[kinds.FieldSpec]) -> tuple[FeatureField, ...]:
    return tuple(
        FeatureField(
            path=f.path,
            words=f.words,
            of=f.of,
            empty=f.empty,
            across=f.across,
            choices=tuple(KeyedChoice(id=key, name=words) for key, words in f.choices),
        )
        for f in found
    )


def _kind(k: kinds.KindSpec) -> FeatureKind:
    return FeatureKind(
        key=k.key,
        words=k.words,
        help=k.help,
        fields=_fields(k.fields),
        groups=tuple(
            FeatureGroup(
                path=g.path,
                words=g.words,
                variants=tuple(FeatureVariant(key=v.key, words=v.words, fields=_fields(v.fields)) for v in g.variants),
            )
            for g in k.groups
        ),
        on=k.on,
    )
