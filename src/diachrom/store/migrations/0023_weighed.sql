-- Powders are counted in grams.
ALTER TABLE bottle ADD COLUMN weighed INTEGER NOT NULL DEFAULT 0 CHECK (weighed IN (0, 1));
