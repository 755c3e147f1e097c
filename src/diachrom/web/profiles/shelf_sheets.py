"""The whole shelf on one printed sheet: chosen, printed, photographed, taken."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Depends, Form, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.cards.shelf_sheet import MOST_PAIRS
from diachrom.core.film.kinds import KINDS
from diachrom.core.profiles.contrast_card import PASS_UM, STEPS
from diachrom.store.paints import PaintRecord
from diachrom.web.kit.answers import code_for, go, own_address
from diachrom.web.kit.dependencies import AtBench, Background, OpenStore, RowId, Text, Upload
from diachrom.web.kit.devices import shots
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.qr import qr
from diachrom.web.kit.sheet import SheetPage, printed
from diachrom.web.profiles.shelf_sheet_view import ShelfSheetPage, sheet_page
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.cards.before_after import achieved
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.opened import Store
from diachrom.work.kit.tasks import Tasks
from diachrom.work.profiles import read_sheets, shelf_sheets

router = APIRouter(include_in_schema=False)
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
    """Choose the paints of a sheet."""
    able, others = read_sheets.choices(store)
    page = ChoosePage(
        paints=[_choice(record, guess, index) for index, (record, guess) in enumerate(able)],
        left_out=listed(other.full_name for other in others),
        most=MOST_PAIRS,
        pass_um=PASS_UM,
        sheets=[
            (
                number,
                say(
                    "{at}, {paints}, {what} taken",
                    at=day(at),
                    paints=say_count(paints, "{count} paint", "{count} paints"),
                    what=taken or "none",
                ),
            )
            for number, at, paints, taken in read_sheets.earlier(store, SHOWN)
        ],
    )
    return render("profiles/shelf_sheets.html", page=page, frame=frame(request, store, "shelf"))


def _choice(record: PaintRecord, guess: bool, at: int) -> PaintChoice:
    kind = KINDS[record.kind].words
    detail = say("{kind}, a guess", kind=kind) if guess else kind
    return PaintChoice(record.id, record.full_name, detail, guess and at < MOST_PAIRS)


@router.post("/shelf-sheets")
def begin(
    request: Request,
    store: OpenStore,
    paint: Annotated[list[str] | None, Form()] = None,
    film_um: Text = "",
    surface: Text = "cleared",
) -> Response:
    """Begin a sheet of these paints."""
    cleared = surface == "cleared"
    number = read_sheets.begin(store, paint or [], film_um=film_um, clear_coat=cleared, at=clock.now())
    return go(request, f"/shelf-sheets/{number}")


@dataclass(frozen=True)
class _Asked:
    """A request for a sheet, and what answers it."""

    request: Request
    store: Store
    tasks: Tasks
    devices: Devices
    number: int

    def page(self, said: str = "") -> ShelfSheetPage:
        """The page with what was asked for."""
        seen = shelf_sheets.see(self.store, self.number)
        task = read_sheets.task_of(self.tasks, self.number)
        going = task is not None and task.going_on
        own = None if going else achieved(self.store, seen.told)
        return sheet_page(seen, task, own, shots=shots(self.devices), said=said)

    def answer(self, said: str = "") -> Response:
        """The page, or the part of it that changed."""
        if not is_fragment_wanted(self.request):
            return go(self.request, f"/shelf-sheets/{self.number}")
        return render("profiles/shelf_sheet_body.html", page=self.page(said))

    def read(self, name: str, content: bytes) -> Response:
        """What the photo comes to is worked out meanwhile."""
        read_sheets.from_photo(self.store, self.number, name, content, at=clock.now())
        read_sheets.start(self.tasks, self.number)
        return self.answer()


def _asked(request: Request, store: OpenStore, tasks: Background, devices: AtBench, number: RowId) -> _Asked:
    return _Asked(request=request, store=store, tasks=tasks, devices=devices, number=number)


AskedSheet = Annotated[_Asked, Depends(_asked)]


@router.get("/shelf-sheets/{number}")
def show(asked: AskedSheet) -> Response:
    """A sheet, with what its photo told."""
    page = asked.page()
    if is_fragment_wanted(asked.request):
        return render("profiles/shelf_sheet_body.html", page=page)
    return render("profiles/shelf_sheet.html", page=page, frame=frame(asked.request, asked.store, "shelf"))


@router.get("/shelf-sheets/{number}/sheet")
def sheet(request: Request, store: OpenStore, number: RowId) -> Response:
    """To be printed, sprayed and photographed."""
    seen = shelf_sheets.see(store, number)
    kept, laid = seen.sheet, read_sheets.sheet_of(seen.sheet)
    names = {pair.pair.number: pair.record.full_name[:LONGEST_LABEL] for pair in seen.pairs}
    fields = []
    for field in laid.fields:
        first = field.ground == "white" and field.coats == STEPS[0]
        label = (
            ""
            if field.pair and not first
            else f"{field.pair} {names[field.pair]}"
            if field.pair
            else say("bare {ground}", ground=field.ground)
        )
        fields.append(printed(field, label))
    fields += [printed(field, "") for field in laid.printed]
    page = SheetPage(
        title=say("Shelf sheet {number}", number=number),
        name=say(
            "Shelf sheet {number}: {paints}",
            number=number,
            paints=say_count(len(kept.pairs), "{count} paint", "{count} paints"),
        ),
        detail=say(
            "{numbers} mist passes of {film}, left to right · {what}",
            numbers=listed(map(str, STEPS)),
            film=quantity(kept.film_um, "g", "µm"),
            what="cleared" if kept.clear_coat else say("not cleared"),
        ),
        fields=fields,
        qr=qr(code_for(request, read_sheets.address(kept))),
        qr_place=laid.qr,
        by_hand=(),
        spray=say(
            "For each number: {steps} mist pass over all six fields; cover the first two, go on to "
            "{other_steps}; cover the next two, go on to {steps_3}. Cover all others with paper meanwhile",
            steps=STEPS[0],
            other_steps=STEPS[1],
            steps_3=STEPS[2],
        ),
        back=f"/shelf-sheets/{number}",
        crosses=laid.crosses,
        coloured=bool(laid.printed),
    )
    return render("kit/sheet.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/shelf-sheets/{number}/photo")
def photo(asked: AskedSheet, file: Upload) -> Response:
    """A photo of the whole sheet."""
    return asked.read(file.filename or "photo", file.file.read())


@router.post("/shelf-sheets/{number}/camera")
def camera(asked: AskedSheet, shot: Text) -> Response:
    """The camera's photo of the sheet."""
    taken = read_sheets.take_photo(asked.store, asked.devices, asked.number, shot, own_address(asked.request))
    return asked.read("the simulated camera", taken)


@router.post("/shelf-sheets/{number}/start")
def start(asked: AskedSheet) -> Response:
    """Go on with what was not worked out."""
    read_sheets.start(asked.tasks, asked.number)
    return asked.answer()


@router.post("/shelf-sheets/{number}/stop")
def stop(asked: AskedSheet) -> Response:
    """Stop reading it."""
    asked.tasks.stop(read_sheets.kind_of(asked.number))
    return asked.answer(say("Stopped; what was worked out is kept."))


@router.post("/shelf-sheets/{number}/take")
def take(asked: AskedSheet, pair: Annotated[int | None, Form(ge=1, le=MOST_PAIRS)] = None) -> Response:
    """One pair, or all that are sure."""
    taken = shelf_sheets.take(asked.store, asked.number, None if pair is None else [pair], at=clock.now())
    return asked.answer(
        say(
            "{profiles} taken: {what} from now on.",
            profiles=say_count(taken, "{count} profile", "{count} profiles"),
            what=say("it counts") if taken == 1 else say("they count"),
        )
    )


@router.post("/shelf-sheets/{number}/undo")
def undo(asked: AskedSheet) -> Response:
    """Take back what was taken of it."""
    back, left = shelf_sheets.undo(asked.store, asked.number, at=clock.now())
    said = say("{profiles} taken back.", profiles=say_count(back, "{count} profile", "{count} profiles"))
    if left:
        said += " " + say("Measured since and left as they are: {left}.", left=listed(left))
    return asked.answer(said)
