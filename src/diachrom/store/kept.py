"""What was kept as JSON, read back as the value that it is of: kept data may be anything, and no page falls over it."""

from collections.abc import Mapping
from typing import Annotated, Any, TypeVar

from pydantic import BeforeValidator, Field, TypeAdapter, ValidationError
from pydantic_core import ErrorDetails, from_json

from diachrom.core.mix import sound
from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML
from diachrom.words import say

Value = TypeVar("Value")
Other = TypeVar("Other")
Place = tuple[int | str, ...]
MOST_WRONG = 50  # rounds of taking out what is wrong


def _figure(value: object) -> object:
    """Neither a text that looks like one nor a yes."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        raise ValueError(say("it is no figure"))
    return value


Number = Annotated[float, BeforeValidator(_figure), Field(allow_inf_nan=False)]
Whole = Annotated[int, BeforeValidator(_figure), Field(ge=-sound.LARGEST_NUMBER, le=sound.LARGEST_NUMBER)]
RowNumber = Annotated[Whole, Field(ge=0)]
Coordinate = Annotated[Number, Field(ge=-1000, le=1000)]  # of L*, a*, b*
Lab = tuple[Coordinate, Coordinate, Coordinate]
DropMl = Annotated[Number, Field(ge=SMALLEST_DROP_ML, le=LARGEST_DROP_ML)]
DOCUMENT = TypeAdapter(dict[str, Any])


def read(adapter: TypeAdapter[Value], text: str | None, otherwise: Other) -> Value | Other:
    """The value that a text holds. What is wrong is left out, an item or a field, as little as can be; `otherwise`
    where nothing of it can be read."""
    try:
        return pruned(adapter, from_json(text or "", allow_inf_nan=False), otherwise)[0]
    except ValueError:
        return otherwise


def whole(adapter: TypeAdapter[Value], text: str | None, otherwise: Other) -> Value | Other:
    """The value that a text holds; `otherwise` where anything of it is wrong."""
    try:
        return adapter.validate_python(from_json(text or "", allow_inf_nan=False))
    except ValueError:
        return otherwise


def pruned(adapter: TypeAdapter[Value], told: Any, otherwise: Other) -> tuple[Value | Other, list[Place]]:
    """What values come to without what is wrong in them, and the places that went; who gave them keeps them whole."""
    gone: list[Place] = []
    for _ in range(MOST_WRONG):
        try:
            return adapter.validate_python(told), gone
        except ValidationError as error:
            told = told if gone else copied(told)
            # From the end, so that places before it stay what they are.
            places = sorted({_place(each) for each in error.errors(include_url=False)}, key=_in_order, reverse=True)
            taken = [place for place in places if place and _taken_out(told, place)]
            if not taken:
                break
            gone += taken
    return otherwise, gone


def copied(value: Any) -> Any:
    """Lists and mappings that may be changed."""
    if isinstance(value, Mapping):
        return {key: copied(each) for key, each in value.items()}
    return [copied(each) for each in value] if isinstance(value, (list, tuple)) else value


def _place(error: ErrorDetails) -> Place:
    """Of what has to go: where a field is missing it is what should have it."""
    return error["loc"][:-1] if error["type"] == "missing" else error["loc"]


def _in_order(place: Place) -> list[tuple[bool, int, str]]:
    return [(isinstance(step, int), step if isinstance(step, int) else 0, str(step)) for step in place]


def _taken_out(told: Any, place: Place) -> bool:
    """Whether anything went."""
    *way, last = place if place[-1] != "[key]" else place[:-1]  # a key that is wrong goes with its value
    try:
        for step in way:
            told = told[step]
        del told[last]
    except (LookupError, TypeError):  # it went with what it was in
        return False
    return True
