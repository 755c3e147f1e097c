-- What a script may do that comes from elsewhere with a key; '' for a device.
ALTER TABLE device ADD COLUMN may TEXT NOT NULL DEFAULT '' CHECK (may IN ('', 'read', 'write'));

-- What scripts were answered when they wrote: whoever sends the same once more is answered the same.
CREATE TABLE script_answer (
    id INTEGER PRIMARY KEY,
    asker INTEGER NOT NULL,
    key TEXT NOT NULL CHECK (length(key) BETWEEN 1 AND 200),
    asked TEXT NOT NULL,
    status INTEGER NOT NULL,
    body TEXT NOT NULL,
    UNIQUE (asker, key)
) STRICT;
