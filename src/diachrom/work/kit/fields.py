"""What is written about paints and bottles: one table for forms, files and messages. Adding a field is adding an entry
here and a column in the store."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date

from diachrom.core.film.kinds import KINDS
from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML
from diachrom.core.mix.draft import checked_text
from diachrom.errors import InvalidInput
from diachrom.store.bottles import STATES
from diachrom.units import BAR, DENSITY, MICROLITRES, ML, MM
from diachrom.words import listed, say
from diachrom.work.kit.figures import figure

Value = str | float | bool | None
LARGEST_BOTTLE_ML = 5000.0


@dataclass(frozen=True)
class Field:
    """One thing written about a paint or a bottle."""

    key: str
    words: str
    read: Callable[["Field", str], Value]
    longest: int = 40
    least: float = 0.0
    most: float = math.inf
    units: Mapping[str, float] | None = None
    choices: tuple[str, ...] = ()
    needed: bool = False

    @property
    def of(self) -> str:
        """number, day, or "" for the others."""
        return "number" if self.read is _number else "day" if self.read is _day else ""

    def value(self, text: str) -> Value:
        """What was written, checked; empty text is no value. Raises InvalidInput, naming the field."""
        text = text.strip()
        if not text:
            if self.needed:
                raise InvalidInput(say("{words} is missing.", words=self.words), field=self.key)
            return self.read(self, "") if self.read in (_text, _yes) else None
        return self.read(self, text)


def _text(field: Field, text: str) -> str:
    if len(text) > field.longest:
        raise InvalidInput(
            say(
                "{words}: {count} characters; at most {longest} fit.",
                words=field.words,
                count=len(text),
                longest=field.longest,
            ),
            field=field.key,
        )
    return " ".join(checked_text(field.key, text, field.longest).split())


def _number(field: Field, text: str) -> float:
    return figure(text, field.words, key=field.key, least=field.least, most=field.most, units=field.units)


def _choice(field: Field, text: str) -> str:
    found = next((choice for choice in field.choices if choice.casefold() == text.casefold()), None)
    if found is None:
        known = {KINDS[one].words.casefold(): one for one in field.choices if one in KINDS}
        found = known.get(text.casefold())
    if found is None:
        raise InvalidInput(
            say(
                "{words}: '{other_words}' is none of {choices}.",
                words=field.words,
                other_words=text[:40],
                choices=listed(field.choices),
            ),
            field=field.key,
        )
    return found


def _day(field: Field, text: str) -> str:
    try:
        return date.fromisoformat(text).isoformat()
    except ValueError:
        raise InvalidInput(
            say(
                "{words}: write '{other_words}' as year-month-day, 2026-03-31.",
                words=field.words,
                other_words=text[:40],
            ),
            field=field.key,
        ) from None


def _yes(field: Field, text: str) -> bool:
    if text.casefold() in ("yes", "y", "1", "true", "on", "x"):
        return True
    if text.casefold() in ("", "no", "n", "0", "false", "off"):
        return False
    raise InvalidInput(
        say("{words}: '{other_words}' is neither yes nor no.", words=field.words, other_words=text[:40]),
        field=field.key,
    )


def number_field(key: str, words: str, *, least: float, most: float, units: Mapping[str, float] | None = None) -> Field:
    """A field that takes a number."""
    return Field(key, words, _number, least=least, most=most, units=units)


def text_field(key: str, words: str, *, longest: int) -> Field:
    """A field that takes a text."""
    return Field(key, words, _text, longest=longest)


def yes_field(key: str, words: str) -> Field:
    """A field that is ticked or not."""
    return Field(key, words, _yes)


PAINT_FIELDS = (
    Field("line", say("Line"), _text),
    Field("name", say("Name"), _text, needed=True),
    Field("kind", say("Kind"), _choice, choices=tuple(KINDS), needed=True),
    Field("pigments", say("Pigments"), _text, longest=200),
    Field("nozzle_mm", say("Nozzle, mm"), _number, least=0.1, most=3, units=MM),
    Field("pressure_bar", say("Pressure, bar"), _number, least=0.1, most=10, units=BAR),
    Field("needs_under", say("Wants under it"), _text, longest=120),
    Field("needs_in", say("Wants in it"), _text, longest=120),
    Field("needs_over", say("Wants over it"), _text, longest=120),
    Field("thinner", say("Thinner"), _text, longest=80),
    Field("price", say("Price of a bottle"), _number, most=100_000),
    Field("density", say("Density, g/ml"), _number, least=0.5, most=5, units=DENSITY),
    Field("note", say("Note on the paint"), _text, longest=400),
    Field("discontinued", say("Discontinued"), _yes),
)
BOTTLE_FIELDS = (
    Field("size_ml", say("Size, ml"), _number, least=0.1, most=LARGEST_BOTTLE_ML, units=ML, needed=True),
    Field(
        "drop_ul",
        say("Drop, µl"),
        _number,
        least=1000 * SMALLEST_DROP_ML,
        most=1000 * LARGEST_DROP_ML,
        units=MICROLITRES,
    ),
    Field("state", say("State"), _choice, choices=STATES),
    Field("batch", say("Batch"), _text),
    Field("place", say("Place"), _text),
    Field("bought_on", say("Bought on"), _day),
    Field("opened_on", say("Opened on"), _day),
    Field("shaken_on", say("Last shaken"), _day),
    Field("bottle_note", say("Note on the bottle"), _text, longest=400),
)
LEFT = Field("left_ml", say("Left, ml"), _number, least=-LARGEST_BOTTLE_ML, most=LARGEST_BOTTLE_ML, units=ML)


def read_fields(fields: tuple[Field, ...], given: Mapping[str, str]) -> dict[str, Value]:
    """The values of the fields that are given. Raises InvalidInput for the first that cannot be meant."""
    return {field.key: field.value(given[field.key]) for field in fields if field.key in given}


def bottle_columns(values: Mapping[str, Value]) -> dict[str, Value]:
    """Values of bottle fields as the store's columns; what is empty and has no column for it stays as it is."""
    columns = {key: value for key, value in values.items() if key not in ("drop_ul", "bottle_note")}
    if values.get("drop_ul") is not None:
        columns["drop_ml"] = float(values["drop_ul"] or 0) / 1000
    if "bottle_note" in values:
        columns["note"] = values["bottle_note"]
    return {key: value for key, value in columns.items() if value is not None or key.endswith("_on")}


def paint_columns(values: Mapping[str, Value]) -> dict[str, Value]:
    """Values of paint fields as the store's columns."""
    return {key: int(value) if isinstance(value, bool) else value for key, value in values.items()}
