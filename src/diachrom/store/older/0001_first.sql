-- Paints and their profiles. A profile is never overwritten; the highest version counts.
CREATE TABLE paint (
    id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 1 AND 80),
    line TEXT NOT NULL,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
    kind TEXT NOT NULL,
    pigments TEXT NOT NULL DEFAULT '',
    note TEXT NOT NULL DEFAULT '',
    discontinued INTEGER NOT NULL DEFAULT 0 CHECK (discontinued IN (0, 1)),
    UNIQUE (line, name)
) STRICT;

CREATE TABLE paint_profile (
    paint_id TEXT NOT NULL REFERENCES paint (id),
    version INTEGER NOT NULL CHECK (version >= 1),
    absorption TEXT NOT NULL CHECK (json_array_length(absorption) = 36),
    scattering TEXT NOT NULL CHECK (json_array_length(scattering) = 36),
    uncertainty REAL NOT NULL CHECK (uncertainty BETWEEN 0 AND 1),
    source TEXT NOT NULL,
    at TEXT NOT NULL,
    PRIMARY KEY (paint_id, version)
) STRICT, WITHOUT ROWID;

CREATE TABLE bottle (
    id INTEGER PRIMARY KEY,
    paint_id TEXT NOT NULL REFERENCES paint (id),
    size_ml REAL NOT NULL CHECK (size_ml > 0),
    drop_ml REAL NOT NULL CHECK (drop_ml BETWEEN 0.005 AND 0.5),
    state TEXT NOT NULL CHECK (state IN ('new', 'open', 'settled', 'empty')),
    note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX bottle_paint ON bottle (paint_id);

-- Stock is a ledger: what is left in a bottle is the sum of its entries.
CREATE TABLE stock_entry (
    id INTEGER PRIMARY KEY,
    bottle_id INTEGER NOT NULL REFERENCES bottle (id),
    at TEXT NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('bought', 'poured', 'corrected', 'spilled', 'thrown away')),
    ml REAL NOT NULL,
    note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX stock_entry_bottle ON stock_entry (bottle_id);

-- Recipes have versions. A saved version never changes.
CREATE TABLE recipe (
    number INTEGER PRIMARY KEY CHECK (number >= 1)
) STRICT;

CREATE TABLE recipe_version (
    recipe INTEGER NOT NULL REFERENCES recipe (number),
    version INTEGER NOT NULL CHECK (version >= 1),
    parent_version INTEGER,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
    note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 2000),
    ground TEXT NOT NULL,
    film_um REAL NOT NULL CHECK (film_um > 0),
    coats INTEGER NOT NULL CHECK (coats >= 1),
    clear_coat INTEGER NOT NULL CHECK (clear_coat IN (0, 1)),
    at TEXT NOT NULL,
    PRIMARY KEY (recipe, version),
    FOREIGN KEY (recipe, parent_version) REFERENCES recipe_version (recipe, version)
) STRICT, WITHOUT ROWID;

CREATE TABLE recipe_part (
    recipe INTEGER NOT NULL,
    version INTEGER NOT NULL,
    position INTEGER NOT NULL CHECK (position >= 1),
    bottle_id INTEGER NOT NULL REFERENCES bottle (id),
    drops INTEGER NOT NULL CHECK (drops BETWEEN 1 AND 500),
    drop_ml REAL NOT NULL CHECK (drop_ml BETWEEN 0.005 AND 0.5),
    PRIMARY KEY (recipe, version, position),
    UNIQUE (recipe, version, bottle_id),
    FOREIGN KEY (recipe, version) REFERENCES recipe_version (recipe, version)
) STRICT, WITHOUT ROWID;
CREATE INDEX recipe_part_bottle ON recipe_part (bottle_id);

CREATE TRIGGER recipe_version_stays BEFORE UPDATE ON recipe_version
BEGIN SELECT RAISE (ABORT, 'a saved version never changes'); END;
CREATE TRIGGER recipe_version_is_kept BEFORE DELETE ON recipe_version
BEGIN SELECT RAISE (ABORT, 'a saved version never changes'); END;
CREATE TRIGGER recipe_part_stays BEFORE UPDATE ON recipe_part
BEGIN SELECT RAISE (ABORT, 'a saved version never changes'); END;
CREATE TRIGGER recipe_part_is_kept BEFORE DELETE ON recipe_part
BEGIN SELECT RAISE (ABORT, 'a saved version never changes'); END;

-- The cup under way: every step it took, and the one it stands at. Undo moves back, redo forward.
-- A batch is one cup from its first drop on; it knows the version that it was opened from or last saved as,
-- so that undoing a drop after saving does not forget the recipe.
CREATE TABLE cup_batch (
    id INTEGER PRIMARY KEY,
    recipe INTEGER,
    version INTEGER,
    FOREIGN KEY (recipe, version) REFERENCES recipe_version (recipe, version)
) STRICT;

CREATE TABLE cup_step (
    seq INTEGER PRIMARY KEY,
    batch INTEGER NOT NULL REFERENCES cup_batch (id),
    at TEXT NOT NULL,
    did TEXT NOT NULL,
    draft TEXT NOT NULL CHECK (json_valid(draft))
) STRICT;

CREATE TABLE cup (
    id INTEGER PRIMARY KEY CHECK (id = 1),
    seq INTEGER NOT NULL REFERENCES cup_step (seq),
    revision INTEGER NOT NULL
) STRICT;
