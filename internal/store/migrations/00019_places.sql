-- +goose Up
-- Whoever is asked what others of the same place have does not look through the whole library.
create index asset_place on asset (brand_id, place) where binned_at is null and place <> '';
create index asset_position on asset (brand_id, latitude, longitude) where binned_at is null and latitude is not null;
