"""How saved versions were really poured."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict

from diachrom.core.mixing.story import Told, Verdict


def keep(connection: sqlite3.Connection, recipe: int, version: int, told: Sequence[Told]) -> None:
    connection.execute(
        "INSERT INTO recipe_story (recipe, version, told) VALUES (:recipe, :version, :told)",
        {"recipe": recipe, "version": version, "told": json.dumps([asdict(one) for one in told])},
    )


def of(connection: sqlite3.Connection, recipe: int, version: int) -> list[Told]:
    """Empty for a version of which nothing was kept."""
    row = connection.execute(
        "SELECT told FROM recipe_story WHERE recipe = :recipe AND version = :version",
        {"recipe": recipe, "version": version},
    ).fetchone()
    return [] if row is None else [told_from(one) for one in json.loads(row["told"])]


def told_from(values: dict[str, object]) -> Told:
    verdict = values["verdict"]
    return Told(**{**values, "verdict": verdict_from(verdict)})  # type: ignore[arg-type]


def verdict_from(values: object) -> Verdict | None:
    if not isinstance(values, dict):
        return None
    lab = values["lab"]
    return Verdict(values["words"], values["source"], None if lab is None else (lab[0], lab[1], lab[2]))
