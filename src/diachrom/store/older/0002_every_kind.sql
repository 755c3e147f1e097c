-- What a profile has beside its coefficients: flakes, fluorescence, glow, bleeding.
ALTER TABLE paint_profile ADD COLUMN optics TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(optics));

-- A recipe's ground may be another recipe as sprayed ("recipe:14:3"); and a coat may be sealed.
ALTER TABLE recipe_version ADD COLUMN sealed INTEGER NOT NULL DEFAULT 0 CHECK (sealed IN (0, 1));
