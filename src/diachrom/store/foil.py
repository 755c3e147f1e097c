"""How flat this bench's hand lays foil, and how that is known."""

import json
import sqlite3
from dataclasses import asdict
from typing import Annotated, Literal

from pydantic import Field, TypeAdapter
from pydantic.dataclasses import dataclass

from diachrom.core.film.flakes import LARGEST_TILT_DEG, SMALLEST_TILT_DEG
from diachrom.core.film.grounds import BY_HAND_DEG
from diachrom.store import kept, settings
from diachrom.store.mist import believed

KEY = "foil"
Source = Literal["usual", "photos", "typed"]


@dataclass(frozen=True)
class Foil:
    tilt_deg: Annotated[kept.Number, Field(ge=SMALLEST_TILT_DEG, le=LARGEST_TILT_DEG)] = BY_HAND_DEG
    source: Source = "usual"


FOIL = TypeAdapter(Foil)


def now(connection: sqlite3.Connection) -> Foil:
    """What is believed of it; the usual where nothing was said."""
    return kept.read(FOIL, believed(connection)[2], Foil())


def put(connection: sqlite3.Connection, foil: Foil) -> None:
    """Believe another from now on. Inside `writing`."""
    settings.put(connection, {KEY: json.dumps(asdict(foil))})
