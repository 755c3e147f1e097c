"""The Mix page's context: what the painter reads, in the painter's words."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from diachrom import clock
from diachrom.core.film.surface import SURFACES
from diachrom.core.light import words
from diachrom.core.light.lights import against_water, light
from diachrom.core.mix import dark
from diachrom.core.mix.cup import AIRBRUSH_CUP_ML
from diachrom.core.mix.draft import Part
from diachrom.core.mix.layers import COATS_UM
from diachrom.core.mix.strip import Column, Strip
from diachrom.web.kit.choices import Choices, choices
from diachrom.web.kit.formatting import SIZES, coats_words
from diachrom.web.kit.frame import CupUnderWay, under_way
from diachrom.web.kit.plot import Plot
from diachrom.web.kit.strip_view import ColumnView, columns
from diachrom.web.kit.swatches import Bead, BeadString, Swatch, bead, bead_string, bottle_detail, swatch
from diachrom.web.mix.plots import plots
from diachrom.web.mix.rest import RestView, rest_view
from diachrom.words import capitalized, listed, quantity, say
from diachrom.work.mix.cup import MOST_COATS_SHOWN, CupSeen
from diachrom.work.shelf import stock
from diachrom.work.shelf.on_shelf import OnShelf
from diachrom.work.shelf.shelf_index import WATER

FAINT_CONTRAST = 0.4
FEW = 4  # bottles that have room for buttons of their own


@dataclass(frozen=True)
class Row:
    """A bottle beside the cup."""

    bottle: int
    name: str
    paint: str  # its id
    detail: str
    bead: Bead
    drops: int
    percent: str


@dataclass(frozen=True)
class CoatChoice:
    key: str
    um: float
    words: str
    chosen: bool


@dataclass(frozen=True)
class SeenView:
    """What is seen of the mix, cup against bait."""

    cup: Swatch | None
    columns: Sequence[ColumnView]
    sentence: str
    figures: str
    sureness: str
    in_water: str
    beyond_screen: bool
    plots: Sequence[Plot]
    angles: Sequence[float]
    turns: bool


@dataclass(frozen=True)
class CupView:
    """The cup and its bottles."""

    name: str
    note: str
    status: str
    beads: BeadString
    rows: Sequence[Row]
    drops: int
    volume: str
    thinner: str
    save_words: str
    can_save: bool
    undo: str | None
    redo: str | None
    revision: int


@dataclass(frozen=True)
class SprayView:
    """How it is sprayed, over what, and in which light it is looked at."""

    ground: str
    film_um: float
    coats: int
    most_coats: int
    surface: str
    next_surface: str
    sealed: bool
    own_ground: str
    light: str
    nozzle_mm: float
    choices: Choices
    thicknesses: Sequence[CoatChoice]


@dataclass(frozen=True)
class Room:
    """How its parts share the room that there is."""

    many: bool  # bottles: each takes less room, and the one that is picked has the buttons
    full: bool  # its parts take turns where room is short
    panels: Sequence[tuple[str, str]]  # key and words of what takes turns where there is no room for all of it


@dataclass(frozen=True)
class MixPage:
    cup: CupView
    spray: SprayView
    room: Room
    seen: SeenView | None
    problem: str  # why it cannot be predicted
    warnings: Sequence[str]
    rest: RestView | None
    aimed: bool  # there is a target on the bench
    pouring: tuple[int, int] | None  # drops that fell, and that were counted, while it is poured by a count
    rail_cup: CupUnderWay
    said: str


def _panels(*, aimed: bool, warnings: int) -> list[tuple[str, str]]:
    """What a narrow page shows by turns: the left half's first."""
    shown = [("drops", say("drops"))]
    shown += [("target", say("target"))] * aimed
    shown += [("mind", say("mind {warnings}", warnings=warnings))] * bool(warnings)
    return [
        *shown,
        ("recipe", say("recipe")),
        ("words", say("words")),
        ("plots", say("plots")),
        ("spray", say("spray")),
        ("look", say("look")),
    ]


def mix_page(seen: CupSeen, said: str = "", *, large: bool = False) -> MixPage:
    """Everything the Mix page shows; `large` when its buttons are, as in the booth."""
    warnings = [*_troubles(seen), *_warnings(seen), *seen.advice]
    many = len(seen.now.draft.parts) > (FEW - 1 if seen.aimed or large else FEW)
    strip = seen.foreseen.strip
    draft = seen.now.draft
    # What a press on the surface makes of it.
    keys = list(SURFACES)
    return MixPage(
        cup=_cup(seen),
        spray=SprayView(
            ground=draft.ground,
            film_um=draft.film_um,
            coats=draft.coats,
            most_coats=MOST_COATS_SHOWN,
            surface=draft.surface,
            next_surface=keys[(keys.index(draft.surface) + 1) % len(keys)],
            sealed=draft.sealed,
            own_ground=draft.own_ground,
            light=draft.light,
            nozzle_mm=draft.nozzle_mm,
            choices=choices(seen.recipes, draft),
            thicknesses=[CoatChoice(key, um, SIZES[key], um == draft.film_um) for key, um in COATS_UM.items()],
        ),
        room=Room(many, (many or large) and strip is not None, _panels(aimed=seen.aimed, warnings=len(warnings))),
        seen=_seen(seen, strip) if strip else None,
        problem=seen.foreseen.problem,
        warnings=warnings,
        rest=rest_view(seen.rest),
        aimed=seen.aimed,
        pouring=seen.pouring,
        rail_cup=under_way(seen.contents),
        said=said,
    )


def _cup(seen: CupSeen) -> CupView:
    draft, cup, shelf = seen.now.draft, seen.cup, seen.contents.shelf
    if seen.saved.version is None:
        save_words = say("Save as a recipe")
    else:
        save_words = (
            say("Save version {next_version}", next_version=seen.saved.next_version)
            if seen.saved.changed
            else say("Saved")
        )
    saved = seen.saved.version
    if saved is None:
        status = say("A new mix, not saved yet") if seen.now.draft.parts else say("An empty cup")
    else:
        place = say("Recipe {recipe}, version {version}", recipe=saved.recipe, version=saved.version)
        status = (
            say("{place}, changed since", place=place) if seen.saved.changed else say("{place}, as saved", place=place)
        )
    return CupView(
        name=draft.name,
        note=draft.note,
        status=status,
        beads=bead_string(draft.parts, shelf),
        rows=[_row(shelf[part.bottle], part, cup.volume_ml) for part in draft.parts],
        drops=cup.drops,
        volume=quantity(cup.volume_ml, ".2f", "ml"),
        thinner=quantity(100 * cup.thinned, ".0f"),
        save_words=save_words,
        can_save=seen.saved.changed and not cup.empty,
        undo=seen.now.undo,
        redo=seen.now.redo,
        revision=seen.now.revision,
    )


def _row(own: OnShelf, part: Part, total_ml: float) -> Row:
    return Row(
        bottle=part.bottle,
        name=own.bottle.full_name,
        paint=own.bottle.paint_id,
        detail=bottle_detail(own),
        bead=bead(own),
        drops=part.drops,
        percent=quantity(100 * part.drops * part.drop_ml / total_ml, ".0f", "%") if total_ml else "",
    )


def _troubles(seen: CupSeen) -> Iterator[str]:
    """What cannot be read, or cannot be predicted, and so is not as it looks."""
    if seen.now.problem:
        yield say("Part of this cup could not be read. {problem}", problem=seen.now.problem)
    if seen.saved.version is not None and seen.saved.version.problem:
        yield say("Part of this recipe could not be read. {problem}", problem=seen.saved.version.problem)
    for part in seen.now.draft.parts:
        row = seen.contents.shelf[part.bottle]
        if row.paint.problem:
            yield f"{row.bottle.full_name}: {row.paint.problem}."


def _warnings(seen: CupSeen) -> Iterator[str]:
    """What does not fit: into the cup, or out of the bottles."""
    if seen.cup.volume_ml > AIRBRUSH_CUP_ML:
        volume = quantity(seen.cup.volume_ml, ".1f", "ml")
        yield say(
            "The largest cup holds {airbrush_cup}; this mix is {volume}. Make it in two.",
            airbrush_cup=quantity(AIRBRUSH_CUP_ML, ".0f", "ml"),
            volume=volume,
        )
    short = [
        row.bottle.full_name
        for part in seen.now.draft.parts
        for row in [seen.contents.shelf[part.bottle]]
        if part.drops and part.drops * part.drop_ml > row.bottle.left_ml and row.bottle.paint_id != WATER
    ]
    if short:
        yield say("More than is left in the bottle: {short}.", short=listed(short))
    at = clock.now()
    for part in seen.now.draft.parts:
        bottle = seen.contents.shelf[part.bottle].bottle
        for said in stock.reminders(bottle, at=at) if part.drops else ():
            if bottle.state == "settled" or said.startswith("shake well"):
                yield f"{bottle.full_name}: {said}."


def _seen(seen: CupSeen, strip: Strip) -> SeenView:
    draft = seen.now.draft
    column = strip.column(draft.ground)
    patch = column.after(draft.coats)
    sentence = say(
        "{coats_words} on {words}: {told}",
        coats_words=capitalized(coats_words(draft.coats, draft.film_um)),
        words=column.over.words,
        told=_told(strip, column, draft.coats)
        if light(draft.light).dark_minutes is None
        else _in_the_dark(seen, column),
    )
    sure = seen.foreseen.spread
    sparkle = any(pour.drops and pour.paint.flake and pour.paint.flake.sparkle for pour in seen.cup.pours)
    views = columns(strip, sparkle=bool(sparkle))
    # Whether it is still seen down there, "" out of the water.
    contrast = against_water(patch.diffuse.radiance_factor, under=light(draft.light))
    if contrast is None:
        in_water = ""
    elif abs(contrast) < FAINT_CONTRAST:
        in_water = say("It hardly shows against the water.")
    else:
        in_water = say("It shows lighter than the water.") if contrast > 0 else say("It shows darker than the water.")
    return SeenView(
        cup=swatch(strip.cup) if strip.cup else None,
        columns=views,
        sentence=sentence,
        figures=say("{figures} in the flash", figures=swatch(patch.at_angle[0]).figures)
        if patch.at_angle
        else swatch(patch.diffuse).figures,
        sureness=say(
            "Likely within dE {delta_e}, mostly {cause}.", delta_e=quantity(sure.delta_e, ".1f"), cause=sure.cause
        )
        if sure
        else "",
        in_water=in_water,
        beyond_screen=not all(view.fits_screen for one in views for view in one.patches),
        plots=plots(strip, ground=draft.ground, coats=draft.coats),
        angles=strip.angles_deg,
        turns=any(one.has_direction for one in strip.columns),
    )


def _in_the_dark(seen: CupSeen, column: Column) -> str:
    """What the eye has of it with the lights off."""
    draft = seen.now.draft
    minutes = light(draft.light).dark_minutes or 0.0
    lab = column.after(draft.coats).diffuse.lab
    powders = [pour.paint.glow for pour in seen.cup.pours if pour.drops and pour.paint.glow is not None]
    if not powders:
        return say("{colour}: nothing in the cup glows.", colour=dark.called(lab))
    lasts = dark.seen_for(powders, float(lab[0]), minutes)
    told = (
        say("{colour}, seen for {minutes} min.", colour=dark.called(lab), minutes=quantity(lasts, ".2g"))
        if lasts
        else say("{colour} any more.", colour=dark.called(lab))
    )
    worth = dark.worth_spraying(seen.cup, draft.film_um, column.over)
    if worth >= dark.MOST_COATS:
        return told + " " + say("Each of {count} coats still adds light.", count=worth)
    return told + " " + say("More than {count} coats add next to no light.", count=worth)


def _told(strip: Strip, column: Column, coats: int) -> str:
    """The chosen patch beside the cup, or its two sides where the angle matters."""
    patch = column.after(coats)
    if patch.at_angle:
        glance, away = swatch(patch.at_angle[0]), swatch(patch.at_angle[-1])
        if glance.name == away.name:
            return say("{name} at every tilt.", name=glance.name)
        return say("{flash} in the flash, {flop} at the flop.", flash=glance.name, flop=away.name)
    name = swatch(patch.diffuse).name
    if strip.cup is None:
        return say("{name}, as the ground is: nothing in the cup colours.", name=name)
    said = words.difference(strip.cup.lab, patch.diffuse.lab)
    if said.startswith("the same"):
        return say("{name}, {said} as in the cup.", name=name, said=said)
    return say("{name}, {said} than in the cup.", name=name, said=said)
