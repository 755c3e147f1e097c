-- How this bench reads figures and days: what was chosen, by its key.
CREATE TABLE setting (
    key TEXT PRIMARY KEY CHECK (length(key) BETWEEN 1 AND 40),
    value TEXT NOT NULL
) STRICT, WITHOUT ROWID;
