-- +goose Up
-- How many items wait to be looked into is counted without reading them all.
create index asset_unlooked on asset (brand_id) where binned_at is null and kind <> 'file' and looked_into is null;

-- +goose Down
drop index asset_unlooked;
