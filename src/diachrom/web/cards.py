"""The contrast card: sprayed, read, derived, accepted - each step in its place."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.light.lights import light
from diachrom.core.mixing.contrast_card import on_card
from diachrom.core.mixing.layers import COATS_UM
from diachrom.core.mixing.prediction import colours
from diachrom.exchange.spectra import one_of, read_spectra
from diachrom.web.answers import go
from diachrom.web.devices import DevicePanel, chosen_reader, reader_panel
from diachrom.web.frame import frame
from diachrom.web.needs import AtBench, FormRowId, OpenStore, RowId
from diachrom.web.pages import is_fragment_wanted, render
from diachrom.web.plot import Plot
from diachrom.web.profile_plots import spectra
from diachrom.web.strip_view import ColumnView, columns
from diachrom.web.swatches import Swatch, swatch
from diachrom.work import carding
from diachrom.work.carding import CardSeen, FieldSeen
from diachrom.work.looks import look
from diachrom.work.opened import Store

router = APIRouter()
Text = Annotated[str, Form()]


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
    plot: Plot
    before: Sequence[ColumnView]
    after: Sequence[ColumnView]


@dataclass(frozen=True)
class CardPage:
    card: int
    paint_id: str
    name: str
    film_um: float
    coats: int
    clear_coat: bool
    thicknesses: Sequence[tuple[float, str]]
    fields: Sequence[FieldView]
    next_field: str  # the first that was not read yet
    derived: DerivedView | None
    problem: str
    missing: str
    accepted: int | None
    device: DevicePanel
    said: str


def card_page(seen: CardSeen, device: DevicePanel, said: str = "") -> CardPage:
    missing = [field.key for field in seen.fields if field.mean is None]
    return CardPage(
        seen.card.id,
        seen.card.paint_id,
        seen.record.full_name,
        seen.card.film_um,
        seen.card.coats,
        seen.card.clear_coat,
        [(um, key) for key, um in COATS_UM.items()],
        [_field(field) for field in seen.fields],
        missing[0] if missing else "",
        _derived(seen) if seen.derived else None,
        seen.problem,
        ", ".join(seen.missing),
        seen.card.version,
        device,
        said,
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
    if field.mean is None:
        return FieldView(field.key, field.words, None, "not read yet", readings)
    mean = swatch(colours(field.mean[None], under=day)[0])
    counted = sum(one.counts for one in readings)
    apart = f", within dE {field.apart:.1f} of their mean" if counted > 1 else ""
    return FieldView(
        field.key,
        field.words,
        mean,
        f"{mean.name} · {counted} {'reading' if counted == 1 else 'readings'}{apart}",
        readings,
    )


def _derived(seen: CardSeen) -> DerivedView:
    found = seen.derived
    if found is None:
        raise ValueError("nothing was derived")
    hides = "hides all but all" if found.contrast_ratio > 0.95 else f"hides {100 * found.contrast_ratio:.0f} %"
    strong = found.stronger
    strength = (
        "as strong as"
        if abs(strong - 1) < 0.03
        else f"{100 * abs(strong - 1):.0f} % {'stronger' if strong > 1 else 'weaker'} than"
    )
    um = seen.card.film_um * seen.card.coats
    lines = [(f"over {key}", on_card(found.paint, key), False) for key in ("white", "black")]
    means = {field.key: field.mean for field in seen.fields}
    lines += [("", mean, True) for key in ("over_white", "over_black") if (mean := means[key]) is not None]
    count = len(found.uncertain_nm)
    return DerivedView(
        f"It {hides} in {um:g} µm, and is {strength} the profile so far.",
        f"Contrast ratio {found.contrast_ratio:.2f} · the card is met within dE {found.fit_delta_e:.1f} · "
        f"strength sure within {100 * found.paint.uncertainty:.0f} %",
        f"{count} of 36 bands are doubtful (hatched): two readings do not tell them; they lean on their neighbours."
        if count
        else "No band is doubtful.",
        spectra("Solid: 24 µm by the new profile; dashed: the card as read", lines, found.uncertain_nm),
        columns(look(seen.before).strip),
        columns(look(found.paint).strip),
    )


def _answer(request: Request, store: Store, devices: AtBench, card: int, said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return go(request, f"/cards/{card}")
    panel = reader_panel(devices, chosen_reader(request, devices))
    return render("card_body.html", page=card_page(carding.see(store, card), panel, said))


@router.get("/cards/{card}")
def show(request: Request, store: OpenStore, devices: AtBench, card: RowId) -> Response:
    panel = reader_panel(devices, chosen_reader(request, devices))
    page = card_page(carding.see(store, card), panel)
    return render("card.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/cards/{card}/sprayed")
def sprayed(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    card: RowId,
    film_um: Annotated[float, Form()],
    coats: Annotated[int, Form()],
    clear_coat: Annotated[bool, Form()] = False,
) -> Response:
    carding.describe(store, card, film_um=film_um, coats=coats, clear_coat=clear_coat)
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
    carding.read_by_device(store, card, field, devices, key, lifted=lifted, at=clock.now())
    return _answer(request, store, devices, card, f"Read: {carding.FIELD_WORDS[field]}.")


@router.post("/cards/{card}/typed")
def typed(request: Request, store: OpenStore, devices: AtBench, card: RowId, field: Text, typed: Text = "") -> Response:
    carding.type_in(store, card, field, typed[:80], at=clock.now())
    return _answer(request, store, devices, card, f"Taken down: {carding.FIELD_WORDS[field]}.")


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
    carding.from_sample(store, card, field, found, asked=bool(values), at=clock.now())
    notes = f" {'; '.join(found.notes)}." if found.notes else ""
    return _answer(request, store, devices, card, f"Taken from {name}: {found.name}.{notes}")


@router.post("/cards/{card}/aside")
def aside(request: Request, store: OpenStore, devices: AtBench, card: RowId, reading: FormRowId) -> Response:
    carding.set_aside(store, card, reading)
    return _answer(request, store, devices, card)


@router.post("/cards/{card}/accept")
def accept(request: Request, store: OpenStore, card: RowId) -> Response:
    version = carding.accept(store, card, at=clock.now())
    paint_id = carding.see(store, card).card.paint_id
    return go(request, f"/paints/{paint_id}/effects?before={version - 1}&after={version}")
