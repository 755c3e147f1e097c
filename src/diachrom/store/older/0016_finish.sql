-- Photos of both sides, eyes in stock, tins and jars that were opened.
CREATE TABLE session_photo (
    photo INTEGER PRIMARY KEY REFERENCES photo (id),
    session INTEGER NOT NULL REFERENCES session (number),
    side TEXT NOT NULL CHECK (side IN ('left', 'right')),
    bait INTEGER NOT NULL,
    marks TEXT NOT NULL DEFAULT 'null' -- grey patch, nose, tail: pixels (JSON)
) STRICT;
CREATE INDEX session_photo_of ON session_photo (session);
CREATE TABLE eye_stock (
    id INTEGER PRIMARY KEY,
    size_mm REAL NOT NULL CHECK (size_mm BETWEEN 0.5 AND 60),
    kind TEXT NOT NULL CHECK (length(trim(kind)) BETWEEN 1 AND 80),
    pairs INTEGER NOT NULL CHECK (pairs BETWEEN -10000 AND 10000),
    UNIQUE (size_mm, kind)
) STRICT;
CREATE TABLE opened_tin (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
    school TEXT NOT NULL,
    opened_on TEXT NOT NULL, -- a day
    sealed TEXT NOT NULL DEFAULT '',
    keeps_days INTEGER NOT NULL CHECK (keeps_days BETWEEN 1 AND 5000),
    gone INTEGER NOT NULL DEFAULT 0 CHECK (gone IN (0, 1))
) STRICT;
