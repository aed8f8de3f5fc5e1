-- +goose Up
-- How many items can be looked into, and how many wait for it, are counted without reading them.
create index asset_lookable on asset (brand_id) where binned_at is null and kind <> 'file';
create index asset_unlooked on asset (brand_id) where binned_at is null and kind <> 'file' and looked_into is null;

-- +goose Down
drop index asset_unlooked;
drop index asset_lookable;
