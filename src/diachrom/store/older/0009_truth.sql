-- An uncleared surface may be satin rather than matte.
ALTER TABLE recipe_version ADD COLUMN satin INTEGER NOT NULL DEFAULT 0 CHECK (satin IN (0, 1));
ALTER TABLE target ADD COLUMN satin INTEGER NOT NULL DEFAULT 0 CHECK (satin IN (0, 1));

-- A target that shows an own recipe or paint is that in every light: recipe:14:3, paint:rav-nype.
ALTER TABLE target ADD COLUMN made_of TEXT NOT NULL DEFAULT '';

-- A contrast card has steps, films of several numbers of passes, and may have a field let down with white.
ALTER TABLE card ADD COLUMN steps TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(steps)); -- [] is one film, of `coats`
ALTER TABLE card ADD COLUMN white_paint TEXT REFERENCES paint (id); -- NULL where it has no such field
ALTER TABLE card ADD COLUMN white_drops INTEGER NOT NULL DEFAULT 9 CHECK (white_drops >= 1); -- to one of the paint
CREATE TABLE card_field_reading (
    id INTEGER PRIMARY KEY,
    card_id INTEGER NOT NULL REFERENCES card (id),
    field TEXT NOT NULL, -- white, black, then over_white:4 and over_black:4 by passes, let_down_white, let_down_black
    at TEXT NOT NULL,
    source TEXT NOT NULL,
    reflectance TEXT NOT NULL CHECK (json_array_length(reflectance) = 36),
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1)) -- 0 when it was set aside
) STRICT;
INSERT INTO card_field_reading (id, card_id, field, at, source, reflectance, counts)
SELECT reading.id, card_id, CASE WHEN field IN ('white', 'black') THEN field ELSE field || ':' || coats END,
    reading.at, source, reflectance, counts
FROM card_reading AS reading JOIN card ON card.id = card_id;
DROP TABLE card_reading;
ALTER TABLE card_field_reading RENAME TO card_reading;
CREATE INDEX card_reading_card ON card_reading (card_id);
