"""How a bench reads figures and days: kept in its folder, metric with a point unless somebody says otherwise."""

import sqlite3
from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields

from diachrom.errors import InvalidInput
from diachrom.store import settings
from diachrom.store.connection import writing

CHOICES = {
    "units": {"metric": "metric: ml, µm, bar", "imperial": "imperial: fl oz, mil, psi"},
    "decimals": {"point": "a point: 0.61", "comma": "a comma: 0,61"},
    "days": {"day": "day first: 2 September 2026", "month": "month first: September 2, 2026", "year": "2026-09-02"},
}


@dataclass(frozen=True)
class BenchSettings:
    """One of CHOICES each."""

    units: str = "metric"
    decimals: str = "point"
    days: str = "day"


def read(connection: sqlite3.Connection) -> BenchSettings:
    """What was chosen; what is none of the choices counts as never chosen."""
    kept = settings.every(connection)
    known = {one.name: kept.get(one.name, "") for one in fields(BenchSettings)}
    return BenchSettings(**{key: value for key, value in known.items() if value in CHOICES[key]})


def change(connection: sqlite3.Connection, given: Mapping[str, str]) -> BenchSettings:
    """Choose some of them anew. Raises InvalidInput for what is none of the choices."""
    for key, value in given.items():
        if value not in CHOICES.get(key, {}):
            raise InvalidInput(f"{key}: there is no choice called '{value[:40]}'.", field=key)
    with writing(connection):
        settings.put(connection, {**asdict(read(connection)), **given})
    return read(connection)


def own_words(connection: sqlite3.Connection) -> list[str]:
    """What people wrote themselves that figures may stand in: it is theirs, and is shown as it is."""
    return settings.texts_with_digits(connection)
