"""What is mended by hand in a table that waits: cells that are written anew, rows that are left out, or are bottles
after all."""

import json
import sqlite3
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Annotated

from pydantic import Field, StringConstraints, TypeAdapter

from diachrom.errors import InvalidInput
from diachrom.exchange.text_tables import MOST_COLUMNS, MOST_ROWS
from diachrom.store import kept, uploads
from diachrom.store.connection import writing
from diachrom.words import say

LONGEST = 400  # characters of a cell
Row = Annotated[kept.Whole, Field(ge=0, le=1_100_000)]
Column = Annotated[kept.Whole, Field(ge=0, lt=MOST_COLUMNS)]
Text = Annotated[str, StringConstraints(max_length=LONGEST)]


@dataclass(frozen=True)
class Mended:
    """By the numbers of rows in the file, and of columns from 0."""

    left_out: frozenset[Row] = frozenset()
    taken: frozenset[Row] = frozenset()
    cells: Mapping[tuple[Row, Column], Text] = field(default_factory=dict)

    def rows(self, rows: Iterable[tuple[int, Sequence[str]]]) -> list[tuple[int, Sequence[str]]]:
        """Rows as they are mended, without those that are left out."""
        by_row: dict[int, dict[int, str]] = {}
        for (row, column), text in self.cells.items():
            by_row.setdefault(row, {})[column] = text
        found: list[tuple[int, Sequence[str]]] = []
        for row, cells in rows:
            if row in self.left_out:
                continue
            if row in by_row:
                own = [*cells, *[""] * (max(by_row[row]) + 1 - len(cells))]
                for column, text in by_row[row].items():
                    own[column] = text
                cells = own
            found.append((row, cells))
        return found


AS_IT_IS = Mended()


@dataclass(frozen=True)
class _Kept:
    left_out: list[Row]
    taken: list[Row]
    cells: list[tuple[Row, Column, Text]]


KEPT = TypeAdapter(_Kept)


def of(file: uploads.WaitingFile) -> Mended:
    """What was mended in a file that waits."""
    told = kept.whole(KEPT, file.mended, None)
    if told is None:
        return AS_IT_IS
    cells = {(row, column): text for row, column, text in told.cells}
    return Mended(frozenset(told.left_out), frozenset(told.taken), cells)


def _keep(connection: sqlite3.Connection, number: int, mended: Mended) -> None:
    if len(mended.left_out) + len(mended.taken) + len(mended.cells) > MOST_ROWS:
        raise InvalidInput(say("So much is mended better in the file itself."), field="rows")
    told = {
        "left_out": sorted(mended.left_out),
        "taken": sorted(mended.taken),
        "cells": [[row, column, text] for (row, column), text in mended.cells.items()],
    }
    with writing(connection):
        uploads.mend(connection, number, json.dumps(told))


def leave_out(connection: sqlite3.Connection, number: int, rows: Iterable[int]) -> None:
    """These rows are no bottles. Raises InvalidInput, NotFound."""
    now, gone = of(uploads.file(connection, number)), frozenset(rows)
    _keep(connection, number, replace(now, left_out=now.left_out | gone, taken=now.taken - gone))


def take(connection: sqlite3.Connection, number: int, rows: Iterable[int]) -> None:
    """These rows are bottles. Raises InvalidInput, NotFound."""
    now, back = of(uploads.file(connection, number)), frozenset(rows)
    _keep(connection, number, replace(now, left_out=now.left_out - back, taken=now.taken | back))


def write(connection: sqlite3.Connection, number: int, rows: Iterable[int], texts: Mapping[int, str]) -> None:
    """Cells of these rows, by column, are written anew. Raises InvalidInput, NotFound."""
    now = of(uploads.file(connection, number))
    for text in texts.values():
        if len(text) > LONGEST:
            raise InvalidInput(say("At most {longest} characters fit in a cell.", longest=LONGEST), field="text")
    cells = {(row, column): text.strip() for row in rows for column, text in texts.items()}
    _keep(connection, number, replace(now, cells={**now.cells, **cells}))
