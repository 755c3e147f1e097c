"""How a drawdown card was sprayed, as a painter says it."""

import sqlite3
from collections.abc import Mapping

from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import Paint
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.core.mix.sound import THINNEST_UM
from diachrom.errors import InvalidInput
from diachrom.store import contrast_cards, paints
from diachrom.store.connection import writing
from diachrom.store.contrast_cards import MOST_STEPS, ContrastCard
from diachrom.store.paints import PaintRecord
from diachrom.words import quantity, say
from diachrom.work.kit.fields import number_field, read_fields, yes_field
from diachrom.work.profiles.contrast_cards import still_open

MOST_WHITE_DROPS = 100
HOW = (
    number_field("film_um", say("A pass, µm"), least=THINNEST_UM, most=THICKEST_COAT_UM),
    number_field("white_drops", say("Drops of white"), least=1, most=MOST_WHITE_DROPS),
    yes_field("clear_coat", say("Clear coat")),
)


def describe(connection: sqlite3.Connection, card: int, given: Mapping[str, str]) -> None:
    """Say how it was sprayed: film_um of a pass, steps ("1, 4, 12"), clear_coat, white_paint and white_drops, as typed;
    what is not given stays. Raises CardNotFound, InvalidInput."""
    found = contrast_cards.card(connection, card)
    values = read_fields(HOW, given)
    film_um = float(values.get("film_um") or found.film_um)
    white = given.get("white_paint", found.white_paint or "") or None
    if white is not None and not whites_for(connection, found, white):
        raise InvalidInput(say("Let it down with a white of the shelf that is no other mix."), field="white_paint")
    drops = float(values.get("white_drops") or found.white_drops)
    if not drops.is_integer():
        raise InvalidInput(
            say("Drops of white: whole ones, not {drops}.", drops=quantity(drops, "g")), field="white_drops"
        )
    steps = _steps(given["steps"]) if "steps" in given else found.steps
    clear = bool(values.get("clear_coat", found.clear_coat))
    with writing(connection):
        still_open(connection, card)
        contrast_cards.describe(
            connection,
            card,
            film_um=film_um,
            steps=steps,
            clear_coat=clear,
            white_paint=white,
            white_drops=int(drops),
        )


def _steps(text: str) -> tuple[int, ...]:
    """ "1, 4, 12" -> the passes of each film. Raises InvalidInput."""
    parts = text.replace(";", ",").replace(",", " ").split()
    if not parts or len(parts) > MOST_STEPS or not all(part.isdecimal() and len(part) < 4 for part in parts):
        raise InvalidInput(
            say(
                "'{words}' are no passes: write 1 to {most_steps} whole numbers, as in 1, 4, 12.",
                words=text[:30],
                most_steps=MOST_STEPS,
            ),
            field="steps",
        )
    found = tuple(sorted({int(one) for one in parts}))
    if not (found[0] >= 1 and found[-1] <= MOST_COATS):
        raise InvalidInput(say("A film has 1 to {most_coats} passes.", most_coats=MOST_COATS), field="steps")
    return found


def whites_for(connection: sqlite3.Connection, card: ContrastCard, only: str = "") -> list[PaintRecord]:
    """Paints that can let this one down: pale ones that hide, by their profiles."""
    able = [
        one
        for one in paints.every_record(connection)
        if one.id != card.paint_id and not one.retired and only in ("", one.id) and KINDS[one.kind].hides
    ]
    profiles = paints.profiles(connection, [one.id for one in able])
    return [one for one in able if _is_white(profiles[one.id])]


def _is_white(paint: Paint) -> bool:
    return bool(paint.scattering.mean() > 0.15 and paint.absorption[5:].mean() < 0.02 * paint.scattering.mean())
