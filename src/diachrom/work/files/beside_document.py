"""What stands beside a shelf in the JSON document: drawdown cards, weighings, what is coming, targets, the trainer."""

from typing import Annotated, Literal

from pydantic import Field

from diachrom.core.mix.cup import MOST_DROPS
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.store.contrast_cards import BRIGHTEST, MOST_STEPS
from diachrom.work.files.bundle_types import Coordinate, GroundKey, Long, Number, PaintId, Short, When
from diachrom.work.kit.documents import Document, Reflectance

Read = Annotated[float, Field(ge=-BRIGHTEST, le=BRIGHTEST, allow_inf_nan=False)]
Drops = Annotated[int, Field(ge=0, le=MOST_DROPS)]


class FieldReadingDoc(Document):
    field: Annotated[
        str, Field(pattern=r"^(white|black|over_white:\d{1,2}|over_black:\d{1,2}|let_down_(white|black))$")
    ]
    at: When
    source: Long
    reflectance: list[Read] = Field(min_length=36, max_length=36)
    counts: bool = True


class ContrastCardDoc(Document):
    paint: PaintId
    at: When
    film_um: float = Field(gt=0, le=THICKEST_COAT_UM)
    steps: list[Annotated[int, Field(ge=1, le=MOST_COATS)]] = Field(min_length=1, max_length=MOST_STEPS)
    clear_coat: bool = True
    white_paint: PaintId | None = None
    white_drops: int = Field(default=9, ge=0, le=MOST_DROPS)
    readings: list[FieldReadingDoc] = Field(default=[], max_length=2000)


class WeighingDoc(Document):
    bottle: Number
    at: When
    drops: int = Field(ge=1, le=500)
    ml: float = Field(ge=1e-6, le=1000)
    source: Long
    counts: bool = True


class PlannedMixDoc(Document):
    recipe: Number
    version: Number
    ml: float = Field(ge=1e-6, le=1e6)
    at: When


class TargetDoc(Document):
    at: When
    name: Short
    source: Long
    ground: GroundKey | None = None
    clear_coat: bool | None = None
    satin: bool = False
    views: list[Annotated[float, Field(ge=0, le=180)] | None] = Field(min_length=1, max_length=16)
    labs: list[Annotated[list[Coordinate], Field(min_length=3, max_length=3)]] = Field(min_length=1, max_length=16)
    reflectance: list[Reflectance] | None = Field(default=None, min_length=36, max_length=36)


class RoundDoc(Document):
    """A round of the trainer that was guessed."""

    at: When
    skill: Short
    level: int = Field(ge=0, le=100)
    shelf: Short
    paints: list[PaintId] = Field(max_length=20)
    sizes: list[Annotated[float, Field(gt=0, le=5)]] = Field(max_length=20)
    drops: list[Drops] = Field(max_length=20)
    guess: list[Drops] = Field(max_length=20)
    delta_e: float = Field(ge=0, le=1000)


class SettingsDoc(Document):
    units: Literal["metric", "imperial"] = "metric"
    decimals: Literal["point", "comma"] = "point"
    days: Literal["day", "month", "year"] = "day"
    codes: Literal["address", "number"] = "address"


class Beside(Document):
    contrast_cards: list[ContrastCardDoc] = Field(default=[])
    weighings: list[WeighingDoc] = Field(default=[])
    planned_mixes: list[PlannedMixDoc] = Field(default=[])
    targets: list[TargetDoc] = Field(default=[])
    rounds: list[RoundDoc] = Field(default=[])
    settings: SettingsDoc | None = None

    def count(self) -> int:
        """How many things it holds."""
        return sum(
            len(one) for one in (self.contrast_cards, self.weighings, self.planned_mixes, self.targets, self.rounds)
        )
