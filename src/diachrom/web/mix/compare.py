"""The Compare page: up to six strips side by side, tilting together. What is compared stands in the address."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from diachrom.web.kit import choices
from diachrom.web.kit.choices import Choice, Group
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.strip_view import ColumnView, columns
from diachrom.web.kit.swatches import Swatch, swatch
from diachrom.words import say
from diachrom.work.mix.compare import MOST, THE_CUP, Compared, compare, mixes_to_choose

router = APIRouter(include_in_schema=False)
USUAL = ("white", "bone", "black", "silver-foil", "gold-foil", "clear-body")


@dataclass(frozen=True)
class Side:
    key: str
    words: str
    cup: Swatch | None
    column: ColumnView


@dataclass(frozen=True)
class ComparePage:
    by_mix: bool
    sides: Sequence[Side]
    angles: Sequence[float]
    turns: bool
    single: str  # of the list that has one; the sides are the other
    many: Sequence[Group]
    one: Sequence[Group]
    light: str
    lights: Sequence[Group]
    empty_words: str


def _side(one: Compared) -> Side:
    view = columns(one.strip)[0]
    return Side(one.key, one.words, swatch(one.strip.cup) if one.strip.cup else None, view)


@router.get("/compare")
def show(
    request: Request,
    store: OpenStore,
    by: str = "ground",
    over: Annotated[list[str] | None, Query()] = None,
    mix: Annotated[list[str] | None, Query()] = None,
    light: str = "D65",
) -> Response:
    """One mix over several grounds, or several mixes over one, side by side."""
    by_mix = by == "mix"
    recipes = Group(say("Mixes"), [Choice(key, words) for key, words in mixes_to_choose(store)])
    grounds = [choices.grounds(), Group(say("Recipes, as sprayed"), recipes.choices[1:])]
    if by_mix:
        several = mix or [choice.key for choice in recipes.choices][:MOST]
        single = (over or ["white"])[0]
        found = compare(store, mixes=several, grounds=[single], light_key=light)
    else:
        several = over or list(USUAL)
        single = (mix or [THE_CUP])[0]
        found = compare(store, mixes=[single], grounds=several, light_key=light)
    page = ComparePage(
        by_mix=by_mix,
        sides=[_side(one) for one in found],
        angles=found[0].strip.angles_deg if found else (),
        turns=any(one.strip.columns[0].has_direction for one in found),
        single=single,
        many=[recipes] if by_mix else grounds,
        one=grounds if by_mix else [recipes],
        light=light,
        lights=choices.lights(),
        empty_words=say("The cup is empty: add drops on the Mix page, or choose a recipe."),
    )
    if is_fragment_wanted(request):
        return render("mix/compare_body.html", page=page)
    return render("mix/compare.html", page=page, frame=frame(request, store, "mix"))
