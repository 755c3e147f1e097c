"""Answer a batch document: so much of a mix in whole drops, its ratio kept unless it may change."""

from dataclasses import replace
from typing import Self

from pydantic import Field, model_validator

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.mix.batch import batch, check_countable, closest
from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML, Cup
from diachrom.core.mix.strip import Over, strip
from diachrom.errors import EmptyCup
from diachrom.work.api.predicting import Shelf, pour
from diachrom.work.kit.documents import Document, Finite, Part

FILM_UM, COATS = 8.0, 2


class BatchRequest(Document):
    """A mix, and how much of it is wanted."""

    parts: list[Part] = Field(min_length=1, max_length=100)
    ml: Finite = Field(description="ml that are wanted")
    drop_ml: float | None = Field(
        default=None,
        ge=SMALLEST_DROP_ML,
        le=LARGEST_DROP_ML,
        description="ml, of profiles given in place and of nothing else",
    )
    may_change: bool = Field(default=False, description="the nearest whole drops that make no more than wanted")

    @model_validator(mode="after")
    def _drops(self) -> Self:
        for part in self.parts:
            if self.drop_ml is not None and part.drop_ml is None and not isinstance(part.paint, str):
                part.drop_ml = self.drop_ml
        return self

    def paint_ids(self) -> set[str]:
        """The paints that must be looked up on a shelf."""
        return {part.paint for part in self.parts if isinstance(part.paint, str)}


class BatchAnswer(Document):
    """Whole drops, and what they do."""

    parts: list[Part]
    ml: float = Field(description="ml that they make")
    over_ml: float = Field(description="ml of it that are more than wanted")
    delta_e: float = Field(description="CIEDE2000 from the recipe, two light coats on white under clear")


def answer(request: BatchRequest, shelf: Shelf) -> BatchAnswer:
    """Raises InvalidInput and NotFound, naming the field."""
    pours = [pour(part, f"parts.{index}", shelf) for index, part in enumerate(request.parts)]
    if Cup(pours).empty:
        raise EmptyCup("pouring so much of it")
    counts, sizes = [one.drops for one in pours], [one.drop_ml for one in pours]
    found = (closest if request.may_change else batch)(counts, sizes, request.ml)
    check_countable(found)
    made = [replace(one, drops=drops) for one, drops in zip(pours, found.drops, strict=True)]
    return BatchAnswer(
        parts=[
            part.model_copy(update={"drops": drops}) for part, drops in zip(request.parts, found.drops, strict=True)
        ],
        ml=found.ml,
        over_ml=found.over_ml,
        delta_e=_apart(Cup(pours), Cup(made)) if request.may_change else 0.0,
    )


def _apart(recipe: Cup, made: Cup) -> float:
    if recipe.only_thinner:
        return 0.0
    over, day = [Over.bare(GROUNDS["white"])], light("D65")
    first, second = (
        strip(cup, film_um=FILM_UM, coats=COATS, over=over, sheen=CLEARED, under=day).columns[0].patches[-1].diffuse.lab
        for cup in (recipe, made)
    )
    return float(delta_e(first, second))
