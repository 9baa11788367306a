-- +goose Up
-- Occurrences of maintenance plans that work orders were opened for.
CREATE TABLE due (
  plan      TEXT NOT NULL,
  target    TEXT NOT NULL, -- machine or site
  key       TEXT NOT NULL,
  first     TEXT NOT NULL, -- of those that it stands for
  day       TEXT NOT NULL, -- on which it was to be done
  workorder TEXT NOT NULL,
  PRIMARY KEY (plan, target, key, workorder)
) WITHOUT ROWID;
-- The last day on which all that an order is due for may be done, '' when it is for none.
ALTER TABLE workorders ADD COLUMN due_by TEXT NOT NULL DEFAULT '';
CREATE INDEX workorders_due ON workorders (due_by) WHERE due_by > '' AND state NOT IN ('closed', 'cancelled');
CREATE INDEX due_target ON due (target, day);

-- +goose Down
SELECT 1;
