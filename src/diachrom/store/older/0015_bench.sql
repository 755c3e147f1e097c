-- Sessions at the bench: what was planned when each began, and everything that happened, appended.
CREATE TABLE session (
    number INTEGER PRIMARY KEY,
    bait_order INTEGER REFERENCES bait_order (number),
    name TEXT NOT NULL,
    at TEXT NOT NULL,
    script TEXT NOT NULL, -- JSON, never changed
    seq INTEGER NOT NULL DEFAULT 0, -- of the last event
    state TEXT NOT NULL DEFAULT '{}', -- after it: what the events come to (JSON)
    ended TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE TABLE session_event (
    session INTEGER NOT NULL REFERENCES session (number),
    seq INTEGER NOT NULL,
    at TEXT NOT NULL,
    body TEXT NOT NULL, -- JSON
    PRIMARY KEY (session, seq)
) STRICT, WITHOUT ROWID;
