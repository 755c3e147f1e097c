-- One sheet for many paints: numbered pairs of fields, what a photo showed of them, what came of it and what was taken.
CREATE TABLE shelf_sheet (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at TEXT NOT NULL,
    film_um REAL NOT NULL CHECK (film_um > 0),
    clear_coat INTEGER NOT NULL DEFAULT 1 CHECK (clear_coat IN (0, 1)),
    bare TEXT NOT NULL DEFAULT '[]',
    photo TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE TABLE shelf_sheet_pair (
    sheet_id INTEGER NOT NULL REFERENCES shelf_sheet (id),
    number INTEGER NOT NULL CHECK (number >= 1),
    paint_id TEXT NOT NULL REFERENCES paint (id),
    fields TEXT NOT NULL DEFAULT '[]',
    found TEXT NOT NULL DEFAULT '{}',
    before INTEGER,
    after INTEGER,
    undone INTEGER NOT NULL DEFAULT 0 CHECK (undone IN (0, 1)),
    PRIMARY KEY (sheet_id, number)
) STRICT;
CREATE INDEX shelf_sheet_pair_paint ON shelf_sheet_pair (paint_id);
