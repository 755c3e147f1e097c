"""A shelf far larger than a bench: for measuring, made of the demo bench many times over."""

import random
from datetime import date, timedelta
from pathlib import Path

from diachrom.core.film.kinds import keys
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.mix.draft import Draft, Part
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import ToGuess
from diachrom.demo.bench import fill
from diachrom.store import bottles, paints, recipes
from diachrom.store.connection import connected, writing
from diachrom.store.paints import PaintRecord

LAST_DAY = date(2026, 11, 24)
FLAKED_COLOURS = 24  # a guess at flakes takes a tenth of a second
KINDS = ("opaque", "transparent", "transparent", "candy", "ink", "primer", "pearl", "metallic")


def fill_large(folder: Path, *, bottles_in_all: int, recipes_in_all: int, lines_in_all: int) -> None:
    """The demo bench, and around it so many bottles, recipes and ledger lines."""
    fill(folder)
    chance = random.Random(5)
    with connected(folder) as connection, writing(connection):
        own = [bottle.id for bottle in bottles.every(connection)]
        more = bottles_in_all - len(own)
        kinds = [chance.choice(KINDS) for _ in range(more)]
        few = [f"#{chance.randrange(1 << 24):06x}" for _ in range(FLAKED_COLOURS)]
        colours = [
            chance.choice(few) if kind in keys("flakes") else f"#{chance.randrange(1 << 24):06x}" for kind in kinds
        ]
        several = list(dict.fromkeys(zip(kinds, colours, strict=True)))
        guesses = guess([ToGuess("", kind, hex_to_lab(one)) for kind, one in several])
        profiles = dict(zip(several, guesses, strict=True))
        for number, (kind, colour) in enumerate(zip(kinds, colours, strict=True)):
            profile = profiles[kind, colour]
            paint_id, lab = f"large-{number}", hex_to_lab(colour)
            paints.add(connection, PaintRecord(paint_id, f"Rekke {number % 40}", f"Farge {number}", kind))
            paints.add_profile(connection, profile, paint_id=paint_id, source="guessed", at="2026-01-01T08:00:00+00:00")
            if lab is not None:
                paints.keep_colour(connection, paint_id, (lab[0], lab[1], lab[2]))
            place = f"rack {number % 12}"
            own.append(bottles.add(connection, paint_id=paint_id, size_ml=30, drop_ml=0.045, state="open", place=place))
        for number in range(recipes_in_all - recipes.count(connection)):
            parts = tuple(Part(one, chance.randrange(1, 9), 0.045) for one in chance.sample(own, 4))
            draft = Draft(parts, name=f"Prove {number}")
            at = f"{LAST_DAY - timedelta(days=chance.randrange(600))}T09:00:00+00:00"
            recipes.add_version(connection, draft, recipe=recipes.new_recipe(connection), parent_version=None, at=at)
        known = connection.execute("SELECT count(*) FROM stock_entry").fetchone()[0]
        lines = [
            (own[at % len(own)], f"{LAST_DAY - timedelta(days=chance.randrange(700))}T10:00:00+00:00")
            for at in range(lines_in_all - known)
        ]
        connection.executemany("INSERT INTO stock_entry (bottle_id, at, kind, ml) VALUES (?, ?, 'poured', -0.1)", lines)
