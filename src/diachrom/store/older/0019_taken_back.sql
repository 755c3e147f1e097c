-- A profile that was guessed anew is a part of what was done, and taken back with it.
CREATE TABLE shelf_change_now (
    id INTEGER PRIMARY KEY,
    step INTEGER NOT NULL REFERENCES shelf_step (id),
    noun TEXT NOT NULL CHECK (noun IN ('paint', 'bottle', 'stock_entry', 'paint_profile')),
    row_id TEXT NOT NULL,
    was TEXT NOT NULL CHECK (json_valid(was)),
    became TEXT NOT NULL CHECK (json_valid(became))
) STRICT;
INSERT INTO shelf_change_now (id, step, noun, row_id, was, became)
    SELECT id, step, noun, row_id, was, became FROM shelf_change;
DROP TABLE shelf_change;
ALTER TABLE shelf_change_now RENAME TO shelf_change;
CREATE INDEX shelf_change_step ON shelf_change (step);
