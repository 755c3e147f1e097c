"""A spray-out card as it is believed to be: every patch predicted, and laid beside what was read of it."""

import sqlite3
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.cards.residual_causes import Comparison, beside
from diachrom.core.cards.spray_out_cards import CardPart, ReadPatch, TestCard
from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.light.smooth import smooth_reflectance
from diachrom.core.light.words import difference
from diachrom.core.mix.cup import Cup
from diachrom.core.mix.hand import Hand
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.mixes import special
from diachrom.core.mix.prediction import Colour
from diachrom.core.mix.spread import spread
from diachrom.core.mix.strip import Over, strip
from diachrom.core.profiles.card_fit import bare_to_internal
from diachrom.errors import DiachromError
from diachrom.store import mist, spray_out_cards
from diachrom.store.spray_out_cards import KeptCard, KeptPatch
from diachrom.words import listed
from diachrom.work.mix.contents import Contents, contents, cup_of
from diachrom.work.mix.sprayed_over import over as resolve

D65 = light("D65")
CONTRADICTS = 6.0  # in Lab, a reading from the mean of its patch


@dataclass(frozen=True, eq=False)
class PatchSeen:
    """A patch of a card: what was predicted, and what was read of it."""

    patch: KeptPatch
    over: Over
    predicted: Colour
    measured: Floats | None  # (3,) the mean of the readings that count
    delta_e: float | None  # between the two
    apart: float  # largest distance of a reading from the mean, in Lab
    words: str  # how the reading looks beside the prediction
    eye: str  # what the eye said last
    spread: float | None = None  # dE that nine of ten such patches stay within; None where nothing was read

    @property
    def contradicts(self) -> bool:
        """Its readings do not agree: it tells nothing before the wrong one is set aside."""
        return self.apart > CONTRADICTS

    @property
    def told(self) -> bool:
        """It says something of the paint; a bare ground only says what the others lie on."""
        return self.measured is not None and self.patch.coats > 0 and not self.contradicts


@dataclass(frozen=True, eq=False)
class TestCardSeen:
    card: KeptCard
    contents: Contents
    patches: Sequence[PatchSeen]
    beside: Comparison | None  # None before anything was read, or for a mix that the tables do not know


def called(card: KeptCard, held: Contents) -> str:
    """The name of its mix; without one, what is in it."""
    bottles = [held.shelf[part.bottle] for part in card.draft.parts if part.drops]
    return card.draft.name or listed((row.bottle.full_name for row in bottles if not row.paint.thins), " and ")


def mean_of(patch: KeptPatch) -> tuple[Floats | None, float]:
    """(3,) of the readings that count, and how far the farthest lies from it."""
    labs = np.array([reading.lab for reading in patch.readings if reading.counts and reading.lab is not None]).reshape(
        -1, 3
    )
    if not len(labs):
        return None, 0.0
    mean = labs.mean(axis=0)
    return mean, float(np.linalg.norm(labs - mean, axis=1).max())


def grounds_of(connection: sqlite3.Connection, card: KeptCard) -> dict[str, Over]:
    """What the card's patches lie on, by key; a plain ground that was read bare is as it was read."""
    overs = {key: resolve(connection, key) for key in dict.fromkeys(one.ground for one in card.patches)}
    for patch in card.patches:
        on, (bare, _) = overs[patch.ground], mean_of(patch)
        if patch.coats == 0 and bare is not None and not (on.below or on.ground.glossy):
            measured = smooth_reflectance(bare, under=D65)
            overs[patch.ground] = replace(
                on, ground=replace(on.ground, reflectance=bare_to_internal(measured, sheen=card.draft.sheen))
            )
    return overs


def film_um(card: KeptCard, hand: Hand) -> float:
    """One coat of it as it is believed to be, without the reducer that was not in the cup."""
    return hand.film_um(card.draft.film_um) * (1 - card.how.reduction)


def dots_um(card: KeptCard, cup: Cup, hand: Hand) -> float:
    """A dot of its mist, without that reducer too."""
    draft = card.draft
    return hand.dots_of(cup, draft.film_um, nozzle_mm=draft.nozzle_mm, reduced=card.how.reduction)


def paints_of(connection: sqlite3.Connection, card: KeptCard) -> set[str]:
    """Ids of the paints in it."""
    held = contents(connection, card.draft)
    return {held.shelf[part.bottle].bottle.paint_id for part in card.draft.parts if part.drops}


def predicted(
    connection: sqlite3.Connection,
    card: KeptCard,
    patches: Sequence[KeptPatch] | None = None,
    *,
    profiles: Mapping[str, Paint] | None = None,
) -> list[tuple[Over, Colour]]:
    """Every patch as it is predicted now, or those given; with other `profiles` of some paints, by their ids."""
    wanted, others = card.patches if patches is None else patches, profiles or {}
    held = contents(connection, card.draft)
    pours = [
        replace(pour, paint=others.get(held.shelf[part.bottle].bottle.paint_id, pour.paint))
        for part, pour in zip(card.draft.parts, cup_of(held).pours, strict=True)
    ]
    grounds = grounds_of(connection, card)
    keys = list(dict.fromkeys(one.ground for one in wanted))
    cup, hand = Cup(pours), mist.hand(connection)
    seen = strip(
        cup,
        film_um=film_um(card, hand),
        droplet_um=dots_um(card, cup, hand),
        coats=max([1, *(one.coats for one in wanted)]),
        over=[grounds[key] for key in keys],
        sheen=card.draft.sheen,
        under=D65,
    )
    columns = dict(zip(keys, seen.columns, strict=True))
    found = []
    for patch in wanted:
        column = columns[patch.ground]
        found.append((grounds[patch.ground], (column.after(patch.coats) if patch.coats else column.bare).diffuse))
    return found


@dataclass(frozen=True)
class NewReading:
    """What was read of a patch just now."""

    ground: str
    coats: int
    lab: Sequence[float]
    source: str
    counts: bool = True


def keep(connection: sqlite3.Connection, number: int, readings: Sequence[NewReading], *, at: str) -> None:
    """Readings of a card's patches, each with what is predicted there now. Inside `writing`. Raises NotFound."""
    card = spray_out_cards.one(connection, number)
    looks = predicted(connection, card, [KeptPatch(reading.ground, reading.coats, ()) for reading in readings])
    for new_reading, (_, colour) in zip(readings, looks, strict=True):
        patch = spray_out_cards.patch_of(connection, number, new_reading.ground, new_reading.coats)
        lab, now = list(new_reading.lab), colour.lab.tolist()
        spray_out_cards.read(
            connection, patch, source=new_reading.source, lab=lab, predicted=now, counts=new_reading.counts, at=at
        )


def see(connection: sqlite3.Connection, card: KeptCard) -> TestCardSeen:
    """A card beside its prediction."""
    held = contents(connection, card.draft)
    try:
        looks = predicted(connection, card)
    except DiachromError as error:
        return TestCardSeen(
            replace(card, problem=f"{card.problem} It cannot be predicted. {error}".strip()), held, [], None
        )
    patches = []
    for patch, (over, colour) in zip(card.patches, looks, strict=True):
        mean, apart = mean_of(patch)
        eye = next(
            (reading.words for reading in reversed(patch.readings) if reading.counts and reading.lab is None), ""
        )
        words = "" if mean is None else difference(colour.lab, mean)
        far = None if mean is None else float(delta_e(colour.lab, mean))
        patches.append(
            PatchSeen(
                patch=patch, over=over, predicted=colour, measured=mean, delta_e=far, apart=apart, words=words, eye=eye
            )
        )
    cup, hand = cup_of(held), mist.hand(connection)
    told = [one for one in patches if one.told]
    if not told:
        return TestCardSeen(card, held, patches, None)
    # It has flakes or light of its own, which the tables do not know.
    if any(special(pour.paint) for pour in cup.pours if pour.drops):
        whole, spreads = None, [_spread(cup, card, hand, one) for one in told]
    else:
        places = {part.bottle: index for index, part in enumerate(card.draft.parts)}
        core = core_card(connection, card, cup, hand, lambda bottle: (places[bottle], places[bottle]))
        whole = beside(core, [pour.paint for pour in cup.pours])
        spreads = [patch_beside.spread for patch_beside in whole.patches]
    usual = iter(spreads)
    return TestCardSeen(card, held, [replace(one, spread=next(usual)) if one.told else one for one in patches], whole)


def _spread(cup: Cup, card: KeptCard, hand: Hand, patch: PatchSeen) -> float:
    """Of what the tables do not know."""
    top = Layer(cup, film_um(card, hand), patch.patch.coats, droplet_um=dots_um(card, cup, hand))
    return spread([*patch.over.below, top], over=patch.over.ground, sheen=card.draft.sheen, under=D65).delta_e


def core_card(
    connection: sqlite3.Connection,
    card: KeptCard,
    cup: Cup,
    hand: Hand,
    place: Callable[[int], tuple[int, int]],
) -> TestCard:
    """The card as the core knows it; `place` says of a part's bottle which paint and which bottle it is there."""
    grounds = grounds_of(connection, card)
    parts = [
        CardPart(*place(part.bottle), pour.drops, pour.drop_ml)
        for part, pour in zip(card.draft.parts, cup.pours, strict=True)
        if part.drops
    ]
    patches = []
    for patch in card.patches:
        mean, apart = mean_of(patch)
        if patch.coats and mean is not None and apart <= CONTRADICTS:
            patches.append(ReadPatch(grounds[patch.ground].ground, patch.coats, mean, grounds[patch.ground].below))
    return TestCard(parts, film_um(card, hand), card.draft.sheen, patches, dots_um(card, cup, hand))
