"""Answer an adjust document: what the eye says of a mix, and the drops that help."""

from collections.abc import Sequence
from typing import Annotated

from pydantic import Field

from diachrom.core.light.screen import shown
from diachrom.core.mix.cup import USUAL_DROP_ML, Cup
from diachrom.core.mix.hand import EVEN_HAND
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.core.mix.where import Where
from diachrom.core.pour.adjusting import adjust
from diachrom.errors import EmptyCup
from diachrom.work.api.match_documents import MOST_TO_MATCH
from diachrom.work.api.predicting import Shelf, pour
from diachrom.work.kit import documents
from diachrom.work.kit.document_values import ground_of, paint_of
from diachrom.work.kit.documents import AnyGround, AnyPaint, ClearCoat, Document, Part
from diachrom.work.mix.candidates import D65, Candidate


class AdjustRequest(Document):
    """A mix that the eye is not content with."""

    parts: list[Part] = Field(min_length=1, max_length=100)
    verdict: Annotated[str, Field(max_length=80)] | Annotated[list[str], Field(min_length=1, max_length=15)] = Field(
        description="`too X` or `not X enough`, or several of them"
    )
    ground: AnyGround = "white"
    film_um: float = Field(default=8.0, gt=0, le=THICKEST_COAT_UM, allow_inf_nan=False, description="wet, one coat")
    coats: int = Field(default=2, ge=1, le=MOST_COATS)
    clear_coat: ClearCoat = True
    paints: Annotated[list[AnyPaint], Field(min_length=1, max_length=MOST_TO_MATCH)] | None = Field(
        default=None, description="ids on the shelf or profiles that may be added; without it all that is in stock"
    )

    def paint_ids(self) -> set[str]:
        """The paints that must be looked up on a shelf."""
        every = [*(part.paint for part in self.parts), *(self.paints or ())]
        return {one for one in every if isinstance(one, str)}


class AddedPart(Document):
    """Drops of one paint, to be added."""

    paint: str = Field(description="its id, or the name that it was given")
    index: int = Field(description="its place among `paints`, or -1 for one of the mix or of the shelf's own choosing")
    drops: int = Field(description="whole number of drops")
    drop_ml: float = Field(description="ml of its drop")


class AdjustWay(Document):
    """Drops that take the mix the way that is wished."""

    add: list[AddedPart] = Field(description="drops to add to the mix")
    towards: float = Field(description="share of a step of 5 along the wished axis, of several verdicts the least")
    side: float = Field(description="CIEDE2000 of what is left of the change without the wished axis")
    lab: list[float]
    srgb: str


class AdjustAnswer(Document):
    """What helps."""

    ways: list[AdjustWay] = Field(description="gentlest first")
    sentence: str = Field(description="why there are none, or empty")


def answer(request: AdjustRequest, shelf: Shelf, stock: Sequence[Candidate]) -> AdjustAnswer:
    """In the hand's dots where all paints are the shelf's. Raises InvalidInput and NotFound, naming the field."""
    pours = [pour(part, f"parts.{index}", shelf) for index, part in enumerate(request.parts)]
    cup = Cup(pours)
    if cup.empty:
        raise EmptyCup("judging its colour")
    candidates = list(stock)
    for index, one in enumerate(request.paints or ()):
        if isinstance(one, str):
            paint, drop_ml = shelf.find(one, f"paints.{index}")
            candidates.append(Candidate(one, index, paint, drop_ml))
        else:
            candidates.append(Candidate(one.name, index, paint_of(one), USUAL_DROP_ML))
    keys = {candidate.key for candidate in candidates}
    for part, own in zip(request.parts, pours, strict=True):
        key = part.paint if isinstance(part.paint, str) else part.paint.name
        if key not in keys:
            candidates.append(Candidate(key, -1, own.paint, own.drop_ml))
    verdicts = [request.verdict] if isinstance(request.verdict, str) else request.verdict
    every = [*(part.paint for part in request.parts), *(request.paints or ())]
    usual = shelf.hand if all(isinstance(paint, str) for paint in every) else EVEN_HAND
    where = Where(
        ground_of(request.ground),
        request.film_um * request.coats,
        documents.sheen(request.clear_coat),
        D65,
        droplet_um=usual.dots_of(cup, request.film_um),
    )
    found = adjust(cup, [(each.paint, each.drop_ml) for each in candidates], verdicts, where)
    ways = [
        AdjustWay(
            add=[
                AddedPart(paint=added.key, index=added.index, drops=drops, drop_ml=added.drop_ml)
                for at, drops in way.parts
                if (added := candidates[at])
            ],
            towards=way.towards,
            side=way.side,
            lab=way.lab.tolist(),
            srgb=shown(way.lab)[0].srgb,
        )
        for way in found.ways
    ]
    return AdjustAnswer(ways=ways, sentence=found.sentence)
