"""What stands in the JSON document of a shelf, checked: times, days, names, numbers, colours."""

import re
from typing import Annotated

from pydantic import AfterValidator, Field
from pydantic_core import PydanticCustomError

from diachrom import clock
from diachrom.core.mix import sound
from diachrom.core.mix.layers import THICKEST_COAT_UM
from diachrom.exchange.text import writable
from diachrom.words import say

PAINT_ID = r"[A-Za-z0-9][A-Za-z0-9._-]{0,79}"


def _a_time(value: str) -> str:
    if clock.moment(value) is None:
        raise PydanticCustomError("time", say("this is no time such as 2026-03-31T10:00:00+00:00"))
    return value


def _a_day(value: str) -> str:
    if len(value) != len("2026-03-31") or clock.day_of(value) is None:
        raise PydanticCustomError("day", say("this is no day such as 2026-03-31"))
    return value


def _plain(value: str) -> str:
    if writable(value) != value:
        raise PydanticCustomError("text", say("it holds a character that cannot be written"))
    return value


def _not_blank(value: str) -> str:
    if not value.strip():
        raise PydanticCustomError("blank", say("it is blank"))
    return value


def _an_id(value: str) -> str:
    if not re.fullmatch(PAINT_ID, value):
        raise PydanticCustomError("id", say("a paint's id is up to 80 letters, digits, dots and dashes"))
    return value


def _a_ground(value: str) -> str:
    if not sound.is_ground(value):
        raise PydanticCustomError("ground", say("there is no such ground"))
    return value


Day = Annotated[str, AfterValidator(_a_day)]
When = Annotated[str, Field(max_length=40), AfterValidator(_a_time)]
Short = Annotated[str, Field(max_length=80), AfterValidator(_plain)]
Name = Annotated[Short, Field(min_length=1), AfterValidator(_not_blank)]
Long = Annotated[str, Field(max_length=2000), AfterValidator(_plain)]
GroundKey = Annotated[str, Field(max_length=80), AfterValidator(_a_ground)]
PaintId = Annotated[str, AfterValidator(_an_id)]
Number = Annotated[int, Field(ge=1, le=2**40)]
Film = Annotated[float, Field(ge=sound.THINNEST_UM, le=THICKEST_COAT_UM, allow_inf_nan=False)]
Coordinate = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]
Lab = Annotated[list[Coordinate], Field(min_length=3, max_length=3)]
Ml = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
