"""Recipe cards, to be printed: black on white; words stand for hue."""

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response
from markupsafe import Markup

from diachrom.web.kit.answers import code_for
from diachrom.web.kit.dependencies import Numbers, OpenStore
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.qr import qr
from diachrom.web.kit.swatches import BeadString, bead_string
from diachrom.web.recipes.routes import how
from diachrom.words import quantity, say, say_count
from diachrom.work.mix.contents import contents_of
from diachrom.work.recipes import recipe_list

router = APIRouter(include_in_schema=False)
MOST_CARDS = 60


@dataclass(frozen=True)
class PrintedPart:
    drops: int
    name: str


@dataclass(frozen=True)
class CardView:
    number: int
    version: int
    name: str
    day: str
    how: str
    note: str
    beads: BeadString
    parts: Sequence[PrintedPart]
    total: str
    qr: Markup


@router.get("/recipes/cards")
def cards(request: Request, store: OpenStore, recipe: Numbers = None, q: str = "") -> Response:
    """Of these recipes, or of those that a search finds."""
    saved = recipe_list.chosen(store, recipe, q[:200], most=MOST_CARDS)
    views = []
    for version, held in zip(saved, contents_of(store, [one.draft for one in saved]), strict=True):
        draft = version.draft
        total = sum(part.drops * part.drop_ml for part in draft.parts)
        address = code_for(request, f"recipes/{version.recipe}")
        parts = [PrintedPart(part.drops, held.shelf[part.bottle].bottle.full_name) for part in draft.parts]
        views.append(
            CardView(
                number=version.recipe,
                version=version.version,
                name=draft.name,
                day=day(version.at),
                how=how(draft),
                note=draft.note,
                beads=bead_string(draft.parts, held.shelf),
                parts=parts,
                total=say(
                    "{drops}, {total}",
                    drops=say_count(draft.drops, "{count} drop", "{count} drops"),
                    total=quantity(total, ".2f", "ml"),
                ),
                qr=qr(address),
            )
        )
    return render("recipes/cards.html", cards=views, frame=frame(request, store, "recipes"))
