-- Profiles were fitted as even films until now: a bench that has any goes on so until its mist is measured.
INSERT INTO setting (key, value)
SELECT 'mist', '{"droplet_um": 0, "off": 0, "source": "even"}'
WHERE EXISTS (SELECT 1 FROM paint) AND NOT EXISTS (SELECT 1 FROM setting WHERE key = 'mist');
