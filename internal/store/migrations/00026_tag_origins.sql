-- How many items a tag is on, and of how many it came with the file, is counted from the index alone: a tag that is on 40,000
-- of a million items was one look into the table for each of them.

-- +goose Up
create index asset_tag_counted on asset_tag (tag_id, asset_id) include (origin);
drop index asset_tag_tag;
alter index asset_tag_counted rename to asset_tag_tag;

-- +goose Down
create index asset_tag_counted on asset_tag (tag_id, asset_id);
drop index asset_tag_tag;
alter index asset_tag_counted rename to asset_tag_tag;
