"""Drafts as they are kept: JSON out, and whatever was kept back in, brought within what can be counted and sprayed.
What had to be left out or put in its place is said in words."""

import json
import sqlite3
from collections.abc import Callable, Sequence
from dataclasses import asdict, fields
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, BeforeValidator, Field, TypeAdapter

from diachrom.core.mix import sound
from diachrom.core.mix.advice import NOZZLES_MM
from diachrom.core.mix.cup import MOST_DROPS
from diachrom.core.mix.draft import LONGEST_NAME, LONGEST_NOTE, Draft, Part
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.core.mix.story import Verdict
from diachrom.store import bottles, kept
from diachrom.words import capitalized, say

MOST_PARTS = 100
USUAL = Draft()


def _among(known: Callable[[Any], object]) -> AfterValidator:
    """Raises ValueError within pydantic for what is not known."""

    def check(value: Any) -> Any:
        if not known(value):
            raise ValueError(say("{value} is not known", value=value))
        return value

    return AfterValidator(check)


Ground = Annotated[str, _among(sound.is_ground)]


class KeptPart(BaseModel):
    """Drops of a bottle."""

    bottle: kept.RowNumber
    drops: Annotated[kept.Whole, Field(ge=0, le=MOST_DROPS)]
    drop_ml: kept.DropMl


class KeptDraft(BaseModel):
    """A draft's fields within their bounds; descriptions are what messages call them."""

    parts: list[KeptPart] = []
    name: Annotated[str, BeforeValidator(lambda value: sound.text(value, LONGEST_NAME))] = ""
    note: Annotated[str, BeforeValidator(lambda value: sound.text(value, LONGEST_NOTE))] = ""
    ground: Ground = Field(USUAL.ground, description="ground")
    film_um: kept.Number = Field(USUAL.film_um, ge=sound.THINNEST_UM, le=THICKEST_COAT_UM, description="coat in µm")
    coats: kept.Whole = Field(USUAL.coats, ge=1, le=MOST_COATS, description="number of coats")
    clear_coat: Annotated[bool, BeforeValidator(bool)] = USUAL.clear_coat
    sealed: Annotated[bool, BeforeValidator(bool)] = USUAL.sealed
    satin: Annotated[bool, BeforeValidator(bool)] = USUAL.satin
    own_ground: Ground = Field(USUAL.own_ground, description="last column")
    light: Annotated[str, _among(sound.light_key)] = Field(USUAL.light, description="light")
    nozzle_mm: Annotated[kept.Number, _among(NOZZLES_MM.__contains__)] = Field(
        USUAL.nozzle_mm, description="nozzle in mm"
    )


class KeptVerdict(BaseModel):
    """What the eye or a reader said."""

    words: str
    source: str = ""
    lab: kept.Lab | None = None

    def value(self) -> Verdict:
        """As the core has it."""
        return Verdict(self.words[:80], self.source[:80], self.lab)


DRAFT, PARTS = TypeAdapter(KeptDraft), TypeAdapter(list[KeptPart])
VERDICT = TypeAdapter(KeptVerdict | None)


def to_json(draft: Draft) -> str:
    """A draft as it is kept."""
    return json.dumps(asdict(draft))


def from_json(connection: sqlite3.Connection, text: str, known: set[int] | None = None) -> tuple[Draft, str]:
    """A draft, and what is wrong with what was kept of it, "" when nothing is. `known` are bottles that there are."""
    return read(
        kept.whole(kept.DOCUMENT, text, None),
        there=lambda ids: bottles.there(connection, ids) if known is None else known,
    )


def read(values: object, *, there: Callable[[Sequence[int]], set[int]]) -> tuple[Draft, str]:
    """A draft of values, and what is wrong with them. `there` says which of these bottles there are."""
    if not isinstance(values, dict):
        return Draft(), "It cannot be read: it is shown empty."
    given = dict(values)
    parts = given.get("parts", [])
    many = len(parts) if isinstance(parts, (list, tuple)) else -1
    held, gone = kept.pruned(DRAFT, {**given, "parts": list(parts[:MOST_PARTS]) if many > 0 else []}, KeptDraft())
    known = there([part.bottle for part in held.parts])
    drops = {part.bottle: Part(**vars(part)) for part in reversed(held.parts) if part.bottle in known}
    wrong = [
        f"its {one.description} cannot be {str(given[key])[:24]!r}; {getattr(USUAL, key)} stands in its place"
        for key, one in KeptDraft.model_fields.items()
        if (key,) in gone and one.description
    ]
    if len(drops) != many:
        wrong.append("some drops cannot be read, or their bottle is missing; they are left out")
    own = {one.name: getattr(held, one.name) for one in fields(Draft) if one.name != "parts"}
    said = "; ".join(wrong)
    return Draft(parts=tuple(reversed(drops.values())), **own), f"{capitalized(said)}." if said else ""


def planned_parts(text: str | None) -> list[Part]:
    """Parts that a cup is to be poured by, as far as they can be read."""
    return [Part(**vars(part)) for part in kept.read(PARTS, text, [])]


def verdict(text: str | None) -> Verdict | None:
    """None for what is none, or cannot be read."""
    held = kept.read(VERDICT, text, None)
    return None if held is None else held.value()
