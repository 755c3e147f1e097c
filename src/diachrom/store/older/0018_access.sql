-- Who may come in from the network: devices that were paired or signed in, and links for customers. What lets them in
-- is kept as its digest alone.
CREATE TABLE device (
    number INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    name TEXT NOT NULL,
    digest TEXT NOT NULL UNIQUE,
    entry INTEGER -- of the log, for a link that shows its customer's page and nothing else
) STRICT;
CREATE TABLE passphrase (
    one INTEGER PRIMARY KEY CHECK (one = 1),
    digest TEXT NOT NULL
) STRICT;
-- Photos are kept as JPEG; those of before stay what they are.
ALTER TABLE photo RENAME COLUMN png TO picture;
