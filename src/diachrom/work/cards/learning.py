"""What the spray-out cards teach: gathered, learned, and shown before anything is taken."""

import sqlite3
from collections import Counter
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.cards.learning import Learned, Progress, corrected, learn
from diachrom.core.cards.outlier_causes import Reason, reason
from diachrom.core.cards.spray_out_cards import TestCard, is_elsewhere, table_of
from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.words import difference
from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML, Cup, Pour
from diachrom.core.mix.hand import Hand
from diachrom.core.mix.layers import coat
from diachrom.core.mix.mixes import special
from diachrom.core.mix.where import Where
from diachrom.store import bottles, hand_factor, mist, paints, recipes, revisions, spray_out_cards
from diachrom.store.bottles import Bottle
from diachrom.store.paints import PaintRecord
from diachrom.store.recipes import Version
from diachrom.store.spray_out_cards import KeptCard, KeptPatch
from diachrom.work.cards.compare_prediction import CONTRADICTS, D65, called, core_card, mean_of
from diachrom.work.mix.contents import Contents, contents, contents_of, cup_of
from diachrom.work.mix.sprayed_over import over

CHANGED = 1.0  # dE of a recipe, above which it is told
HAND_CHANGED = 0.005  # relative, below which the hand is as it was
MOST_TABLES = 8  # of foils and other films that cards lie on
DROP_CHANGED = 0.01  # relative, below which a drop stays as it is


@dataclass(frozen=True, eq=False)
class PaintChange:
    """A paint's profile, and what the cards make of it."""

    record: PaintRecord
    version: int  # of the profile that counts now
    before: Paint
    after: Paint
    strength: float  # times
    scattering: float  # times
    tilt: float
    cards: int
    delta_e: tuple[float, float]  # of its cards left out, the mean, without its correction and with it
    taken: bool  # it helps them


@dataclass(frozen=True)
class DropChange:
    bottle: Bottle
    counted_ml: float  # as cards counted it, believed until now
    after_ml: float


@dataclass(frozen=True, eq=False)
class RecipeChange:
    """A recipe whose colour would be another."""

    saved: Version
    before: Floats  # (3,)
    after: Floats
    delta_e: float
    words: str


@dataclass(frozen=True, eq=False)
class Aside:
    """A card that fits nothing."""

    card: KeptCard
    name: str
    delta_e: float
    reason: Reason | None
    meant: str = ""  # names of what was meant and what may have been poured
    poured: str = ""


@dataclass(frozen=True, eq=False)
class Lesson:
    """All that was learned, not taken yet."""

    revision: str  # of what it was learned from
    cards: int
    paints: Sequence[PaintChange]
    drops: Sequence[DropChange]
    hand: tuple[float, float]
    delta_e: tuple[float, float]  # of cards left out, the median, before and after
    recipes: Sequence[RecipeChange]
    aside: Sequence[Aside]

    @property
    def helps(self) -> bool:
        """Whether anything of it helps."""
        before, after = self.hand
        return any(change.taken for change in self.paints) or bool(self.drops) or abs(after / before - 1) > HAND_CHANGED


@dataclass(frozen=True, eq=False)
class Gathered:
    """Cards as the core knows them, and whose paints and bottles they are."""

    cards: Sequence[KeptCard]
    core: Sequence[TestCard]
    paint_ids: Sequence[str]
    profiles: Sequence[Paint]
    bottles: Sequence[int]


def revision(connection: sqlite3.Connection) -> str:
    """It moves with all that a lesson depends on."""
    numbers = revisions.of(connection, "profiles", "bottles", "cards")
    hand = mist.hand(connection)
    return f"{'-'.join(map(str, numbers))}/{hand.times:.6g}/{hand.droplet_um:.6g}"


@dataclass(frozen=True, eq=False)
class Beliefs:
    """Profiles of some paints, by their ids, and a hand, in the place of those that count now."""

    profiles: Mapping[str, Paint]
    hand: Hand


def gather(
    connection: sqlite3.Connection, *, only: Collection[int] | None = None, beliefs: Beliefs | None = None
) -> Gathered:
    """Every card that counts and was read; or those of them with these numbers."""
    hand = mist.hand(connection) if beliefs is None else beliefs.hand
    profiles, bottle_numbers = {}, dict[int, int]()
    ids: dict[str, int] = {}
    found, core = [], []
    every = [
        card
        for card in reversed(spray_out_cards.latest(connection))
        if (only is None or card.id in only) and card.counts and any(_tells(patch) for patch in card.patches)
    ]
    for card, held in zip(every, contents_of(connection, [card.draft for card in every]), strict=True):

        def place(bottle: int, held: Contents = held) -> tuple[int, int]:
            row = held.shelf[bottle]
            own_id = row.bottle.paint_id
            profiles[own_id] = row.paint if beliefs is None else beliefs.profiles.get(own_id, row.paint)
            own = ids.setdefault(row.bottle.paint_id, len(ids))
            return own, bottle_numbers.setdefault(bottle, len(bottle_numbers))

        core.append(core_card(connection, card, cup_of(held), hand, place))
        found.append(card)
    core = _bounded(core)
    told = [index for index, one in enumerate(core) if one.patches]
    found, core = [found[at] for at in told], [core[at] for at in told]
    return Gathered(found, core, list(ids), [profiles[one] for one in ids], list(bottle_numbers))


def _bounded(cards: Sequence[TestCard]) -> list[TestCard]:
    """Without the patches on foils and films that few others lie on: each of those takes a table, and a second."""
    lies = [
        [table_of(read_patch) if is_elsewhere(read_patch) else None for read_patch in card.patches] for card in cards
    ]
    often = Counter(key for own in lies for key in own if key is not None)
    kept = {None, *(key for key, _ in often.most_common(MOST_TABLES))}
    return [
        replace(card, patches=[patch for patch, key in zip(card.patches, own, strict=True) if key in kept])
        for card, own in zip(cards, lies, strict=True)
    ]


def _tells(patch: KeptPatch) -> bool:
    mean, apart = mean_of(patch)
    return patch.coats > 0 and mean is not None and apart <= CONTRADICTS


def lesson(
    connection: sqlite3.Connection, *, progress: Progress = lambda _: None, beliefs: Beliefs | None = None
) -> Lesson:
    """Learn from all cards. Raises InvalidInput where there are too few."""
    now = revision(connection)
    gathered = gather(connection, beliefs=beliefs)
    found = learn(gathered.profiles, len(gathered.bottles), gathered.core, progress=lambda share: progress(0.9 * share))
    after = [corrected(one, found.corrections, index) for index, one in enumerate(gathered.profiles)]
    used = [at for at in range(len(gathered.core)) if at not in found.aside]
    changes = _paints(connection, gathered, found, after, used)
    hand = hand_factor.now(connection)
    new_hand = min(max(hand * found.corrections.hand, hand_factor.THINNEST), hand_factor.HEAVIEST)
    # By bottle, and by what was counted as its drop.
    drop_changes = {}
    for card in gathered.core:
        for part in card.parts:
            times = float(found.corrections.drop[part.bottle])
            if abs(times - 1) > DROP_CHANGED:
                bottle = bottles.one(connection, gathered.bottles[part.bottle])
                really = min(max(part.drop_ml * times, SMALLEST_DROP_ML), LARGEST_DROP_ML)
                drop_changes[bottle.id, part.drop_ml] = DropChange(bottle, part.drop_ml, really)
    drops = sorted(drop_changes.values(), key=lambda change: -abs(np.log(change.after_ml / change.counted_ml)))
    learned = {one.record.id: one.after for one in changes if one.taken}
    sizes = {(drop.bottle.id, drop.counted_ml): drop.after_ml for drop in drops}
    return Lesson(
        revision=now,
        cards=len(gathered.core),
        paints=changes,
        drops=drops,
        hand=(hand, new_hand),
        delta_e=(float(np.median(found.before[used])), float(np.median(found.left_out[used]))) if used else (0.0, 0.0),
        recipes=_recipes(connection, learned, sizes, new_hand / hand, lambda share: progress(0.9 + 0.1 * share)),
        aside=_aside(connection, gathered, found, after),
    )


def _paints(
    connection: sqlite3.Connection, gathered: Gathered, found: Learned, after: Sequence[Paint], used: Sequence[int]
) -> list[PaintChange]:
    changes = []
    for index, (paint_id, before) in enumerate(zip(gathered.paint_ids, gathered.profiles, strict=True)):
        own = [card for card in used if any(part.paint == index for part in gathered.core[card].parts)]
        if before.thins or not own:
            continue
        record, corrections = paints.record(connection, paint_id), found.corrections
        changes.append(
            PaintChange(
                record=record,
                version=paints.profile_versions(connection, paint_id)[0].version,
                before=before,
                after=after[index],
                strength=float(corrections.strength[index]),
                scattering=float(corrections.scattering[index]),
                tilt=float(corrections.tilt[index]),
                cards=len(own),
                delta_e=(found.apart[index].without, found.apart[index].with_it),
                taken=index in found.helped,
            )
        )
    return sorted(changes, key=lambda change: (not change.taken, -abs(np.log(change.strength))))


def _recipes(
    connection: sqlite3.Connection,
    learned: Mapping[str, Paint],
    drops: Mapping[tuple[int, float], float],
    hand: float,
    progress: Callable[[float], None],
) -> list[RecipeChange]:
    changes = []
    every = recipes.newest_versions(connection)
    for index, (saved, held) in enumerate(
        zip(every, contents_of(connection, [version.draft for version in every]), strict=True)
    ):
        progress(index / len(every))
        pours = cup_of(held).pours
        new = [
            replace(
                pour,
                paint=learned.get(held.shelf[part.bottle].bottle.paint_id, pour.paint),
                drop_ml=drops.get((part.bottle, pour.drop_ml), pour.drop_ml),
            )
            for part, pour in zip(saved.draft.parts, pours, strict=True)
        ]
        if Cup(pours).only_thinner or (hand == 1 and new == list(pours)):
            continue
        before, after = _look(connection, saved, pours, 1.0), _look(connection, saved, new, hand)
        far = float(delta_e(before, after))
        if far > CHANGED:
            changes.append(RecipeChange(saved, before, after, far, difference(before, after)))
    return sorted(changes, key=lambda change: -change.delta_e)


def _look(connection: sqlite3.Connection, saved: Version, pours: Sequence[Pour], hand: float) -> Floats:
    draft, on, own = saved.draft, over(connection, saved.draft.ground), mist.hand(connection)
    layer = replace(own, times=own.times * hand).layer(Cup(pours), draft.film_um, draft.coats)
    where = Where(on.ground, layer.total_um, draft.sheen, D65, on.below, droplet_um=layer.droplet_um)
    return lab_of_radiance(where.radiance(coat(layer))[0], under=D65)


def _aside(connection: sqlite3.Connection, gathered: Gathered, found: Learned, after: Sequence[Paint]) -> list[Aside]:
    if not found.aside:
        return []
    shelf = {key: one for key, one in paints.all_profiles(connection).items() if not special(one)}
    ids = [*gathered.paint_ids, *(key for key in shelf if key not in gathered.paint_ids)]
    every = [*after, *(shelf[key] for key in ids[len(after) :])]
    drop, hand = found.corrections.drop, found.corrections.hand
    result = []
    for index in found.aside:
        core = gathered.core[index]
        parts = [replace(part, drop_ml=part.drop_ml * float(drop[part.bottle])) for part in core.parts]
        why = reason(replace(core, parts=parts, film_um=core.film_um * hand), every)
        meant, poured = (
            "" if place is None else paints.record(connection, ids[place]).full_name
            for place in ((why.paint, why.instead) if why else (None, None))
        )
        card = gathered.cards[index]
        name = called(card, contents(connection, card.draft))
        result.append(
            Aside(card=card, name=name, delta_e=float(found.before[index]), reason=why, meant=meant, poured=poured)
        )
    return result


def cards_there(connection: sqlite3.Connection) -> int:
    """How many cards can be learned from."""
    return spray_out_cards.count(connection)
