"""What comes in: a file is read and shown first, and written only after a yes, all of it or nothing."""

import sqlite3
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from diachrom.core.film.kinds import KINDS
from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import palettes, sheets
from diachrom.exchange.spectra import read_spectra, too_light_for_black
from diachrom.store import uploads
from diachrom.store.connection import writing
from diachrom.words import say, say_count
from diachrom.work.files import bundle, headings, inventory, mending, spectra_plan
from diachrom.work.files.inventory import Progress
from diachrom.work.files.inventory_preview import CellError, Preview, RowOutcome, Table, preview
from diachrom.work.files.mending import AS_IT_IS, Mended
from diachrom.work.files.table_rows import LeftOut


@dataclass(frozen=True, eq=False)
class Read:
    """A file as it was read: what would become of it, and how to write it."""

    name: str
    what: str  # in words
    fates: Sequence[RowOutcome]
    errors: Sequence[CellError]
    notes: Sequence[str]
    _plan: "Preview | bundle.BundlePlan | spectra_plan.SpectraPlan"
    question: str = ""  # to be answered before it is written
    grids: sheets.Grids | None = None  # of a table
    columns: headings.Columns | None = None
    left_out: Sequence[LeftOut] = ()  # rows that are no bottles

    def write(self, connection: sqlite3.Connection, *, at: str, progress: Progress = lambda done, total: None) -> None:
        """Inside `writing`. Raises InvalidInput when there are errors."""
        if self.errors:
            raise InvalidInput(
                say(
                    "{name} has {errors}; nothing was imported.",
                    name=self.name,
                    errors=say_count(len(self.errors), "{count} error", "{count} errors"),
                ),
                field="file",
            )
        if self.question:
            raise InvalidInput(self.question, field="values" if self.columns is None else "columns")
        if isinstance(self._plan, Preview):
            inventory.apply(connection, self._plan, name=self.name, at=at, progress=progress)
        elif isinstance(self._plan, bundle.BundlePlan):
            bundle.apply(connection, self._plan, name=self.name, at=at, progress=progress)
        else:
            self._plan.write(connection, self.name, at=at, progress=progress)


@dataclass(frozen=True)
class Asked:
    """What somebody says of a file: the kind of paint that a palette's colours are taken for, and what the values of
    spectra are."""

    kind: str
    values: str
    mended: Mended = AS_IT_IS
    columns: Mapping[str, int] = field(default_factory=dict)  # said by hand: a field, and which column it is from 1


@dataclass(frozen=True)
class Incoming:
    """A form in which a file comes in: how it is told by its first bytes and its content, and how it is read."""

    tells: Callable[[bytes, bytes], bool]
    read: Callable[[sqlite3.Connection, str, bytes, Asked], Read]


def _shelf(connection: sqlite3.Connection, name: str, content: bytes, asked: Asked) -> Read:
    found = bundle.plan(connection, name, bundle.read(name, content))
    return Read(name=name, what=say("paints, bottles and recipes"), fates=found.fates, errors=(), notes=(), _plan=found)


def _palette(connection: sqlite3.Connection, name: str, content: bytes, asked: Asked) -> Read:
    table = inventory.palette_rows(palettes.read_palette(name, content), asked.kind)
    return _table(connection, name, table, say("a palette"), kind=asked.kind)


def _spectra(connection: sqlite3.Connection, name: str, content: bytes, asked: Asked) -> Read:
    plan = spectra_plan.plan(connection, read_spectra(name, content, asked.values), kind=asked.kind)
    question = too_light_for_black(plan.bare[1]) if plan.bare and not asked.values else ""
    return Read(name=name, what="spectra", fates=plan.fates, errors=(), notes=plan.notes, _plan=plan, question=question)


def _inventory(connection: sqlite3.Connection, name: str, content: bytes, asked: Asked) -> Read:
    grids = sheets.read_grids(name, content)
    columns = headings.said(headings.find(connection, name, grids), asked.columns)
    table = headings.table(name, grids, columns)
    table = replace(table, rows=asked.mended.rows(table.rows), taken=asked.mended.taken)
    found = _table(connection, name, table, say("an inventory"), kind=asked.kind)
    return replace(found, grids=grids, columns=columns, question=found.question or columns.doubt)


def _things(connection: sqlite3.Connection, name: str, content: bytes, asked: Asked) -> Read:
    """JSON: bottles of a shop or of a list where they have more than a colour, else a palette."""
    try:
        found = headings.find(connection, name, sheets.read_grids(name, content))
    except BadFile:
        return _palette(connection, name, content, asked)
    is_inventory = "name" in found.keys and set(found.keys) & {"kind", "size_ml", "left_ml", "price"}
    return (_inventory if is_inventory else _palette)(connection, name, content, asked)


def _is_page(content: bytes) -> bool:
    start = content[:200_000].lstrip(b"\xef\xbb\xbf \t\r\n")
    return start.startswith(b"<") and b"<table" in start.lower() and b"office:document" not in start


# The first that tells reads it.
INCOMING = [
    Incoming(lambda start, content: start.startswith(b"{") and bundle.is_ours(content), _shelf),
    Incoming(lambda start, content: start.startswith((b"{", b"[")), _things),
    Incoming(lambda start, content: _is_page(content), _inventory),
    Incoming(lambda start, content: palettes.is_palette(content), _palette),
    Incoming(lambda start, content: start.startswith(b"<") or b"BEGIN_DATA" in content[:200_000], _spectra),
    Incoming(lambda start, content: True, _inventory),
]


def read(
    connection: sqlite3.Connection, name: str, content: bytes, *, kind: str = "transparent", values: str = ""
) -> Read:
    """Read a file by what it is. Raises BadFile, InvalidInput."""
    return read_as(connection, name, content, Asked(kind, values))


def read_as(connection: sqlite3.Connection, name: str, content: bytes, asked: Asked) -> Read:
    """The same, with all that somebody says of it. Raises BadFile, InvalidInput."""
    if asked.kind not in KINDS:
        raise InvalidInput(say("There is no kind of paint called '{kind}'.", kind=asked.kind[:20]), field="kind")
    start = content.lstrip(b"\xef\xbb\xbf \t\r\n")[:200]
    form = next(form for form in INCOMING if form.tells(start, content))
    return form.read(connection, name, content, asked)


def _table(connection: sqlite3.Connection, name: str, table: Table, what: str, *, kind: str) -> Read:
    if "name" not in table.keys:  # it is shown, and its columns are chosen
        return Read(
            name=name,
            what=what,
            fates=(),
            errors=(),
            notes=table.notes,
            _plan=Preview((), (), table.notes),
            question=say("None of its columns is a paint's name: choose which one is."),
        )
    found = preview(connection, name, table, kind=kind)
    return Read(
        name=name,
        what=what,
        fates=found.fates,
        errors=found.errors,
        notes=found.notes,
        left_out=found.left_out,
        _plan=found,
    )


def choose_columns(
    connection: sqlite3.Connection, number: int, *, sheet: int, row: int, keys: Sequence[str] | None
) -> None:
    """Choose what the columns of a table that waits are. Raises InvalidInput, BadFile, NotFound."""
    file = uploads.file(connection, number)
    headings.choose(connection, file.name, sheets.read_grids(file.name, file.content), sheet=sheet, row=row, keys=keys)


def keep(connection: sqlite3.Connection, name: str, content: bytes, *, kind: str, at: str) -> int:
    """Keep a file that was read, until a yes; returns its number. Raises what reading it raises."""
    read(connection, name, content, kind=kind)
    with writing(connection):
        return uploads.keep_file(connection, name=name, content=content, at=at)


def read_waiting(connection: sqlite3.Connection, file: uploads.WaitingFile, *, kind: str, values: str) -> Read:
    """A file that waits, as it was mended. Raises BadFile, InvalidInput."""
    return read_as(connection, file.name, file.content, Asked(kind, values, mending.of(file)))


def waiting(connection: sqlite3.Connection, number: int) -> uploads.WaitingFile:
    """A file that was read and waits for a yes. Raises NotFound."""
    return uploads.file(connection, number)
