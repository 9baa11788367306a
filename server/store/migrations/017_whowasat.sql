-- +goose Up
-- Who was at a site lately knows it.
CREATE INDEX visits_site ON visits (site, day, stage, technician);

-- +goose Down
SELECT 1;
