-- The log: what was finished, how it fared since, and photos that were brought to it.
CREATE TABLE log_entry (
    number INTEGER PRIMARY KEY,
    at TEXT NOT NULL, -- when it was finished
    session INTEGER REFERENCES session (number), -- that it came of; none for a bait painted before
    line INTEGER NOT NULL DEFAULT 0, -- of the session's order
    plan INTEGER REFERENCES plan (number),
    version INTEGER,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
    baits INTEGER NOT NULL CHECK (baits BETWEEN 1 AND 500),
    customer TEXT NOT NULL DEFAULT '',
    wish TEXT NOT NULL DEFAULT '',
    price REAL CHECK (price BETWEEN 0 AND 1e6),
    clear TEXT NOT NULL DEFAULT '',
    weight_g REAL CHECK (weight_g > 0 AND weight_g < 1e5), -- of a bait
    note TEXT NOT NULL DEFAULT '',
    minutes REAL NOT NULL DEFAULT 0 CHECK (minutes >= 0), -- at the bench
    words TEXT NOT NULL DEFAULT '', -- all that it is found by, in small letters; before what is long
    told TEXT NOT NULL DEFAULT '{}', -- planned beside done, paint used, what was not as planned (JSON)
    UNIQUE (session, line)
) STRICT;
CREATE INDEX log_entry_plan ON log_entry (plan);
CREATE INDEX log_entry_found ON log_entry (at DESC, number DESC, words); -- to look through without what is long
CREATE TABLE log_fault (
    id INTEGER PRIMARY KEY,
    entry INTEGER NOT NULL REFERENCES log_entry (number),
    at TEXT NOT NULL, -- the day on which it was told
    fault TEXT NOT NULL,
    note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX log_fault_of ON log_fault (entry);
CREATE TABLE log_photo (
    photo INTEGER PRIMARY KEY REFERENCES photo (id),
    entry INTEGER NOT NULL REFERENCES log_entry (number),
    side TEXT NOT NULL CHECK (side IN ('left', 'right'))
) STRICT;
CREATE INDEX log_photo_of ON log_photo (entry);
