-- Orders: baits of plans for a day, the time they take, and how far they are.
CREATE TABLE bait_order (
    number INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80), -- who it is for
    wish TEXT NOT NULL DEFAULT '',
    price REAL CHECK (price BETWEEN 0 AND 1e6),
    due TEXT NOT NULL DEFAULT '', -- '' for no day
    starts TEXT NOT NULL DEFAULT '', -- not before; '' is now
    ready_by INTEGER NOT NULL DEFAULT 0 CHECK (ready_by IN (0, 1)), -- begun as late as its day allows
    state TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'done', 'away')),
    at TEXT NOT NULL,
    schedule TEXT NOT NULL DEFAULT '' -- as it was last found (JSON)
) STRICT;
CREATE TABLE order_line (
    id INTEGER PRIMARY KEY,
    bait_order INTEGER NOT NULL REFERENCES bait_order (number),
    plan INTEGER NOT NULL,
    version INTEGER NOT NULL,
    ordered INTEGER NOT NULL CHECK (ordered BETWEEN 0 AND 500),
    baits INTEGER NOT NULL CHECK (baits BETWEEN 0 AND 500), -- to be painted: more than are ordered, or fewer
    FOREIGN KEY (plan, version) REFERENCES plan_version (plan, version)
) STRICT;
CREATE INDEX order_line_of ON order_line (bait_order);
-- What an order takes of a paint, until it is mixed.
CREATE TABLE order_need (
    bait_order INTEGER NOT NULL REFERENCES bait_order (number),
    paint TEXT NOT NULL REFERENCES paint (id),
    ml REAL NOT NULL CHECK (ml > 0),
    PRIMARY KEY (bait_order, paint)
) STRICT, WITHOUT ROWID;
-- Blocks that were dragged: not before.
CREATE TABLE order_pin (
    bait_order INTEGER NOT NULL REFERENCES bait_order (number),
    block TEXT NOT NULL,
    not_before TEXT NOT NULL,
    PRIMARY KEY (bait_order, block)
) STRICT, WITHOUT ROWID;
-- Steps that were done on a bait; a mix that was made has the bait -1.
CREATE TABLE order_done (
    bait_order INTEGER NOT NULL REFERENCES bait_order (number),
    line INTEGER NOT NULL, -- of order_line; 0 for a mix
    step TEXT NOT NULL,
    bait INTEGER NOT NULL,
    at TEXT NOT NULL,
    PRIMARY KEY (bait_order, line, step, bait)
) STRICT, WITHOUT ROWID;
-- How long was waited until a coat was touched again, and whether it was dry.
CREATE TABLE wait_seen (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL,
    waited_min REAL NOT NULL CHECK (waited_min > 0),
    asked_min REAL NOT NULL CHECK (asked_min > 0),
    dry INTEGER NOT NULL CHECK (dry IN (0, 1)),
    at TEXT NOT NULL
) STRICT;
-- Painted baits that are kept: what came in and what went out, plan by plan.
CREATE TABLE bait_stock (
    id INTEGER PRIMARY KEY,
    plan INTEGER NOT NULL,
    version INTEGER NOT NULL,
    count INTEGER NOT NULL CHECK (count <> 0),
    note TEXT NOT NULL DEFAULT '',
    bait_order INTEGER REFERENCES bait_order (number),
    at TEXT NOT NULL,
    FOREIGN KEY (plan, version) REFERENCES plan_version (plan, version)
) STRICT;
