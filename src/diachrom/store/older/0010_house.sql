-- One word for one thing.
ALTER TABLE card RENAME TO contrast_card;
ALTER TABLE card_reading RENAME TO contrast_card_reading;
ALTER TABLE spray_out RENAME TO test_card;
ALTER TABLE spray_patch RENAME TO test_card_patch;
ALTER TABLE test_card_patch RENAME COLUMN spray_out TO card_id;
ALTER TABLE patch_reading RENAME TO test_card_reading;
ALTER TABLE hand RENAME TO hand_factor;
ALTER TABLE coming RENAME TO planned_mix;
ALTER TABLE job_used RENAME TO overspray;
ALTER TABLE import_waiting RENAME TO upload;

-- Counters that move with every change of their own: who reckoned with something asks whether it is still the same.
DROP TRIGGER paint_new;
DROP TRIGGER paint_changed;
DROP TRIGGER bottle_new;
DROP TRIGGER bottle_changed;
DROP TRIGGER paint_profile_new;
DROP TABLE shelf_revision;
CREATE TABLE revision (name TEXT PRIMARY KEY, n INTEGER NOT NULL) STRICT;
INSERT INTO revision VALUES ('profiles', 0), ('bottles', 0), ('stock', 0), ('cards', 0);

-- profiles: what the paints are.
CREATE TRIGGER paint_new AFTER INSERT ON paint
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'profiles'; END;
CREATE TRIGGER paint_changed AFTER UPDATE ON paint
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'profiles'; END;
CREATE TRIGGER paint_profile_new AFTER INSERT ON paint_profile
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'profiles'; END;

-- bottles: which there are, and how they drip.
CREATE TRIGGER bottle_new AFTER INSERT ON bottle
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'bottles'; END;
CREATE TRIGGER bottle_changed AFTER UPDATE OF paint_id, size_ml, drop_ml, retired ON bottle
WHEN (OLD.paint_id, OLD.size_ml, OLD.drop_ml, OLD.retired) IS NOT (NEW.paint_id, NEW.size_ml, NEW.drop_ml, NEW.retired)
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'bottles'; END;

-- stock: how much is left, what is open, where it stands.
CREATE TRIGGER stock_changed AFTER UPDATE ON bottle
BEGIN UPDATE revision SET n = n + 1 WHERE name = 'stock'; END;

-- cards: how test cards were sprayed, and what was read of them.
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
