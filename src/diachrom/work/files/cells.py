"""What people write in the cells of a table, as this application writes it: decimals, days and kinds of paint. Signs
that can be read two ways are read as the rest of their column shows, else they are asked about."""

import re
import unicodedata
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from diachrom.core.film.kinds import KINDS
from diachrom.work.kit.fields import Field
from diachrom.work.kit.figures import THOUSANDS

EPOCH, SERIALS = date(1899, 12, 30), range(20_000, 80_000)  # how spreadsheets count days: 1954 to 2119
CENTURY = 2000  # of years that are written with two figures
MONTHS = {
    word: number
    for number, words in enumerate(
        (
            "jan|ene|gen|sty|tam",
            "feb|fev|helmi|lut",
            "mar|mae|mrt|mars|maalis",
            "apr|avr|abr|huhti|kwi",
            "may|mai|mei|maj|mag|touko",
            "jun|juin|jui|giu|kesa|cze",
            "jul|juil|lug|heina|lip",
            "aug|aou|ago|elo|sie",
            "sep|set|syys|wrz",
            "oct|okt|ott|out|loka|paz",
            "nov|marras|lis",
            "dec|dez|des|dic|joulu|gru",
        ),
        start=1,
    )
    for word in words.split("|")
}


def bare(text: str) -> str:
    """Without accents, signs and case."""
    letters = unicodedata.normalize("NFKD", text.casefold().replace("ø", "o").replace("æ", "a").replace("ł", "l"))
    return " ".join(
        re.sub(r"[\W_]+", " ", "".join(letter for letter in letters if not unicodedata.combining(letter))).split()
    )


KIND_OF = {
    bare(word): kind.key for kind in KINDS.values() for word in (kind.key, kind.words, *kind.other_tongues.split("|"))
}


def kind_of(text: str) -> str:
    """A kind by what people call it; as it stands where nobody knows it."""
    plain = bare(text)
    plain = plain.removesuffix(" paints").removesuffix(" colours").removesuffix(" paint").removesuffix(" colour")
    for known in (plain, plain.removesuffix("s"), plain.removesuffix("ies") + "y"):
        if known and known in KIND_OF:
            return KIND_OF[known]
    return text


@dataclass(frozen=True)
class Form:
    """How a column is written: its decimal sign, and what comes first in its days. "" where nothing shows it."""

    decimal: str = ""
    first: str = ""  # day or month


def form_of(cells: Iterable[str]) -> Form:
    """How a column writes its numbers."""
    own = [cell.strip() for cell in cells if cell.strip()]
    decimals, firsts = {_decimal(one) for one in own} - {""}, {_first(one) for one in own} - {""}
    return Form(decimals.pop() if len(decimals) == 1 else "", firsts.pop() if len(firsts) == 1 else "")


def _decimal(text: str) -> str:
    figures = re.match(r"[-−+]?([\d.,' \u00a0\u202f]*\d)", text)
    signs = re.sub(r"[^.,]", "", figures[1]) if figures else ""
    if not signs:
        return ""
    if len(set(signs)) == 2:
        return signs[-1]
    if len(signs) > 1:
        return "." if signs[0] == "," else ","  # 1,000,000: what repeats parts thousands
    behind = figures[1].rpartition(signs)[2] if figures else ""
    return "" if len(behind) == 3 else signs


def _first(text: str) -> str:
    parts = re.fullmatch(r"(\d{1,2})[/\-.](\d{1,2})[/\-.](\d{2}|\d{4})(?:[ T].*)?", text)
    if parts is None:
        return ""
    one, two = int(parts[1]), int(parts[2])
    return "day" if one > 12 >= two else "month" if two > 12 >= one else ""


def number(text: str, form: Form) -> str:
    """With a decimal point and nothing else; as it stands where it can be read two ways."""
    figures = re.match(r"([-−+]?)([\d.,'\u00a0\u202f ]*\d)(.*)", text.strip(), re.S)
    if figures is None:
        return text
    sign, digits, unit = figures.groups()
    digits = re.sub(r"(?<=\d)['\u00a0\u202f ](?=\d{3}(?!\d))", "", digits)
    if form.decimal == "," or (not form.decimal and re.fullmatch(r"\d{1,3}(\.\d{3}){2,}", digits)):
        digits = digits.replace(".", "").replace(",", ".")
    elif form.decimal == "." or re.fullmatch(r"\d{1,3}(,\d{3}){2,}(\.\d+)?", digits):
        digits = digits.replace(",", "")
    elif THOUSANDS.fullmatch(digits):
        return text
    return f"{sign}{digits}{unit}"


def day(text: str, first: str) -> str:
    """As year-month-day; as it stands where it is none. `first` is what comes first where a day does not show it."""
    plain = text.strip()
    if plain.isdecimal() and plain.isascii():
        number_ = int(plain[:9])
        if number_ in SERIALS:
            return (EPOCH + timedelta(days=number_)).isoformat()
        return _day(plain, plain[:4], plain[4:6], plain[6:8]) if len(plain) == 8 else text
    serial = re.fullmatch(r"(\d{5})[.,]\d+", plain)
    if serial and int(serial[1]) in SERIALS:  # with the time of the day
        return (EPOCH + timedelta(days=int(serial[1]))).isoformat()
    year_first = re.match(r"(\d{4})\s*[-/.年]\s*(\d{1,2})\s*[-/.月]\s*(\d{1,2})(?!\d)", plain)
    if year_first:
        return _day(text, *year_first.groups())
    parts = re.match(r"(\d{1,2})([/\-.])\s?(\d{1,2})\2\s?(\d{4}|\d{2})(?!\d)", plain)
    if parts:
        one, two = (parts[3], parts[1]) if first == "month" and parts[2] != "." else (parts[1], parts[3])
        return _day(text, parts[4], two, one)
    # 31 March 2026, March 31, 2026, 31-Mar-26.
    words = bare(plain).split()
    month = next(
        (
            found
            for word in words
            if (found := next((MONTHS[word[:size]] for size in range(6, 2, -1) if word[:size] in MONTHS), 0))
        ),
        0,
    )
    figures = [word for word in words if word.isdecimal()]
    if not month or len(figures) < 2:
        return text
    year, own = (figures[0], figures[1]) if len(figures[0]) == 4 else (figures[1], figures[0])
    return _day(text, year, str(month), own)


def _day(text: str, year: str, month: str, own: str) -> str:
    try:
        return date(int(year) + (CENTURY if len(year) == 2 else 0), int(month), int(own)).isoformat()
    except ValueError:
        return text


def plain_cells(
    fields: Sequence[Field], given: Mapping[str, str], forms: Mapping[str, Form], first: str
) -> dict[str, str]:
    """A row as this application writes it."""
    found = dict(given)
    for field in fields:
        if field.key in found:
            form = forms.get(field.key, Form())
            if field.of == "number":
                found[field.key] = number(found[field.key], form)
            elif field.of == "day":
                found[field.key] = day(found[field.key], form.first or first)
    if "kind" in found:
        found["kind"] = kind_of(found["kind"])
    return found
