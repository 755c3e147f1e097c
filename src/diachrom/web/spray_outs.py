"""Test cards: the list of them, and one with its patches, predicted beside measured."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.light.words import closeness
from diachrom.store import recipes
from diachrom.store import spray_outs as kept
from diachrom.web import choices
from diachrom.web.answers import go, own_address
from diachrom.web.devices import chosen_reader, reader_panel
from diachrom.web.frame import frame
from diachrom.web.needs import AtBench, FormRowId, GivenForm, MaybeFormRowId, OpenStore, RowId
from diachrom.web.pages import is_fragment_wanted, render
from diachrom.web.photos import PhotoPage, PickedSpot
from diachrom.web.say import count, day
from diachrom.web.spray_out_view import CardPage, card_page, how_words
from diachrom.web.swatches import BeadString, Swatch, bead_string, swatch
from diachrom.work import card_sheets, picking, spray_outs
from diachrom.work.aiming import colour_of
from diachrom.work.contents import contents
from diachrom.work.cup import RECIPES_OFFERED
from diachrom.work.devices import Devices
from diachrom.work.opened import Store
from diachrom.work.over import over
from diachrom.work.spray_out_seen import called

router = APIRouter()
Text = Annotated[str, Form()]
Whole = Annotated[int, Form(ge=-1, le=99)]
LISTED = 30


@dataclass(frozen=True)
class ListedCard:
    number: int
    name: str
    detail: str
    beads: BeadString
    pairs: Sequence[tuple[Swatch, Swatch]]  # each patch as it was predicted then, and as it was read
    told: str


@dataclass(frozen=True)
class CardsPage:
    query: str
    cards: Sequence[ListedCard]
    more: str  # where the next ones are
    next_number: int
    empty: str


@router.get("/spray-outs")
def cards(request: Request, store: OpenStore, q: str = "", start: int = 0) -> Response:
    query, begin_at = q[:200], min(max(start, 0), 10**9)
    found = kept.find(store, query, start=begin_at, most=LISTED + 1)
    rest = urlencode({"q": query, "start": begin_at + LISTED})
    page = CardsPage(
        query,
        [_listed(store, one) for one in found[:LISTED]],
        f"/spray-outs?{rest}" if len(found) > LISTED else "",
        kept.next_number(store),
        f"No test card has “{query}” in its number, name, note or paints." if query else "",
    )
    if is_fragment_wanted(request):
        return render("more_cards.html" if start else "card_list.html", page=page)
    return render("spray_outs.html", page=page, frame=frame(request, store, "mix"))


def _listed(store: Store, one: kept.SprayOut) -> ListedCard:
    pairs = spray_outs.as_read(one)
    detail = f"{day(one.at)} · {how_words(one)} · {len(pairs)} of {count(len(one.patches), 'patch')} read"
    detail += "" if one.counts else " · not learned from"
    far = spray_outs.missed_by(pairs)
    told = "" if far is None else f"{closeness(far)}, dE {far:.1f}"
    looks = [(swatch(colour_of(pair.predicted)), swatch(colour_of(pair.measured))) for pair in pairs]
    held = contents(store, one.draft)
    beads = bead_string(one.draft.parts, held.shelf)
    return ListedCard(one.id, called(one, held), detail, beads, looks, told)


def _page(request: Request, store: Store, devices: Devices, number: int, said: str = "") -> CardPage:
    offered = recipes.newest_versions(store, most=RECIPES_OFFERED)
    grounds = [choices.grounds(), choices.recipe_grounds(offered)]
    return card_page(
        spray_outs.see(store, number), reader_panel(devices, chosen_reader(request, devices)), grounds, said
    )


def _changed(request: Request, store: Store, devices: Devices, number: int, said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return RedirectResponse(f"/spray-outs/{number}", 303)
    return render("spray_out_body.html", page=_page(request, store, devices, number, said))


@router.post("/spray-outs")
def begin(
    request: Request,
    store: OpenStore,
    recipe: MaybeFormRowId = None,
    version: MaybeFormRowId = None,
    number: MaybeFormRowId = None,
) -> Response:
    return go(request, f"/spray-outs/{spray_outs.begin(store, recipe, version, number=number, at=clock.now())}")


@router.get("/spray-outs/{number}")
def show(request: Request, store: OpenStore, devices: AtBench, number: RowId) -> Response:
    page = _page(request, store, devices, number)
    return render("spray_out.html", page=page, frame=frame(request, store, "mix"))


@router.post("/spray-outs/{number}/how")
def how(request: Request, store: OpenStore, devices: AtBench, number: RowId, given: GivenForm) -> Response:
    spray_outs.describe(store, number, given)
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/read")
def read(request: Request, store: OpenStore, devices: AtBench, number: RowId, ground: Text, coats: Whole) -> Response:
    spray_outs.read(store, devices, chosen_reader(request, devices), number, ground, coats, at=clock.now())
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/typed")
def typed(
    request: Request, store: OpenStore, devices: AtBench, number: RowId, ground: Text, coats: Whole, typed: Text = ""
) -> Response:
    spray_outs.typed(store, number, ground, coats, typed[:60], at=clock.now())
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/judge")
def judge(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    number: RowId,
    ground: Text,
    coats: Whole,
    direction: Annotated[Sequence[str], Form()] = (),
    degree: Text = "a touch",
) -> Response:
    spray_outs.judge(store, number, ground, coats, direction, degree, at=clock.now())
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/aside")
def aside(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    number: RowId,
    reading: FormRowId,
) -> Response:
    spray_outs.turn(store, number, reading)
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/counts")
def counts(request: Request, store: OpenStore, devices: AtBench, number: RowId) -> Response:
    spray_outs.turn_card(store, number)
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/away")
def away(request: Request, store: OpenStore, number: RowId) -> Response:
    spray_outs.take_away(store, number)
    return go(request, "/spray-outs")


@router.post("/spray-outs/{number}/patch-away")
def patch_away(
    request: Request, store: OpenStore, devices: AtBench, number: RowId, ground: Text, coats: Whole
) -> Response:
    spray_outs.take_patch_away(store, number, ground, coats)
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/patch")
def patch(request: Request, store: OpenStore, devices: AtBench, number: RowId, ground: Text, coats: Whole) -> Response:
    spray_outs.add_patch(store, number, ground[:80], coats)
    return _changed(request, store, devices, number)


def _sheet_read(aside: Mapping[str, Sequence[str]]) -> str:
    if not aside:
        return "Every patch was read from the photo."
    return " ".join(["Read from the photo.", *(f"Set aside, {why}: {', '.join(own)}." for why, own in aside.items())])


@router.post("/spray-outs/{number}/sheet")
def sheet_photo(
    request: Request, store: OpenStore, devices: AtBench, number: RowId, file: Annotated[UploadFile, File()]
) -> Response:
    """A photo of the whole sheet, read in one go."""
    aside = card_sheets.read_photo(store, number, file.filename or "photo", file.file.read(), at=clock.now())
    return _changed(request, store, devices, number, _sheet_read(aside))


@router.post("/spray-outs/{number}/camera")
def camera(request: Request, store: OpenStore, devices: AtBench, number: RowId, shot: Text) -> Response:
    """The simulated camera's photo of the sheet."""
    taken = card_sheets.simulated_photo(store, number, shot, own_address(request))
    aside = card_sheets.read_photo(store, number, "of the simulated camera", taken, at=clock.now())
    return _changed(request, store, devices, number, _sheet_read(aside))


@router.post("/spray-outs/{number}/photo")
def bring(
    request: Request, store: OpenStore, number: RowId, ground: Text, coats: Whole, file: Annotated[UploadFile, File()]
) -> Response:
    """A photo with a grey patch, to pick one patch from."""
    kept.patch_of(store, number, ground, coats)
    photo = picking.keep(store, file.filename or "photo", file.file.read(), at=clock.now())
    return go(request, f"/spray-outs/{number}/photo/{photo}?ground={ground[:80]}&coats={coats}")


@router.get("/spray-outs/{number}/photo/{photo}")
def pick_page(
    request: Request, store: OpenStore, number: RowId, photo: RowId, ground: str = "white", coats: int = 1
) -> Response:
    found = picking.photo(store, photo)
    kept.patch_of(store, number, ground, coats)
    words = over(store, ground).words
    page = PhotoPage(
        photo,
        found.name,
        found.width,
        found.height,
        f"/spray-outs/{number}/photo/{photo}",
        f"{coats}:{ground}",
        f"{count(coats, 'coat')} on {words}",
        f"/spray-outs/{number}",
    )
    return render("photo.html", page=page, frame=frame(request, store, "mix"))


@router.post("/spray-outs/{number}/photo/{photo}")
def pick(request: Request, store: OpenStore, number: RowId, photo: RowId, spot: PickedSpot, field: Text) -> Response:
    coats, _, ground = field.partition(":")
    own = int(coats) if coats.isdecimal() and len(coats) < 3 else -1
    spray_outs.from_photo(store, number, ground, own, photo, spot, at=clock.now())
    return go(request, f"/spray-outs/{number}")
