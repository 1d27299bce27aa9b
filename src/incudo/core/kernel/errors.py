"""What can be wrong with an input, as data; the sentence is built at the end."""

from __future__ import annotations

from dataclasses import dataclass

_ECHO = 60


def shorten(value: object) -> str:
    """The value as it may be repeated to the person: at most 60 characters."""
    text = str(value)
    return text if len(text) <= _ECHO else f"{text[:_ECHO]}… ({len(text)} characters)"


@dataclass(frozen=True)
class FieldError:
    """One refused field: where, what was given, and the bound it broke."""

    field: str
    value: str
    bound: str

    def __str__(self) -> str:
        return f"{self.field}: {self.bound} (given: {self.value or 'nothing'})"


class DomainError(Exception):
    """Base of every refusal that the rules of the job make."""


class Refused(DomainError):
    """The input cannot be taken; carries one ``FieldError`` per field."""

    def __init__(self, *errors: FieldError) -> None:
        self.errors = errors
        super().__init__("; ".join(str(e) for e in errors))

    @classmethod
    def of(cls, field: str, value: object, bound: str) -> Refused:
        return cls(FieldError(field, shorten(value), bound))


class NotPermitted(DomainError):
    """The act is well-formed but the person may not do it; ``reasons`` say why, in words."""

    def __init__(self, *reasons: str) -> None:
        self.reasons = reasons
        super().__init__(" ".join(reasons))


class Conflict(DomainError):
    """The act clashes with what is already recorded."""


class NotFound(DomainError):
    """What was named does not exist, or not for this person."""
