"""Anything of the bench, found from one box: bottles, recipes, plans, orders, sessions, targets, the log."""

import sqlite3
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice

from diachrom import clock
from diachrom.store import log, orders, recipes, sessions, targets
from diachrom.words import listed, say, say_count, when
from diachrom.work.plan import bringing
from diachrom.work.shelf import shelf_index

EACH, MOST_WORDS, MOST_TARGETS = 6, 12, 200


@dataclass(frozen=True)
class Hit:
    """A page, and what it is of."""

    href: str
    name: str
    detail: str


@dataclass(frozen=True)
class Chapter:
    """What was found of a sort."""

    words: str
    hits: Sequence[Hit]


Matches = Callable[[str], bool]


def search(connection: sqlite3.Connection, query: str) -> Sequence[Chapter]:
    """Everything in which each word of a query stands, chapter by chapter; nothing for an empty one."""
    words = query.casefold().split()[:MOST_WORDS]
    if not words:
        return []

    def matches(text: str) -> bool:
        return all(word in text.casefold() for word in words)

    chapters = (
        (say("Shelf"), _bottles(connection, matches)),
        (say("Recipes"), _recipes(connection, " ".join(words))),
        (say("Plans"), _plans(connection, " ".join(words))),
        (say("Orders"), _orders(connection, matches)),
        (say("Bench"), _sessions(connection, matches)),
        (say("Log"), _log(connection, words)),
        (say("Targets"), _targets(connection, matches)),
    )
    found = [Chapter(name, list(islice(hits, EACH))) for name, hits in chapters]
    return [one for one in found if one.hits]


def _bottles(connection: sqlite3.Connection, matches: Matches) -> Iterator[Hit]:
    for row in shelf_index.index(connection).rows:
        if matches(row.text):
            yield Hit(f"/bottles/{row.bottle.id}", row.bottle.full_name, row.bottle.place)


def _recipes(connection: sqlite3.Connection, query: str) -> Iterator[Hit]:
    for one in recipes.newest_versions(connection, query=query, start=0, most=EACH):
        yield Hit(f"/recipes/{one.recipe}", one.draft.name, say("No. {recipe}", recipe=one.recipe))


def _plans(connection: sqlite3.Connection, query: str) -> Iterator[Hit]:
    for one in bringing.listed(connection, query):
        number = one.now.number
        yield Hit(f"/plan/{number}", one.now.plan.name or say("Plan {number}", number=number), f"No. {number}")


def _orders(connection: sqlite3.Connection, matches: Matches) -> Iterator[Hit]:
    for one in orders.every(connection):
        if matches(f"{one.name} {one.customer} {one.wish} {one.number}"):
            yield Hit(f"/orders/{one.number}", one.name, one.customer)


def _sessions(connection: sqlite3.Connection, matches: Matches) -> Iterator[Hit]:
    for one in sessions.every(connection):
        if matches(f"{one.name} {one.number}"):
            yield Hit(f"/bench/{one.number}", one.name, say("ended") if one.ended else say("under way"))


def _log(connection: sqlite3.Connection, words: Sequence[str]) -> Iterator[Hit]:
    for one in log.found(connection, words, most=EACH)[0]:
        day = clock.day_of(one.at)
        parts = ("" if day is None else when(day), one.customer, say_count(one.baits, "{count} bait", "{count} baits"))
        yield Hit(f"/log/{one.number}", one.name, listed(part for part in parts if part))


def _targets(connection: sqlite3.Connection, matches: Matches) -> Iterator[Hit]:
    for one in targets.latest(connection, MOST_TARGETS):
        if matches(f"{one.name} {one.source}"):
            yield Hit("/match", one.name, str(one.source))
