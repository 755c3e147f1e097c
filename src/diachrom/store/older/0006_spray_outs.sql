-- Spray-outs: what was sprayed on a test card, and what was read from each of its fields. Nothing read is lost.
CREATE TABLE spray_out (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    recipe INTEGER,
    version INTEGER,
    draft TEXT NOT NULL CHECK (json_valid(draft)), -- the mix as it was poured, and how it was sprayed
    note TEXT NOT NULL DEFAULT '',
    FOREIGN KEY (recipe, version) REFERENCES recipe_version (recipe, version)
) STRICT;
CREATE INDEX spray_out_recipe ON spray_out (recipe) WHERE recipe IS NOT NULL;

CREATE TABLE spray_field (
    id INTEGER PRIMARY KEY,
    spray_out INTEGER NOT NULL REFERENCES spray_out (id),
    ground TEXT NOT NULL,
    UNIQUE (spray_out, ground)
) STRICT;

CREATE TABLE spray_reading (
    id INTEGER PRIMARY KEY,
    field INTEGER NOT NULL REFERENCES spray_field (id),
    at TEXT NOT NULL,
    source TEXT NOT NULL,
    lab TEXT CHECK (json_array_length(lab) = 3), -- NULL for what the eye says
    words TEXT NOT NULL DEFAULT '',
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1))
) STRICT;
CREATE INDEX spray_reading_field ON spray_reading (field);
