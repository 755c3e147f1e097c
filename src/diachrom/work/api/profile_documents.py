"""The documents of a drawdown card and of a guess."""

from typing import Annotated, Literal, Self

from pydantic import ConfigDict, Field, model_validator
from pydantic_core import PydanticCustomError

from diachrom.core.film.kinds import KINDS
from diachrom.core.mix.cup import MOST_DROPS
from diachrom.core.mix.layers import THICKEST_STACK_UM
from diachrom.core.mix.sound import THINNEST_UM
from diachrom.work.kit.documents import (
    IN_FIELD,
    ClearCoat,
    Coordinate,
    Document,
    DropletUm,
    GivenProfile,
    Measured,
    Profile,
)

FilmUm = Annotated[
    float, Field(ge=THINNEST_UM, le=THICKEST_STACK_UM, allow_inf_nan=False, description="wet, all coats together")
]
MOST_FILMS = 12


def _wrong(field: str, sentence: str) -> PydanticCustomError:
    return PydanticCustomError(IN_FIELD, "{said}", {"field": field, "said": sentence})


class FilmMeasured(Document):
    """One film of a step card."""

    film_um: FilmUm
    over_white: Measured
    over_black: Measured


class LetDown(Document):
    """The paint in a white whose profile is known, sprayed on the same card."""

    white_paint: GivenProfile
    drops: int = Field(default=1, ge=1, le=MOST_DROPS)
    white_drops: int = Field(default=9, ge=1, le=MOST_DROPS)
    film_um: FilmUm = 8.0
    over_white: Measured
    over_black: Measured


class ProfileRequest(Document):
    """A drawdown card: the paint over white and over black in one film or several, and both bare, measured in air.

    The mirror part is left out when it is cleared; uncleared fields carry a sheen, which is found with the rest
    unless it is given.
    """

    films: list[FilmMeasured] | None = Field(default=None, min_length=1, max_length=MOST_FILMS)
    film_um: FilmUm | None = None
    over_white: Measured | None = None
    over_black: Measured | None = None
    white: Measured
    black: Measured
    let_down: LetDown | None = None
    clear_coat: ClearCoat = True
    droplet_um: DropletUm | Literal["fit"] = Field(
        default=0.0, description="thickness of a disc of the mist that its films are, um; 0 is even; or found by misfit"
    )
    kind: Literal[tuple(KINDS)] = "transparent"  # type: ignore[valid-type]
    name: str = Field(default="paint from a card", max_length=200)

    @model_validator(mode="after")
    def _one_form(self) -> Self:
        single = {"film_um": self.film_um, "over_white": self.over_white, "over_black": self.over_black}
        if self.films is None:
            for name, value in single.items():
                if value is None:
                    raise _wrong(name, f"{name} is missing")
        elif any(value is not None for value in single.values()):
            raise _wrong("films", "films stand for film_um, over_white and over_black: give one form")
        return self

    def every_film(self) -> list[FilmMeasured]:
        """All films of the card."""
        if self.films is not None:
            return self.films
        if self.film_um is None or self.over_white is None or self.over_black is None:
            raise ValueError("a document without a film")
        return [FilmMeasured(film_um=self.film_um, over_white=self.over_white, over_black=self.over_black)]


class ProfileAnswer(Profile):
    """The profile, fit to stand as a paint in any document as it is."""

    droplet_um: float = Field(description="thickness of a disc of mist that its films were taken for, um; 0 is even")

    uncertainty: float = Field(ge=0, le=1, description="of its strength, one standard deviation, from the fit")
    uncertain_bands: list[float] = Field(description="nm where the fields alone do not tell")
    saturated_bands: list[float] = Field(
        description="nm where the thinnest film takes all light: how strong is not told"
    )
    fit_delta_e: float = Field(description="CIEDE2000 between the card and what the profile gives, the worst field")


class GuessRequest(Document):
    """A paint by its kind and one colour of it."""

    kind: Literal[tuple(KINDS)]  # type: ignore[valid-type]
    lab: Annotated[list[Coordinate], Field(min_length=3, max_length=3)] | None = None
    srgb: str | None = Field(default=None, pattern="^#?[0-9a-fA-F]{6}$", description="#rrggbb")
    seen: Literal["white", "black-glance", "cup"] | None = Field(
        default=None,
        description="three light coats on white (usual), on black at 25 degrees (usual for flakes), or in the cup",
    )
    hides: float | None = Field(default=None, ge=0, le=1, description="0 lets everything through, 1 hides")
    name: str = Field(default="guessed paint", max_length=200)
    mica: Literal["coloured", "interference"] | None = Field(
        default=None, description="of a pearl: coloured mica keeps its colour over white; else the name says which"
    )
    glow_srgb: str | None = Field(
        default=None, pattern="^#?[0-9a-fA-F]{6}$", description="of glow, in the dark; without it the name says it"
    )
    model_config = ConfigDict(extra="ignore")  # an entry of read-list goes in as it is

    @model_validator(mode="after")
    def _one_colour(self) -> Self:
        if (self.lab is None) == (self.srgb is None):
            raise _wrong("srgb", "give the colour either as lab or as srgb")
        return self


class GuessAnswer(Profile):
    """A profile that says that it was guessed."""

    guess: Literal[True] = True
    met_delta_e: float = Field(description="CIEDE2000 between the colour given and the profile's, seen the same way")
