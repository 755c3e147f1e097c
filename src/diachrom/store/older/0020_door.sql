-- Codes that pair a device lie beside the devices, so that every server of a folder knows them; and whether a device is
-- a browser of this machine itself.
ALTER TABLE device ADD COLUMN here INTEGER NOT NULL DEFAULT 0 CHECK (here IN (0, 1));
CREATE TABLE pairing_code (
    digest TEXT PRIMARY KEY,
    until INTEGER NOT NULL, -- seconds since 1970
    here INTEGER NOT NULL CHECK (here IN (0, 1))
) STRICT;
