-- +goose Up
CREATE INDEX visits_ended ON visits (ended);
-- The last day that a visit is on: it may go on over midnight, or over days.
ALTER TABLE visits ADD COLUMN until TEXT NOT NULL DEFAULT '';
CREATE INDEX visits_stage_day ON visits (stage, day);
