-- +goose Up
-- Who was at a site lately is found by looking once for each of them, however often they were there.
DROP INDEX visits_site;
CREATE INDEX visits_site ON visits (site, stage, technician, day);

-- +goose Down
SELECT 1;
