-- Who an order is for is not what it is called. Until now one field held both.
ALTER TABLE bait_order ADD COLUMN customer TEXT NOT NULL DEFAULT '' CHECK (length(customer) <= 80);
UPDATE bait_order SET customer = name
WHERE name <> 'For the bench' AND name NOT IN (SELECT name FROM plan_version);

-- Why baits came into the drawer or left it, and for which line: 'over' from an order, 'taken' for one,
-- 'again' where an order was finished more than once and its surplus counted each time.
ALTER TABLE bait_stock ADD COLUMN why TEXT NOT NULL DEFAULT '' CHECK (why IN ('', 'over', 'taken', 'again'));
ALTER TABLE bait_stock ADD COLUMN line INTEGER;
UPDATE bait_stock SET why = 'over' WHERE bait_order IS NOT NULL AND note LIKE 'over from %';
UPDATE bait_stock SET why = 'taken', line = (
    SELECT min(id) FROM order_line WHERE order_line.bait_order = bait_stock.bait_order AND order_line.plan = bait_stock.plan
) WHERE bait_order IS NOT NULL AND note = 'ordered';
UPDATE bait_stock SET why = 'again' WHERE why = 'over' AND EXISTS (
    SELECT 1 FROM bait_stock AS later
    WHERE later.why = 'over' AND later.at > bait_stock.at
    AND (later.bait_order, later.plan, later.version) = (bait_stock.bait_order, bait_stock.plan, bait_stock.version)
);
CREATE INDEX bait_stock_order ON bait_stock (bait_order) WHERE bait_order IS NOT NULL;
