-- Plans of painted baits. A saved version never changes; what is under way is kept step by step.
CREATE TABLE plan (
    number INTEGER PRIMARY KEY,
    seq INTEGER NOT NULL DEFAULT 0, -- the step at which it stands
    revision INTEGER NOT NULL DEFAULT 0, -- grows with every change, undo included
    opened TEXT NOT NULL, -- when it was last worked on
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1))
) STRICT;
CREATE TABLE plan_step (
    plan INTEGER NOT NULL REFERENCES plan (number),
    seq INTEGER NOT NULL,
    at TEXT NOT NULL,
    did TEXT NOT NULL,
    document TEXT NOT NULL,
    PRIMARY KEY (plan, seq)
) STRICT, WITHOUT ROWID;
CREATE TABLE plan_version (
    plan INTEGER NOT NULL REFERENCES plan (number),
    version INTEGER NOT NULL CHECK (version > 0),
    parent_version INTEGER,
    at TEXT NOT NULL,
    name TEXT NOT NULL CHECK (length(trim(name)) > 0),
    note TEXT NOT NULL,
    document TEXT NOT NULL,
    PRIMARY KEY (plan, version)
) STRICT, WITHOUT ROWID;
-- Outlines of one's own: blanks, seen from the side and from the back, and stencils, in mm.
CREATE TABLE drawing (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL CHECK (kind IN ('blank', 'stencil')),
    name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
    document TEXT NOT NULL,
    at TEXT NOT NULL,
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1))
) STRICT;
-- A photo that a plan is made after: where nose and tail are in it, and the zones that were found (JSON).
CREATE TABLE reference (
    id INTEGER PRIMARY KEY,
    photo INTEGER NOT NULL REFERENCES photo (id),
    ends TEXT NOT NULL,
    zones TEXT NOT NULL,
    at TEXT NOT NULL
) STRICT;
