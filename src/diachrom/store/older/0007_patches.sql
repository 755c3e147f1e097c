-- A test card has patches: on a ground, so many coats; no coat at all is the ground itself, bare.
CREATE TABLE spray_patch (
    id INTEGER PRIMARY KEY,
    spray_out INTEGER NOT NULL REFERENCES spray_out (id),
    ground TEXT NOT NULL,
    coats INTEGER NOT NULL CHECK (coats BETWEEN 0 AND 50),
    UNIQUE (spray_out, ground, coats)
) STRICT;
INSERT INTO spray_patch (id, spray_out, ground, coats)
SELECT spray_field.id, spray_out.id, spray_field.ground, json_extract(spray_out.draft, '$.coats')
FROM spray_field JOIN spray_out ON spray_out.id = spray_field.spray_out;

CREATE TABLE patch_reading (
    id INTEGER PRIMARY KEY,
    patch INTEGER NOT NULL REFERENCES spray_patch (id),
    at TEXT NOT NULL,
    source TEXT NOT NULL,
    lab TEXT CHECK (json_array_length(lab) = 3), -- NULL for what the eye says
    words TEXT NOT NULL DEFAULT '',
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1)),
    predicted TEXT CHECK (json_array_length(predicted) = 3) -- what was predicted when it was read
) STRICT;
INSERT INTO patch_reading (id, patch, at, source, lab, words, counts)
SELECT id, field, at, source, lab, words, counts FROM spray_reading;
CREATE INDEX patch_reading_patch ON patch_reading (patch);
DROP TABLE spray_reading;
DROP TABLE spray_field;

-- How the card was sprayed beside what its draft says; and whether it is learned from.
ALTER TABLE spray_out ADD COLUMN nozzle_mm REAL CHECK (nozzle_mm BETWEEN 0.1 AND 3);
ALTER TABLE spray_out ADD COLUMN pressure_bar REAL CHECK (pressure_bar BETWEEN 0.1 AND 10);
ALTER TABLE spray_out ADD COLUMN reduction REAL NOT NULL DEFAULT 0 CHECK (reduction BETWEEN 0 AND 0.9);
ALTER TABLE spray_out ADD COLUMN photo INTEGER REFERENCES photo (id);
ALTER TABLE spray_out ADD COLUMN counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1));

-- What was learned from the cards and taken: what it changed, so that it can be undone.
CREATE TABLE learning (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    document TEXT NOT NULL CHECK (json_valid(document)),
    undone_at TEXT
) STRICT;

-- The painter's hand: how many times as thick as meant its coats are. The newest counts.
CREATE TABLE hand (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    times REAL NOT NULL CHECK (times BETWEEN 0.2 AND 5)
) STRICT;

-- Rounds of guessing drops by eye. A number is never used twice: a page left open must not guess another round.
CREATE TABLE trainer_round (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at TEXT NOT NULL,
    skill TEXT NOT NULL,
    level INTEGER NOT NULL CHECK (level BETWEEN 1 AND 9),
    document TEXT NOT NULL CHECK (json_valid(document)), -- the bottles, the target's drops, how it is sprayed
    guess TEXT CHECK (guess IS NULL OR json_valid(guess)), -- drops; NULL while it is open
    delta_e REAL CHECK (delta_e >= 0)
) STRICT;
