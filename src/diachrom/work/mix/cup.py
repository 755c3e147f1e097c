"""The cup under way: what can be done to it, and what is seen in it. Every change is one step that can be undone."""

import sqlite3
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from diachrom.core.film.surface import surface_of
from diachrom.core.light.lights import light
from diachrom.core.mix.advice import Situation, advice
from diachrom.core.mix.cup import Cup
from diachrom.core.mix.draft import ALWAYS_SHOWN, Draft
from diachrom.core.mix.hand import Hand
from diachrom.core.mix.prediction import ANGLES_DEG
from diachrom.core.mix.spread import Spread, spread
from diachrom.core.mix.story import story
from diachrom.core.mix.strip import Over, Strip, strip
from diachrom.errors import DiachromError
from diachrom.store import bottles, cups, mist, recipes, stories, targets
from diachrom.store.connection import writing
from diachrom.store.cups import CupNow
from diachrom.store.recipes import Version
from diachrom.words import say, say_count
from diachrom.work.mix import resting
from diachrom.work.mix.contents import Contents, contents, cup_of
from diachrom.work.mix.resting import Rest
from diachrom.work.mix.sprayed_over import offered, over, over_named

TILTS_DEG = (15.0, 20.0, 25.0, 35.0, 45.0, 60.0, 75.0, 90.0, 110.0)
FEWEST_COATS_SHOWN, MOST_COATS_SHOWN = 4, 8
STARTING = say("starting to pour")


@dataclass(frozen=True, eq=False)
class Foreseen:
    """What is predicted of a cup."""

    strip: Strip | None  # None while the cup is empty
    spread: Spread | None  # of the chosen coats on the chosen ground
    problem: str  # why it cannot be predicted, "" when it can


@dataclass(frozen=True, eq=False)
class AsSaved:
    """What a cup is beside what was saved of it."""

    version: Version | None
    changed: bool  # since it was saved or opened
    next_version: int  # that saving would make


@dataclass(frozen=True, eq=False)
class CupSeen:
    """The cup as it stands, and everything that is seen in it."""

    now: CupNow
    contents: Contents
    cup: Cup
    foreseen: Foreseen
    saved: AsSaved
    advice: Sequence[str]  # what to hear before spraying it
    recipes: Sequence[Version]  # the latest, to be sprayed over
    rest: Rest | None  # what a mix with a dye in it has still to wait
    aimed: bool  # it has a target
    pouring: tuple[int, int] | None  # drops that fell and drops that were counted, while it is poured by a count


def revision(connection: sqlite3.Connection) -> int:
    """It grows with every change of the cup."""
    return cups.now(connection).revision


def see(connection: sqlite3.Connection) -> CupSeen:
    """Predict what is in the cup now."""
    now = cups.now(connection)
    held = contents(connection, now.draft)
    cup = cup_of(held)
    columns = columns_of(connection, now.draft)
    chosen = next((column for column in columns if column.key == now.draft.ground), columns[-1])
    if not now.recipe:
        as_saved = AsSaved(None, True, 1)
    else:
        saved, newest = (recipes.version(connection, now.recipe, number) for number in (now.version, None))
        as_saved = AsSaved(saved, now.draft.kept() != saved.draft.kept(), newest.version + 1)
    return CupSeen(
        now=now,
        contents=held,
        cup=cup,
        foreseen=_foreseen(cup, now.draft, columns, chosen, hand=mist.hand(connection)),
        saved=as_saved,
        advice=advice(Situation(cup, chosen.ground, chosen.below, now.draft.nozzle_mm)),
        recipes=offered(connection),
        rest=resting.rest(connection),
        aimed=targets.at_cup(connection) is not None,
        pouring=under_way(connection, now),
    )


def under_way(connection: sqlite3.Connection, now: CupNow) -> tuple[int, int] | None:
    """(drops that fell, drops that were counted) of a cup that is being poured by its count; None of any other."""
    plan = cups.plan_of(connection, now.batch)
    fallen = {part.bottle: part.drops for part in now.draft.parts}
    if all(fallen.get(part.bottle, 0) >= part.drops for part in plan):
        return None
    return now.draft.drops, sum(part.drops for part in plan)


def back_to_counted(connection: sqlite3.Connection, *, at: str) -> bool:
    """Back from the cup: where nothing has fallen yet, it stands as it was counted again; whether it does."""
    with writing(connection):
        standing = cups.now(connection)
        plan = cups.plan_of(connection, standing.batch)
        if standing.draft.drops or not plan:
            return False
        if standing.undo == STARTING:
            cups.move(connection, back=True)
            return True
        aim = targets.number_at_cup(connection)
        batch = cups.new_batch(connection, recipe=standing.recipe, version=standing.version, target=aim)
        counted = replace(standing.draft, parts=tuple(plan))
        cups.append(connection, counted, did=say("going back to the counted cup"), at=at, batch=batch)
        return True


def _foreseen(cup: Cup, draft: Draft, columns: Sequence[Over], chosen: Over, *, hand: Hand) -> Foreseen:
    if cup.empty:
        return Foreseen(None, None, "")
    try:
        seen = strip_of(cup, draft, columns, hand=hand)
        turns = seen.column(draft.ground).has_direction
        return Foreseen(seen, _spread(cup, draft, chosen, hand=hand, turns=turns), "")
    except DiachromError as error:  # it can still be changed, and undone
        return Foreseen(None, None, str(error))


def strip_of(cup: Cup, draft: Draft, over: Sequence[Over], *, hand: Hand) -> Strip:
    """The strip of a cup over these grounds, its coats so many times as thick as meant."""
    return strip(
        cup,
        film_um=hand.film_um(draft.film_um),
        droplet_um=hand.dots_of(cup, draft.film_um, nozzle_mm=draft.nozzle_mm),
        coats=min(max(draft.coats, FEWEST_COATS_SHOWN), MOST_COATS_SHOWN),
        over=over,
        sheen=draft.sheen,
        under=light(draft.light),
        angles_deg=TILTS_DEG,
    )


def columns_of(connection: sqlite3.Connection, draft: Draft) -> list[Over]:
    """The grounds that are always shown, and the draft's own."""
    return [over(connection, key) for key in (*ALWAYS_SHOWN, draft.own_ground)]


def _spread(cup: Cup, draft: Draft, over: Over, *, hand: Hand, turns: bool) -> Spread:
    """Of the chosen coats on the chosen ground; at the glance where the angle matters."""
    return spread(
        [*over.below, hand.layer(cup, draft.film_um, draft.coats, sealed=draft.sealed, nozzle_mm=draft.nozzle_mm)],
        over=over.ground,
        sheen=draft.sheen,
        under=light(draft.light),
        angle_deg=ANGLES_DEG[0] if turns else None,
    )


def _change(connection: sqlite3.Connection, change: Callable[[Draft], tuple[Draft, str]], *, at: str) -> None:
    """Apply a change to the cup as it stands at this moment, whoever else is changing it."""
    with writing(connection):
        standing = cups.now(connection)
        draft, did = change(standing.draft)
        if draft != standing.draft:
            batch = standing.batch or cups.new_batch(connection, target=targets.number_at_cup(connection))
            cups.append(connection, draft, did=did, at=at, batch=batch)


def _drops(count: int, name: str) -> str:
    return say_count(abs(count), "{count} drop of {name}", "{count} drops of {name}", name=name)


def add_bottle(connection: sqlite3.Connection, bottle: int, *, at: str) -> None:
    """Take a bottle from the shelf and let one drop fall. Raises BottleNotFound, BadDrops."""
    found = bottles.one(connection, bottle)
    name = found.full_name
    _change(
        connection,
        lambda draft: (draft.with_bottle(bottle, drop_ml=found.drop_ml, paint=name), _drops(1, name)),
        at=at,
    )


def give(connection: sqlite3.Connection, bottle: int, drops: int, *, at: str) -> None:
    """Let drops of a bottle fall, be it beside the cup already or not. Raises BottleNotFound, BadDrops."""
    found = bottles.one(connection, bottle)
    name = found.full_name

    def change(draft: Draft) -> tuple[Draft, str]:
        beside = any(part.bottle == bottle for part in draft.parts)
        before = draft.part(bottle).drops if beside else 0
        ready = draft if beside else draft.with_bottle(bottle, drop_ml=found.drop_ml, paint=name)
        return ready.with_drops(bottle, before + drops, paint=name), _drops(drops, name)

    _change(connection, change, at=at)


def pour(connection: sqlite3.Connection, bottle: int, drops: int, *, at: str) -> None:
    """Let some drops fall, or take back some that were counted too many; never below none. Raises BadDrops."""
    name = bottles.one(connection, bottle).full_name

    def change(draft: Draft) -> tuple[Draft, str]:
        count = max(0, draft.part(bottle).drops + drops)
        return draft.with_drops(bottle, count, paint=name), _drops(drops, name)

    _change(connection, change, at=at)


def set_drops(connection: sqlite3.Connection, bottle: int, drops: object, *, at: str) -> None:
    """Say how many drops of a bottle are in the cup. Raises BadDrops."""
    name = bottles.one(connection, bottle).full_name
    _change(
        connection,
        lambda draft: (
            draft.with_drops(bottle, drops, paint=name),
            say("{drops} drops in all of {name}", drops=drops, name=name),
        ),
        at=at,
    )


def take_away(connection: sqlite3.Connection, bottle: int, *, at: str) -> None:
    """Take a bottle and its drops out of the recipe."""
    name = bottles.one(connection, bottle).full_name
    _change(connection, lambda draft: (draft.without(bottle), say("taking {name} away", name=name)), at=at)


def spray_as(
    connection: sqlite3.Connection,
    *,
    ground: str | None = None,
    film_um: float | None = None,
    coats: int | None = None,
    surface: str | None = None,
    sealed: bool | None = None,
    at: str,
) -> None:
    """Choose ground, coats, thickness, surface or seal; what is not given stays.

    Raises InvalidInput, UnknownGround and RecipeNotFound.
    """
    if ground is not None:
        over_named(connection, ground)

    def change(draft: Draft) -> tuple[Draft, str]:
        clear_coat, satin = surface_of(draft.surface if surface is None else surface)
        new = draft.sprayed(
            film_um=draft.film_um if film_um is None else film_um,
            coats=draft.coats if coats is None else coats,
            clear_coat=clear_coat,
            sealed=draft.sealed if sealed is None else sealed,
            satin=satin,
        )
        return new if ground is None else new.over(ground), say("the choice of coats and ground")

    _change(connection, change, at=at)


def look_at(
    connection: sqlite3.Connection, *, light_key: str | None = None, nozzle_mm: float | None = None, at: str
) -> None:
    """Choose the light and the nozzle; what is not given stays. Raises InvalidInput and UnknownLight."""

    def change(draft: Draft) -> tuple[Draft, str]:
        new = draft.looked_at(
            light_key=draft.light if light_key is None else light_key,
            nozzle_mm=draft.nozzle_mm if nozzle_mm is None else nozzle_mm,
        )
        return new, say("the choice of light and nozzle")

    _change(connection, change, at=at)


def call_it(connection: sqlite3.Connection, *, name: str, note: str, at: str) -> None:
    """Name the mix and note something about it."""
    _change(connection, lambda draft: (draft.named(name=name, note=note), say("the name and note")), at=at)


def undo(connection: sqlite3.Connection, *, back: bool = True) -> str | None:
    """Take the last step back, or forward again; returns which, None when there is none."""
    with writing(connection):
        return cups.move(connection, back=back)


def start_new(connection: sqlite3.Connection, *, at: str) -> None:
    """Put an empty cup on the bench, keeping how it is sprayed. The old cup comes back by undo.

    One that was not saved is started again: it keeps its target. One that was saved is done, and its target with it.
    """
    with writing(connection):
        standing = cups.now(connection)
        if standing.draft.parts or standing.recipe:
            empty = replace(standing.draft, parts=(), name="", note="")
            batch = cups.new_batch(connection, target=None if standing.recipe else targets.number_at_cup(connection))
            cups.append(connection, empty, did=say("the empty cup"), at=at, batch=batch)


def open_recipe(connection: sqlite3.Connection, recipe: int, version: int | None = None, *, at: str) -> Version:
    """Pour a saved version into the cup, drop for drop. The old cup comes back by undo. Raises RecipeNotFound."""
    with writing(connection):
        saved = recipes.version(connection, recipe, version)
        batch = cups.new_batch(connection, recipe=saved.recipe, version=saved.version)
        bench = cups.now(connection).draft
        draft = replace(saved.draft, light=bench.light, nozzle_mm=bench.nozzle_mm, own_ground=bench.own_ground)
        draft = draft.over(saved.draft.ground)
        cups.append(connection, draft, did=say("opening recipe {recipe}", recipe=recipe), at=at, batch=batch)
    return saved


def save(connection: sqlite3.Connection, *, at: str) -> tuple[Version, bool]:
    """Save the cup as a new recipe, or as the next version of the one it was opened from.

    Returns the version, and whether it is new: saving what is saved already makes no double. Raises InvalidInput.
    """
    with writing(connection):
        standing = cups.now(connection)
        draft = standing.draft.to_save()
        if standing.recipe is None:
            saved_and_newest = []
        else:
            saved_and_newest = [
                recipes.version(connection, standing.recipe, number) for number in (standing.version, None)
            ]
        for known in saved_and_newest:
            if known.draft.kept() == draft:
                cups.link_batch(connection, standing.batch, recipe=known.recipe, version=known.version)
                return known, False
        recipe = standing.recipe or recipes.new_recipe(connection)
        saved = recipes.add_version(connection, draft, recipe=recipe, parent_version=standing.version, at=at)
        stories.keep(connection, saved.recipe, saved.version, story(cups.steps_of(connection, standing.batch)))
        cups.link_batch(connection, standing.batch, recipe=saved.recipe, version=saved.version)
        return saved, True
