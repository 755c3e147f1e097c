"""Files out and in: every form the shelf leaves in, and a file shown row by row before anything is written."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.film.kinds import KINDS
from diachrom.errors import BadFile, InvalidInput, NotFound
from diachrom.web.kit import answers
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import Background, GivenForm, OpenStore, RowId, Text, Upload
from diachrom.web.kit.formatting import ranges
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.words import listed, say
from diachrom.work.files import exporting, headings, import_task, importing, mending, whole
from diachrom.work.files.column_keys import CHOICES
from diachrom.work.files.headings import LOOKED_AT
from diachrom.work.files.importing import Read
from diachrom.work.files.inventory_preview import RowOutcome
from diachrom.work.files.table_rows import LeftOut
from diachrom.work.kit.tasks import Tasks
from diachrom.work.orders import calendars

router = APIRouter(include_in_schema=False)
NO_ROW = str(headings.NONE)
SHOWN = 400  # rows of a preview; the rest is counted
EXAMPLES = 3  # cells of a column that say what it is
KIND_CHOICES = [Choice(key, kind.words) for key, kind in KINDS.items() if kind.colours]


@dataclass(frozen=True)
class FilesPage:
    forms: Sequence[tuple[str, str]]
    kinds: Sequence[Choice]
    empty: bool  # a whole bench may be brought


@dataclass(frozen=True)
class ColumnView:
    """A column of a table: its heading, what it is taken for, and how it begins."""

    at: int
    heading: str
    key: str
    cells: Sequence[str]


@dataclass(frozen=True)
class WrongView:
    """What is wrong in the same way, in rows of one column."""

    rows: str
    numbers: str  # the same, parted by blanks
    column: str
    at: int | None  # the column's place, None where the whole row is wrong
    sentence: str


@dataclass(frozen=True)
class PreviewPage:
    number: int
    name: str
    kind: str
    what: str
    counts: Sequence[tuple[int, str]]
    notes: Sequence[str]
    many_wrong: int  # cells
    errors: Sequence[WrongView]
    rows: Sequence[RowOutcome]
    left_out: int
    no_bottles: Sequence[LeftOut]  # rows that are left out
    can_mend: bool  # row by row
    can_write: bool
    values: str  # what the values of spectra were said to be
    question: str  # to be answered before it is written
    sheets: Sequence[Choice]  # of a table that has several
    sheet: int
    headings: Sequence[Choice]  # rows that may hold them
    heading: int
    columns: Sequence[ColumnView]
    choices: Sequence[Choice]  # what a column may be
    chosen: bool  # by somebody, and remembered
    kinds: Sequence[Choice]
    is_spectra: bool


@router.get("/files")
def show(request: Request, store: OpenStore) -> Response:
    """Files: what goes out, what comes in."""
    page = FilesPage(
        [(form.suffix, form.words) for form in exporting.FORMS.values()],
        KIND_CHOICES,
        whole.is_empty(store),
    )
    return render("files/page.html", page=page, frame=frame(request, store, "files"))


MOST_WHOLE = 500_000_000  # bytes


@router.get("/files/bench.zip")
def whole_bench(store: OpenStore) -> Response:
    """Everything as one file."""
    at = clock.now()
    return answers.file(
        whole.out(store, at=at, calendars=calendars.of_every(store, at=at)), f"bench-{at[:10]}.zip", "application/zip"
    )


@router.post("/files/bench")
def bring_bench(request: Request, bench: Upload) -> Response:
    """A whole bench into an empty folder."""
    name = (bench.filename or "bench")[:80]
    if (bench.size or 0) > MOST_WHOLE:
        raise BadFile(name, say("it has more than 500 MB."))
    whole.bring(request.app.state.folder, name, bench.file)
    return go(request, "/home")


@router.get("/files/shelf.{suffix}")
def export(store: OpenStore, suffix: str) -> Response:
    """The shelf, in the form of the suffix."""
    at = clock.now()
    content = exporting.export(store, suffix, at=at)
    return answers.file(content, f"shelf-{clock.today(at)}.{suffix}", exporting.FORMS[suffix].media)


@router.post("/files/import")
def bring(
    request: Request,
    store: OpenStore,
    file: Upload,
    kind: Text = "transparent",
) -> Response:
    """Read a file and show what would become of it."""
    name = (file.filename or say("the file"))[:80]
    number = importing.keep(store, name, file.file.read(), kind=kind, at=clock.now())
    return go(request, f"/files/import/{number}?kind={kind[:20]}")


@router.post("/files/paste")
def paste(request: Request, store: OpenStore, given: GivenForm) -> Response:
    """Cells that were copied from a table elsewhere."""
    cells = given.get("cells", "")
    if not cells.strip():
        raise InvalidInput(say("Copy cells of a table, and paste them here."), field="cells")
    kind = given.get("kind", "transparent")[:20]
    number = importing.keep(store, say("pasted cells"), cells.encode("utf-8", "replace"), kind=kind, at=clock.now())
    return go(request, f"/files/import/{number}?kind={kind}")


@router.get("/files/import/{number}")
def preview(request: Request, store: OpenStore, number: RowId, kind: str = "transparent", values: str = "") -> Response:
    """What would become of a file that waits, row by row."""
    file = importing.waiting(store, number)
    found = importing.read_waiting(store, file, kind=kind, values=values)
    fates = Counter(outcome.fate.split(":")[0].split(" of ")[0] for outcome in found.fates)
    page = PreviewPage(
        number=number,
        name=found.name,
        kind=kind,
        what=found.what,
        counts=[(many, words) for words, many in fates.most_common()],
        notes=found.notes,
        many_wrong=len(found.errors),
        errors=_wrong(found)[:SHOWN],
        rows=found.fates[:SHOWN],
        left_out=max(0, len(found.fates) - SHOWN),
        no_bottles=[*found.left_out, *_by_hand(found, mending.of(file))][:SHOWN],
        can_mend=found.grids is not None,
        can_write=not found.errors and not found.question and bool(found.fates),
        values=values,
        question=found.question,
        **_columns(found),
        kinds=KIND_CHOICES,
        is_spectra=found.what == "spectra",
    )
    return render("files/import.html", page=page, frame=frame(request, store, "files"))


def _wrong(found: Read) -> list[WrongView]:
    """By the headings of the file itself."""
    places: dict[str, tuple[int, str]] = {}
    if found.columns is not None:
        told = zip(found.columns.keys, found.columns.heads, strict=True)
        places = {key: (at, head or say("column {at}", at=at + 1)) for at, (key, head) in enumerate(told) if key}
    rows: dict[tuple[str, str], list[int]] = {}
    for one in found.errors:
        rows.setdefault((one.column, one.sentence), []).append(one.row)
    return [
        WrongView(
            rows=ranges(numbers),
            numbers=" ".join(map(str, numbers)),
            column=places[key][1] if key in places else key or say("all"),
            at=places[key][0] if key in places else None,
            sentence=sentence,
        )
        for (key, sentence), numbers in rows.items()
    ]


def _by_hand(found: Read, mended: mending.Mended) -> list[LeftOut]:
    """Rows that somebody left out."""
    if found.grids is None or found.columns is None:
        return []
    return [
        LeftOut(row, " · ".join(cell for cell in cells if cell.strip())[:80], say("by hand"))
        for row, cells in found.grids.sheets[found.columns.sheet].rows
        if row in mended.left_out
    ]


def _columns(found: Read) -> dict[str, Any]:
    """The part of the page that says what the columns are."""
    if found.grids is None or found.columns is None:
        return {
            "sheets": (),
            "sheet": 0,
            "headings": (),
            "heading": 0,
            "columns": (),
            "choices": (),
            "chosen": False,
        }
    sheets, columns = found.grids.sheets, found.columns
    rows = sheets[columns.sheet].rows
    start = headings.below(found.grids, columns)
    below = [cells for _, cells in rows[start : start + EXAMPLES]]
    return {
        "sheets": [Choice(str(index), grid.name or say("the table")) for index, grid in enumerate(sheets)],
        "sheet": str(columns.sheet),
        "headings": [
            Choice(
                str(at),
                say("row {number}: {what}", number=number, what=listed(cell for cell in cells if cell.strip())[:60]),
            )
            for at, (number, cells) in enumerate(rows[:LOOKED_AT])
        ]
        + [Choice(str(headings.NONE), say("no row: each is a bottle"))],
        "heading": str(columns.row),
        "columns": [
            ColumnView(
                at,
                head or say("column {at}", at=at + 1),
                columns.keys[at],
                [row[at][:40] for row in below if at < len(row)],
            )
            for at, head in enumerate(columns.heads)
        ],
        "choices": [Choice(key, words) for key, words in CHOICES.items()],
        "chosen": columns.chosen,
    }


@router.post("/files/import/{number}/columns")
def choose_columns(request: Request, store: OpenStore, number: RowId, given: GivenForm) -> Response:
    """What its columns are, remembered for the next table with these headings."""
    places = {key: given.get(key, "0") for key in ("sheet", "heading", "was_sheet", "was_heading")}
    wrong = next((one for one in places.values() if not (one.isdecimal() and len(one) < 6) and one != NO_ROW), None)
    if wrong is not None:
        raise InvalidInput(say("'{wrong}' is no place in the table.", wrong=wrong[:20]), field="heading")
    moved = places["sheet"] != places["was_sheet"] or places["heading"] != places["was_heading"]
    # Those of another row are guessed first.
    keys = None if moved else [given.get(f"column-{index}", "") for index in range(headings.MOST_COLUMNS)]
    row = 0 if places["sheet"] != places["was_sheet"] else int(places["heading"])
    importing.choose_columns(store, number, sheet=int(places["sheet"]), row=row, keys=keys)
    return go(request, f"/files/import/{number}?kind={given.get('kind', 'transparent')[:20]}")


@router.post("/files/import/{number}/rows")
def mend_rows(request: Request, store: OpenStore, number: RowId, given: GivenForm) -> Response:
    """Leave rows out, take them for bottles after all, or write cells of them anew."""
    rows = given.get("rows", "").split()
    if not rows or not all(one.isdecimal() and len(one) < 8 for one in rows):
        raise InvalidInput(say("Say which rows, by their numbers."), field="rows")
    numbers = [int(one) for one in rows]
    match given.get("do"):
        case "leave":
            mending.leave_out(store, number, numbers)
        case "take":
            mending.take(store, number, numbers)
        case _:
            texts = {
                int(key.removeprefix("cell-")): value
                for key, value in given.items()
                if key.startswith("cell-") and key[5:].isdecimal() and len(key) < 9
            }
            mending.write(store, number, numbers, texts)
    return go(request, f"/files/import/{number}?kind={given.get('kind', 'transparent')[:20]}")


@router.get("/files/import/{number}/rows/{row}")
def one_row(request: Request, store: OpenStore, number: RowId, row: RowId, kind: str = "transparent") -> Response:
    """The cells of a row, to be mended."""
    file = importing.waiting(store, number)
    found = importing.read_waiting(store, file, kind=kind, values="")
    view = _columns(found)["columns"]
    rows: Sequence[tuple[int, Sequence[str]]] = ()
    if found.grids is not None and found.columns is not None:
        rows = mending.of(file).rows(found.grids.sheets[found.columns.sheet].rows)
    cells = next((own for number_, own in rows if number_ == row), None)
    if cells is None:
        raise NotFound(say("{name} has no row {row}.", name=file.name, row=row), field="row")
    fields = [(one, cells[one.at] if one.at < len(cells) else "") for one in view if one.key]
    return render(
        "files/import_row.html",
        number=number,
        row=row,
        kind=kind[:20],
        name=file.name,
        fields=fields,
        frame=frame(request, store, "files"),
    )


@router.post("/files/import/{number}/write")
def write(tasks: Background, number: RowId, kind: Text = "transparent", values: Text = "") -> Response:
    """Write a file that waits, in the background."""
    import_task.start(tasks, number, kind=kind, values=values, at=clock.now())
    return _progress(tasks, number)


@router.post("/files/import/{number}/stop")
def stop(tasks: Background, number: RowId) -> Response:
    """Stop writing; all of it is taken back."""
    import_task.stop(tasks, number)
    return _progress(tasks, number)


@router.get("/files/import/{number}/progress")
def progress(tasks: Background, number: RowId) -> Response:
    """How far the writing is."""
    return _progress(tasks, number)


def _progress(tasks: Tasks, number: int) -> Response:
    return render("files/import_progress.html", number=number, task=import_task.now(tasks, number))
