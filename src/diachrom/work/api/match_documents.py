"""The JSON documents of a match: a colour, alone or at several angles, and the mixes that come nearest."""

from typing import Annotated, Any, Literal

from pydantic import Discriminator, Field, Tag

from diachrom.core.match.pourable import USUAL_CLOSENESS
from diachrom.core.match.search import MOST_DROPS, MOST_PAINTS
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.core.mix.prediction import LARGEST_ANGLE_DEG
from diachrom.work.kit.documents import AnyGround, AnyPaint, ClearCoat, Coordinate, Document, Finite, Measured

MOST_TO_MATCH = 400  # paints
FARTHEST = 20.0  # dE that may be called near enough


class MeasuredAngles(Document):
    """The colour at several aspecular angles, to be met at all of them together."""

    angles: list[Annotated[Finite, Field(ge=0, le=LARGEST_ANGLE_DEG)]] = Field(min_length=1, max_length=16)
    labs: list[Annotated[list[Coordinate], Field(min_length=3, max_length=3)]] = Field(
        min_length=1, max_length=16, description="L*, a*, b* at each of them"
    )


def _target_form(value: Any) -> str:
    turns = isinstance(value, MeasuredAngles) or (isinstance(value, dict) and "labs" in value)
    return "turning" if turns else "still"


class MatchRequest(Document):
    """A colour to be met by whole drops of some paints, sprayed in these coats over this ground."""

    target: Annotated[
        Annotated[Measured, Tag("still")] | Annotated[MeasuredAngles, Tag("turning")], Discriminator(_target_form)
    ] = Field(description="under D65, seen as the rest of the document says")
    ground: AnyGround = "white"
    film_um: float = Field(default=8.0, gt=0, le=THICKEST_COAT_UM, allow_inf_nan=False, description="wet, one coat")
    coats: int = Field(default=2, ge=1, le=MOST_COATS)
    clear_coat: ClearCoat = True
    paints: (
        Annotated[
            list[AnyPaint],
            Field(min_length=1, max_length=MOST_TO_MATCH),
        ]
        | None
    ) = Field(default=None, description="ids on the shelf or profiles; without it all that is in stock")
    max_paints: int = Field(default=4, ge=1, le=MOST_PAINTS)
    max_drops: int = Field(default=24, ge=1, le=MOST_DROPS)
    dilution: float = Field(default=0.3, ge=0, lt=1, description="share of reducer and medium in the sprayed volume")
    angle: float | None = Field(default=None, ge=0, le=LARGEST_ANGLE_DEG, description="aspecular; null is diffuse")
    closeness: float = Field(
        default=USUAL_CLOSENESS,
        ge=0,
        le=FARTHEST,
        allow_inf_nan=False,
        description="dE that is near enough: within it few bottles, plain paints and forgiving mixes come first",
    )
    order: Literal["pour", "nearest"] = Field(default="pour", description="`nearest` ranks by distance alone")

    @property
    def of_shelf(self) -> bool:
        """Whether all of its paints are a shelf's."""
        return all(isinstance(paint, str) for paint in self.paints or ())


class MatchPart(Document):
    paint: str = Field(description="its id, or the name of a profile given in place")
    index: int = Field(description="its place among `paints`, or -1 for one of the shelf's own choosing")
    drops: int
    drop_ml: float


class MatchRecipe(Document):
    parts: list[MatchPart]
    delta_e: float = Field(description="CIEDE2000 from the target; the mean where it has several angles")
    lab: list[float] = Field(description="as the target was seen; at 45 degrees where it has several angles")
    labs: list[list[float]] = Field(description="at each of the target's angles")
    srgb: str
    spread_delta_e: float
    one_drop_delta_e: float = Field(description="the worst that one drop amiss in its smallest count does")
    special: list[str] = Field(description="names of the primers, fluorescents, glow and flakes in it")


class MatchAnswer(Document):
    """The best mix of each of the best sets of paints, those that a painter would rather pour first."""

    recipes: list[MatchRecipe]
    evaluated: int
    seconds: float
