-- Nets, combs, stencils, tape, sponges and brushes of the bench: what a layer's mask is made with.
CREATE TABLE bench_tool (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL CHECK (length(kind) BETWEEN 1 AND 40),
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
    size_mm REAL NOT NULL CHECK (size_mm BETWEEN 0 AND 400),
    gap_mm REAL NOT NULL DEFAULT 0 CHECK (gap_mm BETWEEN 0 AND 400),
    teeth INTEGER NOT NULL DEFAULT 1 CHECK (teeth BETWEEN 1 AND 9),
    stencil TEXT NOT NULL DEFAULT '' CHECK (length(stencil) <= 200),
    pieces INTEGER NOT NULL DEFAULT 1 CHECK (pieces BETWEEN 1 AND 999),
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1))
) STRICT;
