"""Another profile of a paint, as its next version: an earlier one again, or another guess."""

import sqlite3
from collections.abc import Mapping

from diachrom.errors import InvalidInput
from diachrom.store import paints
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.shelf import guessing
from diachrom.work.shelf.keeping import keep_profile


def go_back_to(connection: sqlite3.Connection, paint_id: str, version: int, *, at: str) -> int:
    """Let an earlier profile count again, as the paint's next version; returns its number."""
    with writing(connection):
        versions = paints.profile_versions(connection, paint_id)
        old = next((one for one in versions if one.version == version), None)
        if old is None:
            raise InvalidInput(say("There is no version {version} of that profile.", version=version), field="version")
        source = say("version {version} again", version=version)
        return keep_profile(
            connection, old.paint, paint_id=paint_id, source=source, at=at, uncertain_nm=old.uncertain_nm
        )


def guess_again(connection: sqlite3.Connection, paint_id: str, given: Mapping[str, str], *, at: str) -> int:
    """Another guess from one colour and the kind, as the paint's next version. Raises PaintNotFound, InvalidInput."""
    record = paints.record(connection, paint_id)
    if not given.get("colour", "").strip():
        raise InvalidInput(say("{full_name}: say its colour as #rrggbb.", full_name=record.full_name), field="colour")
    profile, source = guessing.profile(record.full_name, record.kind, given)
    with writing(connection):
        return keep_profile(connection, profile, paint_id=paint_id, source=source, at=at)
