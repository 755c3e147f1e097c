"""The log as it is looked through: found by anything, written on, with what was told of it later."""

import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from diachrom import clock
from diachrom.core.bait.regions import REGIONS
from diachrom.core.mix.draft import LONGEST_NOTE, checked_text
from diachrom.core.session.script import SIDES
from diachrom.errors import InvalidInput
from diachrom.store import log, plans
from diachrom.store.connection import writing
from diachrom.store.log import FAULTS, Entry, Fault
from diachrom.words import say, when
from diachrom.work.kit import photo_picks
from diachrom.work.kit.fields import Field, number_field

LONGEST = 80
MOST, MOST_WORDS = 60, 12  # shown at once; looked for at once
FIELDS: Mapping[str, Field] = {
    "price": number_field("price", say("Price"), least=0, most=1e6),
    "weight_g": number_field("weight_g", say("A bait weighs, g"), least=0.01, most=99_999),
    "baits": number_field("baits", say("Baits"), least=1, most=500),
    "minutes": number_field("minutes", say("Time at the bench, min"), least=0, most=100_000),
}


@dataclass(frozen=True)
class Found:
    """An entry with what was told of it later, and its photos by side."""

    entry: Entry
    faults: Sequence[Fault]
    photos: Sequence[tuple[str, int]]


@dataclass(frozen=True)
class Page:
    """The latest of what was found, and how many more there are."""

    rows: Sequence[Found]
    more: int


def found(connection: sqlite3.Connection, query: str = "", *, bottle: int | None = None, most: int = MOST) -> Page:
    """Entries in which every word of a query stands somewhere: name, customer, month, colour, paint, fault; or those
    that hold a bottle."""
    words = [
        *query.lower().split()[:MOST_WORDS],
        *([] if bottle is None else [f"\nbottle {bottle}\n"]),
    ]
    rows, count = log.found(connection, words, most=most)
    numbers = [entry.number for entry in rows]
    faults, pictures = log.faults(connection, numbers), log.photos(connection, numbers)
    own = [Found(row, faults.get(row.number, ()), pictures.get(row.number, ())) for row in rows]
    return Page(own, count - len(rows))


def one(connection: sqlite3.Connection, number: int) -> Found:
    """Raises NotFound."""
    entry = log.entry(connection, number)
    faults = log.faults(connection, [number]).get(number, [])
    pictures = log.photos(connection, [number]).get(number, [])
    return Found(entry, faults, pictures)


def keep_words(connection: sqlite3.Connection, number: int) -> None:
    """What an entry is found by, as it stands now. Inside `writing`."""
    entry, faults = log.entry(connection, number), log.faults(connection, [number]).get(number, [])
    moment = clock.moment(entry.at)
    told = entry.told or {}
    colours, paint = told.get("colours"), told.get("paint")
    parts = [
        *(entry.name, entry.customer, entry.wish, entry.note, entry.clear, f"no. {entry.number}"),
        "" if moment is None else when(moment, "month"),
        *(_texts(paint)),
        *(_texts(told.get("mixes"))),
        *(_texts(told.get("told"))),
        *(f"{colour} {where}" for where, colour in (colours.items() if isinstance(colours, dict) else ())),
        *(f"{FAULTS.get(fault.fault, fault.fault)} {fault.note}" for fault in faults),
        *(f"bottle {row[0]}" for row in (paint if isinstance(paint, list) else ()) if isinstance(row, list) and row),
    ]
    log.set_words(connection, number, f"\n{chr(10).join(parts).lower()}\n")


WHERE = {one.words: one.words for one in REGIONS.values()}  # by the English that is kept


def coloured(told: Mapping[str, str]) -> list[str]:
    """ "olive green back", of an entry's colours by the regions that they are of."""
    return [say("{colour} {where}", colour=colour, where=WHERE.get(where, where)) for where, colour in told.items()]


def _texts(told: object) -> Iterable[str]:
    """Every text in a document."""
    if isinstance(told, str):
        yield told
    elif isinstance(told, list):
        for one in told:
            yield from _texts(one)
    elif isinstance(told, dict):
        yield from _texts(list(told.values()))


def _typed(form: Mapping[str, str]) -> dict[str, object]:
    """Raises InvalidInput."""
    values: dict[str, object] = {
        key: checked_text(key, " ".join(form.get(key, "").split()), LONGEST)
        for key in ("name", "customer", "clear")
        if key in form
    }
    values |= {key: checked_text(key, form[key].strip(), LONGEST_NOTE) for key in ("wish", "note") if key in form}
    values |= {key: FIELDS[key].value(form[key]) for key in ("price", "weight_g") if key in form}
    if values.get("name") == "":
        raise InvalidInput(say("Give the entry a name."), field="name")
    return values


def change(connection: sqlite3.Connection, number: int, form: Mapping[str, str]) -> None:
    """What a painter writes of it. Raises InvalidInput, NotFound."""
    values = _typed(form)
    with writing(connection):
        log.entry(connection, number)
        log.change(connection, number, values)
        keep_words(connection, number)


def new(connection: sqlite3.Connection, form: Mapping[str, str], *, at: str) -> int:
    """A bait that was painted before, or elsewhere. Raises InvalidInput, NotFound."""
    values = _typed({"name": "", **form})
    day = _day(form.get("day", ""), at)
    baits, minutes = (
        FIELDS["baits"].value(form.get("baits") or "1"),
        FIELDS["minutes"].value(form.get("minutes") or "0"),
    )
    plan = form.get("plan", "")
    number = int(plan) if plan.isdecimal() and len(plan) < 15 else None
    version = None
    with writing(connection):
        if number is not None:
            plans.now(connection, number)
            known = plans.versions(connection, number)
            version = known[0].version if known else None
        made = log.add(
            connection,
            {
                **values,
                "at": f"{day.isoformat()}T12:00:00+00:00",
                "plan": number,
                "version": version,
                "baits": round(float(str(baits))),
                "minutes": minutes,
            },
        )
        keep_words(connection, made)
        return made


def _day(text: str, at: str) -> date:
    """Raises InvalidInput for what is none, or is still to come."""
    today = date.fromisoformat(clock.today(at))
    try:
        day = date.fromisoformat(text) if text.strip() else today
    except ValueError:
        raise InvalidInput(say("'{words}' is no day.", words=text[:20]), field="day") from None
    if day > today:
        raise InvalidInput(say("{day} is still to come.", day=when(day)), field="day")
    return day


def tell_fault(connection: sqlite3.Connection, number: int, fault: str, note: str, day: str, *, at: str) -> None:
    """Raises InvalidInput, NotFound."""
    if fault not in FAULTS:
        raise InvalidInput(say("There is no fault called '{fault}'.", fault=fault[:30]), field="fault")
    words, when = checked_text("note", note.strip(), LONGEST_NOTE), _day(day, at)
    with writing(connection):
        log.add_fault(connection, entry=number, at=when.isoformat(), fault=fault, note=words)
        keep_words(connection, number)


def take_back_fault(connection: sqlite3.Connection, number: int, fault: int) -> None:
    """Raises NotFound."""
    with writing(connection):
        log.drop_fault(connection, fault, entry=number)
        keep_words(connection, number)


def add_photo(connection: sqlite3.Connection, number: int, side: str, name: str, content: bytes, *, at: str) -> None:
    """Raises BadFile, InvalidInput, NotFound."""
    if side not in SIDES:
        raise InvalidInput(say("Say whether the photo shows the left or the right side."), field="side")
    taken = photo_picks.taken(name, content)
    with writing(connection):
        photo = photo_picks.put(connection, taken, at=at)
        log.add_photo(connection, photo=photo, entry=number, side=side)
