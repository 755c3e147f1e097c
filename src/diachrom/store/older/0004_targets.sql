-- Colours to be matched: where each came from, and how it was seen.
CREATE TABLE target (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    name TEXT NOT NULL,
    source TEXT NOT NULL,
    ground TEXT NOT NULL DEFAULT '', -- what it lay on, where that is known
    clear_coat INTEGER CHECK (clear_coat IN (0, 1)), -- NULL where it is not known
    views TEXT NOT NULL CHECK (json_valid(views)), -- aspecular angles; null is a look without a direction
    labs TEXT NOT NULL CHECK (json_array_length(labs) = json_array_length(views)), -- L, a, b in each view
    reflectance TEXT CHECK (json_array_length(reflectance) = 36), -- where a spectrum is known
    gone INTEGER NOT NULL DEFAULT 0 CHECK (gone IN (0, 1))
) STRICT;

-- The target on the bench, and how it is being matched.
CREATE TABLE aim (
    id INTEGER PRIMARY KEY CHECK (id = 1),
    target_id INTEGER REFERENCES target (id),
    settings TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(settings))
) STRICT;
INSERT INTO aim (id) VALUES (1);
