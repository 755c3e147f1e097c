"""A family of the mix in the cup: light, middle and dark, one after the other; each may become a recipe."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.mix.draft import Draft, Part
from diachrom.core.mix.family import Family, FamilyBuilder, Member
from diachrom.core.mix.scaling import times_in_whole_drops
from diachrom.core.mix.strip import Strip
from diachrom.errors import EmptyCup, InvalidInput
from diachrom.store import cups, mist, recipes
from diachrom.store.bottles import Bottle
from diachrom.store.connection import writing
from diachrom.words import listed, quantity, say
from diachrom.work.mix.candidates import Candidate, in_stock, where_sprayed
from diachrom.work.mix.contents import Contents, contents, cup_of
from diachrom.work.mix.cup import columns_of, strip_of
from diachrom.work.shelf.on_shelf import OnShelf, on_shelf

USUAL_STEP, USUAL_ML = 8.0, 1.0


@dataclass(frozen=True)
class WantedFamily:
    """How a family is made."""

    given: str = "middle"  # which of them the cup is
    step: float = USUAL_STEP  # dE
    needs_ml: tuple[float, float, float] = (USUAL_ML, USUAL_ML, USUAL_ML)  # light, middle, dark


@dataclass(frozen=True, eq=False)
class MemberSeen:
    member: Member
    added: Sequence[tuple[OnShelf, int]]  # what is poured in for it
    draft: Draft  # the same mix by itself, in whole drops
    strip: Strip


@dataclass(frozen=True, eq=False)
class FamilySeen:
    contents: Contents
    family: Family
    members: Sequence[MemberSeen]


def see(connection: sqlite3.Connection, wanted: WantedFamily) -> FamilySeen:
    """Of the cup on the bench. Raises EmptyCup, and InvalidInput where no bottle leads there."""
    draft = cups.now(connection).draft
    held = contents(connection, draft)
    if cup_of(held).only_thinner:
        raise EmptyCup(say("making a family of it"))
    # What is in stock, with the bottles that stand beside the cup and drip as they were counted.
    beside = [
        Candidate(row.bottle.paint_id, -1, row.paint, part.drop_ml, row.bottle)
        for part in held.draft.parts
        for row in [held.shelf[part.bottle]]
    ]
    shelf = beside + [
        candidate
        for candidate in in_stock(connection)
        if candidate.bottle and candidate.key not in {own.key for own in beside}
    ]
    places = {one.bottle.id: index for index, one in enumerate(shelf) if one.bottle}
    makers = FamilyBuilder(
        [one.paint for one in shelf],
        [one.drop_ml for one in shelf],
        [(places[part.bottle], part.drops) for part in draft.parts],
        where_sprayed(connection, draft),
    )
    found = makers.family(needs_ml=wanted.needs_ml, step=wanted.step, given=wanted.given)
    bottles = [one.bottle for one in shelf if one.bottle]
    rows = on_shelf(connection, [bottle.id for bottle in bottles])
    return FamilySeen(held, found, [_member(connection, member, bottles, rows, draft) for member in found.members])


def _member(
    connection: sqlite3.Connection, member: Member, bottles: Sequence[Bottle], rows: dict[int, OnShelf], bench: Draft
) -> MemberSeen:
    added = [(rows[bottles[index].id], drops) for index, drops in member.added]
    inside = np.flatnonzero(member.volumes > member.volumes.sum() / 500).tolist()
    sizes = [bottles[at].drop_ml for at in inside]
    smallest = min(member.volumes[inside] / np.array(sizes))
    _, counts = times_in_whole_drops(
        [(float(member.volumes[at] / smallest), size) for at, size in zip(inside, sizes, strict=True)]
    )
    parts = tuple(Part(bottles[at].id, drops, size) for at, drops, size in zip(inside, counts, sizes, strict=True))
    draft = replace(bench, parts=parts, name=f"{bench.name}, {member.name}" if bench.name else member.name)
    strip = strip_of(
        cup_of(contents(connection, draft)), draft, columns_of(connection, draft)[:3], hand=mist.hand(connection)
    )
    return MemberSeen(member, added, draft, strip)


def save(connection: sqlite3.Connection, wanted: WantedFamily, *, at: str) -> list[int]:
    """Each of the family as a recipe of its own; returns their numbers. Raises what `see` raises."""
    family_seen = see(connection, wanted)
    base = family_seen.contents.draft.name.strip()
    if not base:
        raise InvalidInput(say("Name the mix first: its family is named after it."), field="name")
    order = " - ".join(one.member.name for one in family_seen.members)
    numbers = []
    with writing(connection):
        for member in family_seen.members:
            note = say("One of a family poured from one cup: {order}. {told}", order=order, told=_told(member))
            draft = replace(member.draft, note=note[:2000], name=member.draft.name[:80]).to_save()
            number = recipes.new_recipe(connection)
            recipes.add_version(connection, draft, recipe=number, parent_version=None, at=at)
            numbers.append(number)
    return numbers


def _told(member: MemberSeen) -> str:
    some = listed(f"{drops} {row.bottle.full_name}" for row, drops in member.added)
    return say(
        "In its turn {some} went into a cup of {cup}.", some=some, cup=quantity(member.member.cup_ml, ".2f", "ml")
    )
