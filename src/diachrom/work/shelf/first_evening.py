"""A whole bench of bottles put on the shelf at once: as one step, or not at all."""

import sqlite3
from collections.abc import Mapping, Sequence

from diachrom.core.film.paint import KINDS, Paint
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import check_guess
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import bottles, paints, steps
from diachrom.store.connection import writing
from diachrom.store.paints import PaintRecord
from diachrom.work.kit.fields import BOTTLE_FIELDS, PAINT_FIELDS, read_fields
from diachrom.work.shelf import guessing
from diachrom.work.shelf.keeping import keep_profile, put_bottle, put_paint

Typed = Mapping[str, str]  # name, kind, size_ml and colour of a bottle, as typed


class _Ready:
    """One bottle, read."""

    def __init__(self, typed: Typed) -> None:
        given = {field.key: "" for field in (*PAINT_FIELDS, *BOTTLE_FIELDS) if field.needed} | dict(typed)
        values = read_fields(PAINT_FIELDS, given)
        self.bottle = read_fields(BOTTLE_FIELDS, given)
        self.record = PaintRecord(id="", **{"line": "", **values})  # type: ignore[arg-type]
        kind = KINDS[self.record.kind]
        if kind.colours and not given.get("colour", "").strip():
            raise InvalidInput(f"Say the colour of {self.record.full_name} as #rrggbb.", field="colour")
        self.to_guess, self.source = guessing.wanted(self.record.full_name, self.record.kind, given)
        check_guess(self.to_guess)


def is_empty(connection: sqlite3.Connection) -> bool:
    """Nothing stands on the shelf, and nothing ever did."""
    return not bottles.every(connection)


def put_all(connection: sqlite3.Connection, every: Sequence[Typed], *, at: str) -> dict[int, str]:
    """Put them on the shelf as guesses. Answers what is wrong with which of them, and then none of them is kept."""
    ready: list[_Ready] = []
    wrong: dict[int, str] = {}
    names: dict[tuple[str, str], int] = {}
    for row, typed in enumerate(every):
        try:
            one = _Ready(typed)
        except DiachromError as error:
            wrong[row] = str(error)
            continue
        key = one.record.line.casefold(), one.record.name.casefold()
        if key in names:
            wrong[row] = (
                f"{one.record.full_name} stands in row {names[key] + 1} already: tell them apart by their names."
            )
        names.setdefault(key, row)
        ready.append(one)
    if wrong or not ready:
        return wrong
    profiles = guess([one.to_guess for one in ready])
    with writing(connection):
        for row, one in enumerate(ready):
            known = paints.named(connection, line=one.record.line, name=one.record.name)
            if known is not None and not known.retired:
                wrong[row] = f"{known.full_name} is on the shelf already."
        if not wrong:
            _keep(connection, ready, profiles, at=at)
    return wrong


def _keep(connection: sqlite3.Connection, ready: Sequence[_Ready], profiles: Sequence[Paint], *, at: str) -> None:
    words = f"putting {len(ready)} bottles on the shelf" if len(ready) > 1 else "putting a bottle on the shelf"
    with steps.step(connection, words, at=at) as recorder:
        for one, profile in zip(ready, profiles, strict=True):
            known = paints.named(connection, line=one.record.line, name=one.record.name)
            paint_id = put_paint(connection, recorder, one.record, known)
            keep_profile(connection, profile, paint_id=paint_id, source=one.source, at=at)
            put_bottle(connection, recorder, paint_id, one.bottle, at=at)
