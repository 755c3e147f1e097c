"""The air in the room, and what it means for each clear: what was read or typed last is kept for the bench."""

import json
import sqlite3
from dataclasses import dataclass

from diachrom.core.finish.schools import SCHOOLS, Cured, School, air_words, cured, steps_told
from diachrom.core.session.events import FACTS
from diachrom.errors import InvalidInput
from diachrom.store import settings
from diachrom.store.connection import writing
from diachrom.words import quantity, say
from diachrom.work.plan.drying import drying_learned, drying_table

KEY = "air"
USUAL = (20.0, 50.0)
LONG_MIN, MANY_H = 100, 72  # from where hours are told, and days


@dataclass(frozen=True)
class Meant:
    """A school in this air."""

    school: School
    steps: tuple[str, ...]  # in words
    words: list[str]
    cured: Cured
    learned: float


def now(connection: sqlite3.Connection) -> tuple[float, float]:
    """°C and % as they were last told; what is usual where nobody told."""
    told = settings.document(connection, KEY)
    try:
        return checked(float(told["temperature_c"]), float(told["humidity_percent"]))
    except (InvalidInput, KeyError, TypeError, ValueError):
        return USUAL


def checked(temperature_c: float, humidity_percent: float) -> tuple[float, float]:
    """Raises InvalidInput."""
    for key, value in (("temperature_c", temperature_c), ("humidity_percent", humidity_percent)):
        FACTS[key].value(quantity(value, "g"), key)
    return temperature_c, humidity_percent


def typed(temperature: str, humidity: str) -> tuple[float, float]:
    """Raises InvalidInput."""
    return FACTS["temperature_c"].value(temperature, "temperature_c"), FACTS["humidity_percent"].value(
        humidity, "humidity_percent"
    )


def keep(connection: sqlite3.Connection, air: tuple[float, float]) -> None:
    """Keep the air that was read."""
    with writing(connection):
        told = {"temperature_c": air[0], "humidity_percent": air[1]}
        settings.put(connection, {KEY: json.dumps(told)})


def meant(connection: sqlite3.Connection, key: str, air: tuple[float, float]) -> Meant:
    """Raises InvalidInput."""
    if key not in SCHOOLS:
        raise InvalidInput(say("There is no clear called '{key}'.", key=key[:30]), field="school")
    school = SCHOOLS[key]
    own = drying_learned(connection).get(key)
    factor = 1.0 if own is None else own.factor
    row = drying_table(connection)[key]
    now = cured(school, row, air, factor)
    return Meant(school, steps_told(school, now), air_words(school, *air), now, factor)


def lasting(minutes: float) -> str:
    """ "40 min", "6 h", "3 days" """
    if minutes < LONG_MIN:
        return say("{minutes} min", minutes=quantity(minutes, ".0f"))
    hours = minutes / 60
    return quantity(hours, ".0f", "h") if hours < MANY_H else say("{hours} days", hours=quantity(hours / 24, ".0f"))
