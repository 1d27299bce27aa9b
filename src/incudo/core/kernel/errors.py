"""What can be wrong with an input, as data; the sentence is built at the end."""

from __future__ import annotations

from dataclasses import dataclass

from incudo.core.kernel.say import say, together

_ECHO = 60


def shorten(value: object) -> str:
    """The value as it may be repeated to the person: at most 60 characters, none for nothing."""
    text = "" if value is None else str(value)
    return text if len(text) <= _ECHO else say("{text}… ({count} characters)", text=text[:_ECHO], count=len(text))


@dataclass(frozen=True)
class FieldError:
    """One refused field: where, what was given, and the bound it broke."""

    field: str
    value: str
    bound: str

    @property
    def words(self) -> str:
        """The whole sentence."""
        given = self.value or say("nothing")
        return say("{field}: {bound} (given: {given})", field=self.field, bound=self.bound, given=given)

    def __str__(self) -> str:
        return str(self.words)


class DomainError(Exception):
    """Base of every refusal that the rules of the job make."""

    @property
    def words(self) -> str:
        """What it says, as a sentence that can still be spoken in another language."""
        return self.args[0] if self.args else ""


class Refused(DomainError):
    """The input cannot be taken; carries one ``FieldError`` per field."""

    def __init__(self, *errors: FieldError) -> None:
        self.errors = errors
        super().__init__(together((e.words for e in errors), "; "))

    @classmethod
    def of(cls, field: str, value: object, bound: str) -> Refused:
        """Of one field: what was given, shortened, and its bound in words."""
        return cls(FieldError(field, shorten(value), bound))


class NotPermitted(DomainError):
    """The act is well-formed but the person may not do it; ``reasons`` say why, in words."""

    def __init__(self, *reasons: str) -> None:
        self.reasons = reasons
        super().__init__(together(reasons))


class Conflict(DomainError):
    """The act clashes with what is already recorded."""


class NotFound(DomainError):
    """What was named does not exist, or not for this person."""
