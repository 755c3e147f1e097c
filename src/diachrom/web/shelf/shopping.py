"""The shopping list: what runs out, and what is planned."""

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.web.kit import answers
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.formatting import weeks
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.words import quantity, say, say_count
from diachrom.work.recipes import recipe_list
from diachrom.work.shelf import shopping
from diachrom.work.shelf.shopping import ToBuy

router = APIRouter(include_in_schema=False)
OFFERED = 60  # recipes that may be planned


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
    orders: Sequence[tuple[int, str, str]]  # order, name, ml
    price: str
    recipes: Sequence[Choice]


@router.get("/shelf/shopping")
def shopping_page(request: Request, store: OpenStore) -> Response:
    """What runs out or is wanted soon."""
    shopping_list = shopping.shopping_list(store, at=clock.now())
    page = ShoppingPage(
        [_buy(row) for row in shopping_list.rows],
        [
            (recipe.saved.recipe, recipe.saved.draft.name, quantity(recipe.ml, "g", "ml"))
            for recipe in shopping_list.coming
        ],
        [
            (coming_order.number, coming_order.name, quantity(coming_order.ml, ".1f", "ml"))
            for coming_order in shopping_list.orders
        ],
        "" if shopping_list.price is None else quantity(shopping_list.price, ".2f", "money"),
        [Choice(str(version.recipe), version.draft.name) for version in recipe_list.chosen(store, None, most=OFFERED)],
    )
    return render("shelf/shopping.html", page=page, frame=frame(request, store, "shelf"))


def _buy(row: ToBuy) -> BuyView:
    return BuyView(
        bottle=row.bottle.id,
        paint_id=row.bottle.paint_id,
        name=row.bottle.full_name,
        count=say("not made") if row.discontinued else say_count(row.count, "{count} bottle", "{count} bottles"),
        size=quantity(row.bottle.size_ml, "g", "ml"),
        left=quantity(row.left_ml, ".1f", "ml"),
        why=row.why,
        weeks=weeks(row.weeks) if row.left_ml > 0 and not row.needed_ml else "",
        price="" if row.price is None else quantity(row.price, ".2f", "money"),
        discontinued=row.discontinued,
    )


@router.get("/shelf/shopping.csv")
def shopping_csv(store: OpenStore) -> Response:
    """The same as a table."""
    at = clock.now()
    return answers.file(shopping.as_csv(store, at=at), f"shopping-{clock.today(at)}.csv", "text/csv")
