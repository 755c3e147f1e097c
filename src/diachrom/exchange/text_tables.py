"""Tables that are text: lists parted by a sign, Markdown, pages of HTML, and lists of things in JSON."""

import csv
import io
import json
import re
from collections.abc import Iterator, Mapping
from html.parser import HTMLParser
from statistics import median
from typing import Any

from diachrom.errors import BadFile
from diachrom.exchange.json_bounds import check_json
from diachrom.exchange.sheets_out import unguarded
from diachrom.words import say

MOST_ROWS, MOST_COLUMNS = 20_000, 200
Rows = list[tuple[int, list[str]]]  # (row number in the file, cells)

PARTED = {";": say("parted by semicolons"), "\t": say("parted by tabs"), "|": say("parted by bars")}
LOOKED_AT = 20  # lines that show what parts them
RULE = re.compile(r"\s*\|?\s*:?-{2,}:?\s*(?:\|\s*:?-{2,}:?\s*)*\|?\s*")  # below the headings in Markdown
MARKED = re.compile(r"\*\*(.+?)\*\*|__(.+?)__|`(.+?)`")
LONGEST_RULE = 2000  # characters
DEEPEST = 12
SOFT_HYPHEN = "\u00ad"


def read_rows(name: str, text: str) -> tuple[list[Rows], list[str]]:
    """The tables in a text, and what was noticed about how they are written. Raises BadFile."""
    start = text.lstrip()[:1]
    if start == "<":
        return _html(name, text), [say("read as a page of HTML, which it is")]
    if start in ("{", "["):
        return [_json(name, text)], []
    lines = text.splitlines()
    if any(_is_rule(line) for line in lines[: 10 * LOOKED_AT]):
        return [_markdown(name, lines)], [say("read as Markdown")]
    return _parted(name, text, lines)


def _full(name: str, rows: Rows) -> None:
    if len(rows) > MOST_ROWS + 1:
        raise BadFile(name, say("it has more than {most_rows} rows.", most_rows=MOST_ROWS))


def _parted(name: str, text: str, lines: list[str]) -> tuple[list[Rows], list[str]]:
    told = re.fullmatch(r"sep=(.)", lines[0].strip()) if lines else None
    seen = [line for line in lines[1 if told else 0 :] if line.strip()][:LOOKED_AT]
    # What parts most lines: a title above the table, and commas in one of its cells, do not.
    delimiter = told[1] if told else max(",;\t|", key=lambda sign: median([line.count(sign) for line in seen] or [0]))
    if not told and not any(delimiter in line for line in seen):
        delimiter = max(",;\t|", key=lambda sign: sum(line.count(sign) for line in seen))
    notes = [PARTED[delimiter]] if delimiter in PARTED else []
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    rows: Rows = []
    try:
        for cells in reader:
            if any(cell.strip() for cell in cells) and not (told and reader.line_num == 1):
                rows.append((reader.line_num, [unguarded(cell) for cell in cells]))
            _full(name, rows)
    except csv.Error as error:
        cut = " Is the file cut off?" if "unexpected end" in str(error) else ""
        raise BadFile(
            name, say("row {line_num}: {error}.{cut}", line_num=reader.line_num, error=error, cut=cut)
        ) from None
    return [rows], notes


def _is_rule(line: str) -> bool:
    return "|" in line and "--" in line and len(line) < LONGEST_RULE and RULE.fullmatch(line) is not None


def _markdown(name: str, lines: list[str]) -> Rows:
    rows: Rows = []
    for number, line in enumerate(lines, start=1):
        if "|" not in line or _is_rule(line):
            continue
        parts = re.split(r"(?<!\\)\|", line.strip())
        parts = parts[1:] if not parts[0].strip() else parts
        parts = parts[:-1] if len(parts) > 1 and not parts[-1].strip() else parts
        cells = [MARKED.sub(r"\1\2\3", part).replace("\\|", "|").strip() for part in parts]
        if any(cells):
            rows.append((number, cells))
        _full(name, rows)
    return rows


class _Page(HTMLParser):
    """The tables of a page, each row with the cells that reach into it from above."""

    def __init__(self, name: str) -> None:
        super().__init__(convert_charrefs=True)
        self.name = name
        self.tables: list[Rows] = []
        self._row: dict[int, str] = {}
        self._below: dict[int, tuple[int, str]] = {}  # by column: rows that a cell still reaches down, and its text
        self._cell: list[str] | None = None
        self._spans, self._hidden, self._inside = (1, 1), 0, 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag in ("script", "style"):
            self._hidden += 1
        elif tag == "table":
            self._inside += 1
            self.tables.append([])
            self._below = {}
        elif tag == "tr" and self._inside:
            self._end_row()
        elif tag in ("td", "th") and self._inside:
            self._end_cell()
            told = dict(attrs)
            self._cell = []
            across, down = (told.get(key) or "1" for key in ("colspan", "rowspan"))
            self._spans = (
                min(int(across), MOST_COLUMNS) if across.isdecimal() and len(across) < 5 else 1,
                min(int(down), MOST_ROWS) if down.isdecimal() and len(down) < 7 else 1,
            )
        elif tag == "br" and self._cell is not None:
            self._cell.append(" ")

    def handle_endtag(self, tag: str) -> None:
        if tag in ("script", "style"):
            self._hidden = max(0, self._hidden - 1)
        elif tag in ("td", "th"):
            self._end_cell()
        elif tag == "tr":
            self._end_row()
        elif tag == "table" and self._inside:
            self._end_row()
            self._inside -= 1

    def handle_data(self, data: str) -> None:
        if self._cell is not None and not self._hidden:
            self._cell.append(data)

    def close(self) -> None:
        super().close()
        self._end_row()

    def _end_cell(self) -> None:
        if self._cell is None:
            return
        text = " ".join("".join(self._cell).replace(SOFT_HYPHEN, "").split())
        across, down = self._spans
        column = next(at for at in range(MOST_COLUMNS + len(self._row) + 1) if not self._taken(at))
        if column < MOST_COLUMNS:
            for at in range(column, min(column + max(across, 1), MOST_COLUMNS)):
                self._row[at] = text if at == column else ""
                if down > 1:
                    self._below[at] = (down, self._row[at])
        self._cell = None

    def _taken(self, column: int) -> bool:
        return column in self._row or column in self._below

    def _end_row(self) -> None:
        self._end_cell()
        if not self.tables or not self._row:
            return
        cells = {**{column: text for column, (_, text) in self._below.items()}, **self._row}
        self._below = {column: (left - 1, text) for column, (left, text) in self._below.items() if left > 1}
        rows = self.tables[-1]
        if any(cells.values()):
            rows.append((len(rows) + 1, [cells.get(at, "") for at in range(max(cells) + 1)]))
        _full(self.name, rows)
        self._row = {}


def _html(name: str, text: str) -> list[Rows]:
    page = _Page(name)
    page.feed(text)
    page.close()
    tables = [rows for rows in page.tables if len(rows) > 1]
    if not tables:
        raise BadFile(name, say("there is no table in this page."))
    return tables


def _json(name: str, text: str) -> Rows:
    """The longest list of things in it: a row each, their figures and words under the names that they have there."""
    check_json(name, text.encode())
    try:
        told = json.loads(text)
    except (ValueError, RecursionError):
        raise BadFile(name, say("it is no JSON: is it cut off?")) from None
    every = max(_lists(told, 0), key=len, default=[])
    things = [dict(_flat(one, (), 0)) for one in every[: MOST_ROWS + 1]]
    heads = list(dict.fromkeys(key for one in things for key in one))[:MOST_COLUMNS]
    if not heads:
        raise BadFile(name, say("it holds no rows."))
    rows: Rows = [(0, heads)]
    rows += [(at, [one.get(head, "") for head in heads]) for at, one in enumerate(things, start=1)]
    _full(name, rows)
    return rows


def _lists(told: Any, depth: int) -> Iterator[list[Mapping[str, Any]]]:
    if depth > DEEPEST:
        return
    if isinstance(told, list):
        things = [one for one in told if isinstance(one, Mapping)]
        if things and len(things) == len(told):
            yield things
        inner: Any = told
    else:
        inner = told.values() if isinstance(told, Mapping) else ()
    for one in inner:
        yield from _lists(one, depth + 1)


def _flat(told: Mapping[str, Any], path: tuple[str, ...], depth: int) -> Iterator[tuple[str, str]]:
    for key, value in told.items():
        where = (*path, str(key)[:60])
        if isinstance(value, list) and value and all(isinstance(one, Mapping) for one in value):
            value = value[0]  # of several offers the first
        if isinstance(value, Mapping):
            if depth < DEEPEST:
                yield from _flat(value, where, depth + 1)
        elif isinstance(value, bool):
            yield ".".join(where), "yes" if value else "no"
        elif isinstance(value, str | int | float):
            yield ".".join(where), str(value)
        elif isinstance(value, list) and len(value) == 3 and all(isinstance(one, int) for one in value):
            yield ".".join(where), "rgb({}, {}, {})".format(*value)
