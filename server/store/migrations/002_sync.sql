-- +goose Up
-- A flag is of the entry at seq. seen and settled are the seqs of the entries that said so, 0 while none has.
-- apart marks those that do not come from folding the log: from when an entry arrived, and from what a person decided.
ALTER TABLE flags ADD COLUMN seq INTEGER NOT NULL DEFAULT 0;
ALTER TABLE flags ADD COLUMN seen INTEGER NOT NULL DEFAULT 0;
ALTER TABLE flags ADD COLUMN settled INTEGER NOT NULL DEFAULT 0;
ALTER TABLE flags ADD COLUMN apart INTEGER NOT NULL DEFAULT 0;
UPDATE flags SET seq = coalesce((SELECT seq FROM entries e WHERE e.id = flags.entry), 0), apart = code IN ('time.ahead', 'entry.taken_by_hand');
CREATE INDEX flags_open ON flags (person, id) WHERE settled = 0;

-- How far a person's notices have changed: the seq of the last entry that flagged something of theirs, or saw or settled it.
CREATE TABLE notices (
  person TEXT PRIMARY KEY,
  seq    INTEGER NOT NULL
) WITHOUT ROWID;
INSERT INTO notices SELECT person, max(seq) FROM flags GROUP BY person;

ALTER TABLE devices ADD COLUMN version TEXT NOT NULL DEFAULT '';  -- of the program on it
ALTER TABLE devices ADD COLUMN unsent INTEGER NOT NULL DEFAULT 0; -- entries and files it still had after the last contact
ALTER TABLE devices ADD COLUMN skew INTEGER NOT NULL DEFAULT 0;   -- milliseconds by which its clock was ahead
ALTER TABLE devices ADD COLUMN ended TEXT NOT NULL DEFAULT '';    -- when its access was ended
ALTER TABLE devices ADD COLUMN wiped TEXT NOT NULL DEFAULT '';    -- when it said that it had nothing left
ALTER TABLE devices ADD COLUMN confirmed INTEGER NOT NULL DEFAULT 0; -- number of the last answer it is known to have had
CREATE INDEX devices_contact ON devices (contact);

-- Whose a work order is and where, so that a scope is found without reading documents.
ALTER TABLE workorders ADD COLUMN customer TEXT NOT NULL DEFAULT '';
ALTER TABLE workorders ADD COLUMN site TEXT NOT NULL DEFAULT '';
UPDATE workorders SET (customer, site) = (SELECT body ->> '$.customer', body ->> '$.site' FROM docs WHERE type = 'workorder' AND docs.id = workorders.id);

-- Whether a visit is under way, done, or still to come for a work order: those without are few among very many.
ALTER TABLE workorders ADD COLUMN placed INTEGER NOT NULL DEFAULT 0;
UPDATE workorders SET placed = EXISTS (SELECT 1 FROM visits v WHERE v.workorder = workorders.id AND v.stage NOT IN ('declined', 'withdrawn'));
CREATE INDEX workorders_to_place ON workorders (placed) WHERE placed = 0;

-- What the office has looked through leaves the list to review.
ALTER TABLE visits ADD COLUMN reviewed INTEGER NOT NULL DEFAULT 0;
DROP INDEX visits_stage_ended;
CREATE INDEX visits_to_review ON visits (stage, reviewed, ended);

-- Files that have arrived whole, kept beside the database under their hash.
CREATE TABLE files (
  hash     TEXT PRIMARY KEY,
  type     TEXT NOT NULL, -- by content
  size     INTEGER NOT NULL,
  thumb    INTEGER NOT NULL, -- whether there is a thumbnail
  person   TEXT NOT NULL, -- who sent it
  received TEXT NOT NULL
) WITHOUT ROWID;

-- +goose Down
SELECT 1;
