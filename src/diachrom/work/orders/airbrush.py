"""What is in the airbrush."""

import sqlite3

from diachrom.store import sessions

MOST_SESSIONS = 4
COLD_S = 6 * 3600.0  # after which nobody has left paint in an airbrush
NOT_SPRAYED = ("make", "weigh", "clear", "mend")


def loaded(connection: sqlite3.Connection, now_s: float) -> tuple[str, ...]:
    """The mix that is in the airbrush of the session that was last at work, as a schedule knows it; nothing where it
    was cleaned since, has ended, or was left alone for hours."""
    every = sessions.under_way(connection, MOST_SESSIONS)
    own = [one for one in every if one.state.last is not None and now_s - COLD_S < one.state.last <= now_s + 60]
    latest = max(own, key=lambda one: one.state.last or 0.0, default=None)
    if latest is None:
        return ()
    run = latest.state.run(latest.script)[: latest.state.position]
    for step in reversed(run):
        if step.key not in latest.state.done:
            continue
        if step.kind in ("clean", "rinse"):
            return ()
        if step.mix and step.kind not in NOT_SPRAYED:
            return (step.mix,)
    return ()
