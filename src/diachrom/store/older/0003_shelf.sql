-- What a paint asks for, what it costs, and where it went: into another one (a double), or off the shelf.
ALTER TABLE paint ADD COLUMN nozzle_mm REAL CHECK (nozzle_mm BETWEEN 0.1 AND 3);
ALTER TABLE paint ADD COLUMN pressure_bar REAL CHECK (pressure_bar BETWEEN 0.1 AND 10);
ALTER TABLE paint ADD COLUMN needs_under TEXT NOT NULL DEFAULT '';
ALTER TABLE paint ADD COLUMN needs_in TEXT NOT NULL DEFAULT '';
ALTER TABLE paint ADD COLUMN needs_over TEXT NOT NULL DEFAULT '';
ALTER TABLE paint ADD COLUMN thinner TEXT NOT NULL DEFAULT '';
ALTER TABLE paint ADD COLUMN price REAL CHECK (price >= 0);
ALTER TABLE paint ADD COLUMN density REAL CHECK (density BETWEEN 0.5 AND 5);
ALTER TABLE paint ADD COLUMN retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1));
ALTER TABLE paint ADD COLUMN merged_into TEXT REFERENCES paint (id);
-- A mix of one's own, kept in a jar, is a paint that knows its recipe.
ALTER TABLE paint ADD COLUMN recipe INTEGER REFERENCES recipe (number);
ALTER TABLE paint ADD COLUMN version INTEGER;

-- Where two measurements alone did not tell, in nm; and a profile stays as it was saved.
ALTER TABLE paint_profile ADD COLUMN uncertain_nm TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(uncertain_nm));
CREATE TRIGGER paint_profile_stays BEFORE UPDATE ON paint_profile
BEGIN SELECT RAISE (ABORT, 'a profile never changes'); END;
CREATE TRIGGER paint_profile_is_kept BEFORE DELETE ON paint_profile
BEGIN SELECT RAISE (ABORT, 'a profile never changes'); END;

-- The colour that a profile is found by: that of its bead. It follows from the profile and is computed again when missing.
CREATE TABLE paint_colour (
    paint_id TEXT NOT NULL,
    version INTEGER NOT NULL,
    l REAL NOT NULL,
    a REAL NOT NULL,
    b REAL NOT NULL,
    PRIMARY KEY (paint_id, version),
    FOREIGN KEY (paint_id, version) REFERENCES paint_profile (paint_id, version)
) STRICT, WITHOUT ROWID;

-- More states, in place of the old ones.
ALTER TABLE bottle ADD COLUMN condition TEXT NOT NULL DEFAULT 'open'
    CHECK (condition IN ('sealed', 'open', 'settled', 'thick', 'nearly gone', 'empty', 'unreadable label'));
UPDATE bottle SET condition = CASE state WHEN 'new' THEN 'sealed' ELSE state END;
ALTER TABLE bottle DROP COLUMN state;
ALTER TABLE bottle RENAME COLUMN condition TO state;
ALTER TABLE bottle ADD COLUMN batch TEXT NOT NULL DEFAULT '';
ALTER TABLE bottle ADD COLUMN place TEXT NOT NULL DEFAULT '';
ALTER TABLE bottle ADD COLUMN bought_on TEXT;
ALTER TABLE bottle ADD COLUMN opened_on TEXT;
ALTER TABLE bottle ADD COLUMN shaken_on TEXT;
ALTER TABLE bottle ADD COLUMN retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1));

-- The ledger says by which mix; what is left is kept beside the bottle by the ledger itself, which only grows.
ALTER TABLE stock_entry ADD COLUMN recipe INTEGER REFERENCES recipe (number);
ALTER TABLE stock_entry ADD COLUMN version INTEGER;
ALTER TABLE stock_entry ADD COLUMN cup_batch INTEGER REFERENCES cup_batch (id);
ALTER TABLE bottle ADD COLUMN left_ml REAL NOT NULL DEFAULT 0;
UPDATE bottle SET left_ml = coalesce((SELECT sum(ml) FROM stock_entry WHERE bottle_id = bottle.id), 0.0);
DROP INDEX stock_entry_bottle;
CREATE INDEX stock_entry_bottle ON stock_entry (bottle_id, at);
CREATE INDEX stock_entry_batch ON stock_entry (cup_batch) WHERE cup_batch IS NOT NULL;
CREATE TRIGGER stock_entry_counts AFTER INSERT ON stock_entry
BEGIN UPDATE bottle SET left_ml = left_ml + NEW.ml WHERE id = NEW.bottle_id; END;
CREATE TRIGGER stock_entry_stays BEFORE UPDATE ON stock_entry
BEGIN SELECT RAISE (ABORT, 'the ledger only grows'); END;
CREATE TRIGGER stock_entry_is_kept BEFORE DELETE ON stock_entry
BEGIN SELECT RAISE (ABORT, 'the ledger only grows'); END;

-- A number that moves with every change of the shelf, so that what was read once need not be read again.
CREATE TABLE shelf_revision (id INTEGER PRIMARY KEY CHECK (id = 1), n INTEGER NOT NULL) STRICT;
INSERT INTO shelf_revision VALUES (1, 0);
CREATE TRIGGER paint_new AFTER INSERT ON paint BEGIN UPDATE shelf_revision SET n = n + 1; END;
CREATE TRIGGER paint_changed AFTER UPDATE ON paint BEGIN UPDATE shelf_revision SET n = n + 1; END;
CREATE TRIGGER bottle_new AFTER INSERT ON bottle BEGIN UPDATE shelf_revision SET n = n + 1; END;
CREATE TRIGGER bottle_changed AFTER UPDATE ON bottle BEGIN UPDATE shelf_revision SET n = n + 1; END;
CREATE TRIGGER paint_profile_new AFTER INSERT ON paint_profile BEGIN UPDATE shelf_revision SET n = n + 1; END;

-- What was done to the shelf, with the rows as they were and as they became, so that it can be undone and done again.
CREATE TABLE shelf_step (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    did TEXT NOT NULL,
    undone INTEGER NOT NULL DEFAULT 0 CHECK (undone IN (0, 1))
) STRICT;
CREATE TABLE shelf_change (
    id INTEGER PRIMARY KEY,
    step INTEGER NOT NULL REFERENCES shelf_step (id),
    noun TEXT NOT NULL CHECK (noun IN ('paint', 'bottle', 'stock_entry')),
    row_id TEXT NOT NULL,
    was TEXT NOT NULL CHECK (json_valid(was)),
    became TEXT NOT NULL CHECK (json_valid(became))
) STRICT;
CREATE INDEX shelf_change_step ON shelf_change (step);

-- A contrast card under way: how it was sprayed, and every reading of its fields.
CREATE TABLE card (
    id INTEGER PRIMARY KEY,
    paint_id TEXT NOT NULL REFERENCES paint (id),
    at TEXT NOT NULL,
    film_um REAL NOT NULL CHECK (film_um > 0),
    coats INTEGER NOT NULL CHECK (coats >= 1),
    clear_coat INTEGER NOT NULL CHECK (clear_coat IN (0, 1)),
    version INTEGER -- of the profile that came of it
) STRICT;
CREATE INDEX card_paint ON card (paint_id);
CREATE TABLE card_reading (
    id INTEGER PRIMARY KEY,
    card_id INTEGER NOT NULL REFERENCES card (id),
    field TEXT NOT NULL CHECK (field IN ('white', 'black', 'over_white', 'over_black')),
    at TEXT NOT NULL,
    source TEXT NOT NULL,
    reflectance TEXT NOT NULL CHECK (json_array_length(reflectance) = 36),
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1)) -- 0 when it was set aside
) STRICT;
CREATE INDEX card_reading_card ON card_reading (card_id);

-- Counted drops that were weighed or measured.
CREATE TABLE drop_weighing (
    id INTEGER PRIMARY KEY,
    bottle_id INTEGER NOT NULL REFERENCES bottle (id),
    at TEXT NOT NULL,
    drops INTEGER NOT NULL CHECK (drops >= 1),
    ml REAL NOT NULL CHECK (ml > 0),
    source TEXT NOT NULL,
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1))
) STRICT;
CREATE INDEX drop_weighing_bottle ON drop_weighing (bottle_id);

-- What is going to be mixed, for the shopping list.
CREATE TABLE coming (
    recipe INTEGER PRIMARY KEY REFERENCES recipe (number),
    version INTEGER NOT NULL,
    ml REAL NOT NULL CHECK (ml > 0),
    at TEXT NOT NULL,
    FOREIGN KEY (recipe, version) REFERENCES recipe_version (recipe, version)
) STRICT;

-- A file that was read and shown, and waits for a yes.
CREATE TABLE import_waiting (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    name TEXT NOT NULL,
    content BLOB NOT NULL
) STRICT;

-- A photo that colours are picked from.
CREATE TABLE photo (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    name TEXT NOT NULL,
    width INTEGER NOT NULL,
    height INTEGER NOT NULL,
    png BLOB NOT NULL
) STRICT;

CREATE INDEX recipe_version_at ON recipe_version (at);
