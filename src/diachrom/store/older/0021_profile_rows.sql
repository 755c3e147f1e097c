-- Profiles are long rows: in a table by rowid two of them fill a page, where each had one of its own.
CREATE TABLE held_colour AS SELECT * FROM paint_colour;
DELETE FROM paint_colour;
CREATE TABLE profile_now (
    paint_id TEXT NOT NULL REFERENCES paint (id),
    version INTEGER NOT NULL CHECK (version >= 1),
    absorption TEXT NOT NULL CHECK (json_array_length(absorption) = 36),
    scattering TEXT NOT NULL CHECK (json_array_length(scattering) = 36),
    uncertainty REAL NOT NULL CHECK (uncertainty BETWEEN 0 AND 1),
    source TEXT NOT NULL,
    at TEXT NOT NULL,
    optics TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(optics)),
    uncertain_nm TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(uncertain_nm)),
    PRIMARY KEY (paint_id, version)
) STRICT;
INSERT INTO profile_now SELECT * FROM paint_profile;
DROP TRIGGER paint_profile_stays;
DROP TRIGGER paint_profile_is_kept;
DROP TRIGGER paint_profile_new;
DROP TABLE paint_profile;
ALTER TABLE profile_now RENAME TO paint_profile;
CREATE TRIGGER paint_profile_stays BEFORE UPDATE ON paint_profile
BEGIN SELECT RAISE (ABORT, 'a profile never changes'); END;
CREATE TRIGGER paint_profile_is_kept BEFORE DELETE ON paint_profile
BEGIN SELECT RAISE (ABORT, 'a profile never changes'); END;
CREATE TRIGGER paint_profile_new AFTER INSERT ON paint_profile
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'profiles'; END;
INSERT INTO paint_colour SELECT * FROM held_colour;
DROP TABLE held_colour;
