"""Taking what was learned: new profiles, drops and the hand in one stroke; and taking it back."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass

from diachrom import clock
from diachrom.core.film.paint import Paint
from diachrom.errors import ChangedSince, InvalidInput
from diachrom.store import bottles, hand_factor, learnings, paints
from diachrom.store import mist as mists
from diachrom.store.connection import writing
from diachrom.store.learnings import Learning, NewDrop, NewProfile
from diachrom.store.mist import Mist
from diachrom.words import say, say_count
from diachrom.work.cards.learning import Lesson, revision
from diachrom.work.kit.looks import look
from diachrom.work.shelf.keeping import keep_profile


def take(connection: sqlite3.Connection, lesson: Lesson, *, at: str) -> int:
    """Returns the number under which it can be undone. Raises InvalidInput, and ChangedSince where cards or shelf
    are not those that it was learned from."""
    if not lesson.helps:
        raise InvalidInput(say("Nothing was learned that helps cards left out; nothing was changed."), field="learning")
    profiles = {
        one.record.id: NewFigures(
            one.version,
            one.after,
            say_count(one.cards, "learned from {count} spray-out card", "learned from {count} spray-out cards"),
        )
        for one in lesson.paints
        if one.taken
    }
    with writing(connection):
        if revision(connection) != lesson.revision:
            raise ChangedSince("shelf", say("or a spray-out card"), say("nothing was changed. Learn again"))
        return put(connection, profiles, lesson, at=at)


@dataclass(frozen=True, eq=False)
class NewFigures:
    """A paint's profile that is to count, the version that counts now, and where the new one comes from."""

    version: int
    paint: Paint
    source: str


def put(
    connection: sqlite3.Connection,
    profiles: Mapping[str, NewFigures],
    lesson: Lesson | None,
    *,
    at: str,
    mist: tuple[Mist, Mist] | None = None,
) -> int:
    """New profiles by paint, a lesson's drops and hand, and another mist, in one stroke. Inside `writing`; returns the
    number under which it can be undone."""
    made = []
    for key, own in profiles.items():
        bead = look(own.paint).bead
        lab = None if bead is None else bead.lab.tolist()
        version = keep_profile(connection, own.paint, paint_id=key, source=own.source, at=at, lab=lab)
        made.append(NewProfile(key, own.version, version))
    drops = [] if lesson is None else lesson.drops
    for drop in drops:
        if bottles.one(connection, drop.bottle.id).drop_ml == drop.counted_ml:
            bottles.change(connection, drop.bottle.id, drop_ml=drop.after_ml)
    times = hand_factor.now(connection)
    hand = (times, times) if lesson is None else lesson.hand
    if hand[1] != times:
        hand_factor.set_to(connection, hand[1], at=at)
    if mist is not None:
        mists.put(connection, mist[1])
    return learnings.add(
        connection,
        cards=0 if lesson is None else lesson.cards,
        profiles=made,
        drops=[NewDrop(one.bottle.id, one.counted_ml, one.after_ml) for one in drops],
        hand=hand,
        delta_e=(0.0, 0.0) if lesson is None else lesson.delta_e,
        mist=mist,
        at=at,
    )


def undo(connection: sqlite3.Connection, *, at: str) -> tuple[Learning, list[str]]:
    """Take the last learning back; returns it, and the paints whose profile is another since and was left alone.

    Raises NotFound where there is none.
    """
    with writing(connection):
        last = learnings.last(connection)
        left = []
        for profile in last.profiles:
            versions = {
                version.version: version.paint for version in paints.profile_versions(connection, profile.paint_id)
            }
            if max(versions) != profile.after:
                left.append(paints.record(connection, profile.paint_id).full_name)
                continue
            source = say("as it was before learning on {today}", today=clock.today(last.at))
            keep_profile(connection, versions[profile.before], paint_id=profile.paint_id, source=source, at=at)
        for drop in last.drops:
            if bottles.one(connection, drop.bottle).drop_ml == drop.after:
                bottles.change(connection, drop.bottle, drop_ml=drop.before)
        if last.mist is not None and mists.now(connection) == last.mist[1]:
            mists.put(connection, last.mist[0])
        if hand_factor.now(connection) == last.hand[1]:
            hand_factor.set_to(connection, last.hand[0], at=at)
        learnings.undone(connection, last.id, at=at)
        return last, left


def every(connection: sqlite3.Connection) -> list[learnings.Learning]:
    """What was taken, be it taken back since or not."""
    return learnings.every(connection)
