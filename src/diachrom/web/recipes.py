"""The list of recipes, and one recipe with its versions."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Form, Path, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.film.grounds import ground
from diachrom.core.mixing.draft import Draft
from diachrom.core.mixing.strip import Strip
from diachrom.web.frame import frame
from diachrom.web.mix_view import coats_words
from diachrom.web.needs import OpenStore
from diachrom.web.pages import is_fragment_wanted, render
from diachrom.web.strip_view import ColumnView, columns
from diachrom.web.swatches import BeadString, bead_string
from diachrom.work import book, cup
from diachrom.work.book import InBook

router = APIRouter()
Number = Annotated[int, Path()]


@dataclass(frozen=True)
class RecipeView:
    number: int
    name: str
    detail: str
    beads: BeadString


@dataclass(frozen=True)
class BookPage:
    query: str
    recipes: Sequence[RecipeView]
    empty_words: str


@dataclass(frozen=True)
class VersionView:
    version: int
    detail: str
    beads: BeadString
    words: str
    note: str
    columns: Sequence[ColumnView]
    strip_words: str
    ground_words: str
    coats_words: str


@dataclass(frozen=True)
class RecipePage:
    number: int
    name: str
    count_words: str
    versions: Sequence[VersionView]


def day(at: str) -> str:
    """An ISO time as a day in words: "2 September 2026"."""
    moment = datetime.fromisoformat(at)
    return f"{moment.day} {moment:%B %Y}"


def _how(draft: Draft) -> str:
    clear = "under clear" if draft.clear_coat else "matte"
    return f"{coats_words(draft.coats, draft.film_um).lower()} on {ground(draft.ground).words}, {clear}"


def _recipe(one: InBook) -> RecipeView:
    draft = one.saved.draft
    detail = f"version {one.saved.version}, {day(one.saved.at)} · {draft.drops} drops · {_how(draft)}"
    return RecipeView(one.saved.recipe, draft.name, detail, bead_string(draft.parts, one.contents.shelf))


@router.get("/recipes")
def recipes(request: Request, store: OpenStore, q: str = "") -> Response:
    query = q[:200]
    found = [_recipe(one) for one in book.book(store, query)]
    empty = (
        f"No recipe has “{query}” in its name, number, note or paints."
        if query
        else ("No recipe yet. Mix something on the Mix page and save it: it gets the next number.")
    )
    page = BookPage(query, found, empty)
    if is_fragment_wanted(request):
        return render("book.html", page=page)
    return render("recipes.html", page=page, frame=frame(request, store, "recipes"))


def _version(one: InBook, strip: Strip) -> VersionView:
    draft, saved = one.saved.draft, one.saved
    beads = bead_string(draft.parts, one.contents.shelf)
    views = columns(strip)
    parent = f", from version {saved.parent_version}" if saved.parent_version else ""
    return VersionView(
        saved.version,
        f"{day(saved.at)}{parent} · {_how(draft)}",
        beads,
        beads.words,
        draft.note,
        views,
        "; ".join(f"{view.words.lower()}: {view.patches[-1].words}" for view in views),
        ", ".join(view.words.lower() for view in views),
        f"1 to {len(views[0].patches)} coats",
    )


@router.get("/recipes/{number}")
def recipe(request: Request, store: OpenStore, number: Number) -> Response:
    found = book.versions(store, number)
    newest = found[0][0].saved.draft
    count = "one version" if len(found) == 1 else f"{len(found)} versions, the newest first"
    page = RecipePage(number, newest.name, count, [_version(one, strip) for one, strip in found])
    return render("recipe.html", page=page, frame=frame(request, store, "recipes"))


@router.post("/recipes/{number}/open")
def open_recipe(store: OpenStore, number: Number, version: Annotated[int | None, Form()] = None) -> Response:
    cup.open_recipe(store, number, version, at=clock.now())
    return RedirectResponse("/mix", 303)
