"""The dots of this bench's mist: found from its cards, or said; what they change on the shelf; taking them, and taking
them back."""

import sqlite3
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import exp
from pathlib import Path

import numpy as np

from diachrom.core.cards.learning import FEWEST
from diachrom.core.film.paint import GUESSED, Paint
from diachrom.core.mix.hand import FLOWS_UM, Hand
from diachrom.core.mix.layers import check_droplet
from diachrom.core.mix.spread import NINETY_PERCENT
from diachrom.core.profiles.contrast_card import strength
from diachrom.core.profiles.dot_size import TRIED_UM, DotSize, dot_size
from diachrom.errors import ChangedSince, InvalidInput, NotFound
from diachrom.store import contrast_cards, learnings, mist, paints, shelf_sheets
from diachrom.store.connection import connected, writing
from diachrom.store.mist import Mist
from diachrom.store.paints import PaintRecord
from diachrom.words import quantity, say, say_count
from diachrom.work.cards import apply_learning
from diachrom.work.cards.apply_learning import NewFigures
from diachrom.work.cards.learning import Beliefs, Lesson, gather, lesson, revision
from diachrom.work.kit.tasks import Task, Tasks
from diachrom.work.profiles import contrast_cards as carding
from diachrom.work.profiles import read_sheets

KIND = "mist"
MOST_CARDS = 24  # that dots are looked for on
ANY = 10_000  # shelf sheets

Progress = Callable[[float], None]


@dataclass(frozen=True, eq=False)
class Refit:
    """A paint fitted again, from the readings that are kept of it."""

    record: PaintRecord
    version: int  # that counts now
    before: Paint
    after: Paint
    readings: str  # "drawdown card 3"

    @property
    def stronger(self) -> float:
        """Times as strong as before."""
        return strength(self.after.absorption, self.before.absorption)


@dataclass(frozen=True, eq=False)
class MistLesson:
    """What other dots would change; nothing of it counts before it is taken."""

    revision: str
    before: Mist
    after: Mist
    found: DotSize | None  # how it was found, from cards
    cards: int  # it was found from
    refits: Sequence[Refit]
    even: Sequence[PaintRecord]  # whose readings are not kept: they are sprayed as even films until they are measured
    lesson: Lesson | None  # what spray-out cards say then

    @property
    def within_um(self) -> tuple[float, float]:
        """Between these it is, nine times in ten."""
        low, high = (self.after.droplet_um * exp(side * NINETY_PERCENT * self.after.off) for side in (-1, 1))
        return low, high

    @property
    def all_refits(self) -> list[Refit]:
        """What counts in the end: with what the spray-out cards teach of it."""
        final = {one.record.id: one for one in self.refits}
        for change in () if self.lesson is None else self.lesson.paints:
            if change.taken:
                known = final.get(change.record.id)
                before = change.before if known is None else known.before
                cards = say_count(change.cards, "{count} spray-out card", "{count} spray-out cards")
                final[change.record.id] = Refit(change.record, change.version, before, change.after, cards)
        return list(final.values())


def cards_that_tell(connection: sqlite3.Connection) -> list[carding.ContrastCardSeen]:
    """Drawdown cards sprayed in mist, in two films at least, the newest first."""
    found: list[carding.ContrastCardSeen] = []
    for number in reversed(contrast_cards.numbers(connection)):
        card = contrast_cards.card(connection, number)
        if card.film_um >= FLOWS_UM or len(card.steps) < 2 or len(found) >= MOST_CARDS:
            continue
        seen = carding.see(connection, number)
        measured = carding.as_measured(connection, seen)
        if measured is not None and len(measured.films) > 1:
            found.append(seen)
    return found


def search(connection: sqlite3.Connection, progress: Progress = lambda _: None) -> MistLesson:
    """Dots as thick as fit the bench's cards best, and what they change. Raises InvalidInput where no card tells."""
    told = cards_that_tell(connection)
    measured = [one for seen in told if (one := carding.as_measured(connection, seen)) is not None]
    if not measured:
        raise InvalidInput(
            say("No drawdown card tells yet: read one that was sprayed in mist, with films of few and of many passes."),
            field="cards",
        )
    found = dot_size(measured, lambda share: progress(0.6 * share))
    known = mist.now(connection)
    after = replace(known, droplet_um=found.droplet_um, off=found.off, source="cards")
    own = what_changes(connection, after, lambda share: progress(0.6 + 0.4 * share))
    return replace(own, found=found, cards=len(measured))


def what_changes(connection: sqlite3.Connection, after: Mist, progress: Progress = lambda _: None) -> MistLesson:
    """What dots of this size would change on the shelf. Raises InvalidInput for a size that no airbrush lays."""
    check_droplet(after.droplet_um)
    now, before = revision(connection), mist.now(connection)
    hand = replace(mist.hand(connection), droplet_um=after.droplet_um, droplet_off=after.off)
    refits, even = _refits(connection, hand, was_even=before.source == "even")
    progress(0.4)
    profiles = {one.record.id: one.after for one in refits}
    profiles |= {one.id: replace(paints.profile(connection, one.id), even=True) for one in even}
    learned = None
    if len(gather(connection).core) >= FEWEST:
        learned = lesson(
            connection, progress=lambda share: progress(0.4 + 0.6 * share), beliefs=Beliefs(profiles, hand)
        )
    progress(1.0)
    return MistLesson(
        revision=now, before=before, after=after, found=None, cards=0, refits=refits, even=even, lesson=learned
    )


def _refits(connection: sqlite3.Connection, hand: Hand, *, was_even: bool) -> tuple[list[Refit], list[PaintRecord]]:
    came, learned_from = _came_from(connection), _learned_from(connection)
    refits, even = [], []
    for record in paints.every_record(connection):
        versions = {one.version: one.paint for one in paints.profile_versions(connection, record.id)}
        newest = max(versions, default=0)
        if not newest or versions[newest].thins:
            continue
        before = versions[newest]
        base = newest  # the version that what was learned of it stands on
        while (record.id, base) in learned_from:
            base = learned_from[record.id, base]
        source = came.get((record.id, base))
        fitted = None if source is None else source(hand)
        if fitted is not None:
            after, words = fitted
            refits.append(Refit(record, newest, before, after, words))
        elif was_even and before.uncertainty < GUESSED and not before.even and not before.problem:
            even.append(record)
    return refits, even


def _learned_from(connection: sqlite3.Connection) -> dict[tuple[str, int], int]:
    """Of versions that were learned, by paint and version, the one before."""
    return {
        (one.paint_id, one.after): one.before
        for own in learnings.every(connection)
        if own.undone_at is None
        for one in own.profiles
    }


Fitted = Callable[[Hand], tuple[Paint, str] | None]


def _came_from(connection: sqlite3.Connection) -> Mapping[tuple[str, int], Fitted]:
    """How to fit again what profiles came from, by paint and version."""
    found: dict[tuple[str, int], Fitted] = {}
    for number in contrast_cards.numbers(connection):
        card = contrast_cards.card(connection, number)
        if card.version is not None and card.film_um < FLOWS_UM:
            found[card.paint_id, card.version] = _of_card(connection, number)
    for number, *_ in shelf_sheets.latest(connection, ANY):
        sheet = shelf_sheets.one(connection, number)
        for pair in sheet.pairs:
            if pair.taken and pair.after is not None and sheet.film_um < FLOWS_UM:
                found[pair.paint_id, pair.after] = _of_pair(connection, pair.paint_id, number, pair.number)
    return found


def _of_card(connection: sqlite3.Connection, number: int) -> Fitted:
    def fit(hand: Hand) -> tuple[Paint, str] | None:
        derived = carding.see(connection, number, hand=hand).derived
        return None if derived is None else (derived.paint, say("drawdown card {number}", number=number))

    return fit


def _of_pair(connection: sqlite3.Connection, paint_id: str, number: int, pair: int) -> Fitted:
    def fit(hand: Hand) -> tuple[Paint, str] | None:
        found = read_sheets.fitted_again(connection, number, pair, hand)
        if found is None:
            return None
        known = paints.profile(connection, paint_id)
        paint = replace(known, absorption=found.absorption, scattering=found.scattering, even=False)
        paint = replace(paint, uncertainty=found.uncertainty)
        return paint, say("shelf sheet {number}", number=number)

    return fit


def take(connection: sqlite3.Connection, own: MistLesson, *, at: str) -> None:
    """Lay these dots from now on; what was fitted as other films is fitted again, in one step that can be undone.

    Raises ChangedSince where shelf or cards are others since.
    """
    size = quantity(own.after.droplet_um, ".1f", "µm")

    def figures(version: int, paint: Paint, readings: str) -> NewFigures:
        return NewFigures(version, paint, say("{readings}, in dots of {size}", readings=readings, size=size))

    final = {one.record.id: figures(one.version, one.after, one.readings) for one in own.all_refits}
    with writing(connection):
        if revision(connection) != own.revision or mist.now(connection) != own.before:
            raise ChangedSince("shelf", say("or a card"), say("nothing was changed. Look again"))
        for record in own.even:
            known = final.get(record.id)
            paint = paints.profile(connection, record.id) if known is None else known.paint
            version = paints.profile_versions(connection, record.id)[0].version if known is None else known.version
            final[record.id] = NewFigures(version, replace(paint, even=True), say("as it was, an even film"))
        apply_learning.put(connection, final, own.lesson, at=at, mist=(own.before, own.after))


def undo(connection: sqlite3.Connection, *, at: str) -> list[str]:
    """Take the last change of the mist back; returns the paints that were measured since and are left alone. Raises
    NotFound, and InvalidInput where something else was learned since."""
    if learnings.last(connection).mist is None:
        raise InvalidInput(say("Something was learned since: undo that first, under Learning."), field="mist")
    return apply_learning.undo(connection, at=at)[1]


class MistTask(Task):
    """Looks for the dots, or for what given dots change."""

    found: MistLesson | None = None

    def __init__(self, wanted: Mist | None = None, told: str = "") -> None:
        super().__init__()
        self.wanted, self.told = wanted, told

    def work(self, folder: Path) -> None:
        """Find them; nothing is kept before it is taken."""
        with connected(folder) as connection:
            tell = lambda share: self.tell(round(1000 * share), 1000)  # noqa: E731
            wanted = self.wanted
            self.found = search(connection, tell) if wanted is None else what_changes(connection, wanted, tell)
        self.tell(1000, 1000)


def start(tasks: Tasks, wanted: Mist | None = None, told: str = "") -> None:
    """The one that is going on, or a new one; `told` says where what is wanted comes from."""

    def begin(known: MistTask | None) -> MistTask:
        going_on = wanted is None and known is not None and known.going_on
        return known if going_on and known is not None else MistTask(wanted, told)

    tasks.start(KIND, begin)


def under_way(tasks: Tasks) -> MistTask | None:
    """The one that goes on, or went on last."""
    return tasks.of(KIND, MistTask)


def to_take(tasks: Tasks) -> MistLesson:
    """What may be taken. Raises NotFound, InvalidInput."""
    task = under_way(tasks)
    if task is None:
        raise NotFound(say("No dots are found yet on this server: find them first."), field="mist")
    if task.found is None or not task.finished:
        raise InvalidInput(say("Diachrom is still looking; nothing was changed."), field="mist")
    return task.found


def curve(found: DotSize) -> list[tuple[float, float]]:
    """(dots in um, misfit in standard deviations) of what was tried."""
    return list(zip(TRIED_UM.tolist(), np.sqrt(found.misfits).tolist(), strict=True))
