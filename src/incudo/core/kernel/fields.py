"""The fields that files and forms of the trade are made of, and how what cannot be read is refused."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Annotated, Any, TypeVar

from pydantic import BaseModel, BeforeValidator, ConfigDict, StringConstraints, ValidationError

from incudo.core.kernel.errors import FieldError, Refused, shorten
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say, say_many, str_of
from incudo.core.kernel.wire import read_json


def _text_only(value: Any) -> Any:
    if not isinstance(value, str):
        raise ValueError(say('write numbers as text, such as "0.250"'))
    Length.parse(value, Unit.MM)
    return value


def _refusals_as_errors(value: Any) -> Any:
    try:
        return _text_only(value)
    except Refused as refused:
        raise ValueError(refused.errors[0].bound) from None


Num = Annotated[str, BeforeValidator(_refusals_as_errors)]


Word = Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True)]


Line = Annotated[str, StringConstraints(max_length=400)]


Key = Annotated[str, StringConstraints(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=60)]


class Strict(BaseModel):
    """Base of what is read from a file: it never changes afterwards, and unknown fields are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid")


M = TypeVar("M", bound=BaseModel)


def own_errors(error: ValidationError) -> list[Any]:
    """What pydantic found, without the lists that are too short only because what stands in them was refused."""
    found = error.errors(include_url=False)
    return [e for e in found if e["type"] != "too_short" or not any(_inside(x["loc"], e["loc"]) for x in found)]


def _inside(place: tuple[Any, ...], whole: tuple[Any, ...]) -> bool:
    return len(place) > len(whole) and place[: len(whole)] == whole


def bound_of(e: Any) -> str:
    """The bound that one of pydantic's errors broke, in the words of this application."""
    kind, ctx = str(e["type"]), e.get("ctx", {})
    cause = ctx.get("error")
    if isinstance(cause, ValueError) and cause.args:
        return str_of(cause.args[0])
    if kind == "string_too_short" and ctx["min_length"] == 1:
        return say("must not be empty")
    if kind in _BOUNDS:
        return _BOUNDS[kind](ctx)
    return next((words for begins, words in _KINDS.items() if kind.startswith(begins)), str(e["msg"]))


def _listed(codes: str) -> str:
    """Pydantic's list of codes without its quotation marks."""
    return codes.replace("' or '", "', '").replace("'", "")


#: What a text must look like, by its pattern.
PATTERNS = {
    r"^[0-9]{4,8}$": say("must be 4 to 8 digits"),
    r"^[A-Z]$": say("must be one capital letter"),
    r"^[A-Z]?$": say("must be one capital letter, or empty"),
    r"^[A-Z]{0,3}$": say("must be at most 3 capital letters"),
    r"^[a-z0-9]+(-[a-z0-9]+)*$": say("must be small letters and digits with hyphens between, such as tide-block"),
    r"^[a-zA-Z0-9-]{1,40}$": say("must be 1 to 40 letters, digits or hyphens"),
    r"^[A-Za-z0-9-]*$": say("must have letters, digits and hyphens only"),
    r"^[a-z0-9_-]*$": say("must have small letters, digits, hyphens and underscores only"),
    r"^[a-z_]+$": say("must be small letters and underscores"),
    r"^-?[0-9]{1,7}(\.[0-9]{1,6})?$": say("must be a plain number such as 0.2485"),
    r"^[MLHVCQAZmlhvcqaz0-9 .,-]+$": say("must be the path of a drawing: its letters and numbers only"),
    r"^[^.\x00-\x1f]+$": say("must have no full stop in it"),
}
#: What a value must keep to, by pydantic's name for it not doing so.
_BOUNDS: dict[str, Callable[[Any], str]] = {
    "missing": lambda _: say("is missing"),
    "extra_forbidden": lambda _: say("is not a known field"),
    "string_too_short": lambda ctx: say("must have at least {ctx} characters", ctx=ctx["min_length"]),
    "string_too_long": lambda ctx: say("must have at most {ctx} characters", ctx=ctx["max_length"]),
    "string_pattern_mismatch": lambda ctx: PATTERNS.get(
        ctx["pattern"], say("must look like {ctx}", ctx=ctx["pattern"])
    ),
    "too_short": lambda ctx: say_many(
        "must have at least {count} entry", "must have at least {count} entries", count=ctx["min_length"]
    ),
    "too_long": lambda ctx: say_many(
        "must have at most {count} entry", "must have at most {count} entries", count=ctx["max_length"]
    ),
    "greater_than_equal": lambda ctx: say("must be at least {ctx}", ctx=ctx["ge"]),
    "greater_than": lambda ctx: say("must be more than {ctx}", ctx=ctx["gt"]),
    "less_than_equal": lambda ctx: say("must be at most {ctx}", ctx=ctx["le"]),
    "less_than": lambda ctx: say("must be less than {ctx}", ctx=ctx["lt"]),
    "literal_error": lambda ctx: say("must be one of: {listed}", listed=_listed(ctx["expected"])),
    "enum": lambda ctx: say("must be one of: {listed}", listed=_listed(ctx["expected"])),
    "union_tag_invalid": lambda ctx: say(
        "{field} must be one of: {listed}", field=_listed(ctx["discriminator"]), listed=_listed(ctx["expected_tags"])
    ),
    "union_tag_not_found": lambda ctx: say("{field} is missing", field=_listed(ctx["discriminator"])),
}

#: What a value must be, by the first letters of pydantic's names for it not being so.
_KINDS = {
    "string_": say("must be text"),
    "int_": say("must be a whole number"),
    "float_": say("must be a number"),
    "decimal_": say("must be a number"),
    "bool_": say("must be true or false"),
    "uuid_": say("must be an id: 32 hexadecimal digits"),
    "datetime_": say("must be a date and time such as 2026-11-24T18:30:00Z"),
    "timezone_": say("must be a date and time with its zone, such as 2026-11-24T18:30:00Z"),
    "date_": say("must be a date such as 2026-11-24"),
    "list_": say("must be a list"),
    "tuple_": say("must be a list"),
    "model_": say("must be an object with named fields"),
    "mapping_": say("must be an object with named fields"),
    "dict_": say("must be an object with named fields"),
}


def field_errors(error: ValidationError) -> Iterable[FieldError]:
    """What pydantic says as field errors: the place with dots between, what stands there, the bound."""
    for e in own_errors(error):
        where = ".".join(str(part) for part in e["loc"])
        given = e["input"] if isinstance(e["input"], (str, int, float)) else ""
        yield FieldError(where, shorten(given), bound_of(e))


def read_model(model: type[M], data: Any, whole: str = "file") -> M:
    """Data as a model. Raises ``Refused`` with one error for each place; ``whole`` names the data itself."""
    try:
        return model.model_validate(data)
    except ValidationError as error:
        raise Refused(*(e if e.field else FieldError(whole, e.value, e.bound) for e in field_errors(error))) from None


def parsed(text: str, field: str = "file", most: int = 400_000) -> Any:
    """JSON as it was typed. Raises ``Refused`` naming the place, and for more than ``most`` characters."""
    if len(text) > most:
        raise Refused.of(field, text, say("must have at most {most} characters", most=most))
    return read_json(text, field)
