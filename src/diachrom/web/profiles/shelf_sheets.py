"""The whole shelf on one printed sheet: chosen, printed, photographed, taken."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.cards.shelf_sheet import MOST_PAIRS
from diachrom.core.film.paint import KINDS
from diachrom.core.profiles.contrast_card import PASS_UM, STEPS
from diachrom.store.paints import PaintRecord
from diachrom.web.kit.answers import go, own_address
from diachrom.web.kit.dependencies import AtBench, Background, OpenStore, RowId
from diachrom.web.kit.devices import shots
from diachrom.web.kit.formatting import count, day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.qr import qr
from diachrom.web.kit.sheet import SheetPage, printed
from diachrom.web.profiles.shelf_sheet_view import ShelfSheetPage, sheet_page
from diachrom.work.cards.before_after import achieved
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.opened import Store
from diachrom.work.kit.tasks import Tasks
from diachrom.work.profiles import read_sheets, shelf_sheets

router = APIRouter(include_in_schema=False)
Text = Annotated[str, Form()]
SHOWN = 12
LONGEST_LABEL = 20


@dataclass(frozen=True)
class PaintChoice:
    id: str
    name: str
    detail: str
    chosen: bool


@dataclass(frozen=True)
class ChoosePage:
    paints: Sequence[PaintChoice]
    left_out: str  # paints that a sheet cannot tell
    most: int
    pass_um: float
    sheets: Sequence[tuple[int, str]]


@router.get("/shelf-sheets")
def choose(request: Request, store: OpenStore) -> Response:
    able, others = read_sheets.choices(store)
    page = ChoosePage(
        paints=[_choice(record, guess, at) for at, (record, guess) in enumerate(able)],
        left_out=", ".join(one.full_name for one in others),
        most=MOST_PAIRS,
        pass_um=PASS_UM,
        sheets=[
            (number, f"{day(at)}, {count(paints, 'paint')}, {taken or 'none'} taken")
            for number, at, paints, taken in read_sheets.earlier(store, SHOWN)
        ],
    )
    return render("profiles/shelf_sheets.html", page=page, frame=frame(request, store, "shelf"))


def _choice(record: PaintRecord, guess: bool, at: int) -> PaintChoice:
    detail = f"{KINDS[record.kind].words}{', a guess' if guess else ''}"
    return PaintChoice(record.id, record.full_name, detail, guess and at < MOST_PAIRS)


@router.post("/shelf-sheets")
def begin(
    request: Request,
    store: OpenStore,
    paint: Annotated[list[str] | None, Form()] = None,
    film_um: Text = "",
    surface: Text = "cleared",
) -> Response:
    cleared = surface == "cleared"
    number = read_sheets.begin(store, paint or [], film_um=film_um, clear_coat=cleared, at=clock.now())
    return go(request, f"/shelf-sheets/{number}")


def _page(request: Request, store: Store, tasks: Tasks, devices: Devices, number: int, said: str) -> ShelfSheetPage:
    seen = shelf_sheets.see(store, number)
    task = read_sheets.task_of(tasks, number)
    going = task is not None and task.going_on
    return sheet_page(seen, task, None if going else achieved(store, seen.told), shots(devices), said)


def _answer(request: Request, store: Store, tasks: Tasks, devices: Devices, number: int, said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return go(request, f"/shelf-sheets/{number}")
    return render("profiles/shelf_sheet_body.html", page=_page(request, store, tasks, devices, number, said))


@router.get("/shelf-sheets/{number}")
def show(request: Request, store: OpenStore, tasks: Background, devices: AtBench, number: RowId) -> Response:
    page = _page(request, store, tasks, devices, number, "")
    if is_fragment_wanted(request):
        return render("profiles/shelf_sheet_body.html", page=page)
    return render("profiles/shelf_sheet.html", page=page, frame=frame(request, store, "shelf"))


@router.get("/shelf-sheets/{number}/sheet")
def sheet(request: Request, store: OpenStore, number: RowId) -> Response:
    """To be printed, sprayed and photographed."""
    seen = shelf_sheets.see(store, number)
    kept, laid = seen.sheet, read_sheets.sheet_of(seen.sheet)
    names = {one.pair.number: one.record.full_name[:LONGEST_LABEL] for one in seen.pairs}
    fields = []
    for one in laid.fields:
        first = one.ground == "white" and one.coats == STEPS[0]
        label = "" if one.pair and not first else f"{one.pair} {names[one.pair]}" if one.pair else f"bare {one.ground}"
        fields.append(printed(one, label))
    page = SheetPage(
        title=f"Shelf sheet {number}",
        name=f"Shelf sheet {number}: {count(len(kept.pairs), 'paint')}",
        detail=f"{', '.join(map(str, STEPS))} mist passes of {kept.film_um:g} µm, left to right"
        f" · {'cleared' if kept.clear_coat else 'not cleared'}",
        fields=fields,
        qr=qr(own_address(request) + read_sheets.address(kept)),
        qr_place=laid.qr,
        by_hand=(),
        spray=f"For each number: {STEPS[0]} mist pass over all six fields; cover the first two, go on to {STEPS[1]};"
        f" cover the next two, go on to {STEPS[2]}. Cover all others with paper meanwhile",
        back=f"/shelf-sheets/{number}",
        crosses=laid.crosses,
    )
    return render("kit/sheet.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/shelf-sheets/{number}/photo")
def photo(
    request: Request,
    store: OpenStore,
    tasks: Background,
    devices: AtBench,
    number: RowId,
    file: Annotated[UploadFile, File()],
) -> Response:
    """A photo of the whole sheet; what it comes to is worked out meanwhile."""
    read_sheets.from_photo(store, number, file.filename or "photo", file.file.read(), at=clock.now())
    read_sheets.start(tasks, number)
    return _answer(request, store, tasks, devices, number)


@router.post("/shelf-sheets/{number}/camera")
def camera(
    request: Request, store: OpenStore, tasks: Background, devices: AtBench, number: RowId, shot: Text
) -> Response:
    """The camera's photo of the sheet."""
    taken = read_sheets.take_photo(store, devices, number, shot, own_address(request))
    read_sheets.from_photo(store, number, "the simulated camera", taken, at=clock.now())
    read_sheets.start(tasks, number)
    return _answer(request, store, tasks, devices, number)


@router.post("/shelf-sheets/{number}/start")
def start(request: Request, store: OpenStore, tasks: Background, devices: AtBench, number: RowId) -> Response:
    """Go on with what was not worked out."""
    read_sheets.start(tasks, number)
    return _answer(request, store, tasks, devices, number)


@router.post("/shelf-sheets/{number}/stop")
def stop(request: Request, store: OpenStore, tasks: Background, devices: AtBench, number: RowId) -> Response:
    tasks.stop(read_sheets.kind_of(number))
    return _answer(request, store, tasks, devices, number, "Stopped; what was worked out is kept.")


@router.post("/shelf-sheets/{number}/take")
def take(
    request: Request,
    store: OpenStore,
    tasks: Background,
    devices: AtBench,
    number: RowId,
    pair: Annotated[int | None, Form(ge=1, le=MOST_PAIRS)] = None,
) -> Response:
    """One pair, or all that are sure."""
    taken = shelf_sheets.take(store, number, None if pair is None else [pair], at=clock.now())
    said = f"{count(taken, 'profile')} taken: {'it counts' if taken == 1 else 'they count'} from now on."
    return _answer(request, store, tasks, devices, number, said)


@router.post("/shelf-sheets/{number}/undo")
def undo(request: Request, store: OpenStore, tasks: Background, devices: AtBench, number: RowId) -> Response:
    back, left = shelf_sheets.undo(store, number, at=clock.now())
    said = f"{count(back, 'profile')} taken back."
    if left:
        said += f" Measured since and left as they are: {', '.join(left)}."
    return _answer(request, store, tasks, devices, number, said)
