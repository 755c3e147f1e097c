"""What was kept as JSON, read back as the value that it is of: kept data may be anything, and no page falls over it."""

from typing import Any, TypeVar

from pydantic import TypeAdapter, ValidationError
from pydantic_core import ErrorDetails, from_json

Value = TypeVar("Value")
MOST_WRONG = 50  # rounds of taking out what is wrong


def read(adapter: TypeAdapter[Value], text: str | None, otherwise: Value) -> Value:
    """The value that a text holds. What is wrong is left out, an item or a field, as little as can be; `otherwise`
    where nothing of it can be read."""
    try:
        told = from_json(text or "")
    except ValueError:
        return otherwise
    for _ in range(MOST_WRONG):
        try:
            return adapter.validate_python(told)
        except ValidationError as error:
            # From the end, so that places before it stay what they are.
            places = sorted({_place(each) for each in error.errors(include_url=False)}, key=_in_order, reverse=True)
            taken = [place for place in places if place and _taken_out(told, place)]
            if not taken:
                return otherwise
    return otherwise


def _place(error: ErrorDetails) -> tuple[int | str, ...]:
    """Of what has to go: where a field is missing it is what should have it."""
    return error["loc"][:-1] if error["type"] == "missing" else error["loc"]


def _in_order(place: tuple[int | str, ...]) -> list[tuple[bool, int, str]]:
    return [(isinstance(step, int), step if isinstance(step, int) else 0, str(step)) for step in place]


def _taken_out(told: Any, place: tuple[int | str, ...]) -> bool:
    """Whether anything went."""
    *way, last = place if place[-1] != "[key]" else place[:-1]  # a key that is wrong goes with its value
    try:
        for step in way:
            told = told[step]
        del told[last]
    except (LookupError, TypeError):  # it went with what it was in
        return False
    return True
