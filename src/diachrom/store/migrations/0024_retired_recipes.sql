-- Recipes that are not mixed any more step back, and can be found again.
ALTER TABLE recipe ADD COLUMN retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1));
