"""Training the eye at the bench: a round from one's own shelf or from another, the guess, and the record over time."""

import sqlite3
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from random import Random

from diachrom.core.eye import trainer
from diachrom.core.eye.trainer import COATS, D65, FILM_UM, SKILLS, Judged
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.paint import Paint
from diachrom.core.film.surface import CLEARED
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.strip import Over, Strip, strip
from diachrom.errors import InvalidInput
from diachrom.store import paints, rounds
from diachrom.store.connection import writing
from diachrom.store.rounds import KeptRound
from diachrom.work.kit.looks import PaintLook, look
from diachrom.work.mix.candidates import in_stock
from diachrom.work.mix.cup import TILTS_DEG

OWN, OTHER = "own", "demo"
SHELVES = {OWN: "my own shelf", OTHER: "the demo shelf"}
REMEMBERED = 400


@dataclass(frozen=True, eq=False)
class Trainee:
    """A bottle that a round may be made of."""

    id: str
    name: str
    paint: Paint
    drop_ml: float

    @property
    def look(self) -> PaintLook:
        return look(self.paint)


Shelf = Mapping[str, Trainee]  # by the paint's id


@dataclass(frozen=True, eq=False)
class RoundSeen:
    """A round: its target to be seen, its bottles, and what became of the guess."""

    kept: KeptRound
    bottles: Sequence[Trainee]
    target: Strip  # of a single column
    guess: Strip | None
    judged: Judged | None


@dataclass(frozen=True)
class SkillRecord:
    key: str
    words: str
    rounds: Sequence[KeptRound]
    level: int  # of its next round
    delta_e: float | None  # of the latest rounds, the mean


def own_shelf(connection: sqlite3.Connection) -> Shelf:
    """What is in stock."""
    return {
        one.key: Trainee(one.key, one.bottle.full_name if one.bottle else one.key, one.paint, one.drop_ml)
        for one in in_stock(connection)
    }


def start(connection: sqlite3.Connection, shelf: Shelf, key: str, *, chance: Random, at: str) -> int:
    """A new round; one that is open is dropped. Returns its number. Raises InvalidInput."""
    if key not in SHELVES:
        raise InvalidInput(f"There is no shelf '{key[:20]}' to train with.", field="shelf")
    able = [one for one in shelf.values() if trainer.fit(one.paint)]
    done = defaultdict(list)
    for one in rounds.every_guessed(connection, REMEMBERED):
        done[one.skill].append((one.level, one.delta_e or 0.0))
    made = trainer.make([one.paint for one in able], [one.drop_ml for one in able], done, chance)
    own = [able[at] for at in made.paints]
    with writing(connection):
        rounds.drop_open(connection)
        return rounds.add(
            connection,
            skill=made.skill,
            level=made.level,
            shelf=key,
            paints=[one.id for one in own],
            sizes=[one.drop_ml for one in own],
            drops=made.drops,
            at=at,
        )


def guess(connection: sqlite3.Connection, shelf: Shelf, number: int, drops: Sequence[int]) -> None:
    """Say how many drops of each. A round that was guessed stays. Raises NotFound, InvalidInput."""
    kept = rounds.one(connection, number)
    counted = trainer.checked(drops)
    own = _bottles(connection, shelf, kept)
    judged = trainer.judge(kept.skill, [one.paint for one in own], kept.sizes, kept.drops, counted)
    with writing(connection):
        rounds.guessed(connection, number, counted, judged.delta_e)


def see(connection: sqlite3.Connection, shelf: Shelf, number: int) -> RoundSeen:
    """Raises NotFound."""
    kept = rounds.one(connection, number)
    own = _bottles(connection, shelf, kept)
    if kept.guess is None:
        return RoundSeen(kept, own, _strip(own, kept, kept.drops), None, None)
    judged = trainer.judge(kept.skill, [one.paint for one in own], kept.sizes, kept.drops, kept.guess)
    return RoundSeen(kept, own, _strip(own, kept, kept.drops), _strip(own, kept, kept.guess), judged)


def _bottles(connection: sqlite3.Connection, shelf: Shelf, kept: KeptRound) -> list[Trainee]:
    """Also those that are not on the shelf any more. Raises PaintNotFound."""
    found = []
    for paint_id, size in zip(kept.paints, kept.sizes, strict=True):
        if paint_id in shelf:
            found.append(shelf[paint_id])
        else:
            record = paints.record(connection, paint_id)
            found.append(Trainee(paint_id, record.full_name, paints.profile(connection, paint_id), size))
    return found


def _strip(bottles: Sequence[Trainee], kept: KeptRound, drops: Sequence[int]) -> Strip:
    pours = [Pour(one.paint, count, size) for one, count, size in zip(bottles, drops, kept.sizes, strict=True)]
    over = Over.bare(GROUNDS[SKILLS[kept.skill].ground])
    return strip(Cup(pours), film_um=FILM_UM, coats=COATS, over=[over], sheen=CLEARED, under=D65, angles_deg=TILTS_DEG)


def record(connection: sqlite3.Connection) -> list[SkillRecord]:
    """Of every skill, with all rounds that are remembered."""
    done: dict[str, list[KeptRound]] = defaultdict(list)
    for one in rounds.every_guessed(connection, REMEMBERED):
        done[one.skill].append(one)
    found = []
    for key, skill in SKILLS.items():
        told = [(one.level, one.delta_e or 0.0) for one in done[key]]
        mean = trainer.weakness(told) if told else None
        found.append(SkillRecord(key, skill.words, done[key], trainer.level_of(told), mean))
    return found


def open_round(connection: sqlite3.Connection) -> KeptRound | None:
    """The round that waits for its guess."""
    return rounds.open_round(connection)


def round_of(connection: sqlite3.Connection, number: int) -> KeptRound:
    """Raises NotFound."""
    return rounds.one(connection, number)
