"""The contrast card: sprayed, read, derived, accepted - each step in its place."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.light.lights import light
from diachrom.core.mixing.contrast_card import PASS_UM, on_card
from diachrom.core.mixing.layers import COATS_UM
from diachrom.core.mixing.prediction import colours
from diachrom.exchange.spectra import one_of, read_spectra
from diachrom.instruments.camera import SHOTS
from diachrom.store import cards, paints
from diachrom.web.answers import go, own_address
from diachrom.web.card_sheet import SheetPage, printed
from diachrom.web.choices import Choice
from diachrom.web.devices import DevicePanel, chosen_reader, reader_panel
from diachrom.web.frame import frame
from diachrom.web.needs import AtBench, FormRowId, GivenForm, OpenStore, RowId
from diachrom.web.pages import is_fragment_wanted, render
from diachrom.web.plot import Plot
from diachrom.web.prints import qr
from diachrom.web.profile_plots import spectra
from diachrom.web.say import count
from diachrom.web.strip_view import ColumnView, columns
from diachrom.web.swatches import Swatch, swatch
from diachrom.work import card_readings, carding
from diachrom.work.carding import CardSeen, Derived, FieldSeen
from diachrom.work.looks import look
from diachrom.work.opened import Store

router = APIRouter()
Text = Annotated[str, Form()]
SHOTS_CHOICES = [Choice(key, shot.words) for key, shot in SHOTS.items()]


@dataclass(frozen=True)
class ReadingView:
    id: int
    words: str
    swatch: Swatch
    counts: bool


@dataclass(frozen=True)
class FieldView:
    key: str
    words: str
    swatch: Swatch | None
    detail: str
    readings: Sequence[ReadingView]


@dataclass(frozen=True)
class DerivedView:
    sentence: str
    figures: str
    doubtful: str
    saturated: str
    unsure: str  # why it is not accepted as it is
    plot: Plot
    before: Sequence[ColumnView]
    after: Sequence[ColumnView]


@dataclass(frozen=True)
class HowView:
    """How it was sprayed, as the form shows it."""

    film_um: float
    thicknesses: Sequence[tuple[float, str]]
    steps: str
    films: str  # "2, 8 and 24 µm"
    clear_coat: bool
    whites: Sequence[Choice]
    white_paint: str
    white_drops: int


@dataclass(frozen=True)
class CardPage:
    card: int
    paint_id: str
    name: str
    how: HowView
    fields: Sequence[FieldView]
    next_field: str  # the first that was not read yet
    derived: DerivedView | None
    problem: str
    missing: str
    accepted: int | None
    shots: Sequence[Choice]
    device: DevicePanel
    said: str


def card_page(store: Store, seen: CardSeen, device: DevicePanel, said: str = "") -> CardPage:
    missing = [one.field.key for one in seen.fields if one.mean is None]
    return CardPage(
        seen.card.id,
        seen.card.paint_id,
        seen.record.full_name,
        _how(store, seen),
        [_field(field) for field in seen.fields],
        missing[0] if missing else "",
        _derived(seen, seen.derived) if seen.derived else None,
        seen.problem,
        ", ".join(seen.missing),
        seen.card.version,
        SHOTS_CHOICES,
        device,
        said,
    )


def _how(store: Store, seen: CardSeen) -> HowView:
    card = seen.card
    thick = [f"{passes * card.film_um:g}" for passes in card.steps]
    return HowView(
        card.film_um,
        [(PASS_UM, "mist pass"), *((um, f"{key} coat") for key, um in COATS_UM.items())],
        ", ".join(str(passes) for passes in card.steps),
        f"{' and '.join(filter(None, [', '.join(thick[:-1]), thick[-1]]))} µm",
        card.clear_coat,
        [Choice("", "none"), *(Choice(one.id, one.full_name) for one in carding.whites_for(store, card))],
        card.white_paint or "",
        card.white_drops,
    )


def _field(field: FieldSeen) -> FieldView:
    day = light("D65")
    readings = [
        ReadingView(
            one.id,
            one.source.replace(":", ": ", 1),
            swatch(colours(carding.spectrum_of(one)[None], under=day)[0]),
            one.counts,
        )
        for one in field.readings
    ]
    key, words = field.field.key, field.field.words
    if field.mean is None:
        return FieldView(key, words, None, "not read yet", readings)
    mean = swatch(colours(field.mean[None], under=day)[0])
    counted = sum(one.counts for one in readings)
    apart = f", within dE {field.apart:.1f} of their mean" if counted > 1 else ""
    said = f"{mean.name} · {count(counted, 'reading')}{apart}"
    return FieldView(key, words, mean, said, readings)


def _derived(seen: CardSeen, found: Derived) -> DerivedView:
    hides = "hides all but all" if found.contrast_ratio > 0.95 else f"hides {100 * found.contrast_ratio:.0f} %"
    strong = found.stronger
    strength = (
        "as strong as"
        if abs(strong - 1) < 0.03
        else f"{100 * abs(strong - 1):.0f} % {'stronger' if strong > 1 else 'weaker'} than"
    )
    thickest = max(seen.card.steps)
    lines = [(f"over {key}", on_card(found.paint, key), False) for key in ("white", "black")]
    means = {one.field.key: one.mean for one in seen.fields}
    shown = (f"over_{key}:{thickest}" for key in ("white", "black"))
    lines += [("", mean, True) for key in shown if (mean := means.get(key)) is not None]
    sheen = "" if seen.card.clear_coat else f" · its surface has a sheen of {100 * found.sheen:.1f} %"
    doubtful, saturated = len(found.uncertain_nm), found.saturated_nm
    return DerivedView(
        f"It {hides} in {found.thickest_um:g} µm, and is {strength} the profile so far.",
        f"Contrast ratio {found.contrast_ratio:.2f} · the card is met within dE {found.fit_delta_e:.1f} · "
        f"strength sure within {100 * found.paint.uncertainty:.0f} %{sheen}",
        f"{doubtful} of 36 bands are doubtful (hatched): the readings do not tell them; they lean on their neighbours."
        if doubtful
        else "No band is doubtful.",
        f"From {saturated[0]:.0f} to {saturated[-1]:.0f} nm even the thinnest film takes all the light: there it does"
        " not tell how strong the paint is."
        if saturated
        else "",
        "" if found.sure or seen.card.version is not None else carding.how_to_be_sure(found),
        spectra("Solid: 24 µm by the new profile; dashed: the thickest film as read", lines, found.uncertain_nm),
        columns(look(seen.before).strip),
        columns(look(found.paint).strip),
    )


def _answer(request: Request, store: Store, devices: AtBench, card: int, said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return go(request, f"/cards/{card}")
    panel = reader_panel(devices, chosen_reader(request, devices))
    return render("card_body.html", page=card_page(store, carding.see(store, card), panel, said))


@router.get("/cards/{card}")
def show(request: Request, store: OpenStore, devices: AtBench, card: RowId) -> Response:
    panel = reader_panel(devices, chosen_reader(request, devices))
    page = card_page(store, carding.see(store, card), panel)
    return render("card.html", page=page, frame=frame(request, store, "shelf"))


def _words(store: Store, card: int, field: str) -> str:
    return carding.field_of(cards.card(store, card), field).words


@router.post("/cards/{card}/sprayed")
def sprayed(request: Request, store: OpenStore, devices: AtBench, card: RowId, given: GivenForm) -> Response:
    carding.describe(store, card, given)
    return _answer(request, store, devices, card)


@router.post("/cards/{card}/read")
def read(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    card: RowId,
    field: Text,
    lifted: Annotated[bool, Form()] = False,
) -> Response:
    key = chosen_reader(request, devices)
    card_readings.read_by_device(store, card, field, devices, key, lifted=lifted, at=clock.now())
    return _answer(request, store, devices, card, f"Read: {_words(store, card, field)}.")


@router.post("/cards/{card}/typed")
def typed(request: Request, store: OpenStore, devices: AtBench, card: RowId, field: Text, typed: Text = "") -> Response:
    card_readings.type_in(store, card, field, typed[:80], at=clock.now())
    return _answer(request, store, devices, card, f"Taken down: {_words(store, card, field)}.")


@router.post("/cards/{card}/file")
def from_file(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    card: RowId,
    field: Text,
    file: Annotated[UploadFile, File()],
    sample: Text = "",
    values: Text = "",
) -> Response:
    name = file.filename or "the file"
    found = one_of(name, read_spectra(name, file.file.read(), values), sample)
    card_readings.from_sample(store, card, field, found, asked=bool(values), at=clock.now())
    notes = f" {'; '.join(found.notes)}." if found.notes else ""
    return _answer(request, store, devices, card, f"Taken from {name}: {found.name}.{notes}")


@router.post("/cards/{card}/aside")
def aside(request: Request, store: OpenStore, devices: AtBench, card: RowId, reading: FormRowId) -> Response:
    card_readings.set_aside(store, card, reading)
    return _answer(request, store, devices, card)


@router.get("/cards/{card}/sheet")
def sheet(request: Request, store: OpenStore, card: RowId) -> Response:
    """To be printed, sprayed and photographed."""
    found = cards.card(store, card)
    laid = card_readings.sheet_of(found)
    fields = [printed(one, f"{one.ground}, {count(one.coats, 'pass') if one.coats else 'bare'}") for one in laid.fields]
    name = paints.record(store, found.paint_id).full_name
    page = SheetPage(
        f"contrast card {card}",
        f"Contrast card {card}: {name}",
        f"passes of {found.film_um:g} µm · {'cleared' if found.clear_coat else 'not cleared'}",
        fields,
        qr(own_address(request) + card_readings.address(found)),
        laid.qr,
        (),
        "Spray each field with its number of passes, all in one go: cover the finished fields with paper",
        f"/cards/{card}",
    )
    return render("card_sheet.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/cards/{card}/sheet")
def sheet_photo(
    request: Request, store: OpenStore, devices: AtBench, card: RowId, file: Annotated[UploadFile, File()]
) -> Response:
    """A photo of the whole sheet, read in one go."""
    beyond = card_readings.from_sheet(store, card, file.filename or "photo", file.file.read(), at=clock.now())
    return _answer(request, store, devices, card, _sheet_read(beyond))


@router.post("/cards/{card}/camera")
def camera(request: Request, store: OpenStore, devices: AtBench, card: RowId, shot: Text) -> Response:
    """The simulated camera's photo of the sheet."""
    taken = card_readings.simulated_photo(store, card, shot, own_address(request))
    beyond = card_readings.from_sheet(store, card, "of the simulated camera", taken, at=clock.now())
    return _answer(request, store, devices, card, _sheet_read(beyond))


def _sheet_read(beyond: Sequence[str]) -> str:
    aside = f" Set aside, stronger than a photo can tell: {', '.join(beyond)}." if beyond else ""
    return f"Every field was read from the photo.{aside}"


@router.post("/cards/{card}/accept")
def accept(request: Request, store: OpenStore, card: RowId) -> Response:
    version = carding.accept(store, card, at=clock.now())
    paint_id = carding.see(store, card).card.paint_id
    return go(request, f"/paints/{paint_id}/effects?before={version - 1}&after={version}")
