-- +goose Up
CREATE INDEX visits_ended ON visits (ended);
