"""The Mix page: each change is one action, answered in place."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.web.kit.dependencies import FormRowId, OpenStore, Text
from diachrom.web.kit.frame import frame, theme_of
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.swatches import Bead, bead, bottle_detail
from diachrom.web.mix.view import mix_page
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.kit.opened import Store
from diachrom.work.mix import charging, cup
from diachrom.work.shelf import water
from diachrom.work.shelf.on_shelf import to_pour

router = APIRouter(include_in_schema=False)
FOUND_MOST = 8
CLEAR = Bead("reducer", None, None)

Fallen = Annotated[int, Form(ge=-500, le=500)]


@router.get("/mix")
def mix(request: Request, store: OpenStore) -> Response:
    """Mix: the cup and its bottles, and the mix as sprayed."""
    if is_fragment_wanted(request):  # another device has changed it
        return _changed(request, store)
    return render(
        "mix/page.html", page=mix_page(cup.see(store), large=_large(request)), frame=frame(request, store, "mix")
    )


@router.get("/mix/revision")
def revision(store: OpenStore) -> Response:
    """The cup's revision: a page that shows another one asks for the cup."""
    return Response(str(cup.revision(store)), media_type="text/plain")


def _large(request: Request) -> bool:
    return theme_of(request) == "booth"


def _changed(request: Request, store: Store, said: str = "") -> Response:
    """The page's body as it is after a change; a plain form goes back to the page."""
    if not is_fragment_wanted(request):
        return RedirectResponse("/mix", 303)
    return render("mix/changed.html", page=mix_page(cup.see(store), said, large=_large(request)))


@router.get("/mix/find")
def find(store: OpenStore, q: str = "") -> Response:
    """Bottles whose words or colour are near what is typed."""
    rows: list[dict[str, object]] = [
        {"bottle": row.bottle.id, "name": row.bottle.full_name, "detail": bottle_detail(row), "bead": bead(row)}
        for row in to_pour(store, q[:200], most=FOUND_MOST)
    ]
    if water.is_meant(q) and not any(row["name"] == "Water" for row in rows):
        rows.append({"bottle": 0, "name": say("Water"), "detail": say("always there"), "bead": CLEAR})
    return render("mix/found.html", found=rows, query=q)


@router.post("/mix/add")
def add(request: Request, store: OpenStore, bottle: FormRowId) -> Response:
    """Add a bottle, with one drop."""
    at = clock.now()
    cup.add_bottle(store, bottle or water.bottle(store, at=at), at=at)
    return _changed(request, store)


@router.post("/mix/pour")
def pour(request: Request, store: OpenStore, bottle: FormRowId, drops: Fallen) -> Response:
    """Pour one drop more, or take one back."""
    cup.pour(store, bottle, drops, at=clock.now())
    return _changed(request, store)


@router.post("/mix/give")
def give(request: Request, store: OpenStore, bottle: FormRowId, drops: Annotated[int, Form(ge=1, le=500)]) -> Response:
    """Pour what a suggestion says."""
    cup.give(store, bottle, drops, at=clock.now())
    return _changed(request, store)


@router.post("/mix/drops")
def set_drops(request: Request, store: OpenStore, bottle: FormRowId, drops: Text) -> Response:
    """Set the drops of a bottle."""
    typed = drops.strip()
    cup.set_drops(store, bottle, int(typed) if typed.isdecimal() and len(typed) < 10 else typed, at=clock.now())
    return _changed(request, store)


@router.post("/mix/take-away")
def take_away(request: Request, store: OpenStore, bottle: FormRowId) -> Response:
    """Take a bottle out of the cup."""
    cup.take_away(store, bottle, at=clock.now())
    return _changed(request, store)


@router.post("/mix/spray")
def spray(
    request: Request,
    store: OpenStore,
    ground: Annotated[str | None, Form()] = None,
    film_um: Annotated[float | None, Form()] = None,
    coats: Annotated[int | None, Form()] = None,
    surface: Annotated[str | None, Form()] = None,
    sealed: Annotated[bool | None, Form()] = None,
) -> Response:
    """Change what it is sprayed over, how thick, in how many coats."""
    now = clock.now()
    cup.spray_as(store, ground=ground, film_um=film_um, coats=coats, surface=surface, sealed=sealed, at=now)
    return _changed(request, store)


@router.post("/mix/look")
def look(
    request: Request,
    store: OpenStore,
    light: Annotated[str | None, Form()] = None,
    nozzle_mm: Annotated[float | None, Form()] = None,
) -> Response:
    """Change the light, the water, the surface."""
    cup.look_at(store, light_key=light, nozzle_mm=nozzle_mm, at=clock.now())
    return _changed(request, store)


@router.post("/mix/name")
def name(request: Request, store: OpenStore, name: Text = "", note: Text = "") -> Response:
    """Change the name and the note."""
    cup.call_it(store, name=" ".join(name.splitlines()), note=note, at=clock.now())
    return _changed(request, store)


@router.post("/mix/undo")
def undo(request: Request, store: OpenStore) -> Response:
    """Take a step back."""
    did = cup.undo(store)
    return _changed(request, store, say("Taken back: {did}.", did=did) if did else say("There is nothing to undo."))


@router.post("/mix/redo")
def redo(request: Request, store: OpenStore) -> Response:
    """Take it again."""
    did = cup.undo(store, back=False)
    return _changed(request, store, say("Done again: {did}.", did=did) if did else say("There is nothing to redo."))


@router.post("/mix/new")
def new(request: Request, store: OpenStore) -> Response:
    """Begin an empty cup."""
    cup.start_new(store, at=clock.now())
    return _changed(request, store, say("A new cup. Undo brings the old one back."))


@router.post("/mix/poured")
def poured(request: Request, store: OpenStore) -> Response:
    """Enter that the cup was poured: its bottles are charged."""
    taken = charging.take_from_stock(store, at=clock.now())
    if not taken.bottles:
        return _changed(request, store, say("All of it is taken off the bottles already."))
    said = say(
        "{ml} taken out of {bottles}; Undo on the Shelf puts it back.",
        ml=quantity(taken.ml, ".2f", "ml"),
        bottles=say_count(taken.bottles, "{count} bottle", "{count} bottles"),
    )
    if taken.below:
        said += " " + say(
            "More than was in it is gone from {below}: enter what is left there.", below=listed(taken.below)
        )
    return _changed(request, store, said)


@router.post("/mix/save")
def save(request: Request, store: OpenStore) -> Response:
    """Save the cup as a recipe's next version."""
    saved, is_new = cup.save(store, at=clock.now())
    place = say("recipe {recipe}, version {version}", recipe=saved.recipe, version=saved.version)
    return _changed(
        request,
        store,
        say("Saved as {place}.", place=place)
        if is_new
        else say("Nothing to save: it is {place} already.", place=place),
    )
