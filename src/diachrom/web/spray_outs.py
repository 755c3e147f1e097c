"""Test cards: the list of them, and one with its fields, predicted beside measured."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Form, Path, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.light import words
from diachrom.core.mixing.beside import Beside, Cause
from diachrom.core.mixing.story import VERDICTS
from diachrom.store import spray_outs as kept
from diachrom.web import choices
from diachrom.web.answers import go
from diachrom.web.choices import Group
from diachrom.web.devices import DevicePanel, chosen_reader, reader_panel
from diachrom.web.frame import frame
from diachrom.web.mix_view import coats_words
from diachrom.web.needs import AtBench, OpenStore
from diachrom.web.pages import is_fragment_wanted, render
from diachrom.web.say import count, day
from diachrom.web.swatches import BeadString, Swatch, bead_string, swatch
from diachrom.work import aiming, spray_outs
from diachrom.work.contents import contents
from diachrom.work.devices import Devices
from diachrom.work.opened import Store
from diachrom.work.spray_outs import LISTED, CardSeen, FieldSeen

router = APIRouter()
Number = Annotated[int, Path()]
Text = Annotated[str, Form()]
CONTRADICTS = 6.0  # in Lab, a reading from the mean of its field


@dataclass(frozen=True)
class ReadingView:
    id: int
    words: str
    counts: bool


@dataclass(frozen=True)
class FieldView:
    key: str
    words: str
    predicted: Swatch
    measured: Swatch | None
    verdict: str
    readings: Sequence[ReadingView]


@dataclass(frozen=True)
class CardPage:
    number: int
    name: str
    detail: str
    beads: BeadString
    fields: Sequence[FieldView]
    next_field: str
    sentence: str
    causes: Sequence[str]
    verdicts: Sequence[str]
    grounds: Group
    device: DevicePanel
    said: str


@dataclass(frozen=True)
class ListedCard:
    number: int
    name: str
    detail: str
    beads: BeadString


@router.get("/spray-outs")
def cards(request: Request, store: OpenStore) -> Response:
    views = [_listed(store, one) for one in kept.latest(store, LISTED)]
    return render("spray_outs.html", cards=views, frame=frame(request, store, "mix"))


def _listed(store: Store, one: kept.SprayOut) -> ListedCard:
    read = sum(any(reading.counts for reading in field.readings) for field in one.fields)
    detail = f"{day(one.at)} · {_how(one)} · {read} of {count(len(one.fields), 'field')} read"
    return ListedCard(one.id, _name(one), detail, bead_string(one.draft.parts, contents(store, one.draft).shelf))


def _name(one: kept.SprayOut) -> str:
    return one.draft.name or "A mix without a name"


def _how(one: kept.SprayOut) -> str:
    draft = one.draft
    whose = f"recipe {one.recipe}, version {one.version}" if one.recipe else "a cup"
    return f"{whose}, {coats_words(draft.coats, draft.film_um).lower()}, {'clear' if draft.clear_coat else 'matte'}"


def card_page(request: Request, store: Store, devices: Devices, number: int, said: str = "") -> CardPage:
    seen = spray_outs.see(store, number)
    return CardPage(
        number,
        _name(seen.card),
        f"Card {number} · {day(seen.card.at)} · {_how(seen.card)}",
        bead_string(seen.card.draft.parts, seen.contents.shelf),
        [_field(one) for one in seen.fields],
        next((one.field.ground for one in seen.fields if one.measured is None), ""),
        _sentence(seen),
        [_cause(one, seen.beside) for one in seen.beside.causes] if seen.beside else [],
        VERDICTS,
        choices.grounds(),
        reader_panel(devices, chosen_reader(request, devices)),
        said,
    )


def _field(one: FieldSeen) -> FieldView:
    verdict = one.words
    if one.measured is not None:
        verdict = f"{verdict[0].upper()}{verdict[1:]} than predicted" if "the same" not in verdict else "As predicted"
    if one.eye:
        verdict = "; ".join(filter(None, [verdict, f"the eye: {one.eye}"]))
    if one.apart > CONTRADICTS:
        verdict += ". The readings contradict each other: set the wrong one aside"
    measured = None if one.measured is None else swatch(aiming.colour_of(one.measured.tolist()))
    readings = [
        ReadingView(reading.id, f"{reading.words or _figures(reading.lab)}, {reading.source}", reading.counts)
        for reading in one.field.readings
    ]
    return FieldView(one.field.ground, one.over.words, swatch(one.predicted), measured, verdict, readings)


def _figures(lab: tuple[float, float, float] | None) -> str:
    return "" if lab is None else f"L {lab[0]:.0f}, a {lab[1]:.0f}, b {lab[2]:.0f}"


def _sentence(seen: CardSeen) -> str:
    if seen.beside is None:
        read = any(one.measured is not None for one in seen.fields)
        return "What one cause would explain is not told of flakes and light of its own." if read else ""
    close = words.closeness(seen.beside.delta_e)
    return (
        f"{close[0].upper()}{close[1:]}: dE {seen.beside.delta_e:.1f} over {count(len(seen.beside.fields), 'field')}."
    )


def _cause(one: Cause, whole: Beside) -> str:
    share = f"{100 * one.explains:.0f} % of it"
    match one.key:
        case "film":
            return f"Film thickness would explain {share}: as if it were {whole.coats:.1f} coats."
        case "strength":
            return f"Strength would explain {share}: as if the paints were {one.value:.2f} times as strong."
        case "hiding":
            return f"Hiding would explain {share}: as if they scattered {one.value:.2f} times as much."
    lean = "yellower and redder" if one.value < 0 else "bluer and greener"
    return f"Hue would explain {share}: as if they were {lean} by themselves."


def _changed(request: Request, store: Store, devices: Devices, number: int, said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return RedirectResponse(f"/spray-outs/{number}", 303)
    return render("spray_out_body.html", page=card_page(request, store, devices, number, said))


@router.post("/spray-outs")
def begin(
    request: Request,
    store: OpenStore,
    recipe: Annotated[int | None, Form()] = None,
    version: Annotated[int | None, Form()] = None,
) -> Response:
    return go(request, f"/spray-outs/{spray_outs.begin(store, recipe, version, at=clock.now())}")


@router.get("/spray-outs/{number}")
def show(request: Request, store: OpenStore, devices: AtBench, number: Number) -> Response:
    page = card_page(request, store, devices, number)
    return render("spray_out.html", page=page, frame=frame(request, store, "mix"))


@router.post("/spray-outs/{number}/read")
def read(request: Request, store: OpenStore, devices: AtBench, number: Number, ground: Text) -> Response:
    spray_outs.read(store, devices, chosen_reader(request, devices), number, ground, at=clock.now())
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/typed")
def typed(
    request: Request, store: OpenStore, devices: AtBench, number: Number, ground: Text, typed: Text = ""
) -> Response:
    spray_outs.typed(store, number, ground, typed[:60], at=clock.now())
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/judge")
def judge(
    request: Request, store: OpenStore, devices: AtBench, number: Number, ground: Text, verdict: Text = ""
) -> Response:
    spray_outs.judge(store, number, ground, verdict, at=clock.now())
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/aside")
def aside(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    number: Number,
    reading: Annotated[int, Form(ge=0, le=2**53)],
) -> Response:
    spray_outs.turn(store, number, reading)
    return _changed(request, store, devices, number)


@router.post("/spray-outs/{number}/field")
def field(request: Request, store: OpenStore, devices: AtBench, number: Number, ground: Text) -> Response:
    spray_outs.add_field(store, number, ground[:80])
    return _changed(request, store, devices, number)
