"""Recipes and their versions. A saved version never changes; the next save is a new one that knows its parent."""

import json
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

from diachrom.core.mix import sound
from diachrom.core.mix.draft import Draft, Part
from diachrom.errors import RecipeNotFound
from diachrom.store import drafts
from diachrom.store.memory import cached_many


@dataclass(frozen=True)
class Version:
    """One saved version of a recipe."""

    recipe: int
    version: int
    parent_version: int | None
    at: str
    draft: Draft
    problem: str = ""  # what could not be read of it


_VERSIONS = """
    SELECT recipe, version, parent_version, name, note, ground, film_um, coats, clear_coat, sealed, satin, at
    FROM recipe_version
"""


HOW = ("name", "note", "ground", "film_um", "coats", "clear_coat", "sealed", "satin")


@lru_cache(maxsize=1024)  # a saved version never changes, and lists show many of them again and again
def _sound(how: tuple[object, ...], parts: tuple[Part, ...]) -> tuple[Draft, str]:
    values = dict(zip(HOW, how, strict=True)) | {"parts": [vars(part) for part in parts]}
    return drafts.read(values, there=set)  # the table itself names no bottle that is not there


def _version(row: sqlite3.Row, parts: tuple[Part, ...]) -> Version:
    draft, problem = _sound(tuple(row[key] for key in HOW), parts)
    return Version(
        recipe=row["recipe"],
        version=row["version"],
        parent_version=row["parent_version"],
        at=row["at"],
        draft=draft,
        problem=problem,
    )


def _whole(connection: sqlite3.Connection, rows: Sequence[sqlite3.Row]) -> list[Version]:
    """Rows with their parts."""
    parts: dict[tuple[int, int], list[Part]] = {(row["recipe"], row["version"]): [] for row in rows}
    found = connection.execute(
        "SELECT recipe, version, bottle_id, drops, drop_ml FROM json_each(:wanted) AS one JOIN recipe_part"
        " ON recipe = json_extract(one.value, '$[0]') AND version = json_extract(one.value, '$[1]')"
        " ORDER BY recipe, version, position",
        {"wanted": json.dumps(list(parts))},
    )
    for recipe, number, bottle, drops, drop_ml in found:
        parts[recipe, number].append(Part(bottle, drops, drop_ml))
    return [_version(row, tuple(parts[row["recipe"], row["version"]])) for row in rows]


def version(connection: sqlite3.Connection, recipe: int, number: int | None = None) -> Version:
    """One version of a recipe, the newest when no number is given. Raises RecipeNotFound."""
    found = several(connection, [(recipe, number)])
    if not found:
        raise RecipeNotFound(recipe, number)
    return found[recipe, number]


Wanted = tuple[int, int | None]  # recipe, and version or the newest


def several(connection: sqlite3.Connection, wanted: Iterable[Wanted]) -> dict[Wanted, Version]:
    """Those of these versions that there are."""
    return cached_many(connection, "versions", wanted, lambda missing: _read(connection, missing))


def _read(connection: sqlite3.Connection, wanted: list[Wanted]) -> dict[Wanted, Version]:
    able = [one for one in wanted if max(one[0], one[1] or 0) <= sound.LARGEST_NUMBER]
    rows = connection.execute(
        f"WITH wanted AS (SELECT json_extract(value, '$[0]') AS r, json_extract(value, '$[1]') AS v"
        f" FROM json_each(:wanted)) {_VERSIONS} WHERE EXISTS (SELECT 1 FROM wanted WHERE r = recipe"
        f" AND coalesce(v, (SELECT max(version) FROM recipe_version AS own WHERE own.recipe = r)) = version)",
        {"wanted": json.dumps(able)},
    ).fetchall()
    newest: dict[int, Version] = {}
    numbered: dict[Wanted, Version] = {}
    for one in _whole(connection, rows):
        numbered[one.recipe, one.version] = one
        if one.recipe not in newest or newest[one.recipe].version < one.version:
            newest[one.recipe] = one
    asked = {one for one in able if one[1] is None and one[0] in newest}
    return {one: newest[one[0]] if one in asked else numbered[one] for one in able if one in asked or one in numbered}


def versions(connection: sqlite3.Connection, recipe: int) -> list[Version]:
    """Every version of a recipe, the newest first."""
    rows = connection.execute(_VERSIONS + "WHERE recipe = :recipe ORDER BY version DESC", {"recipe": recipe}).fetchall()
    return _whole(connection, rows)


_NEWEST = "version = (SELECT max(v.version) FROM recipe_version AS v WHERE v.recipe = recipe_version.recipe)"
_HAS_WORD = """
    AND (instr(casefold(recipe || ' ' || name || ' ' || note), :word{at}) OR EXISTS (
        SELECT 1 FROM recipe_part JOIN bottle ON bottle.id = bottle_id JOIN paint ON paint.id = paint_id
        WHERE recipe_part.recipe = recipe_version.recipe AND recipe_part.version = recipe_version.version
        AND instr(casefold(paint.line || ' ' || paint.name), :word{at})))
"""


def newest_versions(
    connection: sqlite3.Connection, *, query: str = "", start: int = 0, most: int = -1, retired: bool = False
) -> list[Version]:
    """The newest version of each recipe that has every word in its name, note, number or paints; the highest number
    first. All of them, or `most` from `start` on; those that are retired apart."""
    condition, words = _has_words(query)
    rows = connection.execute(
        f"{_VERSIONS} {condition} ORDER BY recipe DESC LIMIT :most OFFSET :start",
        {"most": most, "start": start, "retired": int(retired), **words},
    ).fetchall()
    return _whole(connection, rows)


def found(connection: sqlite3.Connection, query: str = "") -> list[int]:
    """The numbers of the recipes that have every word, without those that are retired."""
    condition, words = _has_words(query)
    rows = connection.execute(f"SELECT recipe FROM recipe_version {condition}", {"retired": 0, **words})
    return [row[0] for row in rows]


def _has_words(query: str) -> tuple[str, dict[str, str]]:
    words = query.casefold().split()
    has = "".join(_HAS_WORD.format(at=index) for index in range(len(words)))
    retired = "(SELECT retired FROM recipe WHERE number = recipe_version.recipe) = :retired"
    return f"WHERE {_NEWEST} {has} AND {retired}", {f"word{at}": word for at, word in enumerate(words)}


def is_retired(connection: sqlite3.Connection, recipe: int) -> bool:
    """Whether it stepped back."""
    row = connection.execute("SELECT retired FROM recipe WHERE number = :recipe", {"recipe": recipe}).fetchone()
    return bool(row and row[0])


def retire(connection: sqlite3.Connection, recipe: int, *, back: bool) -> None:
    """Let it step back, or bring it back. Inside `writing`."""
    connection.execute(
        "UPDATE recipe SET retired = :retired WHERE number = :recipe", {"recipe": recipe, "retired": int(not back)}
    )


def with_paint(connection: sqlite3.Connection, paint_id: str) -> list[Version]:
    """The newest version of every recipe that names this paint."""
    rows = connection.execute(
        f"{_VERSIONS} WHERE {_NEWEST} AND EXISTS (SELECT 1 FROM recipe_part JOIN bottle ON bottle.id = bottle_id"
        " WHERE recipe_part.recipe = recipe_version.recipe AND recipe_part.version = recipe_version.version"
        " AND paint_id = :paint_id) ORDER BY recipe DESC",
        {"paint_id": paint_id},
    ).fetchall()
    return _whole(connection, rows)


def count(connection: sqlite3.Connection) -> int:
    """How many recipes there are."""
    return int(connection.execute("SELECT count(*) FROM recipe").fetchone()[0])


def numbers(connection: sqlite3.Connection) -> list[int]:
    """Of all recipes."""
    return [row[0] for row in connection.execute("SELECT number FROM recipe ORDER BY number")]


def new_recipe(connection: sqlite3.Connection, wanted: int | None = None) -> int:
    """Take the next number, or the wanted one if it is free. Call it inside `writing`: then no two writers get the same
    and none is skipped."""
    row = connection.execute(
        "INSERT INTO recipe (number) SELECT CASE WHEN :wanted IS NULL OR EXISTS"
        " (SELECT 1 FROM recipe WHERE number = :wanted) THEN (SELECT coalesce(max(number), 0) + 1 FROM recipe)"
        " ELSE :wanted END RETURNING number",
        {"wanted": wanted},
    ).fetchone()
    return int(row["number"])


def add_version(
    connection: sqlite3.Connection, draft: Draft, *, recipe: int, parent_version: int | None, at: str
) -> Version:
    """Append a version to a recipe. Call it inside `writing`."""
    values = {
        "recipe": recipe,
        "parent_version": parent_version,
        "name": draft.name,
        "note": draft.note,
        "ground": draft.ground,
        "film_um": draft.film_um,
        "coats": draft.coats,
        "clear_coat": int(draft.clear_coat),
        "sealed": int(draft.sealed),
        "satin": int(draft.satin),
        "at": at,
    }
    row = connection.execute(
        "INSERT INTO recipe_version"
        " (recipe, version, parent_version, name, note, ground, film_um, coats, clear_coat, sealed, satin, at)"
        " SELECT :recipe, coalesce(max(version), 0) + 1, :parent_version, :name, :note, :ground, :film_um, :coats,"
        " :clear_coat, :sealed, :satin, :at FROM recipe_version WHERE recipe = :recipe RETURNING version",
        values,
    ).fetchone()
    number = int(row["version"])
    parts = enumerate(draft.parts, start=1)
    connection.executemany(
        "INSERT INTO recipe_part (recipe, version, position, bottle_id, drops, drop_ml) VALUES (?, ?, ?, ?, ?, ?)",
        [(recipe, number, position, part.bottle, part.drops, part.drop_ml) for position, part in parts],
    )
    return Version(recipe, number, parent_version, at, draft)
