"""The whole bench out as one file, and into an empty folder again."""

import shutil
import sqlite3
from collections.abc import Iterator, Mapping, Sequence
from contextlib import closing
from pathlib import Path
from typing import Any, BinaryIO

from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import photos
from diachrom.exchange import whole as form
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.sheets_out import to_csv
from diachrom.store import log, uploads, whole
from diachrom.store.connection import connected, database, open_file, writing
from diachrom.store.in_place import aside, put_in_place
from diachrom.store.migrate import take_steps
from diachrom.store.schema import LATEST
from diachrom.words import say, say_count
from diachrom.work.files.backups import WORDS
from diachrom.work.files.checking import check_folder

MOST_ODD, PHOTOS_AT_ONCE = 240, 24  # photos that are not as this version keeps them


def out(connection: sqlite3.Connection, *, at: str, calendars: Mapping[int, bytes] | None = None) -> bytes:
    """Everything, equal to the row; and for people the log and the ledger as tables, and calendars of orders."""
    tables = {table.name: (table.columns, table.rows) for table in whole.every(connection)}
    ledger = to_csv(("at", "bottle", "paint", "kind", "ml", "note"), whole.ledger(connection))
    heads = ("number", "finished", "name", "baits", "customer", "wish", "price", "clear", "minutes", "note", "faults")
    faults = log.faults(connection)
    rows = (
        (
            entry.number,
            entry.at,
            entry.name,
            entry.baits,
            entry.customer,
            entry.wish,
            entry.price,
            entry.clear,
            entry.minutes,
            entry.note,
            "; ".join(f"{each.at} {each.fault} {each.note}".strip() for each in faults.get(entry.number, ())),
        )
        for entry in log.every(connection)
    )
    sheets = {"csv/log.csv": to_csv(heads, rows), "csv/ledger.csv": ledger}
    sheets |= {f"calendars/order-{number}.ics": content for number, content in (calendars or {}).items()}
    return form.written(tables, sheets, data=LATEST, made=at)


def is_empty(connection: sqlite3.Connection) -> bool:
    """A whole bench may be brought into it."""
    return not whole.held(connection)


def _refuse_what_is_held(connection: sqlite3.Connection) -> None:
    """Raises InvalidInput."""
    found = [WORDS[table][1] if table in WORDS else table.replace("_", " ") for table in whole.held(connection)]
    if found:
        raise InvalidInput(
            say(
                "This folder holds a bench already ({found}): a whole bench goes into an empty one.",
                found=", ".join(found)[:120],
            ),
            field="file",
        )


def bring(folder: Path, name: str, content: BinaryIO) -> int:
    """Fill this folder, which must be empty; returns how many rows. It is read in processes apart, within their bounds,
    and made ready beside the bench: what is there is whole before it and after it. Raises BadFile, InvalidInput,
    StoreError."""
    with connected(folder) as connection:
        _refuse_what_is_held(connection)
    with aside(folder) as place:
        file = place / "bench.zip"
        with file.open("wb") as copy:
            shutil.copyfileobj(content, copy)
        count, odd = run_sandboxed(name, _prepare, file, place)
        file.unlink()
        for index in range(0, len(odd), PHOTOS_AT_ONCE):
            run_sandboxed(name, _make_fit, place, odd[index : index + PHOTOS_AT_ONCE])
        put_in_place(folder, place, allowed=_refuse_what_is_held)
    return count


def _prepare(name: str, file: Path, place: Path) -> tuple[int, list[int]]:
    """A database of its own in `place`, of this version and without a fault; how many rows, and which photos are not
    as photos are kept. Raises BadFile, InvalidInput."""
    reader = form.Reader(name, file, oldest=whole.FIRST, latest=LATEST)
    odd: list[int] = []
    with closing(open_file(database(place), create=True)) as connection:
        whole.in_a_hurry(connection)
        take_steps(connection, reader.data)
        with writing(connection):
            count = whole.fill(connection, _looked_at(name, reader, odd))
        reader.check_rest()
        take_steps(connection)
    wrong = check_folder(place)
    if wrong:
        raise BadFile(
            name,
            say(
                "{wrong} It has {faults}: run 'diachrom check --mend' there first.",
                wrong=wrong[0],
                faults=say_count(len(wrong), "{count} fault", "{count} faults"),
            ),
        )
    return count, odd


def _looked_at(name: str, reader: form.Reader, odd: list[int]) -> Iterator[tuple[str, list[str], Iterator[list[Any]]]]:
    """Its tables, with every picture looked at as it goes by."""
    for table, columns, rows in reader.tables():
        places = (
            [index for index, column in enumerate(columns) if column in ("picture", "png")] if table == "photo" else []
        )
        yield table, columns, _with_pictures(name, rows, places[0] if places else None, odd)


def _with_pictures(name: str, rows: Iterator[list[Any]], where: int | None, odd: list[int]) -> Iterator[list[Any]]:
    room = 0
    for row in rows:
        for index, value in enumerate(row):
            if not isinstance(value, bytes):
                continue
            room += len(value)
            if index != where or room > uploads.MOST_BYTES:
                raise BadFile(name, say("it holds more pictures, or other ones, than a bench can have."))
            try:
                photos.check_kept(name, [(say("photo {row}", row=row[0]), value)])
            except BadFile:
                odd.append(row[0])
            if len(odd) > MOST_ODD:
                raise BadFile(
                    name, say("more than {most_odd} of its photos are none that this version keeps.", most_odd=MOST_ODD)
                )
        yield row


def _make_fit(name: str, place: Path, numbers: Sequence[int]) -> None:
    """Photos through what uploads go through. Raises BadFile."""
    with closing(open_file(database(place))) as connection, writing(connection):
        for number in numbers:
            photo = uploads.photo(connection, number)
            try:
                width, height, made = photos.normalize_image(name, photo.picture)
            except BadFile as error:
                raise BadFile(
                    name, say("its photo {number} is no picture that is read: {error}", number=number, error=error)
                ) from error
            uploads.replace_photo(connection, number, width=width, height=height, picture=photos.to_keep(made))
