"""Colours and beads as the templates draw them."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from diachrom.core.film.kinds import KINDS
from diachrom.core.light import names
from diachrom.core.mix.draft import Part
from diachrom.core.mix.prediction import Colour
from diachrom.core.shelf.keeping import density
from diachrom.store.bottles import Bottle
from diachrom.web.kit.formatting import millilitres
from diachrom.words import listed, quantity, say
from diachrom.work.kit.looks import PaintLook
from diachrom.work.shelf.on_shelf import OnShelf
from diachrom.work.shelf.shelf_index import WATER

FOLD_ABOVE = 30  # drops; a longer string shows a bead and a count for each bottle
SMALL_ABOVE, SMALL_RUNS = 15, 5  # on the rail: three rows, be it of beads or of counts
FIVE = 5


@dataclass(frozen=True)
class Swatch:
    """A colour to fill with, and what it is called."""

    fill: str
    p3: str
    name: str
    figures: str  # "L 59, C 70, h 58"
    fits_screen: bool


def swatch(colour: Colour) -> Swatch:
    """A colour as a painted square with its words."""
    lightness, chroma, hue = colour.lch
    figures = (
        f"L {lightness:.0f}, C {chroma:.0f}, h {hue:.0f}°"
        if chroma >= 2
        else say("L {lightness}, no hue", lightness=quantity(lightness, ".0f"))
    )
    shown = colour.shown
    return Swatch(shown.srgb, shown.p3, names.name_of(lightness, chroma, hue), figures, shown.in_gamut)


@dataclass(frozen=True)
class Bead:
    """One drop: filled with its paint's colour, or an outline for what has none."""

    kind: str
    fill: str | None
    p3: str | None


@dataclass(frozen=True)
class Run:
    """The drops of one bottle in a folded string."""

    bead: Bead
    count: int


@dataclass(frozen=True)
class BeadString:
    """A recipe's face: one bead a drop in groups of five, or folded runs when it is long; and the same in words."""

    groups: Sequence[Sequence[Bead]]
    runs: Sequence[Run]
    words: str
    more: int = 0  # bottles that had no room


def bead(on_shelf: OnShelf) -> Bead:
    """A bottle's bead, in its own colour."""
    return bead_of(on_shelf.look, on_shelf.bottle.kind)


def bead_of(look: PaintLook, kind: str) -> Bead:
    """A paint's drop; what has no colour is known by its kind."""
    colour = look.bead
    return Bead(
        kind if colour is None else "paint", colour.shown.srgb if colour else None, colour.shown.p3 if colour else None
    )


def bead_string(
    parts: Iterable[Part], shelf: dict[int, OnShelf], *, fold_above: int = FOLD_ABOVE, most_runs: int | None = None
) -> BeadString:
    """The parts of a cup or a recipe, in the order of pouring, as beads; folded into counts where they are many."""
    poured = [part for part in parts if part.drops]
    words = listed(f"{part.drops} {shelf[part.bottle].bottle.full_name}" for part in poured)
    runs = [Run(bead(shelf[part.bottle]), part.drops) for part in poured]
    if sum(run.count for run in runs) > fold_above:
        shown = runs if most_runs is None or len(runs) <= most_runs + 1 else runs[:most_runs]
        return BeadString((), shown, words, len(runs) - len(shown))
    beads = [run.bead for run in runs for _ in range(run.count)]
    return BeadString([beads[index : index + FIVE] for index in range(0, len(beads), FIVE)], (), words)


def amount_of(bottle: Bottle, ml: float) -> str:
    """So much of a bottle, a powder in grams."""
    if not bottle.weighed:
        return millilitres(ml)
    return quantity(ml * density(bottle.kind), ".3g", "g")


def bottle_detail(row: OnShelf) -> str:
    """ "transparent · nearly gone, 1.2 ml left" """
    if row.bottle.paint_id == WATER:
        return listed([KINDS[row.bottle.kind].words, say("always there")], " · ")
    left = amount_of(row.bottle, row.bottle.left_ml)
    stock = (
        say("{condition}, {left}", condition=row.condition, left=left)
        if row.condition
        else say("{left} left", left=left)
    )
    parts = [KINDS[row.bottle.kind].words, say("empty") if row.condition == "empty" else stock]
    marks = [say("discontinued")] * row.bottle.discontinued
    marks += [say("no usable profile") if row.paint.problem else say("a guess")] * row.guess
    return listed([*parts, *marks], " · ")
