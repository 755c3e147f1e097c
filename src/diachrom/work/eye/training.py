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
from diachrom.words import say
from diachrom.work.kit.looks import PaintLook, look
from diachrom.work.mix.candidates import in_stock
from diachrom.work.mix.cup import TILTS_DEG

OWN, OTHER = "own", "demo"
SHELVES = {OWN: say("my own shelf"), OTHER: say("the demo shelf")}
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
        """How it looks alone."""
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
        candidate.key: Trainee(
            candidate.key,
            candidate.bottle.full_name if candidate.bottle else candidate.key,
            candidate.paint,
            candidate.drop_ml,
        )
        for candidate in in_stock(connection)
    }


def start(connection: sqlite3.Connection, shelf: Shelf, key: str, *, chance: Random, at: str) -> int:
    """A new round; one that is open is dropped. Returns its number. Raises InvalidInput."""
    if key not in SHELVES:
        raise InvalidInput(say("There is no shelf '{key}' to train with.", key=key[:20]), field="shelf")
    able = [trainee for trainee in shelf.values() if trainer.fit(trainee.paint)]
    done = defaultdict(list)
    for trial in rounds.every_guessed(connection, REMEMBERED):
        done[trial.skill].append((trial.level, trial.delta_e or 0.0))
    made = trainer.make([one.paint for one in able], [one.drop_ml for one in able], done, chance)
    trainees = [able[index] for index in made.paints]
    with writing(connection):
        rounds.drop_open(connection)
        return rounds.add(
            connection,
            skill=made.skill,
            level=made.level,
            shelf=key,
            paints=[one.id for one in trainees],
            sizes=[one.drop_ml for one in trainees],
            drops=made.drops,
            at=at,
        )


def guess(connection: sqlite3.Connection, shelf: Shelf, number: int, drops: Sequence[int]) -> None:
    """Say how many drops of each. A round that was guessed stays. Raises NotFound, InvalidInput."""
    kept = rounds.one(connection, number)
    counted = trainer.checked(drops)
    trainees = _bottles(connection, shelf, kept)
    judged = trainer.judge(kept.skill, [trainee.paint for trainee in trainees], kept.sizes, kept.drops, counted)
    with writing(connection):
        rounds.guessed(connection, number, counted, judged.delta_e)


def see(connection: sqlite3.Connection, shelf: Shelf, number: int) -> RoundSeen:
    """Raises NotFound."""
    kept = rounds.one(connection, number)
    trainees = _bottles(connection, shelf, kept)
    if kept.guess is None:
        return RoundSeen(kept, trainees, _strip(trainees, kept, kept.drops), None, None)
    judged = trainer.judge(kept.skill, [trainee.paint for trainee in trainees], kept.sizes, kept.drops, kept.guess)
    return RoundSeen(kept, trainees, _strip(trainees, kept, kept.drops), _strip(trainees, kept, kept.guess), judged)


def _bottles(connection: sqlite3.Connection, shelf: Shelf, kept: KeptRound) -> list[Trainee]:
    """Also those that are not on the shelf any more. Raises PaintNotFound."""
    trainees = []
    for paint_id, size in zip(kept.paints, kept.sizes, strict=True):
        if paint_id in shelf:
            trainees.append(shelf[paint_id])
        else:
            record = paints.record(connection, paint_id)
            trainees.append(Trainee(paint_id, record.full_name, paints.profile(connection, paint_id), size))
    return trainees


def _strip(bottles: Sequence[Trainee], kept: KeptRound, drops: Sequence[int]) -> Strip:
    pours = [Pour(trainee.paint, count, size) for trainee, count, size in zip(bottles, drops, kept.sizes, strict=True)]
    over = Over.bare(GROUNDS[SKILLS[kept.skill].ground])
    return strip(Cup(pours), film_um=FILM_UM, coats=COATS, over=[over], sheen=CLEARED, under=D65, angles_deg=TILTS_DEG)


def record(connection: sqlite3.Connection) -> list[SkillRecord]:
    """Of every skill, with all rounds that are remembered."""
    done: dict[str, list[KeptRound]] = defaultdict(list)
    for trial in rounds.every_guessed(connection, REMEMBERED):
        done[trial.skill].append(trial)
    records = []
    for key, skill in SKILLS.items():
        told = [(one.level, one.delta_e or 0.0) for one in done[key]]
        mean = trainer.weakness(told) if told else None
        records.append(SkillRecord(key, skill.words, done[key], trainer.level_of(told), mean))
    return records


def open_round(connection: sqlite3.Connection) -> KeptRound | None:
    """The round that waits for its guess."""
    return rounds.open_round(connection)


def round_of(connection: sqlite3.Connection, number: int) -> KeptRound:
    """Raises NotFound."""
    return rounds.one(connection, number)
