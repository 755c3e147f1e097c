"""The drawdown card: sprayed, read, derived, accepted - each step in its place."""

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.web.kit.answers import code_for, go, own_address
from diachrom.web.kit.dependencies import AtBench, FormRowId, GivenForm, OpenStore, RowId, Text, Upload
from diachrom.web.kit.devices import chosen_reader, reader_panel, shots
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.photos import PhotoPage, PickedSpot
from diachrom.web.kit.qr import qr
from diachrom.web.kit.sheet import SheetPage, printed
from diachrom.web.kit.spectral_file import BroughtFile
from diachrom.web.profiles.contrast_card_view import ContrastCardPage, card_page
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.kit import photo_picks
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.opened import Store
from diachrom.work.profiles import card_readings, card_sprayed, contrast_cards

router = APIRouter(include_in_schema=False)


def _page(request: Request, store: Store, devices: Devices, card: int, said: str = "") -> ContrastCardPage:
    panel = reader_panel(devices, chosen_reader(request, devices))
    return card_page(store, contrast_cards.see(store, card), panel, shots=shots(devices), said=said)


def _answer(request: Request, store: Store, devices: AtBench, card: int, said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return go(request, f"/contrast-cards/{card}")
    return render("profiles/contrast_card_body.html", page=_page(request, store, devices, card, said))


@router.get("/contrast-cards/{card}")
def show(request: Request, store: OpenStore, devices: AtBench, card: RowId) -> Response:
    """A drawdown card."""
    page = _page(request, store, devices, card)
    return render("profiles/contrast_card.html", page=page, frame=frame(request, store, "shelf"))


def _words(store: Store, card: int, field: str) -> str:
    return contrast_cards.field_of(contrast_cards.card_of(store, card), field).words


@router.post("/contrast-cards/{card}/sprayed")
def sprayed(request: Request, store: OpenStore, devices: AtBench, card: RowId, given: GivenForm) -> Response:
    """Change how it was sprayed."""
    card_sprayed.describe(store, card, given)
    return _answer(request, store, devices, card)


@router.post("/contrast-cards/{card}/read")
def read(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    card: RowId,
    field: Text,
    lifted: Annotated[bool, Form()] = False,
) -> Response:
    """Read a field with a device."""
    key = chosen_reader(request, devices)
    card_readings.read_by_device(store, card, field, devices, key, lifted=lifted, at=clock.now())
    return _answer(request, store, devices, card, say("Read: {words}.", words=_words(store, card, field)))


@router.post("/contrast-cards/{card}/typed")
def typed(request: Request, store: OpenStore, devices: AtBench, card: RowId, field: Text, typed: Text = "") -> Response:
    """Read a field as typed."""
    card_readings.type_in(store, card, field, typed[:80], at=clock.now())
    return _answer(request, store, devices, card, say("Taken down: {words}.", words=_words(store, card, field)))


@router.post("/contrast-cards/{card}/file")
def from_file(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    card: RowId,
    field: Text,
    brought: BroughtFile,
) -> Response:
    """Read fields from a file of spectra."""
    card_readings.from_sample(store, card, field, brought.sample, asked=brought.asked, at=clock.now())
    return _answer(request, store, devices, card, brought.said)


@router.post("/contrast-cards/{card}/aside")
def aside(request: Request, store: OpenStore, devices: AtBench, card: RowId, reading: FormRowId) -> Response:
    """Set a reading aside, or let it count again."""
    card_readings.set_aside(store, card, reading)
    return _answer(request, store, devices, card)


@router.get("/contrast-cards/{card}/sheet")
def sheet(request: Request, store: OpenStore, card: RowId) -> Response:
    """To be printed, sprayed and photographed."""
    found, record = contrast_cards.sprayed(store, card)
    laid = card_readings.sheet_of(found)
    fields = [
        printed(
            field,
            f"{field.ground}, {say_count(field.coats, '{count} pass', '{count} passes') if field.coats else 'bare'}",
        )
        for field in laid.fields
    ]
    page = SheetPage(
        title=say("Sheet of drawdown card {card}", card=card),
        name=say("Drawdown card {card}: {full_name}", card=card, full_name=record.full_name),
        detail=say(
            "passes of {film} · {what}",
            film=quantity(found.film_um, "g", "µm"),
            what="cleared" if found.clear_coat else say("not cleared"),
        ),
        fields=fields,
        qr=qr(code_for(request, card_readings.address(found))),
        qr_place=laid.qr,
        by_hand=(),
        spray=say("Spray each field with its number of passes, all in one go: cover the finished fields with paper"),
        back=f"/contrast-cards/{card}",
        crosses=laid.crosses,
    )
    return render("kit/sheet.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/contrast-cards/{card}/sheet")
def sheet_photo(request: Request, store: OpenStore, devices: AtBench, card: RowId, file: Upload) -> Response:
    """A photo of the whole sheet, read in one go."""
    aside = card_readings.from_sheet(store, card, file.filename or "photo", file.file.read(), at=clock.now())
    return _answer(request, store, devices, card, _sheet_read(aside))


@router.post("/contrast-cards/{card}/camera")
def camera(request: Request, store: OpenStore, devices: AtBench, card: RowId, shot: Text) -> Response:
    """The camera's photo of the sheet."""
    taken = card_readings.take_photo(store, devices, card, shot, own_address(request))
    aside = card_readings.from_sheet(store, card, say("of the simulated camera"), taken, at=clock.now())
    return _answer(request, store, devices, card, _sheet_read(aside))


def _sheet_read(aside: Sequence[str]) -> str:
    if aside:
        return say("Every field was read from the photo. Set aside: {aside}.", aside=listed(aside))
    return say("Every field was read from the photo.")


@router.post("/contrast-cards/{card}/accept")
def accept(request: Request, store: OpenStore, card: RowId) -> Response:
    """Take the profile that the card gives."""
    version = contrast_cards.accept(store, card, at=clock.now())
    paint_id = contrast_cards.card_of(store, card).paint_id
    return go(request, f"/paints/{paint_id}/effects?before={version - 1}&after={version}")


@router.post("/contrast-cards/{card}/photo")
def bring_photo(request: Request, store: OpenStore, card: RowId, field: Text, file: Upload) -> Response:
    """Bring a photo of the card."""
    photo = photo_picks.keep(store, file.filename or "photo", file.file.read(), at=clock.now())
    return go(request, f"/contrast-cards/{card}/photo/{photo}?field={field[:24]}")


@router.get("/contrast-cards/{card}/photo/{photo}")
def photo_page(request: Request, store: OpenStore, card: RowId, photo: RowId, field: str = "white") -> Response:
    """The photo, to be touched where its fields are."""
    found = photo_picks.photo(store, photo)
    words = next(
        (one.words for one in contrast_cards.fields_of(contrast_cards.card_of(store, card)) if one.key == field), field
    )
    action = f"/contrast-cards/{card}/photo/{photo}"
    page = PhotoPage(
        photo=photo,
        name=found.name,
        width=found.width,
        height=found.height,
        action=action,
        field=field,
        title=words,
        back=f"/contrast-cards/{card}",
    )
    return render("kit/photo.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/contrast-cards/{card}/photo/{photo}")
def from_photo(
    request: Request, store: OpenStore, card: RowId, photo: RowId, spot: PickedSpot, field: Text
) -> Response:
    """Read fields from where the photo was touched."""
    card_readings.from_photo(store, card, field, photo, spot, at=clock.now())
    return go(request, f"/contrast-cards/{card}")
