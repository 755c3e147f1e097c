"""The list of recipes, and one recipe with its versions."""

from collections.abc import Sequence
from dataclasses import dataclass
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.film.grounds import ground
from diachrom.core.film.surface import SURFACES
from diachrom.core.mix.draft import RECIPE_GROUND, Draft
from diachrom.errors import InvalidInput
from diachrom.units import ML
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import FormRowId, MaybeFormRowId, OpenStore, RowId, Text, WholeNumber
from diachrom.web.kit.formatting import coats_words, day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.story_view import StoryView, story_view
from diachrom.web.kit.strip_view import ColumnView, columns
from diachrom.web.kit.swatches import BeadString, bead_string
from diachrom.words import listed, say
from diachrom.work.cards import spray_out_cards
from diachrom.work.kit.fields import LARGEST_BOTTLE_ML, number_field
from diachrom.work.mix import charging, cup
from diachrom.work.pour import pouring
from diachrom.work.recipes import recipe_list
from diachrom.work.recipes.recipe_list import ListedRecipe
from diachrom.work.shelf import shopping

router = APIRouter(include_in_schema=False)
AMOUNT = number_field("ml", say("Millilitres"), least=0, most=LARGEST_BOTTLE_ML, units=ML)


@dataclass(frozen=True)
class RecipeView:
    number: int
    name: str
    detail: str
    beads: BeadString


@dataclass(frozen=True)
class RecipesPage:
    query: str
    gone: bool  # those that are retired
    recipes: Sequence[RecipeView]
    more: str  # where the rest is, "" when this is all
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
    story: StoryView
    cards: Sequence[int]  # spray-out cards of this version
    problem: str  # what cannot be read or predicted of it


@dataclass(frozen=True)
class RecipePage:
    number: int
    name: str
    retired: bool
    count_words: str
    versions: Sequence[VersionView]


def how(draft: Draft) -> str:
    """How a version is sprayed, in words."""
    if not draft.ground.startswith(RECIPE_GROUND):
        ground_words = ground(draft.ground).words
    else:
        number, _, version = draft.ground.removeprefix(RECIPE_GROUND).partition(":")
        ground_words = say("recipe {number}, version {version}", number=number, version=version)
    return say(
        "{coats_words} on {ground_words}, {surfaces}",
        coats_words=coats_words(draft.coats, draft.film_um),
        ground_words=ground_words,
        surfaces=SURFACES[draft.surface],
    )


def _recipe(one: ListedRecipe) -> RecipeView:
    draft = one.saved.draft
    detail = say(
        "version {version}, {at} · {drops} drops · {how}",
        version=one.saved.version,
        at=day(one.saved.at),
        drops=draft.drops,
        how=how(draft),
    )
    return RecipeView(one.saved.recipe, draft.name, detail, bead_string(draft.parts, one.contents.shelf))


@router.get("/recipes")
def recipes(request: Request, store: OpenStore, q: str = "", start: WholeNumber = 0, gone: bool = False) -> Response:
    """The recipes, by their beads."""
    query = q[:200]
    listed_recipes = recipe_list.listed(store, query, start=min(max(start, 0), 10**9), retired=gone)
    views = [_recipe(one) for one in listed_recipes.recipes]
    empty = (
        say("No recipe has “{query}” in its name, number, note or paints.", query=query)
        if query
        else say("No recipe is retired.")
        if gone
        else say("No recipe yet. Mix a colour on the Mix page and save it: it gets the next number.")
    )
    rest = urlencode({"q": query, "start": listed_recipes.start + len(views), **({"gone": "true"} if gone else {})})
    page = RecipesPage(query, gone, views, f"/recipes?{rest}" if listed_recipes.more else "", empty)
    if is_fragment_wanted(request):
        return render("recipes/more.html" if start else "recipes/list.html", page=page)
    return render("recipes/page.html", page=page, frame=frame(request, store, "recipes"))


@router.get("/recipes/{number}")
def recipe(request: Request, store: OpenStore, number: RowId) -> Response:
    """A recipe and its versions."""
    found = recipe_list.versions(store, number)
    newest = found[0][0].saved.draft
    count = say("one version") if len(found) == 1 else say("{count} versions, the newest first", count=len(found))
    versions = []
    for one, strip in found:
        draft, saved = one.saved.draft, one.saved
        beads = bead_string(draft.parts, one.contents.shelf)
        views = columns(strip) if strip else []
        parent = (
            ", " + say("from version {parent_version}", parent_version=saved.parent_version)
            if saved.parent_version
            else ""
        )
        guessed = [row.bottle.full_name for row in one.contents.shelf.values() if row.guess]
        versions.append(
            VersionView(
                version=saved.version,
                detail=f"{day(saved.at)}{parent} · {how(draft)}"
                + (f" · a guess: {listed(guessed)}" if guessed else ""),
                beads=beads,
                words=beads.words,
                note=draft.note,
                columns=views,
                strip_words=listed((f"{view.words}: {view.patches[-1].words}" for view in views), "; "),
                ground_words=listed(view.words for view in views),
                coats_words=say("1 to {count} coats", count=len(views[0].patches)) if views else "",
                story=story_view(store, *pouring.story_of(store, saved), None),
                cards=spray_out_cards.of_version(store, saved),
                problem=saved.problem,
            )
        )
    page = RecipePage(number, newest.name, recipe_list.is_retired(store, number), count, versions)
    return render("recipes/recipe.html", page=page, frame=frame(request, store, "recipes"))


@router.post("/recipes/{number}/retire")
def retire(request: Request, store: OpenStore, number: RowId) -> Response:
    """Let a recipe step back from the lists, or bring it back."""
    recipe_list.retire(store, number)
    return go(request, f"/recipes/{number}")


@router.post("/recipes/{number}/open")
def open_recipe(store: OpenStore, number: RowId, version: MaybeFormRowId = None) -> Response:
    """Open a version in the cup."""
    cup.open_recipe(store, number, version, at=clock.now())
    return RedirectResponse("/mix", 303)


@router.post("/recipes/{number}/coming")
def coming(request: Request, store: OpenStore, number: RowId, ml: Text = "") -> Response:
    """Say how much of it is wanted soon, for the shopping list."""
    amount = AMOUNT.value(ml)
    shopping.put_down(store, number, amount if isinstance(amount, float) else 0.0, at=clock.now())
    return go(request, "/shelf/shopping")


@router.post("/recipes/{number}/jar")
def jar(
    request: Request,
    store: OpenStore,
    number: RowId,
    ml: Text = "",
    version: MaybeFormRowId = None,
) -> Response:
    """Keep what was mixed in a jar of its own."""
    amount = AMOUNT.value(ml)
    if not isinstance(amount, float):
        raise InvalidInput(say("Say how much to keep, in ml."), field="ml")
    return go(request, f"/bottles/{charging.keep_in_jar(store, number, version, amount, at=clock.now())}")


@router.post("/recipes/{number}/under")
def under(store: OpenStore, number: RowId, version: FormRowId) -> Response:
    """Spray over a version of it: it is the cup's ground."""
    cup.spray_as(store, ground=f"{RECIPE_GROUND}{number}:{version}", at=clock.now())
    return RedirectResponse("/mix", 303)
