"""Tools of the bench that paint goes through or is laid with: nets, combs, stencils, sponges, brushes."""

import sqlite3
from dataclasses import dataclass

from diachrom.errors import NotFound
from diachrom.words import say


@dataclass(frozen=True)
class Tool:
    """One kind of them, and how many there are."""

    id: int
    kind: str  # of a mask
    name: str
    size_mm: float
    gap_mm: float
    teeth: int
    stencil: str
    pieces: int


COLUMNS = "id, kind, name, size_mm, gap_mm, teeth, stencil, pieces"


def every(connection: sqlite3.Connection) -> list[Tool]:
    """Those that are there, by kind and name."""
    rows = connection.execute(f"SELECT {COLUMNS} FROM bench_tool WHERE retired = 0 ORDER BY kind, name, id")
    return [Tool(*row) for row in rows]


def one(connection: sqlite3.Connection, number: int) -> Tool:
    """One that is there. Raises NotFound."""
    row = connection.execute(
        f"SELECT {COLUMNS} FROM bench_tool WHERE id = :id AND retired = 0", {"id": number}
    ).fetchone()
    if row is None:
        raise NotFound(say("That tool is no longer among my tools."), field="tool")
    return Tool(*row)


def add(connection: sqlite3.Connection, tool: Tool) -> int:
    """Inside `writing`; its own number is not looked at."""
    row = connection.execute(
        "INSERT INTO bench_tool (kind, name, size_mm, gap_mm, teeth, stencil, pieces)"
        " VALUES (:kind, :name, :size_mm, :gap_mm, :teeth, :stencil, :pieces) RETURNING id",
        vars(tool),
    ).fetchone()
    return int(row[0])


def retire(connection: sqlite3.Connection, number: int) -> None:
    """Inside `writing`. Plans that name it tell that it is not there."""
    connection.execute("UPDATE bench_tool SET retired = 1 WHERE id = :id", {"id": number})
