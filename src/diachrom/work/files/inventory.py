"""The inventory as a table: out, and in once its preview was seen, all of it or nothing."""

import sqlite3
from collections.abc import Callable, Sequence

from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.profiles.guess import guess
from diachrom.errors import InvalidInput
from diachrom.exchange.named import Named
from diachrom.store import bottles, paints, shelf_history
from diachrom.store.shelf_history import Recorder
from diachrom.words import say, say_count
from diachrom.work.files.inventory_preview import (
    HEADER,
    NUMBER,
    PAINT_ID,
    PAINT_KEYS,
    Planned,
    Preview,
    Table,
    as_shown,
    changed_columns,
    paint_key,
)
from diachrom.work.files.row_cells import COLOUR
from diachrom.work.kit.fields import BOTTLE_FIELDS, PAINT_FIELDS, bottle_columns, paint_columns
from diachrom.work.shelf.guessing import to_guess
from diachrom.work.shelf.keeping import keep_profile, put_bottle, put_paint
from diachrom.work.shelf.shelf_index import index

USUAL_SIZE_ML = "30"
Progress = Callable[[int, int], None]


def rows(connection: sqlite3.Connection) -> list[list[object]]:
    """The inventory, a row a bottle, under HEADER."""
    whole = index(connection)
    records = {record.id: record for record in paints.every_record(connection)}
    table: list[list[object]] = []
    for at, row in enumerate(whole.rows):
        bottle, record = row.bottle, records[row.bottle.paint_id]
        known = {
            **{one.key: getattr(record, one.key) for one in PAINT_FIELDS},
            **{one.key: getattr(bottle, one.key, None) for one in BOTTLE_FIELDS},
            NUMBER: bottle.id,
            "drop_ul": round(1000 * bottle.drop_ml, 3),
            "bottle_note": bottle.note,
            "left_ml": round(bottle.left_ml, 4) + 0.0,
            "discontinued": "yes" if record.discontinued else "no",
            COLOUR: as_shown(whole.labs[at]),
            PAINT_ID: record.id,
        }
        table.append([known[key] for key in HEADER])
    return table


def palette_rows(colours: Sequence[Named], kind: str) -> Table:
    """A palette as a table of paints of one kind, to be guessed from their colours."""
    keys = ["name", "kind", "size_ml", COLOUR]
    cells = [(at, [colour.name, kind, USUAL_SIZE_ML, colour.srgb]) for at, colour in enumerate(colours, start=1)]
    return Table(
        keys,
        cells,
        [
            say(
                "{count} colours, taken for {words} paints in bottles of 30 ml",
                count=len(cells),
                words=KINDS[kind].words,
            )
        ],
    )


def apply(connection: sqlite3.Connection, found: Preview, *, name: str, at: str, progress: Progress) -> None:
    """Write what the preview showed, as one step. Call it inside `writing`: all of it is kept, or nothing."""
    if found.errors:
        raise InvalidInput(
            say(
                "{name} has {errors}; nothing was imported.",
                name=name,
                errors=say_count(len(found.errors), "{count} error", "{count} errors"),
            ),
            field="file",
        )
    new = _new_paints(found)
    ids: dict[tuple[str, str], str] = {}
    recoloured: set[str] = set()
    total = len(found.planned)
    with shelf_history.step(connection, say("importing {name}", name=name), at=at) as recorder:
        for count, row in enumerate(found.planned, start=1):
            key = paint_key(row.record.line, row.record.name)
            if key in new and key not in ids:
                ids[key] = put_paint(connection, recorder, row.record, row.known)
                _guessed(connection, row, new[key], paint_id=ids[key], at=at)
            paint_id = ids.get(key) or (row.known.id if row.known else "")
            if row.recoloured and paint_id not in recoloured:
                recoloured.add(paint_id)
                # A paint that was guessed is guessed anew from the colour that it is now said to have.
                (profile,) = guess([to_guess(row.record.full_name, row.record.kind, _lab(row))])
                version = _guessed(connection, row, profile, paint_id=paint_id, at=at)
                if version > 1:
                    recorder.measured(paint_id, version - 1, version)
            _write(connection, recorder, row, paint_id, at=at)
            progress(count, total)


def _new_paints(found: Preview) -> dict[tuple[str, str], Paint]:
    """Those that are not on the shelf yet, as they are guessed: all of them at once."""
    new: dict[tuple[str, str], Planned] = {}
    for row in found.planned:
        if row.known is None or row.known.retired:
            new.setdefault(paint_key(row.record.line, row.record.name), row)
    wanted = [to_guess(one.record.full_name, one.record.kind, _lab(one)) for one in new.values()]
    return dict(zip(new, guess(wanted), strict=True)) if wanted else {}


def _lab(row: Planned) -> Floats | None:
    return hex_to_lab(row.colour) if row.colour else None


def _guessed(connection: sqlite3.Connection, row: Planned, profile: Paint, *, paint_id: str, at: str) -> int:
    """A paint's profile; returns its version. What flakes is found by its own look, not by the colour that was
    given."""
    lab, source = _lab(row), say("guessed from {what}", what=row.colour or "kind")
    known = None if lab is None or profile.flake else lab.tolist()
    return keep_profile(connection, profile, paint_id=paint_id, source=source, at=at, lab=known)


def _write(connection: sqlite3.Connection, recorder: Recorder, row: Planned, paint_id: str, *, at: str) -> None:
    values = {key: value for key, value in row.values.items() if key not in PAINT_KEYS}
    left = values.pop("left_ml", None)
    left_ml = float(left) if isinstance(left, (int, float)) else None
    if row.bottle is None:
        put_bottle(connection, recorder, paint_id, values, at=at, left_ml=left_ml, note="imported")
        return
    changed = changed_columns(row, row.bottle)
    if any(key in PAINT_KEYS for key in changed):
        recorder.touch("paint", paint_id)
        paints.change(
            connection, paint_id, **paint_columns({key: row.values[key] for key in changed if key in PAINT_KEYS})
        )
    if any(key not in PAINT_KEYS and key != "left_ml" for key in changed):
        recorder.touch("bottle", row.bottle.id)
        bottles.change(connection, row.bottle.id, **bottle_columns(values))
    if "left_ml" in changed and left_ml is not None:
        entry = bottles.enter(
            connection, bottle=row.bottle.id, at=at, kind="corrected", ml=left_ml - row.bottle.left_ml, note="imported"
        )
        recorder.entered(entry)
