"""The log as pages show it: a wall of pictures, and an entry with what was planned beside what was done."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from types import NoneType
from typing import Any

from diachrom import clock
from diachrom.core.session.script import SIDES
from diachrom.store.log import FAULTS, Entry
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.formatting import day
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.kit.opened import Store
from diachrom.work.log import entries
from diachrom.work.log.answers import Answers
from diachrom.work.log.entries import Found
from diachrom.work.log.used import BY_EYE, Used
from diachrom.work.log.year import Year

FIELDS = (
    ("name", say("Name")),
    ("customer", say("Who for")),
    ("wish", say("What they wanted")),
    ("price", say("Price")),
    ("clear", say("Clear")),
    ("weight_g", say("A bait weighs, g")),
    ("note", say("Note")),
)


SMALL = 480  # pixels


@dataclass(frozen=True)
class Tile:
    number: int
    name: str
    detail: str
    picture: str  # an address, "" where there is none
    faults: str


@dataclass(frozen=True)
class WallPage:
    tiles: Sequence[Tile]
    query: str
    bottle: int | None
    more: int
    empty_words: str


@dataclass(frozen=True)
class FaultView:
    id: int
    words: str


@dataclass(frozen=True)
class PaintView:
    bottle: int
    name: str
    planned: str
    used: str
    cost: str
    left: str  # by the ledger, "" of a bottle that is gone
    is_jar: bool


@dataclass(frozen=True)
class EntryPage:
    number: int
    name: str
    detail: str
    picture: str
    photos: Sequence[tuple[str, str, int]]  # words, address, number
    fields: Sequence[tuple[str, str, str]]
    layers: Sequence[Any]
    mixes: Sequence[Any]
    paint: Sequence[PaintView]
    eyes: Sequence[Choice]  # how full a bottle is to the eye
    paint_cost: str
    recipes: Sequence[tuple[int, int | None]]
    waits: Sequence[Any]
    told: Sequence[str]
    facts: Sequence[str]
    colours: Sequence[str]
    faults: Sequence[FaultView]
    known_faults: Sequence[Choice]
    sides: Sequence[Choice]
    plan: int | None
    version: int | None
    session: int | None


def _picture(found: Found, width: int, side: str = "left") -> str:
    """Its latest photo; its plan's picture where there is none."""
    if found.photos:
        number = found.photos[-1][1]
        return f"/photos/{number}/small.jpg" if width <= SMALL else f"/photos/{number}/whole"
    entry = found.entry
    if entry.plan is None:
        return ""
    version = f"&version={entry.version}" if entry.version is not None else ""
    return f"/plan/{entry.plan}/picture.png?side={side}&width={width}{version}"


def given_pictures(found: Found) -> Sequence[tuple[str, str]]:
    """(side, address): its latest photo of each side; its plan's picture where there is none."""
    latest = {side: f"/photos/{photo}/whole" for side, photo in found.photos}
    if latest:
        return [(SIDES.get(side, ""), address) for side, address in latest.items()]
    return [("", own)] if (own := _picture(found, 900)) else []


def _detail(entry: Entry) -> str:
    parts = [
        say_count(entry.baits, "{count} bait", "{count} baits"),
        day(entry.at),
        say("for {customer}", customer=entry.customer) if entry.customer else "",
    ]
    hours = _rows(entry.told or {}, "hours")
    times = [clock.moment(str(one)) for one in hours]
    if len(times) == 2 and times[0] is not None and times[1] is not None:
        parts.append(say("{start} to {end}", start=f"{times[0]:%H:%M}", end=f"{times[1]:%H:%M}"))
    if entry.minutes:
        parts.append(
            say("{minutes} h at the bench", minutes=quantity(entry.minutes / 60, ".1f"))
            if entry.minutes >= 100
            else say("{minutes} min", minutes=quantity(entry.minutes, ".0f"))
        )
    return listed((part for part in parts if part), " · ")


def wall(store: Store, query: str, bottle: int | None) -> WallPage:
    """Entries as pictures on a wall."""
    page = entries.found(store, query, bottle=bottle)
    tiles = [
        Tile(
            row.entry.number,
            row.entry.name,
            _detail(row.entry),
            _picture(row, 420, "list"),
            faults=listed(FAULTS.get(each.fault, each.fault) for each in row.faults),
        )
        for row in page.rows
    ]
    empty = say("Nothing is in the log yet: sessions appear here when they end, and you can add baits painted before.")
    if query or bottle is not None:
        empty = say("No entry matches.")
    return WallPage(tiles, query, bottle, page.more, empty)


def _rows(told: Any, key: str) -> Sequence[Any]:
    found = told.get(key)
    return found if isinstance(found, list) else []


def _is_paint(row: Any) -> bool:
    """[bottle, name, ml, cost or nothing]."""
    if not isinstance(row, list) or len(row) != 4:
        return False
    return isinstance(row[0], int) and isinstance(row[2], (int, float)) and isinstance(row[3], (int, float, NoneType))


def entry_page(store: Store, found: Found, used: Sequence[Used]) -> EntryPage:
    """An entry with all that is known of it."""
    entry = found.entry
    told = entry.told or {}
    paint = [one for one in _rows(told, "paint") if _is_paint(one)]
    costs = [one[3] for one in paint if isinstance(one[3], (int, float))]
    facts, colours = told.get("facts"), told.get("colours")
    known = {row.bottle: row for row in used}
    return EntryPage(
        number=entry.number,
        name=entry.name,
        detail=_detail(entry),
        picture=_picture(found, 900),
        photos=[(SIDES.get(side, ""), f"/photos/{photo}/whole", photo) for side, photo in found.photos],
        fields=[(key, words, _written(getattr(entry, key))) for key, words in FIELDS],
        layers=[one for one in _rows(told, "layers") if isinstance(one, dict)],
        mixes=[one for one in _rows(told, "mixes") if isinstance(one, dict)],
        paint=[_paint_view(one, known) for one in paint],
        eyes=[Choice(key, words) for key, (words, _) in BY_EYE.items()],
        paint_cost=quantity(sum(costs), ".2f", "money") if costs else "",
        recipes=[(one[0], one[1]) for one in _rows(told, "recipes") if isinstance(one, list) and len(one) == 2],
        waits=[one for one in _rows(told, "waits") if isinstance(one, list) and len(one) == 3],
        told=[str(one) for one in _rows(told, "told")],
        facts=_facts(facts if isinstance(facts, dict) else {}),
        colours=entries.coloured(colours) if isinstance(colours, dict) else [],
        faults=[
            FaultView(
                fault.id,
                f"{FAULTS.get(fault.fault, fault.fault)}, {day(fault.at)}{f': {fault.note}' if fault.note else ''}",
            )
            for fault in found.faults
        ],
        known_faults=[Choice(key, words) for key, words in FAULTS.items()],
        sides=[Choice(key, words) for key, words in SIDES.items()],
        plan=entry.plan,
        version=entry.version,
        session=entry.session,
    )


def _paint_view(row: Sequence[Any], used: Mapping[int, Used]) -> PaintView:
    known = used.get(row[0])
    planned = None if known is None else known.planned_ml
    return PaintView(
        bottle=row[0],
        name=str(row[1]),
        planned="" if planned is None else quantity(planned, ".2f", "ml"),
        used=quantity(float(row[2]), ".2f", "ml"),
        cost="" if row[3] is None else quantity(row[3], ".2f"),
        left="" if known is None else quantity(known.left_ml, ".1f", "ml"),
        is_jar=known is not None and known.made_here,
    )


FACTS: dict[str, Callable[[float], str]] = {
    "a_g": lambda value: say("{weight} of A", weight=quantity(value, "g", "g")),
    "b_g": lambda value: say("{weight} of B", weight=quantity(value, "g", "g")),
    "temperature_c": lambda value: quantity(value, "g", "°C"),
    "humidity_percent": lambda value: say("{share} humidity", share=quantity(value, "g", "%")),
    "used_ml": lambda value: quantity(value, "g", "ml"),
}


def _facts(told: dict[str, Any]) -> list[str]:
    return [FACTS[key](value) for key, value in told.items() if key in FACTS and isinstance(value, (int, float))]


def _written(value: object) -> str:
    return "" if value is None else quantity(value, "g") if isinstance(value, float) else str(value)


@dataclass(frozen=True)
class Bar:
    x: float
    y: float
    width: float
    height: float
    words: str  # of the month
    figure: str


@dataclass(frozen=True)
class AnswerBar:
    name: str
    wide: float
    beside: float | None  # of the second bar, None where there is none
    figure: str


WIDEST = 100.0


def plots(found: Answers) -> tuple[Sequence[AnswerBar], Sequence[AnswerBar], Sequence[AnswerBar]]:
    """Coats by colour, minutes by pattern, earnings by the hour."""
    coats = [
        (one.name, one.coats, one.planned, say("{coats} coats", coats=quantity(one.coats, ".1f")))
        for one in found.coats
    ]
    takes = [
        (one.name, one.minutes, one.planned, quantity(one.minutes, ".0f", "min")) for one in found.takes if one.minutes
    ]
    earning = sorted((one for one in found.takes if one.an_hour is not None), key=lambda one: -(one.an_hour or 0.0))
    earns = [
        (
            one.name,
            max(one.an_hour or 0.0, 0.0),
            None,
            say(
                "{an_hour} an hour: {price} less {cost}",
                an_hour=quantity(one.an_hour or 0.0, ".0f"),
                price=quantity(one.price, ".2f"),
                cost=quantity(one.cost, ".2f"),
            ),
        )
        for one in earning
    ]
    return _answer_bars(coats), _answer_bars(takes), _answer_bars(earns)


def _answer_bars(rows: Sequence[tuple[str, float, float | None, str]]) -> list[AnswerBar]:
    most = max((max(value, beside or 0.0) for _, value, beside, _ in rows), default=0.0) or 1.0
    return [
        AnswerBar(
            name,
            round(WIDEST * value / most, 1),
            None if beside is None else round(WIDEST * beside / most, 1),
            figure,
        )
        for name, value, beside, figure in rows
    ]


HIGH, STEP, BAR = 120.0, 50.0, 34.0


def bars(year: Year) -> Sequence[tuple[str, Sequence[Bar]]]:
    """Baits and hours, month by month."""
    return [
        (say("Baits"), _bars([(month.words, float(month.baits), f"{month.baits}") for month in year.months])),
        (say("Hours at the bench"), _bars([(one.words, one.hours, quantity(one.hours, ".1f")) for one in year.months])),
    ]


def _bars(rows: Sequence[tuple[str, float, str]]) -> list[Bar]:
    most = max((value for _, value, _ in rows), default=0.0) or 1.0
    return [
        Bar(
            x=index * STEP + 8,
            y=round(HIGH * (1 - value / most), 1) + 18,
            width=BAR,
            height=round(HIGH * value / most, 1),
            words=words,
            figure=figure if value else "",
        )
        for index, (words, value, figure) in enumerate(rows)
    ]
