"""Spray-outs and every reading of their patches; nothing read is ever lost."""

import json
import sqlite3
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

from pydantic import TypeAdapter

from diachrom.core.mix import sound
from diachrom.core.mix.draft import Draft
from diachrom.errors import InvalidInput, NotFound
from diachrom.store import drafts, kept
from diachrom.store.memory import cached
from diachrom.store.said import keep_said, read_said
from diachrom.words import say, say_count

MOST_NUMBER = 99_999

LAB = TypeAdapter(kept.Lab | None)


@dataclass(frozen=True)
class PatchReading:
    """What was read of a patch, or said of it by the eye; set aside when it does not count."""

    id: int
    at: str
    source: str
    lab: tuple[float, float, float] | None  # None for what the eye says
    words: str
    counts: bool
    predicted: tuple[float, float, float] | None  # at that time; None for what was read before it was kept


@dataclass(frozen=True)
class KeptPatch:
    ground: str
    coats: int  # none: the ground, bare
    readings: tuple[PatchReading, ...]


@dataclass(frozen=True)
class How:
    """What a draft does not say of how a card was sprayed."""

    nozzle_mm: float | None = None
    pressure_bar: float | None = None
    reduction: float = 0.0  # share of reducer in what was sprayed, beside the reducer in the mix


@dataclass(frozen=True)
class KeptCard:
    """A spray-out card: the mix as poured, how it was sprayed, and its patches."""

    id: int
    at: str
    recipe: int | None
    version: int | None
    draft: Draft
    note: str
    how: How
    photo: int | None
    counts: bool  # it is learned from
    patches: tuple[KeptPatch, ...]
    problem: str = ""  # what could not be read of it


def next_number(connection: sqlite3.Connection) -> int:
    """The number that the next card gets."""
    return int(connection.execute("SELECT coalesce(max(id), 0) + 1 FROM test_card").fetchone()[0])


def is_taken(connection: sqlite3.Connection, number: int) -> bool:
    """Whether there is a card of this number."""
    return connection.execute("SELECT 1 FROM test_card WHERE id = :id", {"id": number}).fetchone() is not None


def add(
    connection: sqlite3.Connection,
    draft: Draft,
    patches: Sequence[tuple[str, int]],
    *,
    recipe: int | None,
    version: int | None,
    at: str,
    number: int | None = None,
) -> int:
    """A card with patches of (ground, coats), under the number written on it or the next one; returns the number.

    Raises InvalidInput for a number that another card has.
    """
    free = next_number(connection)
    wanted = free if number is None else number
    if not 1 <= wanted <= MOST_NUMBER:
        raise InvalidInput(
            say("A card's number is 1 to {most_number}, not {wanted}.", most_number=MOST_NUMBER, wanted=wanted),
            field="number",
        )
    if is_taken(connection, wanted):
        raise InvalidInput(
            say("There is a card {wanted} already: write {free} on this one.", wanted=wanted, free=free), field="number"
        )
    connection.execute(
        "INSERT INTO test_card (id, at, recipe, version, draft) VALUES (:id, :at, :recipe, :version, :draft)",
        {"id": wanted, "at": at, "recipe": recipe, "version": version, "draft": drafts.to_json(draft)},
    )
    for ground, coats in patches:
        add_patch(connection, wanted, ground, coats)
    return wanted


def describe(connection: sqlite3.Connection, number: int, draft: Draft, how: How, note: str) -> None:
    """Keep how a card was sprayed. Inside `writing`."""
    connection.execute(
        "UPDATE test_card SET draft = :draft, note = :note, nozzle_mm = :nozzle_mm, pressure_bar = :pressure_bar,"
        " reduction = :reduction WHERE id = :id",
        {"id": number, "draft": drafts.to_json(draft), "note": note, **vars(how)},
    )


def show_photo(connection: sqlite3.Connection, number: int, photo: int) -> None:
    """Show a photo on a card. Inside `writing`."""
    connection.execute("UPDATE test_card SET photo = :photo WHERE id = :id", {"id": number, "photo": photo})


def turn_card(connection: sqlite3.Connection, number: int) -> None:
    """Do not learn from it, or learn from it again."""
    connection.execute("UPDATE test_card SET counts = 1 - counts WHERE id = :id", {"id": number})


def add_patch(connection: sqlite3.Connection, number: int, ground: str, coats: int) -> None:
    """Once a ground and number of coats."""
    connection.execute(
        "INSERT OR IGNORE INTO test_card_patch (card_id, ground, coats) VALUES (:number, :ground, :coats)",
        {"number": number, "ground": ground, "coats": coats},
    )


def take_patch_away(connection: sqlite3.Connection, patch: int) -> None:
    """`patch` is its own number; one that was read stays. Raises InvalidInput."""
    read_ = connection.execute("SELECT 1 FROM test_card_reading WHERE patch = :patch", {"patch": patch}).fetchone()
    if read_ is not None:
        raise InvalidInput(
            say("That patch is measured: set its readings aside instead. Nothing was lost."), field="ground"
        )
    connection.execute("DELETE FROM test_card_patch WHERE id = :patch", {"patch": patch})


def take_away(connection: sqlite3.Connection, number: int) -> None:
    """A card that was begun by mistake; one that was read stays. Raises InvalidInput."""
    row = connection.execute(
        "SELECT 1 FROM test_card_reading JOIN test_card_patch ON test_card_patch.id = patch WHERE card_id = :number",
        {"number": number},
    ).fetchone()
    if row is not None:
        raise InvalidInput(
            say(
                "Card {number} is measured, and measurements are never deleted: choose not to learn from it.",
                number=number,
            ),
            field="card",
        )
    connection.execute("DELETE FROM test_card_patch WHERE card_id = :number", {"number": number})
    connection.execute("DELETE FROM test_card WHERE id = :number", {"number": number})


def patch_of(connection: sqlite3.Connection, number: int, ground: str, coats: int) -> int:
    """The patch's own number. Raises NotFound for one that was never sprayed."""
    row = connection.execute(
        "SELECT id FROM test_card_patch WHERE card_id = :number AND ground = :ground AND coats = :coats",
        {"number": number, "ground": ground, "coats": coats},
    ).fetchone()
    if row is None:
        what = "its bare ground was not left free" if coats == 0 else "nothing was sprayed there"
        raise NotFound(
            say_count(
                coats,
                "Card {number} has no patch of {count} coat on '{ground}': {what}. Add the patch first.",
                "Card {number} has no patch of {count} coats on '{ground}': {what}. Add the patch first.",
                number=number,
                ground=ground[:40],
                what=what,
            ),
            field="ground",
        )
    return int(row["id"])


def read(
    connection: sqlite3.Connection,
    patch: int,
    *,
    source: str,
    lab: Sequence[float] | None,
    predicted: Sequence[float] | None = None,
    words: str = "",
    counts: bool = True,
    at: str,
) -> None:
    """`patch` is its own number."""
    connection.execute(
        "INSERT INTO test_card_reading (patch, at, source, lab, words, predicted, counts)"
        " VALUES (:patch, :at, :source, :lab, :words, :predicted, :counts)",
        {
            "patch": patch,
            "at": at,
            "source": keep_said(source),
            "lab": None if lab is None else json.dumps(list(lab)),
            "words": keep_said(words),
            "counts": int(counts),
            "predicted": None if predicted is None else json.dumps(list(predicted)),
        },
    )


def turn(connection: sqlite3.Connection, number: int, reading: int) -> None:
    """Set a reading aside, or let it count again. Raises NotFound."""
    changed = connection.execute(
        "UPDATE test_card_reading SET counts = 1 - counts WHERE id = :reading AND patch IN"
        " (SELECT id FROM test_card_patch WHERE card_id = :number)",
        {"reading": reading, "number": number},
    )
    if not changed.rowcount:
        raise NotFound(say("Card {number} has no reading {reading}.", number=number, reading=reading), field="reading")


_CARDS = (
    "SELECT id, at, recipe, version, draft, note, nozzle_mm, pressure_bar, reduction, photo, counts FROM test_card "
)


def one(connection: sqlite3.Connection, number: int) -> KeptCard:
    """Raises NotFound."""
    row = connection.execute(_CARDS + "WHERE id = :id", {"id": number}).fetchone()
    if row is None:
        raise NotFound(say("There is no spray-out card {number}.", number=number), field="card")
    return _whole(connection, [row])[0]


def unread(connection: sqlite3.Connection, most: int) -> list[int]:
    """Cards of which no patch was read, the latest first."""
    rows = connection.execute(
        "SELECT id FROM test_card WHERE id NOT IN (SELECT card_id FROM test_card_patch JOIN test_card_reading"
        " ON test_card_reading.patch = test_card_patch.id) ORDER BY id DESC LIMIT ?",
        [most],
    )
    return [row[0] for row in rows]


def latest(connection: sqlite3.Connection, most: int = -1) -> list[KeptCard]:
    """The newest first."""
    rows = connection.execute(_CARDS + "ORDER BY id DESC LIMIT :most", {"most": most}).fetchall()
    return _whole(connection, rows)


_HAS_WORD = """
    (CAST(id AS TEXT) = :word{at} OR instr(casefold(json_extract(draft, '$.name') || ' ' || note), :word{at})
     OR EXISTS (SELECT 1 FROM json_each(draft, '$.parts') AS part
                JOIN bottle ON bottle.id = json_extract(part.value, '$.bottle')
                JOIN paint ON paint.id = bottle.paint_id
                WHERE instr(casefold(paint.line || ' ' || paint.name), :word{at})))
"""


def find(connection: sqlite3.Connection, query: str, *, start: int, most: int) -> list[KeptCard]:
    """Those that have every word in number, name, note or paints, the newest first."""
    words = query.casefold().split()
    where = " AND ".join(_HAS_WORD.format(at=index) for index in range(len(words))) or "1"
    rows = connection.execute(
        f"{_CARDS} WHERE {where} ORDER BY id DESC LIMIT :most OFFSET :start",
        {"most": most, "start": start, **{f"word{at}": word for at, word in enumerate(words)}},
    )
    return _whole(connection, rows.fetchall())


def count(connection: sqlite3.Connection) -> int:
    """How many cards there are."""
    return int(connection.execute("SELECT count(*) FROM test_card").fetchone()[0])


@cached
def of_recipe(connection: sqlite3.Connection, recipe: int) -> list[KeptCard]:
    """Of all its versions, the newest first."""
    query = _CARDS + "WHERE recipe = :recipe ORDER BY id DESC"
    return _whole(connection, connection.execute(query, {"recipe": recipe}).fetchall())


def _whole(connection: sqlite3.Connection, rows: Sequence[sqlite3.Row]) -> list[KeptCard]:
    patches: dict[int, dict[tuple[str, int], list[PatchReading]]] = defaultdict(dict)
    first, last = min((row["id"] for row in rows), default=0), max((row["id"] for row in rows), default=-1)
    for row in connection.execute(
        """
        SELECT card_id, ground, coats, test_card_reading.id, at, source, lab, words, counts, predicted
        FROM test_card_patch LEFT JOIN test_card_reading ON test_card_reading.patch = test_card_patch.id
        WHERE card_id BETWEEN :first AND :last ORDER BY test_card_patch.id, test_card_reading.id
        """,
        {"first": first, "last": last},
    ):
        readings = patches[row["card_id"]].setdefault((row["ground"], row["coats"]), [])
        if row["id"] is not None:
            lab, predicted = (kept.whole(LAB, row[key], None) for key in ("lab", "predicted"))
            reading = PatchReading(
                id=row["id"],
                at=row["at"],
                source=read_said(row["source"]),
                lab=lab,
                words=read_said(row["words"]),
                counts=bool(row["counts"]),
                predicted=predicted,
            )
            readings.append(reading)
    return [_card(connection, row, patches[row["id"]]) for row in rows]


def _card(
    connection: sqlite3.Connection, row: sqlite3.Row, patches: dict[tuple[str, int], list[PatchReading]]
) -> KeptCard:
    draft, problem = drafts.from_json(connection, row["draft"])
    known = {key: readings for key, readings in patches.items() if sound.is_ground(key[0])}
    if len(known) < len(patches):
        problem += " Patches on grounds that are not known are left out."
    return KeptCard(
        id=row["id"],
        at=row["at"],
        recipe=row["recipe"],
        version=row["version"],
        draft=draft,
        note=row["note"],
        how=How(row["nozzle_mm"], row["pressure_bar"], row["reduction"]),
        photo=row["photo"],
        counts=bool(row["counts"]),
        patches=tuple(KeptPatch(*key, tuple(readings)) for key, readings in known.items()),
        problem=problem.strip(),
    )


def unreadable(connection: sqlite3.Connection) -> list[tuple[int, int]]:
    """(card, reading) of those of which a colour cannot be read, and so is left out everywhere."""
    rows = connection.execute(
        "SELECT card_id, test_card_reading.id, lab, predicted FROM test_card_reading"
        " JOIN test_card_patch ON test_card_patch.id = patch ORDER BY test_card_reading.id"
    )
    return [
        (row["card_id"], row["id"])
        for row in rows
        if any(text is not None and kept.whole(LAB, text, None) is None for text in (row["lab"], row["predicted"]))
    ]
