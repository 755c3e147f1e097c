"""The airbrushes of this bench: nozzle, pressure, distance and thinning said once. One is in the hand now."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace

from pydantic import BaseModel, Field, TypeAdapter

from diachrom.core.bait.plan import FARTHEST_MM, NEAREST_MM, USUAL_MM, Layer
from diachrom.core.mix.reducing import HANDS, HIGHEST_BAR, LOWEST_BAR
from diachrom.errors import InvalidInput
from diachrom.store import kept, settings
from diachrom.store.connection import writing
from diachrom.units import BAR, MM
from diachrom.words import listed, quantity, say
from diachrom.work.kit.figures import figure

KEY, MOST, LONGEST_NAME = "airbrushes", 9, 40
NARROWEST_MM, WIDEST_MM = 0.1, 2.0


@dataclass(frozen=True)
class Airbrush:
    """How one is used as a rule."""

    name: str = ""
    nozzle_mm: float = 0.3
    pressure_bar: float = 1.4
    distance_mm: float = USUAL_MM
    hand: str = "thin"  # of HANDS: how far paint is thinned for it

    @property
    def words(self) -> str:
        """ "0.3 mm, 1.4 bar, 80 mm away" """
        return say(
            "{nozzle}, {pressure}, {distance} away",
            nozzle=quantity(self.nozzle_mm, "g", "mm"),
            pressure=quantity(self.pressure_bar, "g", "bar"),
            distance=quantity(self.distance_mm, "g", "mm"),
        )

    def taken_by(self, layer: Layer) -> Layer:
        """A layer as this airbrush sprays it."""
        return replace(layer, nozzle_mm=self.nozzle_mm, pressure_bar=self.pressure_bar, distance_mm=self.distance_mm)

    def differs(self, layer: Layer) -> list[tuple[str, str]]:
        """What a layer wants otherwise: words and value."""
        every = (
            (say("Nozzle"), layer.nozzle_mm, self.nozzle_mm, "mm"),
            (say("Pressure"), layer.pressure_bar, self.pressure_bar, "bar"),
            (say("Distance"), layer.distance_mm, self.distance_mm, "mm"),
        )
        return [(words, quantity(own, "g", unit)) for words, own, usual, unit in every if abs(own - usual) > 1e-6]


class KeptAirbrush(BaseModel):
    name: str = Field("", max_length=LONGEST_NAME)
    nozzle_mm: kept.Number = Field(0.3, ge=NARROWEST_MM, le=WIDEST_MM)
    pressure_bar: kept.Number = Field(1.4, ge=LOWEST_BAR, le=HIGHEST_BAR)
    distance_mm: kept.Number = Field(USUAL_MM, ge=NEAREST_MM, le=FARTHEST_MM)
    hand: str = "thin"


class Kept(BaseModel):
    chosen: kept.Whole = Field(0, ge=0, le=MOST)
    every: list[KeptAirbrush] = []


KEPT = TypeAdapter(Kept)


def every(connection: sqlite3.Connection) -> tuple[Sequence[Airbrush], int]:
    """All of them, one at least, and which is in the hand."""
    told = kept.read(KEPT, settings.every(connection).get(KEY), Kept())
    found = [Airbrush(**vars(one)) for one in told.every] or [Airbrush()]
    found = [one if one.hand in HANDS else replace(one, hand="thin") for one in found]
    return found, min(told.chosen, len(found) - 1)


def mine(connection: sqlite3.Connection) -> Airbrush:
    """The one in the hand."""
    found, chosen = every(connection)
    return found[chosen]


def _kept(found: Sequence[Airbrush], chosen: int) -> Mapping[str, str]:
    told = Kept(chosen=chosen, every=[KeptAirbrush(**asdict(one)) for one in found])
    return {KEY: told.model_dump_json()}


def save(connection: sqlite3.Connection, at: int, given: Mapping[str, str]) -> None:
    """Say how one is used; the place after the last is a new one. It is in the hand then. Raises InvalidInput."""
    found, _ = every(connection)
    if not 0 <= at <= min(len(found), MOST - 1):
        raise InvalidInput(say("A bench has at most {most} airbrushes.", most=MOST), field="airbrush")
    hand = given.get("hand", "thin")
    if hand not in HANDS:
        raise InvalidInput(say("Thinning is one of {hands}.", hands=listed(HANDS.values())), field="hand")

    def read(key: str, words: str, low: float, high: float, units: Mapping[str, float]) -> float:
        return figure(given.get(key, ""), words, key=key, least=low, most=high, units=units)

    new = Airbrush(
        " ".join(given.get("name", "").split())[:LONGEST_NAME],
        read("nozzle_mm", say("Nozzle"), NARROWEST_MM, WIDEST_MM, MM),
        read("pressure_bar", say("Pressure"), LOWEST_BAR, HIGHEST_BAR, BAR),
        read("distance_mm", say("Distance"), NEAREST_MM, FARTHEST_MM, MM),
        hand,
    )
    with writing(connection):
        settings.put(connection, _kept([*found[:at], new, *found[at + 1 :]], at))


def choose(connection: sqlite3.Connection, at: int) -> None:
    """Take one into the hand. Raises InvalidInput."""
    found, _ = every(connection)
    if not 0 <= at < len(found):
        raise InvalidInput(say("There is no such airbrush."), field="airbrush")
    with writing(connection):
        settings.put(connection, _kept(found, at))


def remove(connection: sqlite3.Connection, at: int) -> None:
    """Away with one; the last that is left stays. Raises InvalidInput."""
    found, chosen = every(connection)
    if not 0 <= at < len(found) or len(found) == 1:
        raise InvalidInput(say("One airbrush stays: change it instead."), field="airbrush")
    with writing(connection):
        settings.put(connection, _kept([*found[:at], *found[at + 1 :]], chosen - (at <= chosen and chosen > 0)))
