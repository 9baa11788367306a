-- +goose Up
CREATE INDEX visits_ended ON visits (ended);
-- The last day that a visit is on: it may go on over midnight, or over days.
ALTER TABLE visits ADD COLUMN until TEXT NOT NULL DEFAULT '';
CREATE INDEX visits_stage_day ON visits (stage, day);

-- Whether an entry was given again after a restore: it is tried again when what it rests on comes.
ALTER TABLE held ADD COLUMN again INTEGER NOT NULL DEFAULT 0;
