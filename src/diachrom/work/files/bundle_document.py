"""The JSON document that keeps a whole shelf: paints with their profiles, bottles with their ledgers, recipes."""

from typing import Annotated, Literal

from pydantic import Field

from diachrom.core.film.kinds import KINDS
from diachrom.core.mix.cup import LARGEST_DROP_ML, MOST_DROPS, SMALLEST_DROP_ML
from diachrom.core.mix.layers import MOST_COATS
from diachrom.store.bottles import HAPPENINGS, STATES
from diachrom.store.hand_factor import HEAVIEST, THINNEST
from diachrom.store.spray_out_cards import MOST_NUMBER
from diachrom.work.files.beside_document import Beside
from diachrom.work.files.bundle_types import (
    Day,
    Film,
    GroundKey,
    Lab,
    Long,
    Ml,
    Name,
    Number,
    PaintId,
    Short,
    When,
)
from diachrom.work.kit import documents
from diachrom.work.kit.documents import Document
from diachrom.work.kit.fields import LARGEST_BOTTLE_ML

FORMAT, VERSION = "diachrom-shelf", 2
LONGEST_PHOTO = 3_000_000  # signs of base64


class ProfileDoc(Document):
    at: When
    source: Long
    uncertain_nm: list[Annotated[float, Field(ge=0, le=2000)]] = Field(default=[], max_length=36)
    profile: documents.Profile


class PaintDoc(Document):
    id: PaintId
    line: Short = ""
    name: Name
    kind: Literal[tuple(KINDS)]  # type: ignore[valid-type]
    pigments: Long = ""
    note: Long = ""
    discontinued: bool = False
    nozzle_mm: float | None = Field(default=None, ge=0.1, le=3)
    pressure_bar: float | None = Field(default=None, ge=0.1, le=10)
    needs_under: Long = ""
    needs_in: Long = ""
    needs_over: Long = ""
    thinner: Long = ""
    price: float | None = Field(default=None, ge=0, le=1e6)
    density: float | None = Field(default=None, ge=0.5, le=5)
    retired: bool = False
    merged_into: PaintId | None = None
    recipe: Number | None = None
    version: Number | None = None
    profiles: list[ProfileDoc] = Field(min_length=1, max_length=1000)


class EntryDoc(Document):
    at: When
    kind: Literal[HAPPENINGS]  # type: ignore[valid-type]
    ml: Ml
    note: Long = ""
    recipe: Number | None = None
    version: Number | None = None


class BottleDoc(Document):
    number: Number
    paint: Annotated[str, Field(max_length=80)]
    size_ml: float = Field(gt=0, le=LARGEST_BOTTLE_ML)
    drop_ml: float = Field(ge=SMALLEST_DROP_ML, le=LARGEST_DROP_ML)
    state: Literal[STATES]  # type: ignore[valid-type]
    note: Long = ""
    batch: Short = ""
    place: Short = ""
    bought_on: Day | None = None
    opened_on: Day | None = None
    shaken_on: Day | None = None
    retired: bool = False
    ledger: list[EntryDoc] = Field(default=[])


class PartDoc(Document):
    bottle: Number
    drops: int = Field(ge=1, le=MOST_DROPS)
    drop_ml: float = Field(ge=SMALLEST_DROP_ML, le=LARGEST_DROP_ML)


class VerdictDoc(Document):
    words: Short
    source: Short
    lab: Lab | None = None


class ToldDoc(Document):
    """Drops of a bottle as they fell, or a verdict."""

    bottle: Number | None = None
    drops: int = Field(default=0, ge=-MOST_DROPS, le=MOST_DROPS)
    drop_ml: float = Field(default=0.0, ge=0, le=LARGEST_DROP_ML)
    verdict: VerdictDoc | None = None


class VersionDoc(Document):
    parent: Number | None = None
    at: When
    name: Name
    note: Long = ""
    ground: GroundKey
    film_um: Film
    coats: int = Field(ge=1, le=MOST_COATS)
    clear_coat: bool
    sealed: bool = False
    satin: bool = False
    parts: list[PartDoc] = Field(min_length=1, max_length=100)
    story: list[ToldDoc] = Field(default=[], max_length=2000)


class RecipeDoc(Document):
    number: Number
    versions: list[VersionDoc] = Field(min_length=1, max_length=2000)


class ReadingDoc(Document):
    at: When
    source: Long
    lab: Lab | None = None  # None for what the eye says
    words: Short = ""
    counts: bool = True
    predicted: Lab | None = Field(default=None, description="what was predicted when it was read")


class PatchDoc(Document):
    ground: GroundKey
    coats: int = Field(ge=0, le=MOST_COATS, description="none is the bare ground")
    readings: list[ReadingDoc] = Field(default=[], max_length=500)


class PhotoDoc(Document):
    """A photo as it is kept: at most 1400 pixels long, its points alone."""

    name: Short
    jpeg: str = Field(min_length=4, max_length=LONGEST_PHOTO, description="the picture in base64")


class CardDoc(Document):
    """A spray-out card."""

    number: int = Field(ge=1, le=MOST_NUMBER)
    at: When
    recipe: Number | None = None
    version: Number | None = None
    name: Short = ""
    mix_note: Long = ""
    note: Long = ""
    ground: GroundKey
    film_um: Film
    coats: int = Field(ge=1, le=MOST_COATS)
    clear_coat: bool
    sealed: bool = False
    satin: bool = False
    nozzle_mm: float | None = Field(default=None, ge=0.1, le=3)
    pressure_bar: float | None = Field(default=None, ge=0.1, le=10)
    reduction: float = Field(default=0.0, ge=0, le=0.9)
    counts: bool = True
    parts: list[PartDoc] = Field(min_length=1, max_length=100)
    patches: list[PatchDoc] = Field(default=[], max_length=100)
    photo: PhotoDoc | None = None


class LearnedDropDoc(Document):
    """What was counted as one size, and was learned to be another."""

    bottle: Number
    counted_ml: float = Field(ge=SMALLEST_DROP_ML, le=LARGEST_DROP_ML)
    ml: float = Field(ge=SMALLEST_DROP_ML, le=LARGEST_DROP_ML)


class Bundle(Document):
    """The whole document."""

    format: Literal["diachrom-shelf"]
    version: Literal[1, 2]
    paints: list[PaintDoc] = Field(default=[])
    bottles: list[BottleDoc] = Field(default=[])
    recipes: list[RecipeDoc] = Field(default=[])
    cards: list[CardDoc] = Field(default=[])
    hand: float = Field(
        default=1.0, ge=THINNEST, le=HEAVIEST, description="how many times as thick as meant its coats are"
    )
    learned_drops: list[LearnedDropDoc] = Field(default=[])
    beside: Beside = Field(default=Beside())
