"""What goes onto paper: labels for bottles, recipe cards, the shopping list. Black on white; words stand for hue."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response
from markupsafe import Markup

from diachrom import clock
from diachrom.core.film.paint import KINDS
from diachrom.exchange.sheets import to_csv
from diachrom.store import recipes
from diachrom.web.kit import answers
from diachrom.web.kit.answers import own_address
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.formatting import count, day, short_day, weeks
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.qr import qr
from diachrom.web.kit.strip_view import columns
from diachrom.web.kit.swatches import Bead, BeadString, bead, bead_string
from diachrom.web.recipes.routes import how
from diachrom.work.mix.contents import contents
from diachrom.work.shelf import shopping
from diachrom.work.shelf.on_shelf import on_shelf, seen
from diachrom.work.shelf.shelf_index import Wanted, find
from diachrom.work.shelf.shopping import ToBuy

router = APIRouter(include_in_schema=False)
Numbers = Annotated[list[int] | None, Query()]
MOST_LABELS, MOST_CARDS = 200, 60


@dataclass(frozen=True)
class LabelView:
    bottle: int
    name: str
    kind: str
    bead: Bead
    colour: str
    lines: Sequence[str]
    beads: BeadString | None  # of what an own mix was made of
    qr: Markup


@dataclass(frozen=True)
class PartView:
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
    parts: Sequence[PartView]
    total: str
    qr: Markup


@router.get("/shelf/labels")
def labels(request: Request, store: OpenStore, bottle: Numbers = None, q: str = "") -> Response:
    """Of these bottles, or of those that a search finds."""
    if bottle:
        rows = list(on_shelf(store, bottle[:MOST_LABELS]).values())
    else:
        rows = seen(store, [one.bottle for one in find(store, Wanted(q[:200])).rows[:MOST_LABELS]])
    views = []
    for row in rows:
        own, view = row.bottle, columns(row.look.strip)[0] if row.look.bead else None
        lines = [
            f"{own.size_ml:g} ml · drop {1000 * own.drop_ml:.0f} µl",
            " · ".join(one for one in (own.place, f"batch {own.batch}" if own.batch else "") if one),
            f"opened {short_day(own.opened_on)}"
            if own.opened_on
            else f"bought {short_day(own.bought_on)}"
            if own.bought_on
            else "",
        ]
        # A jar of one's own leads to its recipe, any other label to the bottle.
        jar = None if own.recipe is None else recipes.version(store, own.recipe)
        address = own_address(request) + (f"bottles/{own.id}" if jar is None else f"recipes/{jar.recipe}")
        beads = None if jar is None else bead_string(jar.draft.parts, contents(store, jar.draft).shelf)
        if row.guess:
            lines.append("profile: a guess")
        colour = view.patches[-1].words.split(",")[0] if view else KINDS[own.kind].note
        kind = KINDS[own.kind].words
        views.append(
            LabelView(own.id, own.full_name, kind, bead(row), colour, [one for one in lines if one], beads, qr(address))
        )
    return render("recipes/labels.html", labels=views, frame=frame(request, store, "shelf"))


@router.get("/recipes/cards")
def cards(request: Request, store: OpenStore, recipe: Numbers = None, q: str = "") -> Response:
    """Of these recipes, or of those that a search finds."""
    if recipe:
        saved = [recipes.version(store, number) for number in recipe[:MOST_CARDS]]
    else:
        saved = recipes.newest_versions(store, query=q[:200], most=MOST_CARDS)
    views = []
    for one in saved:
        held, draft = contents(store, one.draft), one.draft
        total = sum(part.drops * part.drop_ml for part in draft.parts)
        address = own_address(request) + f"recipes/{one.recipe}"
        parts = [PartView(part.drops, held.shelf[part.bottle].bottle.full_name) for part in draft.parts]
        views.append(
            CardView(
                one.recipe,
                one.version,
                draft.name,
                day(one.at),
                how(draft),
                draft.note,
                bead_string(draft.parts, held.shelf),
                parts,
                f"{count(draft.drops, 'drop')}, {total:.2f} ml",
                qr(address),
            )
        )
    return render("recipes/recipe_cards.html", cards=views, frame=frame(request, store, "recipes"))


@dataclass(frozen=True)
class BuyView:
    bottle: int
    paint_id: str
    name: str
    count: str
    size: str
    left: str
    why: str
    weeks: str
    price: str
    discontinued: bool


@dataclass(frozen=True)
class ShoppingPage:
    rows: Sequence[BuyView]
    coming: Sequence[tuple[int, str, str]]  # recipe, name, ml
    price: str
    recipes: Sequence[Choice]


@router.get("/shelf/shopping")
def shopping_page(request: Request, store: OpenStore) -> Response:
    found = shopping.shopping_list(store, at=clock.now())
    page = ShoppingPage(
        [_buy(row) for row in found.rows],
        [(one.saved.recipe, one.saved.draft.name, f"{one.ml:g}") for one in found.coming],
        "" if found.price is None else f"{found.price:.2f}",
        [Choice(str(one.recipe), one.draft.name) for one in recipes.newest_versions(store, most=60)],
    )
    return render("recipes/shopping.html", page=page, frame=frame(request, store, "shelf"))


def _buy(row: ToBuy) -> BuyView:
    return BuyView(
        row.bottle.id,
        row.bottle.paint_id,
        row.bottle.full_name,
        "not made" if row.discontinued else count(row.count, "bottle"),
        f"{row.bottle.size_ml:g} ml",
        f"{row.left_ml:.1f} ml",
        row.why,
        weeks(row.weeks) if row.left_ml > 0 and not row.needed_ml else "",
        "" if row.price is None else f"{row.price:.2f}",
        row.discontinued,
    )


@router.get("/shelf/shopping.csv")
def shopping_csv(store: OpenStore) -> Response:
    at = clock.now()
    found = shopping.shopping_list(store, at=at)
    header = (
        "line",
        "name",
        "kind",
        "bottles",
        "size_ml",
        "left_ml",
        "needed_ml",
        "weeks_left",
        "price",
        "why",
        "discontinued",
    )
    rows = [
        (
            row.bottle.line,
            row.bottle.name,
            row.bottle.kind,
            row.count,
            row.bottle.size_ml,
            round(row.left_ml, 2),
            round(row.needed_ml, 2),
            None if row.weeks is None else round(row.weeks, 1),
            row.price,
            row.why,
            "yes" if row.discontinued else "no",
        )
        for row in found.rows
    ]
    return answers.file(to_csv(header, rows), f"shopping-{clock.today(at)}.csv", "text/csv")
