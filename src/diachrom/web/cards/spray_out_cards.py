"""Spray-out cards: the list of them, and one with its patches, predicted beside measured."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.light.words import closeness
from diachrom.core.mix.prediction import colour_of
from diachrom.web.cards.view import TestCardPage, card_page, how_words
from diachrom.web.kit import choices
from diachrom.web.kit.answers import go, own_address
from diachrom.web.kit.dependencies import (
    AtBench,
    FormRowId,
    GivenForm,
    MaybeFormRowId,
    OpenStore,
    RowId,
    Text,
    Upload,
    WholeNumber,
)
from diachrom.web.kit.devices import chosen_reader, reader_panel, shots
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.photos import PhotoPage, PickedSpot
from diachrom.web.kit.spectral_file import BroughtFile
from diachrom.web.kit.swatches import BeadString, Swatch, bead_string, swatch
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.cards import sheets, spray_out_cards
from diachrom.work.cards.compare_prediction import called
from diachrom.work.kit import photo_picks
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.opened import Store
from diachrom.work.mix.contents import contents
from diachrom.work.mix.sprayed_over import offered, over

router = APIRouter(include_in_schema=False)
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


@router.get("/test-cards")
def cards(request: Request, store: OpenStore, q: str = "", start: WholeNumber = 0) -> Response:
    """The spray-out cards, found by number, name, note and paint."""
    query, begin_at = q[:200], min(max(start, 0), 10**9)
    found = spray_out_cards.find(store, query, start=begin_at, most=LISTED + 1)
    rest = urlencode({"q": query, "start": begin_at + LISTED})
    listed = []
    for card in found[:LISTED]:
        pairs = spray_out_cards.as_read(card)
        detail = say(
            "{at} · {how_words} · {count} of {patches} read",
            at=day(card.at),
            how_words=how_words(card),
            count=len(pairs),
            patches=say_count(len(card.patches), "{count} patch", "{count} patches"),
        )
        detail += "" if card.counts else " · " + say("not learned from")
        far = spray_out_cards.missed_by(pairs)
        told = "" if far is None else say("{closeness}, dE {far}", closeness=closeness(far), far=quantity(far, ".1f"))
        looks = [(swatch(colour_of(pair.predicted)), swatch(colour_of(pair.measured))) for pair in pairs]
        held = contents(store, card.draft)
        beads = bead_string(card.draft.parts, held.shelf)
        listed.append(
            ListedCard(number=card.id, name=called(card, held), detail=detail, beads=beads, pairs=looks, told=told)
        )
    page = CardsPage(
        query,
        listed,
        f"/test-cards?{rest}" if len(found) > LISTED else "",
        spray_out_cards.next_number(store),
        say("No spray-out card has “{query}” in its number, name, note or paints.", query=query) if query else "",
    )
    if is_fragment_wanted(request):
        return render("cards/more.html" if start else "cards/list.html", page=page)
    return render("cards/page.html", page=page, frame=frame(request, store, "test-cards"))


def _page(request: Request, store: Store, devices: Devices, number: int, said: str = "") -> TestCardPage:
    recipes = offered(store)
    grounds = [choices.grounds(), choices.recipe_grounds(recipes)]
    panel = reader_panel(devices, chosen_reader(request, devices))
    return card_page(spray_out_cards.see(store, number), panel, shots=shots(devices), grounds=grounds, said=said)


def _changed(request: Request, store: Store, devices: Devices, number: int, said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return RedirectResponse(f"/test-cards/{number}", 303)
    return render("cards/card_body.html", page=_page(request, store, devices, number, said))


@router.post("/test-cards")
def begin(
    request: Request,
    store: OpenStore,
    recipe: MaybeFormRowId = None,
    version: MaybeFormRowId = None,
    number: MaybeFormRowId = None,
) -> Response:
    """Begin a card of the cup as it stands, or of a recipe's version."""
    return go(request, f"/test-cards/{spray_out_cards.begin(store, recipe, version, number=number, at=clock.now())}")


@router.get("/test-cards/{number}")
def show(request: Request, store: OpenStore, devices: AtBench, number: RowId) -> Response:
    """A card: each patch beside its prediction, and what would explain the rest."""
    page = _page(request, store, devices, number)
    return render("cards/card.html", page=page, frame=frame(request, store, "test-cards"))


@router.post("/test-cards/{number}/how")
def how(request: Request, store: OpenStore, devices: AtBench, number: RowId, given: GivenForm) -> Response:
    """Change how it was sprayed, and its note."""
    spray_out_cards.describe(store, number, given)
    return _changed(request, store, devices, number)


@router.post("/test-cards/{number}/read")
def read(request: Request, store: OpenStore, devices: AtBench, number: RowId, ground: Text, coats: Whole) -> Response:
    """Read a patch with a device."""
    spray_out_cards.read(
        connection=store,
        devices=devices,
        device=chosen_reader(request, devices),
        number=number,
        ground=ground,
        coats=coats,
        at=clock.now(),
    )
    return _changed(request, store, devices, number)


@router.post("/test-cards/{number}/typed")
def typed(
    request: Request, store: OpenStore, devices: AtBench, number: RowId, ground: Text, coats: Whole, typed: Text = ""
) -> Response:
    """Read a patch as typed: Lab, or a hex colour."""
    spray_out_cards.typed(store, number, ground, coats, typed[:60], at=clock.now())
    return _changed(request, store, devices, number)


@router.post("/test-cards/{number}/file")
def from_file(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    number: RowId,
    ground: Text,
    coats: Whole,
    brought: BroughtFile,
) -> Response:
    """Read a patch from a file of spectra."""
    spray_out_cards.from_sample(
        connection=store,
        number=number,
        ground=ground,
        coats=coats,
        name=brought.name,
        sample=brought.sample,
        at=clock.now(),
    )
    return _changed(request, store, devices, number, brought.said)


@router.post("/test-cards/{number}/judge")
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
    """Say what the eye sees of a patch."""
    spray_out_cards.judge(
        connection=store, number=number, ground=ground, coats=coats, directions=direction, degree=degree, at=clock.now()
    )
    return _changed(request, store, devices, number)


@router.post("/test-cards/{number}/aside")
def aside(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    number: RowId,
    reading: FormRowId,
) -> Response:
    """Set a reading aside, or let it count again."""
    spray_out_cards.turn(store, number, reading)
    return _changed(request, store, devices, number)


@router.post("/test-cards/{number}/counts")
def counts(request: Request, store: OpenStore, devices: AtBench, number: RowId) -> Response:
    """Let the whole card count, or not."""
    spray_out_cards.turn_card(store, number)
    return _changed(request, store, devices, number)


@router.post("/test-cards/{number}/away")
def away(request: Request, store: OpenStore, number: RowId) -> Response:
    """Throw a card away that was begun by mistake."""
    spray_out_cards.take_away(store, number)
    return go(request, "/test-cards")


@router.post("/test-cards/{number}/patch-away")
def patch_away(
    request: Request, store: OpenStore, devices: AtBench, number: RowId, ground: Text, coats: Whole
) -> Response:
    """Take a patch off that was never read."""
    spray_out_cards.take_patch_away(store, number, ground, coats)
    return _changed(request, store, devices, number)


@router.post("/test-cards/{number}/patch")
def patch(request: Request, store: OpenStore, devices: AtBench, number: RowId, ground: Text, coats: Whole) -> Response:
    """Lay one more patch: over a ground, in so many coats."""
    spray_out_cards.add_patch(store, number, ground[:80], coats)
    return _changed(request, store, devices, number)


def _sheet_read(aside: Mapping[str, Sequence[str]]) -> str:
    if not aside:
        return say("Every patch was read from the photo.")
    return listed(["Read from the photo.", *(f"Set aside, {why}: {listed(own)}." for why, own in aside.items())], " ")


@router.post("/test-cards/{number}/sheet")
def sheet_photo(request: Request, store: OpenStore, devices: AtBench, number: RowId, file: Upload) -> Response:
    """A photo of the whole sheet, read in one go."""
    aside = sheets.read_photo(store, number, file.filename or "photo", file.file.read(), at=clock.now())
    return _changed(request, store, devices, number, _sheet_read(aside))


@router.post("/test-cards/{number}/camera")
def camera(request: Request, store: OpenStore, devices: AtBench, number: RowId, shot: Text) -> Response:
    """The simulated camera's photo of the sheet."""
    taken = sheets.take_photo(store, devices, number, shot, own_address(request))
    aside = sheets.read_photo(store, number, say("of the simulated camera"), taken, at=clock.now())
    return _changed(request, store, devices, number, _sheet_read(aside))


@router.post("/test-cards/{number}/photo")
def bring(request: Request, store: OpenStore, number: RowId, ground: Text, coats: Whole, file: Upload) -> Response:
    """A photo with a grey patch, to pick one patch from."""
    spray_out_cards.check_patch(store, number, ground, coats)
    photo = photo_picks.keep(store, file.filename or "photo", file.file.read(), at=clock.now())
    return go(request, f"/test-cards/{number}/photo/{photo}?ground={ground[:80]}&coats={coats}")


@router.get("/test-cards/{number}/photo/{photo}")
def pick_page(
    request: Request, store: OpenStore, number: RowId, photo: RowId, ground: str = "white", coats: WholeNumber = 1
) -> Response:
    """The photo of a patch, to be touched where the grey patch and the colour are."""
    found = photo_picks.photo(store, photo)
    spray_out_cards.check_patch(store, number, ground, coats)
    words = over(store, ground).words
    page = PhotoPage(
        photo=photo,
        name=found.name,
        width=found.width,
        height=found.height,
        action=f"/test-cards/{number}/photo/{photo}",
        field=f"{coats}:{ground}",
        title=say("{coats} on {words}", coats=say_count(coats, "{count} coat", "{count} coats"), words=words),
        back=f"/test-cards/{number}",
    )
    return render("kit/photo.html", page=page, frame=frame(request, store, "test-cards"))


@router.post("/test-cards/{number}/photo/{photo}")
def pick(request: Request, store: OpenStore, number: RowId, photo: RowId, spot: PickedSpot, field: Text) -> Response:
    """Read a patch from where its photo was touched."""
    coats, _, ground = field.partition(":")
    own = int(coats) if coats.isdecimal() and len(coats) < 3 else -1
    spray_out_cards.from_photo(
        connection=store, number=number, ground=ground, coats=own, photo=photo, spot=spot, at=clock.now()
    )
    return go(request, f"/test-cards/{number}")
