-- +goose Up
-- Files that come back find what they are to replace by their names.
create index asset_file_name on asset (brand_id, lower(file_name));
