"""Keeping the shelf: paints and bottles added, changed, merged, retired. Each change is one step that can be undone."""

import re
import sqlite3
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from diachrom import clock
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import Paint
from diachrom.core.light.colour_words import Own
from diachrom.core.mix.cup import USUAL_DROP_ML, drop_volume
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import ToGuess, check_guess
from diachrom.core.shelf import measures
from diachrom.core.shelf.keeping import density
from diachrom.errors import InvalidInput
from diachrom.store import bottles, paints, shelf_history
from diachrom.store.connection import writing
from diachrom.store.paints import PaintRecord
from diachrom.store.shelf_history import Recorder, Step
from diachrom.words import say
from diachrom.work.kit.colour_words import own
from diachrom.work.kit.fields import BOTTLE_FIELDS, PAINT_FIELDS, bottle_columns, paint_columns, read_fields
from diachrom.work.kit.looks import look
from diachrom.work.shelf import guessing

GRAMS = re.compile(r"(\d{1,5}(?:[.,]\d{1,2})?)\s*g")  # a powder's size


def ml_of_grams(text: str, kind: str) -> float | None:
    """The millilitres that grams of a kind take; None for what is not written in grams."""
    grams = GRAMS.fullmatch(text.strip())
    return None if grams is None else float(grams[1].replace(",", ".")) / density(kind)


def keep_profile(
    connection: sqlite3.Connection,
    profile: Paint,
    *,
    paint_id: str,
    source: str,
    at: str,
    uncertain_nm: Sequence[float] = (),
    lab: Sequence[float] | None = None,
) -> int:
    """Append a profile and the colour it is found by, which is computed where it is not known; returns its version."""
    version = paints.add_profile(
        connection, profile, paint_id=paint_id, source=source, at=at, uncertain_nm=uncertain_nm
    )
    if lab is None:
        bead = look(profile).bead
        lab = None if bead is None else bead.lab.tolist()
    if lab is not None:
        paints.keep_colour(connection, paint_id, (lab[0], lab[1], lab[2]))
    return version


@dataclass(frozen=True, eq=False)
class NewPaint:
    """A paint that was never measured, and its bottle, as they were described."""

    record: PaintRecord
    bottle: Mapping[str, object]
    to_guess: ToGuess
    source: str

    @classmethod
    def of(cls, given: Mapping[str, str], own: Own | None = None) -> "NewPaint":
        """`given` are fields of the table as typed, and those of a guess; `own` words that the bench has learned.
        Raises InvalidInput, naming the field."""
        given = {field.key: "" for field in (*PAINT_FIELDS, *BOTTLE_FIELDS) if field.needed} | dict(given)
        kind = given.get("kind", "")
        weighed_ml = ml_of_grams(given["size_ml"], kind) if kind in KINDS else None
        if weighed_ml is not None:
            given["size_ml"] = f"{weighed_ml:.4g}"
        values, bottle = read_fields(PAINT_FIELDS, given), read_fields(BOTTLE_FIELDS, given)
        record = PaintRecord(id="", **{"line": "", **values})  # type: ignore[arg-type]
        to_guess, source = guessing.wanted(record.full_name, record.kind, given, own)
        check_guess(to_guess)
        if weighed_ml is not None:
            bottle |= {"weighed": 1, "drop_ul": 1000 * measures.usual_g(record.kind) / density(record.kind)}
        return cls(record, bottle, to_guess, source)

    def known(self, connection: sqlite3.Connection) -> PaintRecord | None:
        """One of this name that was taken off the shelf. Raises InvalidInput where it stands there."""
        known = paints.named(connection, line=self.record.line, name=self.record.name)
        if known is not None and not known.retired:
            raise InvalidInput(
                say("{full_name} is on the shelf already: add a bottle of it instead.", full_name=known.full_name),
                field="name",
            )
        return known

    def put(self, connection: sqlite3.Connection, recorder: Recorder, profile: Paint, *, at: str) -> int:
        """Put it on the shelf as it was guessed; returns its bottle's number. Inside a step. Raises InvalidInput."""
        paint_id = put_paint(connection, recorder, self.record, self.known(connection))
        keep_profile(connection, profile, paint_id=paint_id, source=self.source, at=at)
        return put_bottle(connection, recorder, paint_id, self.bottle, at=at)


def add_paint(connection: sqlite3.Connection, given: Mapping[str, str], *, at: str) -> int:
    """Put a paint on the shelf, as a guess from its colour; returns its bottle's number. Raises InvalidInput."""
    new = NewPaint.of(given, own(connection))
    (profile,) = guess([new.to_guess])
    with (
        writing(connection),
        shelf_history.step(
            connection, say("putting {full_name} on the shelf", full_name=new.record.full_name), at=at
        ) as recorder,
    ):
        return new.put(connection, recorder, profile, at=at)


def put_paint(
    connection: sqlite3.Connection, recorder: Recorder, record: PaintRecord, known: PaintRecord | None
) -> str:
    """Add a paint, or bring a retired one back under its old id; returns the id. Inside a step."""
    if known is not None:
        recorder.touch("paint", known.id)
        back = replace(record, id=known.id, retired=False)
        paints.change(connection, known.id, **{**vars(back), "discontinued": int(back.discontinued), "retired": 0})
        return known.id
    # A readable id that no paint has yet.
    plain = unicodedata.normalize("NFKD", record.full_name).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:60] or "paint"
    paint_id, number = base, 1
    while paints.has_id(connection, paint_id):
        number += 1
        paint_id = f"{base}-{number}"
    paints.add(connection, replace(record, id=paint_id))
    recorder.made("paint", paint_id)
    return paint_id


def put_bottle(
    connection: sqlite3.Connection,
    recorder: Recorder,
    paint_id: str,
    values: Mapping[str, object],
    *,
    at: str,
    left_ml: float | None = None,
    note: str = "",
    made_of: tuple[int | None, int | None] = (None, None),
) -> int:
    """Put a bottle on the shelf, full unless said otherwise, of a recipe and version where it was made here; returns
    its number. Inside a step."""
    columns = bottle_columns(dict(values))  # type: ignore[arg-type]
    columns.setdefault("drop_ml", USUAL_DROP_ML)
    size = float(str(columns["size_ml"]))
    columns.setdefault("bought_on", clock.today(at))
    bottle = bottles.add(connection, paint_id=paint_id, **columns)  # type: ignore[arg-type]
    recorder.made("bottle", bottle)
    recipe, version = made_of
    entry = bottles.enter(
        connection, bottle=bottle, at=at, kind="bought", ml=size, note=note, recipe=recipe, version=version
    )
    recorder.entered(entry)
    if left_ml is not None and left_ml != size:
        words = say("as counted when it came into the ledger")
        entry = bottles.enter(connection, bottle=bottle, at=at, kind="corrected", ml=left_ml - size, note=words)
        recorder.entered(entry)
    return bottle


def another_bottle(connection: sqlite3.Connection, bottle: int, *, at: str) -> int:
    """A new bottle of the same paint, size and dropper. Raises BottleNotFound."""
    old = bottles.one(connection, bottle)
    with (
        writing(connection),
        shelf_history.step(
            connection, say("another bottle of {full_name}", full_name=old.full_name), at=at
        ) as recorder,
    ):
        values = {"size_ml": old.size_ml, "drop_ul": 1000 * old.drop_ml, "place": old.place}
        return put_bottle(connection, recorder, old.paint_id, values, at=at)


def change_paint(connection: sqlite3.Connection, paint_id: str, given: Mapping[str, str], *, at: str) -> None:
    """Write down other things about a paint. Raises PaintNotFound, InvalidInput naming the field."""
    values = read_fields(PAINT_FIELDS, given)
    with writing(connection):
        old = paints.record(connection, paint_id)
        with shelf_history.step(connection, say("changing {full_name}", full_name=old.full_name), at=at) as recorder:
            line, name = str(values.get("line", old.line)), str(values.get("name", old.name))
            same = paints.named(connection, line=line, name=name)
            if same is not None and same.id != paint_id:
                raise InvalidInput(
                    say("{full_name} is another paint already: merge the two instead.", full_name=same.full_name),
                    field="name",
                )
            # What has a colour cannot become what has none, nor the other way round: the profile would be wrong.
            kind = str(values.get("kind", old.kind))
            if KINDS[kind].colours != KINDS[old.kind].colours:
                raise InvalidInput(
                    say(
                        "{full_name} is a {words} and cannot become a {other_words}: add it anew.",
                        full_name=old.full_name,
                        words=KINDS[old.kind].words,
                        other_words=KINDS[kind].words,
                    ),
                    field="kind",
                )
            recorder.touch("paint", paint_id)
            paints.change(connection, paint_id, **paint_columns(values))


def change_bottle(connection: sqlite3.Connection, bottle: int, given: Mapping[str, str], *, at: str) -> None:
    """Write down other things about a bottle. Raises BottleNotFound, InvalidInput naming the field."""
    columns = bottle_columns(read_fields(BOTTLE_FIELDS, given))
    with writing(connection):
        old = bottles.one(connection, bottle)
        with shelf_history.step(
            connection, say("changing the bottle of {full_name}", full_name=old.full_name), at=at
        ) as recorder:
            recorder.touch("bottle", bottle)
            if columns.get("state") == "open" and old.state == "sealed":
                columns["opened_on"] = columns.get("opened_on") or clock.today(at)
            bottles.change(connection, bottle, **columns)
            if columns.get("state") == "empty" and old.left_ml > 0:
                entry = bottles.enter(
                    connection, bottle=bottle, at=at, kind="corrected", ml=-old.left_ml, note=say("found empty")
                )
                recorder.entered(entry)


def shaken(connection: sqlite3.Connection, bottle: int, *, at: str) -> None:
    """It was shaken just now; what had settled is stirred up."""
    with writing(connection):
        old = bottles.one(connection, bottle)
        with shelf_history.step(connection, say("shaking {full_name}", full_name=old.full_name), at=at) as recorder:
            recorder.touch("bottle", bottle)
            bottles.change(
                connection, bottle, shaken_on=clock.today(at), state="open" if old.state == "settled" else old.state
            )


def set_drop(connection: sqlite3.Connection, bottle: int, drop_ml: float, *, at: str) -> None:
    """Say how big the bottle's drop is, from now on; recipes keep the drop that they were poured with."""
    with writing(connection):
        old = bottles.one(connection, bottle)
        with shelf_history.step(connection, say("the drop of {full_name}", full_name=old.full_name), at=at) as recorder:
            recorder.touch("bottle", bottle)
            bottles.change(connection, bottle, drop_ml=drop_volume(drop_ml, paint=old.full_name))


def retire(connection: sqlite3.Connection, bottle: int, *, at: str) -> None:
    """Retire a bottle. Its ledger and every recipe that names it stay."""
    with writing(connection):
        old = bottles.one(connection, bottle)
        with shelf_history.step(connection, say("retiring {full_name}", full_name=old.full_name), at=at) as recorder:
            recorder.touch("bottle", bottle)
            bottles.change(connection, bottle, retired=int(not old.retired))


def merge(connection: sqlite3.Connection, double: str, into: str, *, at: str) -> None:
    """Two paints are one: the bottles of the double become bottles of the other, whose profile then counts.

    Raises PaintNotFound, and InvalidInput for a paint and itself or for two that cannot be the same.
    """
    with writing(connection):
        one, other = paints.record(connection, double), paints.record(connection, into)
        if one.id == other.id:
            raise InvalidInput(say("{full_name} is the same paint already.", full_name=one.full_name), field="into")
        if other.retired:
            raise InvalidInput(say("{full_name} is no longer on the shelf.", full_name=other.full_name), field="into")
        if KINDS[one.kind].colours != KINDS[other.kind].colours:
            raise InvalidInput(
                say(
                    "{full_name} is a {words}, {other_full_name} a {other_words}: they cannot be the same paint.",
                    full_name=one.full_name,
                    words=KINDS[one.kind].words,
                    other_full_name=other.full_name,
                    other_words=KINDS[other.kind].words,
                ),
                field="into",
            )
        with shelf_history.step(
            connection,
            say("merging {full_name} into {other_full_name}", full_name=one.full_name, other_full_name=other.full_name),
            at=at,
        ) as recorder:
            for bottle in bottles.of_paint(connection, one.id):
                recorder.touch("bottle", bottle.id)
                bottles.change(connection, bottle.id, paint_id=other.id)
            recorder.touch("paint", one.id)
            paints.change(connection, one.id, retired=1, merged_into=other.id)


def undo(connection: sqlite3.Connection, *, back: bool = True, at: str) -> Step | None:
    """Take the last step on the shelf back, or do it again; returns which, None when there is none."""
    with writing(connection):
        return shelf_history.move(connection, back=back, at=at)


def standing(connection: sqlite3.Connection) -> tuple[Step | None, Step | None]:
    """What may be undone, and what done again."""
    return shelf_history.standing(connection)
