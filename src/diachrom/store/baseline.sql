-- What a new folder holds: data version 22. What came later is in migrations/; older folders come up by older/.

CREATE TABLE paint (
    id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 1 AND 80),
    line TEXT NOT NULL,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
    kind TEXT NOT NULL,
    pigments TEXT NOT NULL DEFAULT '',
    note TEXT NOT NULL DEFAULT '',
    discontinued INTEGER NOT NULL DEFAULT 0 CHECK (discontinued IN (0, 1)),
    nozzle_mm REAL CHECK (nozzle_mm BETWEEN 0.1 AND 3),
    pressure_bar REAL CHECK (pressure_bar BETWEEN 0.1 AND 10),
    needs_under TEXT NOT NULL DEFAULT '',
    needs_in TEXT NOT NULL DEFAULT '',
    needs_over TEXT NOT NULL DEFAULT '',
    thinner TEXT NOT NULL DEFAULT '',
    price REAL CHECK (price >= 0),
    density REAL CHECK (density BETWEEN 0.5 AND 5),
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1)),
    merged_into TEXT REFERENCES paint (id),
    recipe INTEGER REFERENCES recipe (number),
    version INTEGER,
    UNIQUE (line, name)
) STRICT;

CREATE TABLE bottle (
    id INTEGER PRIMARY KEY,
    paint_id TEXT NOT NULL REFERENCES paint (id),
    size_ml REAL NOT NULL CHECK (size_ml > 0),
    drop_ml REAL NOT NULL CHECK (drop_ml BETWEEN 0.005 AND 0.5),
    note TEXT NOT NULL DEFAULT '',
    state TEXT NOT NULL DEFAULT 'open'
        CHECK (state IN ('sealed', 'open', 'settled', 'thick', 'nearly gone', 'empty', 'unreadable label')),
    batch TEXT NOT NULL DEFAULT '',
    place TEXT NOT NULL DEFAULT '',
    bought_on TEXT,
    opened_on TEXT,
    shaken_on TEXT,
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1)),
    left_ml REAL NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE stock_entry (
    id INTEGER PRIMARY KEY,
    bottle_id INTEGER NOT NULL REFERENCES bottle (id),
    at TEXT NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('bought', 'poured', 'corrected', 'spilled', 'thrown away')),
    ml REAL NOT NULL,
    note TEXT NOT NULL DEFAULT '',
    recipe INTEGER REFERENCES recipe (number),
    version INTEGER,
    cup_batch INTEGER REFERENCES cup_batch (id)
) STRICT;

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
    sealed INTEGER NOT NULL DEFAULT 0 CHECK (sealed IN (0, 1)),
    satin INTEGER NOT NULL DEFAULT 0 CHECK (satin IN (0, 1)),
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

CREATE TABLE cup_batch (
    id INTEGER PRIMARY KEY,
    recipe INTEGER,
    version INTEGER,
    plan TEXT CHECK (plan IS NULL OR json_valid(plan)),
    target INTEGER REFERENCES target (id),
    FOREIGN KEY (recipe, version) REFERENCES recipe_version (recipe, version)
) STRICT;

CREATE TABLE cup_step (
    seq INTEGER PRIMARY KEY,
    batch INTEGER NOT NULL REFERENCES cup_batch (id),
    at TEXT NOT NULL,
    did TEXT NOT NULL,
    draft TEXT NOT NULL CHECK (json_valid(draft)),
    verdict TEXT CHECK (verdict IS NULL OR json_valid(verdict))
) STRICT;

CREATE TABLE cup (
    id INTEGER PRIMARY KEY CHECK (id = 1),
    seq INTEGER NOT NULL REFERENCES cup_step (seq),
    revision INTEGER NOT NULL
) STRICT;

CREATE TABLE paint_colour (
    paint_id TEXT NOT NULL,
    version INTEGER NOT NULL,
    l REAL NOT NULL,
    a REAL NOT NULL,
    b REAL NOT NULL,
    PRIMARY KEY (paint_id, version),
    FOREIGN KEY (paint_id, version) REFERENCES paint_profile (paint_id, version)
) STRICT, WITHOUT ROWID;

CREATE TABLE shelf_step (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    did TEXT NOT NULL,
    undone INTEGER NOT NULL DEFAULT 0 CHECK (undone IN (0, 1))
) STRICT;

CREATE TABLE contrast_card (
    id INTEGER PRIMARY KEY,
    paint_id TEXT NOT NULL REFERENCES paint (id),
    at TEXT NOT NULL,
    film_um REAL NOT NULL CHECK (film_um > 0),
    coats INTEGER NOT NULL CHECK (coats >= 1),
    clear_coat INTEGER NOT NULL CHECK (clear_coat IN (0, 1)),
    version INTEGER,
    steps TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(steps)),
    white_paint TEXT REFERENCES paint (id),
    white_drops INTEGER NOT NULL DEFAULT 9 CHECK (white_drops >= 1)
) STRICT;

CREATE TABLE drop_weighing (
    id INTEGER PRIMARY KEY,
    bottle_id INTEGER NOT NULL REFERENCES bottle (id),
    at TEXT NOT NULL,
    drops INTEGER NOT NULL CHECK (drops >= 1),
    ml REAL NOT NULL CHECK (ml > 0),
    source TEXT NOT NULL,
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1))
) STRICT;

CREATE TABLE planned_mix (
    recipe INTEGER PRIMARY KEY REFERENCES recipe (number),
    version INTEGER NOT NULL,
    ml REAL NOT NULL CHECK (ml > 0),
    at TEXT NOT NULL,
    FOREIGN KEY (recipe, version) REFERENCES recipe_version (recipe, version)
) STRICT;

CREATE TABLE photo (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    name TEXT NOT NULL,
    width INTEGER NOT NULL,
    height INTEGER NOT NULL,
    picture BLOB NOT NULL
) STRICT;

CREATE TABLE target (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    name TEXT NOT NULL,
    source TEXT NOT NULL,
    ground TEXT NOT NULL DEFAULT '',
    clear_coat INTEGER CHECK (clear_coat IN (0, 1)),
    views TEXT NOT NULL CHECK (json_valid(views)),
    labs TEXT NOT NULL CHECK (json_array_length(labs) = json_array_length(views)),
    reflectance TEXT CHECK (json_array_length(reflectance) = 36),
    gone INTEGER NOT NULL DEFAULT 0 CHECK (gone IN (0, 1)),
    satin INTEGER NOT NULL DEFAULT 0 CHECK (satin IN (0, 1)),
    made_of TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE aim (
    id INTEGER PRIMARY KEY CHECK (id = 1),
    target_id INTEGER REFERENCES target (id),
    settings TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(settings))
) STRICT;

CREATE TABLE recipe_story (
    recipe INTEGER NOT NULL,
    version INTEGER NOT NULL,
    told TEXT NOT NULL CHECK (json_valid(told)),
    PRIMARY KEY (recipe, version),
    FOREIGN KEY (recipe, version) REFERENCES recipe_version (recipe, version)
) STRICT, WITHOUT ROWID;

CREATE TABLE overspray (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    on_baits_ml REAL NOT NULL CHECK (on_baits_ml > 0),
    stays_ml REAL NOT NULL CHECK (stays_ml >= 0),
    used_ml REAL NOT NULL CHECK (used_ml > 0),
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1))
) STRICT;

CREATE TABLE test_card (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    recipe INTEGER,
    version INTEGER,
    draft TEXT NOT NULL CHECK (json_valid(draft)),
    note TEXT NOT NULL DEFAULT '',
    nozzle_mm REAL CHECK (nozzle_mm BETWEEN 0.1 AND 3),
    pressure_bar REAL CHECK (pressure_bar BETWEEN 0.1 AND 10),
    reduction REAL NOT NULL DEFAULT 0 CHECK (reduction BETWEEN 0 AND 0.9),
    photo INTEGER REFERENCES photo (id),
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1)),
    FOREIGN KEY (recipe, version) REFERENCES recipe_version (recipe, version)
) STRICT;

CREATE TABLE test_card_patch (
    id INTEGER PRIMARY KEY,
    card_id INTEGER NOT NULL REFERENCES "test_card" (id),
    ground TEXT NOT NULL,
    coats INTEGER NOT NULL CHECK (coats BETWEEN 0 AND 50),
    UNIQUE (card_id, ground, coats)
) STRICT;

CREATE TABLE test_card_reading (
    id INTEGER PRIMARY KEY,
    patch INTEGER NOT NULL REFERENCES "test_card_patch" (id),
    at TEXT NOT NULL,
    source TEXT NOT NULL,
    lab TEXT CHECK (json_array_length(lab) = 3),
    words TEXT NOT NULL DEFAULT '',
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1)),
    predicted TEXT CHECK (json_array_length(predicted) = 3)
) STRICT;

CREATE TABLE learning (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    document TEXT NOT NULL CHECK (json_valid(document)),
    undone_at TEXT
) STRICT;

CREATE TABLE hand_factor (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    times REAL NOT NULL CHECK (times BETWEEN 0.2 AND 5)
) STRICT;

CREATE TABLE trainer_round (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at TEXT NOT NULL,
    skill TEXT NOT NULL,
    level INTEGER NOT NULL CHECK (level BETWEEN 1 AND 9),
    document TEXT NOT NULL CHECK (json_valid(document)),
    guess TEXT CHECK (guess IS NULL OR json_valid(guess)),
    delta_e REAL CHECK (delta_e >= 0)
) STRICT;

CREATE TABLE tap (
    at INTEGER PRIMARY KEY AUTOINCREMENT,
    id TEXT NOT NULL UNIQUE CHECK (length(id) BETWEEN 1 AND 80)
) STRICT;

CREATE TABLE upload (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at TEXT NOT NULL,
    name TEXT NOT NULL,
    content BLOB NOT NULL
) STRICT;

CREATE TABLE contrast_card_reading (
    id INTEGER PRIMARY KEY,
    card_id INTEGER NOT NULL REFERENCES "contrast_card" (id),
    field TEXT NOT NULL,
    at TEXT NOT NULL,
    source TEXT NOT NULL,
    reflectance TEXT NOT NULL CHECK (json_array_length(reflectance) = 36),
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1))
) STRICT;

CREATE TABLE revision (
    name TEXT PRIMARY KEY,
    n INTEGER NOT NULL
) STRICT;

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

CREATE TABLE setting (
    key TEXT PRIMARY KEY CHECK (length(key) BETWEEN 1 AND 40),
    value TEXT NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE plan (
    number INTEGER PRIMARY KEY,
    seq INTEGER NOT NULL DEFAULT 0,
    revision INTEGER NOT NULL DEFAULT 0,
    opened TEXT NOT NULL,
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1))
) STRICT;

CREATE TABLE plan_step (
    plan INTEGER NOT NULL REFERENCES plan (number),
    seq INTEGER NOT NULL,
    at TEXT NOT NULL,
    did TEXT NOT NULL,
    document TEXT NOT NULL,
    PRIMARY KEY (plan, seq)
) STRICT, WITHOUT ROWID;

CREATE TABLE plan_version (
    plan INTEGER NOT NULL REFERENCES plan (number),
    version INTEGER NOT NULL CHECK (version > 0),
    parent_version INTEGER,
    at TEXT NOT NULL,
    name TEXT NOT NULL CHECK (length(trim(name)) > 0),
    note TEXT NOT NULL,
    document TEXT NOT NULL,
    PRIMARY KEY (plan, version)
) STRICT, WITHOUT ROWID;

CREATE TABLE drawing (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL CHECK (kind IN ('blank', 'stencil')),
    name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
    document TEXT NOT NULL,
    at TEXT NOT NULL,
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1))
) STRICT;

CREATE TABLE reference (
    id INTEGER PRIMARY KEY,
    photo INTEGER NOT NULL REFERENCES photo (id),
    ends TEXT NOT NULL,
    zones TEXT NOT NULL,
    at TEXT NOT NULL
) STRICT;

CREATE TABLE bait_order (
    number INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
    wish TEXT NOT NULL DEFAULT '',
    price REAL CHECK (price BETWEEN 0 AND 1e6),
    due TEXT NOT NULL DEFAULT '',
    starts TEXT NOT NULL DEFAULT '',
    ready_by INTEGER NOT NULL DEFAULT 0 CHECK (ready_by IN (0, 1)),
    state TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'done', 'away')),
    at TEXT NOT NULL,
    schedule TEXT NOT NULL DEFAULT '',
    customer TEXT NOT NULL DEFAULT '' CHECK (length(customer) <= 80)
) STRICT;

CREATE TABLE order_line (
    id INTEGER PRIMARY KEY,
    bait_order INTEGER NOT NULL REFERENCES bait_order (number),
    plan INTEGER NOT NULL,
    version INTEGER NOT NULL,
    ordered INTEGER NOT NULL CHECK (ordered BETWEEN 0 AND 500),
    baits INTEGER NOT NULL CHECK (baits BETWEEN 0 AND 500),
    FOREIGN KEY (plan, version) REFERENCES plan_version (plan, version)
) STRICT;

CREATE TABLE order_need (
    bait_order INTEGER NOT NULL REFERENCES bait_order (number),
    paint TEXT NOT NULL REFERENCES paint (id),
    ml REAL NOT NULL CHECK (ml > 0),
    PRIMARY KEY (bait_order, paint)
) STRICT, WITHOUT ROWID;

CREATE TABLE order_pin (
    bait_order INTEGER NOT NULL REFERENCES bait_order (number),
    block TEXT NOT NULL,
    not_before TEXT NOT NULL,
    PRIMARY KEY (bait_order, block)
) STRICT, WITHOUT ROWID;

CREATE TABLE order_done (
    bait_order INTEGER NOT NULL REFERENCES bait_order (number),
    line INTEGER NOT NULL,
    step TEXT NOT NULL,
    bait INTEGER NOT NULL,
    at TEXT NOT NULL,
    PRIMARY KEY (bait_order, line, step, bait)
) STRICT, WITHOUT ROWID;

CREATE TABLE wait_seen (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL,
    waited_min REAL NOT NULL CHECK (waited_min > 0),
    asked_min REAL NOT NULL CHECK (asked_min > 0),
    dry INTEGER NOT NULL CHECK (dry IN (0, 1)),
    at TEXT NOT NULL
) STRICT;

CREATE TABLE bait_stock (
    id INTEGER PRIMARY KEY,
    plan INTEGER NOT NULL,
    version INTEGER NOT NULL,
    count INTEGER NOT NULL CHECK (count <> 0),
    note TEXT NOT NULL DEFAULT '',
    bait_order INTEGER REFERENCES bait_order (number),
    at TEXT NOT NULL,
    why TEXT NOT NULL DEFAULT '' CHECK (why IN ('', 'over', 'taken', 'again')),
    line INTEGER,
    FOREIGN KEY (plan, version) REFERENCES plan_version (plan, version)
) STRICT;

CREATE TABLE session (
    number INTEGER PRIMARY KEY,
    bait_order INTEGER REFERENCES bait_order (number),
    name TEXT NOT NULL,
    at TEXT NOT NULL,
    script TEXT NOT NULL,
    seq INTEGER NOT NULL DEFAULT 0,
    state TEXT NOT NULL DEFAULT '{}',
    ended TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE session_event (
    session INTEGER NOT NULL REFERENCES session (number),
    seq INTEGER NOT NULL,
    at TEXT NOT NULL,
    body TEXT NOT NULL,
    PRIMARY KEY (session, seq)
) STRICT, WITHOUT ROWID;

CREATE TABLE session_photo (
    photo INTEGER PRIMARY KEY REFERENCES photo (id),
    session INTEGER NOT NULL REFERENCES session (number),
    side TEXT NOT NULL CHECK (side IN ('left', 'right')),
    bait INTEGER NOT NULL,
    marks TEXT NOT NULL DEFAULT 'null'
) STRICT;

CREATE TABLE eye_stock (
    id INTEGER PRIMARY KEY,
    size_mm REAL NOT NULL CHECK (size_mm BETWEEN 0.5 AND 60),
    kind TEXT NOT NULL CHECK (length(trim(kind)) BETWEEN 1 AND 80),
    pairs INTEGER NOT NULL CHECK (pairs BETWEEN -10000 AND 10000),
    UNIQUE (size_mm, kind)
) STRICT;

CREATE TABLE opened_tin (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
    school TEXT NOT NULL,
    opened_on TEXT NOT NULL,
    sealed TEXT NOT NULL DEFAULT '',
    keeps_days INTEGER NOT NULL CHECK (keeps_days BETWEEN 1 AND 5000),
    gone INTEGER NOT NULL DEFAULT 0 CHECK (gone IN (0, 1))
) STRICT;

CREATE TABLE log_entry (
    number INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    session INTEGER REFERENCES session (number),
    line INTEGER NOT NULL DEFAULT 0,
    plan INTEGER REFERENCES plan (number),
    version INTEGER,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
    baits INTEGER NOT NULL CHECK (baits BETWEEN 1 AND 500),
    customer TEXT NOT NULL DEFAULT '',
    wish TEXT NOT NULL DEFAULT '',
    price REAL CHECK (price BETWEEN 0 AND 1e6),
    clear TEXT NOT NULL DEFAULT '',
    weight_g REAL CHECK (weight_g > 0 AND weight_g < 1e5),
    note TEXT NOT NULL DEFAULT '',
    minutes REAL NOT NULL DEFAULT 0 CHECK (minutes >= 0),
    words TEXT NOT NULL DEFAULT '',
    told TEXT NOT NULL DEFAULT '{}',
    UNIQUE (session, line)
) STRICT;

CREATE TABLE log_fault (
    id INTEGER PRIMARY KEY,
    entry INTEGER NOT NULL REFERENCES log_entry (number),
    at TEXT NOT NULL,
    fault TEXT NOT NULL,
    note TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE log_photo (
    photo INTEGER PRIMARY KEY REFERENCES photo (id),
    entry INTEGER NOT NULL REFERENCES log_entry (number),
    side TEXT NOT NULL CHECK (side IN ('left', 'right'))
) STRICT;

CREATE TABLE device (
    number INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    name TEXT NOT NULL,
    digest TEXT NOT NULL UNIQUE,
    entry INTEGER,
    here INTEGER NOT NULL DEFAULT 0 CHECK (here IN (0, 1))
) STRICT;

CREATE TABLE passphrase (
    one INTEGER PRIMARY KEY CHECK (one = 1),
    digest TEXT NOT NULL
) STRICT;

CREATE TABLE shelf_change (
    id INTEGER PRIMARY KEY,
    step INTEGER NOT NULL REFERENCES shelf_step (id),
    noun TEXT NOT NULL CHECK (noun IN ('paint', 'bottle', 'stock_entry', 'paint_profile')),
    row_id TEXT NOT NULL,
    was TEXT NOT NULL CHECK (json_valid(was)),
    became TEXT NOT NULL CHECK (json_valid(became))
) STRICT;

CREATE TABLE pairing_code (
    digest TEXT PRIMARY KEY,
    until INTEGER NOT NULL,
    here INTEGER NOT NULL CHECK (here IN (0, 1))
) STRICT;

CREATE TABLE paint_profile (
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

CREATE INDEX bottle_paint ON bottle (paint_id);

CREATE INDEX recipe_part_bottle ON recipe_part (bottle_id);

CREATE INDEX stock_entry_bottle ON stock_entry (bottle_id, at);

CREATE INDEX stock_entry_batch ON stock_entry (cup_batch) WHERE cup_batch IS NOT NULL;

CREATE INDEX card_paint ON "contrast_card" (paint_id);

CREATE INDEX drop_weighing_bottle ON drop_weighing (bottle_id);

CREATE INDEX recipe_version_at ON recipe_version (at);

CREATE INDEX spray_out_recipe ON "test_card" (recipe) WHERE recipe IS NOT NULL;

CREATE INDEX patch_reading_patch ON "test_card_reading" (patch);

CREATE INDEX card_reading_card ON "contrast_card_reading" (card_id);

CREATE INDEX shelf_sheet_pair_paint ON shelf_sheet_pair (paint_id);

CREATE INDEX order_line_of ON order_line (bait_order);

CREATE INDEX session_photo_of ON session_photo (session);

CREATE INDEX log_entry_plan ON log_entry (plan);

CREATE INDEX log_entry_found ON log_entry (at DESC, number DESC, words);

CREATE INDEX log_fault_of ON log_fault (entry);

CREATE INDEX log_photo_of ON log_photo (entry);

CREATE INDEX shelf_change_step ON shelf_change (step);

CREATE INDEX bait_stock_order ON bait_stock (bait_order) WHERE bait_order IS NOT NULL;

INSERT INTO aim (id, target_id, settings) VALUES (1, NULL, '{}');
INSERT INTO revision (name, n) VALUES ('profiles', 0);
INSERT INTO revision (name, n) VALUES ('bottles', 0);
INSERT INTO revision (name, n) VALUES ('stock', 0);
INSERT INTO revision (name, n) VALUES ('cards', 0);
CREATE TRIGGER recipe_version_stays BEFORE UPDATE ON recipe_version
BEGIN SELECT RAISE (ABORT, 'a saved version never changes'); END;

CREATE TRIGGER recipe_version_is_kept BEFORE DELETE ON recipe_version
BEGIN SELECT RAISE (ABORT, 'a saved version never changes'); END;

CREATE TRIGGER recipe_part_stays BEFORE UPDATE ON recipe_part
BEGIN SELECT RAISE (ABORT, 'a saved version never changes'); END;

CREATE TRIGGER recipe_part_is_kept BEFORE DELETE ON recipe_part
BEGIN SELECT RAISE (ABORT, 'a saved version never changes'); END;

CREATE TRIGGER stock_entry_counts AFTER INSERT ON stock_entry
BEGIN UPDATE bottle SET left_ml = left_ml + NEW.ml WHERE id = NEW.bottle_id; END;

CREATE TRIGGER stock_entry_stays BEFORE UPDATE ON stock_entry
BEGIN SELECT RAISE (ABORT, 'the ledger only grows'); END;

CREATE TRIGGER stock_entry_is_kept BEFORE DELETE ON stock_entry
BEGIN SELECT RAISE (ABORT, 'the ledger only grows'); END;

CREATE TRIGGER recipe_story_stays BEFORE UPDATE ON recipe_story
BEGIN SELECT RAISE (ABORT, 'a story never changes'); END;

CREATE TRIGGER recipe_story_is_kept BEFORE DELETE ON recipe_story
BEGIN SELECT RAISE (ABORT, 'a story never changes'); END;

CREATE TRIGGER paint_new AFTER INSERT ON paint
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'profiles'; END;

CREATE TRIGGER paint_changed AFTER UPDATE ON paint
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'profiles'; END;

CREATE TRIGGER bottle_new AFTER INSERT ON bottle
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'bottles'; END;

CREATE TRIGGER bottle_changed AFTER UPDATE OF paint_id, size_ml, drop_ml, retired ON bottle
WHEN (OLD.paint_id, OLD.size_ml, OLD.drop_ml, OLD.retired) IS NOT (NEW.paint_id, NEW.size_ml, NEW.drop_ml, NEW.retired)
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'bottles'; END;

CREATE TRIGGER stock_changed AFTER UPDATE ON bottle
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'stock'; END;

CREATE TRIGGER test_card_new AFTER INSERT ON test_card
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'cards'; END;

CREATE TRIGGER test_card_changed AFTER UPDATE OF draft, reduction, counts ON test_card
WHEN (OLD.draft, OLD.reduction, OLD.counts) IS NOT (NEW.draft, NEW.reduction, NEW.counts)
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'cards'; END;

CREATE TRIGGER test_card_gone AFTER DELETE ON test_card
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'cards'; END;

CREATE TRIGGER test_card_patch_new AFTER INSERT ON test_card_patch
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'cards'; END;

CREATE TRIGGER test_card_patch_gone AFTER DELETE ON test_card_patch
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'cards'; END;

CREATE TRIGGER test_card_reading_new AFTER INSERT ON test_card_reading
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'cards'; END;

CREATE TRIGGER test_card_reading_changed AFTER UPDATE ON test_card_reading
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'cards'; END;

CREATE TRIGGER paint_profile_stays BEFORE UPDATE ON paint_profile
BEGIN SELECT RAISE (ABORT, 'a profile never changes'); END;

CREATE TRIGGER paint_profile_is_kept BEFORE DELETE ON paint_profile
BEGIN SELECT RAISE (ABORT, 'a profile never changes'); END;

CREATE TRIGGER paint_profile_new AFTER INSERT ON paint_profile
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'profiles'; END;
