-- What was mended or left out by hand in a table that waits for a yes.
ALTER TABLE upload ADD COLUMN mended TEXT NOT NULL DEFAULT '';
