"""What is said to people: sentences with named places, figures, days. Each is a plain string - English, metric, with a
point - which also knows what it is made of, and is told in the reader's language and units where it is shown.

Nothing here says to whom: `reading` sets it around a page; the command line, the API and files read the plain string.
Babel, which takes a while to load, is asked only where a bench reads otherwise.
"""

import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from functools import reduce
from typing import Any, Self

from markupsafe import escape

from diachrom.catalogues import AS, catalogue
from diachrom.units import FL_OZ_ML, FOOT_M, INCH_MM, MIL_UM, PSI_BAR

TEXT = re.compile(r"(?:[^{}]|\{\{|\}\}|\{\w{1,40}\})*")
PLACE = re.compile(r"\{(\w+)\}")
SPECIAL = re.compile("[&<>'\"]")
SPEC = re.compile(r"\+?(?:\.\d)?[fg]")
MARK = "\u2063"  # begins what is kept as a key with its figures: no keyboard has an invisible separator
# What a unit is in the other system; below a teaspoon cups, droppers and syringes are marked in ml everywhere, and
# nozzles are in mm.
IMPERIAL: Mapping[str, tuple[str, Callable[[float], float], float]] = {
    "ml": ("fl oz", lambda value: value / FL_OZ_ML, 5.0),
    "µm": ("mil", lambda value: value / MIL_UM, 0.0),
    "bar": ("psi", lambda value: value / PSI_BAR, 0.0),
    "mm": ("in", lambda value: value / INCH_MM, 10.0),
    "m": ("ft", lambda value: value / FOOT_M, 0.0),
    "cm²": ("in²", lambda value: value * 100 / INCH_MM**2, 0.0),
    "°C": ("°F", lambda value: 32 + 1.8 * value, 0.0),
}
MONEY = "money"  # the unit of prices
# How days and times are said: in English, and as patterns of Unicode (LDML) with the day, the month or the year first.
FORMS: Mapping[str, tuple[str, str, str, str]] = {
    "day": ("%-d %B %Y", "d MMMM y", "MMMM d, y", "y-MM-dd"),
    "short day": ("%-d %b %Y", "d MMM y", "MMM d, y", "y-MM-dd"),
    "month": ("%B %Y", "MMMM y", "MMMM y", "y-MM"),
    "day and time": ("%-d %B %Y, %H:%M", "d MMMM y, HH:mm", "MMMM d, y, HH:mm", "y-MM-dd, HH:mm"),
    "weekday and time": ("%A %H:%M", "EEEE HH:mm", "EEEE HH:mm", "EEEE HH:mm"),
    "weekday and day": ("%A %-d %B", "EEEE d MMMM", "EEEE, MMMM d", "EEEE MM-dd"),
    "weekday, day and time": ("%A %-d %B, %H:%M", "EEEE d MMMM, HH:mm", "EEEE, MMMM d, HH:mm", "EEEE MM-dd, HH:mm"),
    "short weekday, day and time": ("%a %-d %b, %H:%M", "EEE d MMM, HH:mm", "EEE, MMM d, HH:mm", "EEE MM-dd, HH:mm"),
    "short weekday, date and time": (
        *("%a %-d %b %Y, %H:%M", "EEE d MMM y, HH:mm"),
        *("EEE, MMM d, y, HH:mm", "EEE y-MM-dd, HH:mm"),
    ),
}
ORDERS = ("", "day", "month", "year")  # which of a form's patterns
DOTTED = ("de",)  # a day before its month has a dot


@dataclass(frozen=True)
class Reader:
    """To whom it is told: a language that a catalogue is of ("" for English), units ("metric", "imperial"), decimals
    ("point", "comma"), the order of days (one of ORDERS), and the currency ("" where nobody said)."""

    language: str = ""
    units: str = "metric"
    decimals: str = "point"
    days: str = "day"
    currency: str = ""


PLAIN = Reader()
_READER: ContextVar[Reader] = ContextVar("reader", default=PLAIN)


@contextmanager
def reading(reader: Reader) -> Iterator[None]:
    """All that is told inside is told to this reader."""
    token = _READER.set(reader)
    try:
        yield
    finally:
        _READER.reset(token)


class Told(str):
    """A plain string that is told otherwise to some readers, wherever it is shown: by `str`, in an f-string, on a page.
    Joined or cut by a string's own methods it stays as it is."""

    def tell(self, reader: Reader) -> str:
        """As it is said to a reader."""
        raise NotImplementedError

    @property
    def plain(self) -> str:
        """English, metric, with a point."""
        return str.__str__(self)

    def kept(self) -> Any:
        """What it is made of, as JSON keeps it."""
        raise NotImplementedError

    def __add__(self, other: str) -> str:
        return Sentence("{first}{second}", figures={"first": self, "second": other})

    def __radd__(self, other: str) -> str:
        return Sentence("{first}{second}", figures={"first": other, "second": self})

    def __str__(self) -> str:
        reader = _READER.get()
        return str.__str__(self) if reader is PLAIN else self.tell(reader)

    def __format__(self, spec: str) -> str:
        return str(self).__format__(spec)

    def __html__(self) -> str:
        shown = str(self)
        return escape(shown) if SPECIAL.search(shown) else shown

    def __reduce__(self) -> tuple[Any, ...]:
        return of_kept, (self.kept(),)


class Sentence(Told):
    """Words with named places. `text` is its key in the catalogue, `one` what it is for a single one."""

    text: str
    one: str
    figures: Mapping[str, Any]

    def __new__(cls, text: str, one: str = "", figures: Mapping[str, Any] | None = None) -> Self:
        """`figures` by the names of the places; `count` decides between `one` and `text`."""
        figures = figures or {}
        chosen = one if one and figures.get("count") == 1 else text.rpartition(AS)[2]
        if figures:
            plain = {key: str.__str__(value) if isinstance(value, str) else value for key, value in figures.items()}
            made = super().__new__(cls, chosen.format_map(plain))
        else:
            made = super().__new__(cls, chosen)
        made.text, made.one, made.figures = text, one, figures
        return made

    def form(self, reader: Reader) -> str:
        """Its text in a reader's language, its places still open."""
        single = bool(self.one) and self.figures.get("count") == 1
        known = catalogue(reader.language) if reader.language else None
        forms = known.forms.get(self.text) if known else None
        if known is None or forms is None:
            return self.one if single else self.text.rpartition(AS)[2]
        return forms[known.form(int(self.figures["count"]))] if self.one else forms[0]

    def tell(self, reader: Reader) -> str:
        text = self.form(reader)
        return text.format_map({key: told(one, reader) for key, one in self.figures.items()}) if self.figures else text

    def kept(self) -> Any:
        return {"say": self.text, "one": self.one, "figures": {key: _keep(one) for key, one in self.figures.items()}}


def _currency() -> str:
    return say("in your currency")


def _joined(figures: Sequence[str], joint: str) -> str:
    if len(figures) < 2 or joint == "x":
        return " x ".join(figures)
    first, last = ", ".join(figures[:-1]), figures[-1]
    if joint == "and":
        return say("{first} and {last}", first=first, last=last)
    return say("{first} to {last}", first=first, last=last)


class Quantity(Told):
    """Figures with their unit, or without one: "12.5 ml", "10 to 20 °C", "0.61".

    A figure in another unit has two digits that count; other figures keep the digits that they have.
    """

    values: Sequence[float]
    spec: str
    unit: str
    joint: str  # between several: "to", "x", "and"

    def __new__(cls, values: Sequence[float], spec: str, unit: str = "", joint: str = "to") -> Self:
        """`spec` is a format of Python, such as ".1f" or "g"; "money" is the unit of prices."""
        figures = str.__str__(_joined([format(value, spec) for value in values], joint))
        name = str.__str__(_currency()) if unit == MONEY else unit
        made = super().__new__(cls, f"{figures} {name}" if name else figures)
        made.values, made.spec, made.unit, made.joint = tuple(values), spec, unit, joint
        return made

    def _told(self, reader: Reader) -> tuple[str, str]:
        figures, unit = [format(value, self.spec) for value in self.values], self.unit
        if unit == MONEY:
            unit = reader.currency or told(_currency(), reader)
        elif reader.units == "imperial" and unit in IMPERIAL:
            other, turned, least = IMPERIAL[unit]
            if max(map(abs, self.values)) >= least:
                figures, unit = [_two_digits(turned(value)) for value in self.values], other
        figures = [decimal(figure, reader) for figure in figures]
        return told(_joined(figures, self.joint), reader), unit

    def tell(self, reader: Reader) -> str:
        return " ".join(part for part in self._told(reader) if part)

    @property
    def number(self) -> str:
        """The figure alone, for pages that show its unit elsewhere."""
        return self._told(_READER.get())[0]

    @property
    def named(self) -> str:
        """Its unit alone."""
        return self._told(_READER.get())[1]

    def kept(self) -> Any:
        return {"values": list(self.values), "spec": self.spec, "unit": self.unit, "joint": self.joint}


class When(Told):
    """A day or a time, in one of FORMS: "2 September 2026"."""

    moment: date
    form: str

    def __new__(cls, moment: date, form: str) -> Self:
        """A time is said in the zone that it has."""
        made = super().__new__(cls, moment.strftime(FORMS[form][0].replace("%-d", str(moment.day))))
        made.moment, made.form = moment, form
        return made

    def tell(self, reader: Reader) -> str:
        from babel import Locale, UnknownLocaleError
        from babel.dates import format_date, format_datetime

        pattern = FORMS[self.form][ORDERS.index(reader.days)]
        if reader.language in DOTTED:
            pattern = pattern.replace("d MMM", "d. MMM")
        try:
            locale = Locale.parse(reader.language or "en")
        except UnknownLocaleError:  # a catalogue may be of a language whose months nobody knows
            locale = Locale("en")
        if isinstance(self.moment, datetime):
            return format_datetime(self.moment, pattern, locale=locale)
        return format_date(self.moment, pattern, locale=locale)

    def kept(self) -> Any:
        return {"when": self.moment.isoformat(), "form": self.form}


class Beginning(Told):
    """What a line begins with: its first letter is a capital."""

    of: str

    def __new__(cls, of: str) -> Self:
        plain = str.__str__(of)
        made = super().__new__(cls, plain[:1].upper() + plain[1:])
        made.of = of
        return made

    def tell(self, reader: Reader) -> str:
        words = str(told(self.of, reader))
        return words[:1].upper() + words[1:]

    def kept(self) -> Any:
        return {"begin": _keep(self.of)}


def say(text: str, /, **figures: Any) -> str:
    """A sentence of the catalogue: `text` is literal English, with a named place for each figure. Figures are whole
    numbers, strings that are nobody's language (names, hex colours), or told themselves."""
    return Sentence(text, figures=figures)


def say_as(what: str, word: str) -> str:
    """A word of the catalogue that is said as `what`: of a side "Back" is another one than of a way back."""
    return Sentence(f"{what}{AS}{word}")


def say_count(count: float, one: str, many: str, /, **figures: Any) -> str:
    """The same for a count: `one` is said of a single one. {count} is the place of the count."""
    return Sentence(many, one, {"count": count, **figures})


def quantity(value: float, spec: str, unit: str = "") -> str:
    """One figure; `spec` is a format of Python, `unit` a key of IMPERIAL, "money", any other that all use, or none."""
    return Quantity((value,), spec, unit)


def when(moment: date, form: str = "day") -> str:
    """A day or a time, in one of FORMS."""
    return When(moment, form)


def quantity_range(first: float, last: float, spec: str, unit: str = "") -> str:
    """From a figure to another: "10 to 20 ml"."""
    return Quantity((first, last), spec, unit)


def listed(parts: Iterable[str], separator: str = ", ") -> str:
    """Several in a row; of " and " and " or " each language has its own."""
    row = [str(part) if not isinstance(part, str) else part for part in parts]
    if separator == " and " and row:
        return reduce(lambda first, last: say("{first} and {last}", first=first, last=last), row)
    if separator == " or " and row:
        return reduce(lambda first, last: say("{first} or {last}", first=first, last=last), row)
    figures = {f"part_{place}": part for place, part in enumerate(row)}
    return Sentence(separator.join(f"{{{name}}}" for name in figures), figures=figures)


def capitalized(words: str) -> str:
    """With a capital at its beginning."""
    return Beginning(words)


def told(value: Any, reader: Reader | None = None) -> Any:
    """As it is said to a reader, by default to whom the page is for; what is not told stays as it is."""
    if isinstance(value, Told):
        return value.tell(reader) if reader else str(value)
    if isinstance(value, float) and (reader or _READER.get()).decimals == "comma":
        return decimal(repr(value), reader or _READER.get())
    return value


def every_told(value: Any) -> Any:
    """The same for all that is in lists and mappings, for scripts that get it as JSON."""
    if isinstance(value, Mapping):
        return {every_told(key): every_told(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [every_told(one) for one in value]
    return str(value) if isinstance(value, Told) else value


def current() -> Reader:
    """To whom it is told just now."""
    return _READER.get()


def decimal(figure: str, reader: Reader) -> str:
    """Digits with a reader's decimal sign."""
    if "." not in figure or reader.decimals != "comma":
        return figure

    from babel.numbers import format_decimal

    places = len(figure.partition(".")[2])
    try:
        return format_decimal(Decimal(figure), f"0.{'0' * places}", locale="de", group_separator=False)
    except ArithmeticError:  # "1.2e-05" and what is none
        return figure


def _two_digits(value: float) -> str:
    """With two digits that count, and no more than two decimals."""
    size = abs(value)
    return f"{value:.0f}" if size >= 10 else f"{value:.1f}" if size >= 1 else f"{value:.2f}"


def _keep(value: Any) -> Any:
    if isinstance(value, Told):
        return value.kept()
    return value if isinstance(value, str | int | float) else str(value)


def of_kept(kept: Any) -> Any:
    """What was told, out of what `kept` made of it. Raises what a damaged one makes of itself."""
    if isinstance(kept, int | float) or (isinstance(kept, str) and not kept.startswith(MARK)):
        return kept
    if "say" in kept:
        # Its places are names and nothing else: a format of Python reaches further.
        if not (TEXT.fullmatch(kept["say"]) and TEXT.fullmatch(kept["one"])):
            raise ValueError(kept)
        if not set(PLACE.findall(kept["say"] + kept["one"])) <= set(kept["figures"]):
            raise ValueError(kept)
        return Sentence(kept["say"], kept["one"], {key: of_kept(one) for key, one in kept["figures"].items()})
    if "values" in kept:
        if not SPEC.fullmatch(kept["spec"]):
            raise ValueError(kept)
        return Quantity([float(one) for one in kept["values"]], kept["spec"], kept["unit"], kept["joint"])
    if "begin" in kept:
        return Beginning(of_kept(kept["begin"]))
    kind = datetime if "T" in kept["when"] else date
    return When(kind.fromisoformat(kept["when"]), kept["form"])
