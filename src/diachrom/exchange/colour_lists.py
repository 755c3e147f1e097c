"""Named colours as people keep them: lists of hex colours, CSS, and JSON palettes of many shapes."""

import json
import re
from collections.abc import Iterator
from typing import Any

from diachrom.errors import BadFile
from diachrom.exchange.named import MOST_COLOURS, Named
from diachrom.words import say

HEX = re.compile(r"#?(?P<hex>[0-9a-f]{6}|[0-9a-f]{3})", re.I)
# A line of a list: a colour with its name before or behind it.
LINE = re.compile(r"(?P<before>[^#]*?)[\s,;:=\t]*#(?P<hex>[0-9a-f]{6}|[0-9a-f]{3})\b[\s,;:=]*(?P<after>[^#]*)", re.I)
BARE = re.compile(r"\s*(?P<hex>[0-9a-f]{6})\s*[,;]?\s*", re.I)
COMMENT = re.compile(r"/\*.*?\*/", re.S)
CSS = re.compile(
    r"(?<![\w-])(?P<selector>[.#]?[\w-]{1,60})?\s*(?P<open>\{)?\s*(?P<property>--[\w-]{1,60}|\$[\w-]{1,60}|[\w-]{0,60}color)\s*:\s*"
    r"(?:#(?P<hex>[0-9a-f]{6}|[0-9a-f]{3})\b|rgba?\((?P<rgb>[\d\s,./%]{5,40})\))",
    re.I,
)
NAMES = ("name", "title", "label", "id", "colour_name", "color_name")
VALUES = ("hex", "colour", "color", "value", "rgb", "srgb", "$value", "code")
DEEPEST = 12
CELLS = 2  # signs that part the cells of each line: it is a table, and says more than names and colours
LONGEST = 200  # characters of a line with a colour


def is_list(text: str) -> bool:
    """Whether every line with something in it is a colour."""
    lines = [line for line in text[:20_000].splitlines()[:100] if line.strip() and not line.startswith("//")]
    return (
        bool(lines)
        and not any(all(line.count(sign) >= CELLS for line in lines) for sign in ",;\t|")
        and max(map(len, lines)) <= LONGEST
        and all(LINE.fullmatch(line) or BARE.fullmatch(line) for line in lines)
    )


def is_css(text: str) -> bool:
    """Whether it reads as a style sheet's colours."""
    start = text[:20_000]
    return "{" in start and ":" in start and ";" in start and CSS.search(COMMENT.sub("", start)) is not None


def read_list(name: str, text: str) -> list[Named]:
    """Raises BadFile for a line that is no colour."""
    colours = []
    for number, line in enumerate(text.splitlines(), start=1):
        if not line.strip() or line.startswith("//"):
            continue
        parts = (LINE.fullmatch(line) or BARE.fullmatch(line)) if len(line) <= LONGEST else None
        if parts is None:
            raise BadFile(name, say("row {number}: '{given}' is no colour.", number=number, given=line.strip()[:40]))
        known = parts.groupdict()
        called = " ".join((known.get("before") or known.get("after") or "").strip(" ,;:=\t\"'").split())
        colours.append(Named(called or _srgb(parts["hex"]), _srgb(parts["hex"])))
        _check_count(name, colours)
    return colours


def read_css(name: str, text: str) -> list[Named]:
    """Custom properties, variables and classes that are a colour. Raises BadFile."""
    colours, selector = [], ""
    for one in CSS.finditer(COMMENT.sub(" ", text)):
        selector = one["selector"] if one["open"] and one["selector"] else selector
        srgb = _srgb(one["hex"]) if one["hex"] else _of_rgb(one["rgb"])
        own = one["property"].lower()
        called = one["property"] if own.startswith(("--", "$")) else selector or one["property"]
        if srgb:
            colours.append(Named(_words(called), srgb))
        _check_count(name, colours)
    return colours


def read_json(name: str, text: str) -> list[Named]:
    """{"name": "#rrggbb"}, ["#rrggbb"], [{"name": ..., "hex": ...}], groups of these in one another. Raises BadFile."""
    try:
        told = json.loads(text)
    except (ValueError, RecursionError):
        raise BadFile(name, say("it is no JSON: is it cut off?")) from None
    colours = []
    for colour in _colours(told, (), 0):
        colours.append(colour)
        _check_count(name, colours)
    if not colours:
        raise BadFile(name, say("it is neither a shelf of ours nor a palette: there is no colour in it."))
    return colours


def _colours(told: Any, path: tuple[str, ...], depth: int) -> Iterator[Named]:
    if depth > DEEPEST:
        return
    srgb = _told(told)
    if srgb:
        yield Named(" ".join(path) or srgb, srgb)
        return
    if isinstance(told, dict):
        own = next((srgb for key in VALUES if key in told and (srgb := _told(told[key]))), "")
        called = next((str(told[key]) for key in NAMES if isinstance(told.get(key), str)), "")
        if own:
            yield Named(called.strip() or " ".join(path) or own, own)
            return
        for key, value in told.items():
            if not str(key).startswith("$"):
                # Whether a key is part of a colour's name, and not a word for palettes in general.
                says = str(key).lower() not in ("colors", "colours", "palette", "swatches", "data", "items", "values")
                yield from _colours(value, (*path, _words(str(key))) if says else path, depth + 1)
    elif isinstance(told, list):
        for value in told:
            yield from _colours(value, path if len(told) == 1 else (), depth + 1)


def _told(value: Any) -> str:
    """A value as a colour, "" if it is none."""
    if isinstance(value, str):
        found = HEX.fullmatch(value.strip())
        if found:
            return _srgb(found["hex"])
        rgb = re.fullmatch(r"rgba?\(([\d\s,./%]{5,40})\)", value.strip(), re.I)
        return _of_rgb(rgb[1]) if rgb else ""
    plain = isinstance(value, list) and len(value) == 3
    if plain and all(isinstance(one, int) and not isinstance(one, bool) and 0 <= one <= 255 for one in value):
        return "#" + bytes(value).hex()
    return ""


def _of_rgb(text: str) -> str:
    figures = re.findall(r"[\d.]+%?", text)[:3]
    values = [
        float(figure.rstrip("%")) * (2.55 if figure.endswith("%") else 1) for figure in figures if figure.strip(".%")
    ]
    return "#" + bytes(round(min(value, 255)) for value in values).hex() if len(values) == 3 else ""


def _srgb(text: str) -> str:
    full = text if len(text) == 6 else "".join(letter * 2 for letter in text)
    return f"#{full.lower()}"


def _words(key: str) -> str:
    """As a name: --sea-green is "sea green"."""
    return " ".join(re.sub(r"([a-z])([A-Z])", r"\1 \2", key.lstrip("-$.#")).replace("_", "-").split("-")).strip()


def _check_count(name: str, found: list[Named]) -> None:
    if len(found) > MOST_COLOURS:
        raise BadFile(
            name, say("it holds more than {most_colours} colours; no more are read.", most_colours=MOST_COLOURS)
        )
