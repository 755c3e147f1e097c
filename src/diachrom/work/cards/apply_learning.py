"""Taking what was learned: new profiles, drops and the hand in one stroke; and taking it back."""

import sqlite3

from diachrom import clock
from diachrom.errors import ChangedSince, InvalidInput
from diachrom.store import bottles, hand_factor, learnings, paints
from diachrom.store.connection import writing
from diachrom.store.learnings import Learning, NewDrop, NewProfile
from diachrom.words import say, say_count
from diachrom.work.cards.learning import Lesson, revision
from diachrom.work.kit.looks import look
from diachrom.work.shelf.keeping import keep_profile


def take(connection: sqlite3.Connection, lesson: Lesson, *, at: str) -> int:
    """Returns the number under which it can be undone. Raises InvalidInput, and ChangedSince where cards or shelf
    are not those that it was learned from."""
    if not lesson.helps:
        raise InvalidInput(say("Nothing was learned that helps cards left out; nothing was changed."), field="learning")
    taken = [paint for paint in lesson.paints if paint.taken]
    beads = [look(one.after).bead for one in taken]
    with writing(connection):
        if revision(connection) != lesson.revision:
            raise ChangedSince("shelf", say("or a spray-out card"), say("nothing was changed. Learn again"))
        profiles = []
        for change, bead in zip(taken, beads, strict=True):
            version = keep_profile(
                connection,
                change.after,
                paint_id=change.record.id,
                source=say_count(
                    change.cards, "learned from {count} spray-out card", "learned from {count} spray-out cards"
                ),
                at=at,
                lab=None if bead is None else bead.lab.tolist(),
            )
            profiles.append(NewProfile(change.record.id, change.version, version))
        for drop in lesson.drops:
            if bottles.one(connection, drop.bottle.id).drop_ml == drop.counted_ml:
                bottles.change(connection, drop.bottle.id, drop_ml=drop.after_ml)
        hand_factor.set_to(connection, lesson.hand[1], at=at)
        return learnings.add(
            connection,
            cards=lesson.cards,
            profiles=profiles,
            drops=[NewDrop(one.bottle.id, one.counted_ml, one.after_ml) for one in lesson.drops],
            hand=lesson.hand,
            delta_e=lesson.delta_e,
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
        if hand_factor.now(connection) == last.hand[1]:
            hand_factor.set_to(connection, last.hand[0], at=at)
        learnings.undone(connection, last.id, at=at)
        return last, left


def every(connection: sqlite3.Connection) -> list[learnings.Learning]:
    """What was taken, be it taken back since or not."""
    return learnings.every(connection)
