-- Presses that were counted, each by an id of its own: one that is sent again is not counted again.
CREATE TABLE tap (
    at INTEGER PRIMARY KEY AUTOINCREMENT,
    id TEXT NOT NULL UNIQUE CHECK (length(id) BETWEEN 1 AND 80)
) STRICT;

-- The number of a file that waits is never used twice: what was written under it is remembered while the server runs.
CREATE TABLE import_waits (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at TEXT NOT NULL,
    name TEXT NOT NULL,
    content BLOB NOT NULL
) STRICT;
INSERT INTO import_waits (id, at, name, content) SELECT id, at, name, content FROM import_waiting;
DROP TABLE import_waiting;
ALTER TABLE import_waits RENAME TO import_waiting;

-- A target stands beside a cup: beside the one that it was put on the bench with, and those that came of it.
ALTER TABLE cup_batch ADD COLUMN target INTEGER REFERENCES target (id);
UPDATE cup_batch SET target = (SELECT target_id FROM aim)
WHERE id = (SELECT batch FROM cup JOIN cup_step USING (seq));
