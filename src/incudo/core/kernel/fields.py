"""The fields that files and forms of the trade are made of, and how what cannot be read is refused."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Any, TypeVar

from pydantic import BaseModel, BeforeValidator, ConfigDict, StringConstraints, ValidationError

from incudo.core.kernel.errors import FieldError, Refused, shorten
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say
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


def field_errors(error: ValidationError) -> Iterable[FieldError]:
    """What pydantic says as field errors: the place with dots between, what stands there, the bound."""
    for e in error.errors():
        where = ".".join(str(part) for part in e["loc"])
        given = e["input"] if isinstance(e["input"], (str, int, float)) else ""
        yield FieldError(where, shorten(given), str(e["msg"]).removeprefix("Value error, "))


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
