-- Where grey patch, nose and tail lie in a photo that was brought to an entry of the log.
ALTER TABLE log_photo ADD COLUMN marks TEXT NOT NULL DEFAULT '';
