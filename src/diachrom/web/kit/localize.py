"""Figures and days as a bench reads them.

All of Diachrom counts in metric units and writes decimals with a point and days as "2 September 2026". A page is turned
into what the bench reads at the door, when it goes out: one place knows, and no sentence can be forgotten.
What people wrote themselves stays as they wrote it.
"""

import re
from collections.abc import Callable, Sequence

from markupsafe import escape

from diachrom.core.units import FL_OZ_ML, FOOT_M, INCH_MM, MIL_UM, PSI_BAR
from diachrom.work.kit.bench_settings import BenchSettings

Turn = Callable[[str], str]
MARK = "\x00"  # an inline tag between two texts of a line
# Below a teaspoon cups, droppers and syringes are marked in ml everywhere; nozzles are in mm.
LEAST = {"ml": 5.0, "mm": 10.0}
MONTHS = (
    *("January", "February", "March", "April", "May", "June", "July"),
    *("August", "September", "October", "November", "December"),
)
INLINE = re.compile(r"</?(?:b|span|strong|em|u|a|abbr|small|output)\b[^>]*>|<!--.*?-->")
PLAIN = re.compile(r"[−-]?\d+(?:\.\d+)?")
NUMBER = rf"(?<![\w.,#:/-]){PLAIN.pattern}(?![\d.,:/]*\d)"
JOIN = r"\s*(?:to|and|or|–|±)\s*"
ACROSS = r"\s*[x×]\s*"  # joins two lengths; before a volume it counts
UNITS = r"(?:ml|µm|bar|cm²|mm|m|°C)(?![\w²³/])"
MEASURE = re.compile(
    rf"(?P<first>{NUMBER}{ACROSS}{NUMBER}(?=\s*mm)|{NUMBER}(?:(?:, {NUMBER})*{JOIN}{NUMBER})?)"
    rf"(?P<gap>(?:\s|&nbsp;|{MARK})*)(?P<unit>{UNITS})"
)
DECIMAL = re.compile(r"(?<![\w.,#:/])(\d+)\.(\d+)(?![\d.]*\.?\d|\w)")
DAY = re.compile(rf"\b(\d{{1,2}}) ({'|'.join(f'{one}|{one[:3]}' for one in MONTHS)}) (\d{{4}})\b")
# A sample is shown as it is, and so is what is being written; a plot's scale keeps its unit.
TOKEN = re.compile(r"<(?P<whole>samp|textarea|text)\b.*?</(?P=whole)>|<[^>]*>", re.S)
FIGURE = re.compile(r"\d|in your currency")
INSIDE = re.compile(r"(?<=>)[^<]+(?=<)")
LABELS = re.compile(r'((?:aria-label|title|aria-valuetext)=")([^"]*)(")')
TYPED = re.compile(r'(inputmode="decimal"[^>]*?value="|value=")(\d+)\.(\d+)(?=")')


def localize(page: str, how: BenchSettings, own_words: Sequence[str]) -> str:
    """A page, or a part of one, as HTML."""
    turns: list[Turn] = []
    if how.days != "day":
        turns.append(lambda text: DAY.sub(lambda found: _day(found, how.days), text))
    if how.decimals == "comma":
        turns.append(lambda text: DECIMAL.sub(r"\1,\2", text))
    scales = tuple(turns)
    if how.units == "imperial":
        turns.insert(0, lambda text: MEASURE.sub(_imperial, text))
    if how.currency:
        turns.append(lambda text: text.replace("in your currency", how.currency))
    if not turns:
        return page
    shown = {str(escape(own_word)) for own_word in own_words}
    texts = [one for one in shown if any(turn(one) != one for turn in turns)]
    longest_first = sorted(texts, key=len, reverse=True)
    kept = re.compile(f"({'|'.join(map(re.escape, longest_first))})") if texts else None

    def around(by: Sequence[Turn]) -> Turn:
        """What people wrote stays."""
        parts_of = kept.split if kept is not None else lambda text: [text]
        return lambda text: "".join(one if index % 2 else _turned(one, by) for index, one in enumerate(parts_of(text)))

    return "".join(_parts(page, around(turns), around(scales), comma=how.decimals == "comma"))


def _turned(text: str, turns: Sequence[Turn]) -> str:
    for turn in turns:
        text = turn(text)
    return text


def _parts(page: str, turned: Turn, scale: Turn, *, comma: bool) -> list[str]:
    """The page in parts: its texts turned, each together with what stands in line with it; of its tags what is read
    aloud, and the values of fields in which one types decimals."""
    parts: list[str] = []
    line: list[str] = []  # texts and inline tags, by turns

    def end_line() -> None:
        if line:
            parts.extend(_in_line(line, turned))
            line.clear()

    index = 0
    for tag in TOKEN.finditer(page):
        line.append(page[index : tag.start()])
        index = tag.end()
        if tag["whole"] in ("samp", "textarea"):
            end_line()
            parts.append(tag[0])
        elif INLINE.fullmatch(tag[0]):
            line.append(_tag(tag[0], turned, comma=comma))
        elif tag["whole"] == "text":
            end_line()
            parts.append(INSIDE.sub(lambda found: scale(found[0]), tag[0]))
        else:
            end_line()
            parts.append(_tag(tag[0], turned, comma=comma))
    line.append(page[index:])
    end_line()
    return parts


def _in_line(line: Sequence[str], turned: Turn) -> list[str]:
    """Texts at even places with inline tags between them: a figure and its unit may stand in different ones."""
    texts, tags = line[0::2], line[1::2]
    whole = MARK.join(texts)
    if not FIGURE.search(whole) or whole.count(MARK) != len(
        tags
    ):  # nothing to turn, or a text that holds a mark itself
        return list(line)
    # As if the tags were not there: they are taken for blanks while figures are turned, and put back after.
    text = turned(whole) if MARK not in whole else turned(whole.replace(MARK, f" {MARK} ")).replace(f" {MARK} ", MARK)
    first, *others = text.split(MARK)
    return [first, *(part for pair in zip(tags, others, strict=True) for part in pair)]


def _tag(tag: str, turned: Turn, *, comma: bool) -> str:
    if ("aria-" in tag or "title=" in tag) and FIGURE.search(tag):
        tag = LABELS.sub(lambda found: found[1] + turned(found[2]) + found[3], tag)
    if comma and 'inputmode="decimal"' in tag and 'type="number"' not in tag:
        tag = TYPED.sub(r"\1\2,\3", tag)
    return tag


def _imperial(found: re.Match[str]) -> str:
    figures, unit = found["first"], found["unit"]
    if max(abs(_value(one)) for one in PLAIN.findall(figures)) < LEAST.get(unit, 0.0):
        return found[0]
    to, words = TURNED[unit]
    turned = PLAIN.sub(lambda one: _said(to(_value(one[0]))), figures)
    return f"{turned}{found['gap']}{words}"


def _value(figure: str) -> float:
    return float(figure.replace("−", "-"))


TURNED: dict[str, tuple[Callable[[float], float], str]] = {
    "ml": (lambda value: value / FL_OZ_ML, "fl oz"),
    "µm": (lambda value: value / MIL_UM, "mil"),
    "bar": (lambda value: value / PSI_BAR, "psi"),
    "mm": (lambda value: value / INCH_MM, "in"),
    "m": (lambda value: value / FOOT_M, "ft"),
    "°C": (lambda value: 32 + 1.8 * value, "°F"),
    "cm²": (lambda value: value * 100 / INCH_MM**2, "in²"),
}


def _said(value: float) -> str:
    """With two digits that count, and no more than two decimals."""
    size = abs(value)
    return f"{value:.0f}" if size >= 10 else f"{value:.1f}" if size >= 1 else f"{value:.2f}"


def _day(found: re.Match[str], how: str) -> str:
    day, month, year = found.groups()
    if how == "month":
        return f"{month} {day}, {year}"
    number = 1 + next(index for index, one in enumerate(MONTHS) if one.startswith(month))
    return f"{year}-{number:02}-{int(day):02}"
