"""The demo bench's shelf: paints with what they ask for, bottles with their places, and a year of its ledger."""

import random
import sqlite3
from dataclasses import dataclass
from datetime import date, timedelta

from diachrom.demo.paints import PAINTS, DemoPaint
from diachrom.store import bottles, contrast_cards, paints
from diachrom.store.connection import writing
from diachrom.store.paints import PaintRecord
from diachrom.store.recipes import Version
from diachrom.work.kit.measurement_target import ContrastField
from diachrom.work.profiles.contrast_cards import begin, fields_of
from diachrom.work.shelf.keeping import keep_profile
from diachrom.work.sim import simulated_truth

FIRST_DAY, LAST_DAY = date(2025, 11, 28), date(2026, 11, 18)
COUNTED = date(2026, 3, 2)  # when the profiles were described


@dataclass(frozen=True)
class Ways:
    """What the paints of a line ask for, and where they stand."""

    place: str
    nozzle_mm: float | None
    pressure_bar: float | None
    under: str = ""
    inside: str = ""
    over: str = ""
    thinner: str = "Tynn reducer"
    price: float = 6.5


WAYS = {
    "Grunn": Ways("cupboard", 0.5, 2.0, under="sanded, degreased", price=14.0),
    "Torv": Ways("rack, top", 0.3, 1.4, under="primer"),
    "Rav": Ways("rack, middle", 0.3, 1.2, under="white, light or metallic"),
    "Lykt": Ways(
        "drawer",
        0.2,
        1.0,
        under="white or foil",
        inside="Tynn medium, 1:3",
        over="a seal before paint",
        thinner="Tynn medium",
        price=8.0,
    ),
    "Perlemor": Ways("rack, bottom", 0.5, 1.8, under="black for depth", over="clear", price=7.5),
    "Malm": Ways("rack, bottom", 0.5, 1.8, under="black", over="clear", price=7.5),
    "Nordlys": Ways("rack, bottom", 0.4, 1.6, under="black", over="clear", price=16.0),
    "Glo": Ways("rack, middle", 0.3, 1.4, under="white", over="clear with a sun filter", price=7.0),
    "Morild": Ways("drawer", 0.5, 2.0, under="thick white", inside="a clear base", over="clear", price=18.0),
    "Blekk": Ways("drawer", 0.2, 1.0, price=5.0),
    "Tynn": Ways("cupboard", None, None, thinner="", price=9.0),
}

# The second bottles of some paints: bought again before the first was gone; one that nobody can read any more.
SPARE = (
    ("torv-kritt", 60.0, 0.050, "sealed", "spare"),
    ("rav-nype", 30.0, 0.044, "sealed", "spare"),
    ("rav-melk", 30.0, 0.046, "sealed", "spare"),
    ("tynn-reducer", 120.0, 0.042, "sealed", "spare"),
    ("rav-te", 30.0, 0.045, "unreadable label", "brown, smells like Te: try it on a strip first"),
)


def put_up(connection: sqlite3.Connection) -> dict[str, tuple[int, float]]:
    """Paints, bottles and first stock; returns each paint's first bottle and its drop, by the paint's id."""
    chance = random.Random(7)
    first = {}
    for paint in PAINTS:
        ways = WAYS[paint.line]
        paints.add(
            connection,
            PaintRecord(
                paint.id,
                paint.line,
                paint.name,
                paint.kind,
                pigments=", ".join(key for key, _ in paint.pigments),
                discontinued=paint.discontinued,
                nozzle_mm=ways.nozzle_mm,
                pressure_bar=ways.pressure_bar,
                needs_under=ways.under,
                needs_in=ways.inside,
                needs_over=ways.over,
                thinner=ways.thinner,
                price=ways.price,
            ),
        )
        keep_profile(connection, paint.profile(), paint_id=paint.id, source="generic pigments", at=_at(COUNTED))
        bought = FIRST_DAY + timedelta(days=chance.randrange(0, 60))
        number = _bottle(connection, paint, bought, chance)
        first[paint.id] = (number, paint.drop_ml)
    by_id = {paint.id: paint for paint in PAINTS}
    for paint_id, size_ml, drop_ml, state, note in SPARE:
        bought = LAST_DAY - timedelta(days=chance.randrange(5, 90))
        place = WAYS[by_id[paint_id].line].place
        spare = {"state": state, "note": note, "place": place, "bought_on": bought.isoformat()}
        number = bottles.add(connection, paint_id=paint_id, size_ml=size_ml, drop_ml=drop_ml, **spare)  # type: ignore[arg-type]
        left = size_ml if state == "sealed" else 0.6 * size_ml
        bottles.enter(connection, bottle=number, at=_at(bought), kind="bought", ml=size_ml)
        if left < size_ml:
            words = "counted when the ledger was begun"
            bottles.enter(connection, bottle=number, at=_at(bought), kind="corrected", ml=left - size_ml, note=words)
    return first


def _at(day: date, hour: int = 8) -> str:
    return f"{day.isoformat()}T{hour:02d}:00:00+00:00"


def _bottle(connection: sqlite3.Connection, paint: DemoPaint, bought: date, chance: random.Random) -> int:
    opened = None if paint.state == "sealed" else bought + timedelta(days=chance.randrange(0, 20))
    shaken = LAST_DAY - timedelta(days=150 if paint.state == "settled" else chance.randrange(1, 24))
    place = "cold shelf" if paint.state == "settled" else WAYS[paint.line].place
    number = bottles.add(
        connection,
        paint_id=paint.id,
        size_ml=paint.size_ml,
        drop_ml=paint.drop_ml,
        state=paint.state,
        note=paint.note,
        place=place,
        batch=f"{paint.line[0]}{chance.randrange(100, 999)}",
        bought_on=bought.isoformat(),
        opened_on=None if opened is None else opened.isoformat(),
        shaken_on=None if opened is None else shaken.isoformat(),
    )
    bottles.enter(connection, bottle=number, at=_at(bought), kind="bought", ml=paint.size_ml)
    return number


def pour_a_year(connection: sqlite3.Connection, saved: list[Version]) -> None:
    """What is gone from each bottle went in pours over the year, for the recipes that name it and for test strips."""
    chance = random.Random(11)
    named: dict[int, list[Version]] = {}
    for version in saved:
        for part in version.draft.parts:
            named.setdefault(part.bottle, []).append(version)
    for number, paint in enumerate(PAINTS, start=1):
        gone = paint.size_ml - paint.left_ml
        row = bottles.one(connection, number)
        start = date.fromisoformat(row.bought_on or _at(FIRST_DAY)[:10])
        if gone <= 0:
            continue
        count = max(2, min(26, round(gone / 0.8)))
        shares = [chance.uniform(0.5, 1.5) for _ in range(count)]
        days = sorted(chance.randrange(10, (LAST_DAY - start).days) for _ in range(count))
        for share, day in zip(shares, days, strict=True):
            at, ml = _at(start + timedelta(days=day), 9 + day % 9), -gone * share / sum(shares)
            able = [one for one in named.get(number, []) if one.at <= at]
            if able and chance.random() < 0.8:
                version = chance.choice(able)
                recipe = {"recipe": version.recipe, "version": version.version, "note": f"for {version.draft.name}"}
                bottles.enter(connection, bottle=number, at=at, kind="poured", ml=ml, **recipe)  # type: ignore[arg-type]
            elif chance.random() < 0.06:
                bottles.enter(connection, bottle=number, at=at, kind="spilled", ml=ml, note="knocked over")
            else:
                bottles.enter(connection, bottle=number, at=at, kind="poured", ml=ml, note="for a test strip")


def half_read(connection: sqlite3.Connection) -> None:
    """A step card of Rav Multe that was left with three of its eight fields read."""
    at = "2026-11-18T16:20:00+00:00"
    number = begin(connection, "rav-multe", at=at)
    card = contrast_cards.card(connection, number)
    with writing(connection):
        for field in fields_of(card)[:3]:
            true = simulated_truth.seen(connection, ContrastField(card.id, field.key))
            source = "reader:The bench reader"
            values = [round(value, 6) for value in true.tolist()]
            contrast_cards.add_reading(connection, number, field=field.key, at=at, source=source, reflectance=values)
