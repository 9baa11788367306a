-- +goose Up
-- What entries moved, one line for each place and part.
CREATE TABLE movements (
  key    TEXT PRIMARY KEY, -- entry and place among its lines
  entry  TEXT NOT NULL,
  place  TEXT NOT NULL,
  part   TEXT NOT NULL,
  at     TEXT NOT NULL, -- UTC
  kind   TEXT NOT NULL,
  person TEXT NOT NULL,
  visit  TEXT NOT NULL,
  struck INTEGER NOT NULL DEFAULT 0,
  body   BLOB NOT NULL -- ledger.Movement
) WITHOUT ROWID;
CREATE INDEX movements_place ON movements (place, at);
CREATE INDEX movements_part ON movements (part, at);
CREATE INDEX movements_entry ON movements (entry);

CREATE TABLE handovers (
  id     TEXT PRIMARY KEY,
  "from" TEXT NOT NULL,
  "to"   TEXT NOT NULL,
  at     TEXT NOT NULL, -- UTC
  live   INTEGER NOT NULL -- not confirmed yet, or something did not arrive and is not back
) WITHOUT ROWID;
CREATE INDEX handovers_live ON handovers (at) WHERE live;

CREATE TABLE requests (
  id        TEXT PRIMARY KEY,
  visit     TEXT NOT NULL,
  workorder TEXT NOT NULL,
  person    TEXT NOT NULL,
  state     TEXT NOT NULL,
  at        TEXT NOT NULL, -- UTC
  since     TEXT NOT NULL
) WITHOUT ROWID;
CREATE INDEX requests_state ON requests (state, at);
CREATE INDEX requests_visit ON requests (visit);
CREATE INDEX requests_workorder ON requests (workorder);

CREATE TABLE purchases (
  id    TEXT PRIMARY KEY,
  state TEXT NOT NULL,
  place TEXT NOT NULL,
  at    TEXT NOT NULL -- UTC
) WITHOUT ROWID;
CREATE INDEX purchases_state ON purchases (state, at);

CREATE INDEX docs_parent ON docs (body ->> '$.parent') WHERE type = 'asset';

-- What the simulated supplier was sent.
CREATE TABLE supplier (
  purchase  TEXT PRIMARY KEY,
  reference TEXT NOT NULL,
  due       TEXT NOT NULL -- UTC
) WITHOUT ROWID;

-- Work whose last visit ended with a return needed is to be planned again.
ALTER TABLE visits ADD COLUMN outcome TEXT NOT NULL DEFAULT '';
UPDATE visits SET outcome = coalesce((SELECT body ->> '$.outcome' FROM docs WHERE type = 'visit' AND docs.id = visits.id), '');
UPDATE workorders SET placed = EXISTS (SELECT 1 FROM visits v WHERE v.workorder = workorders.id AND v.stage NOT IN ('declined', 'withdrawn') AND NOT (v.stage = 'finished' AND v.outcome = 'return_needed'));

-- +goose Down
SELECT 1;
