-- What was said of a cup after a test on paper is a step too; and a cup may be poured by a plan.
ALTER TABLE cup_step ADD COLUMN verdict TEXT CHECK (verdict IS NULL OR json_valid(verdict));
ALTER TABLE cup_batch ADD COLUMN plan TEXT CHECK (plan IS NULL OR json_valid(plan));

-- How a saved version was really poured: drop by drop, with what was said in between.
CREATE TABLE recipe_story (
    recipe INTEGER NOT NULL,
    version INTEGER NOT NULL,
    told TEXT NOT NULL CHECK (json_valid(told)),
    PRIMARY KEY (recipe, version),
    FOREIGN KEY (recipe, version) REFERENCES recipe_version (recipe, version)
) STRICT, WITHOUT ROWID;
CREATE TRIGGER recipe_story_stays BEFORE UPDATE ON recipe_story
BEGIN SELECT RAISE (ABORT, 'a story never changes'); END;
CREATE TRIGGER recipe_story_is_kept BEFORE DELETE ON recipe_story
BEGIN SELECT RAISE (ABORT, 'a story never changes'); END;

-- Jobs that were sprayed: what was reckoned to lie on the baits, and what was really used.
CREATE TABLE job_used (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    on_baits_ml REAL NOT NULL CHECK (on_baits_ml > 0),
    stays_ml REAL NOT NULL CHECK (stays_ml >= 0),
    used_ml REAL NOT NULL CHECK (used_ml > 0),
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1))
) STRICT;
