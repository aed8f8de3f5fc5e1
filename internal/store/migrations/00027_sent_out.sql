-- +goose Up
-- What was last taken along of an item: the version and the recipe. Where the item is another now, what was sent is older than what
-- stands here.
alter table asset add sent_at timestamptz, add sent_version bigint, add sent_recipe text;
alter table download_item add version_id bigint, add recipe text;
-- What an item is by what was done with it is one field of filters: prepared, sent, older.
update album set rule = replace(rule::text, '"field": "prepared"', '"field": "state", "names": ["prepared"]')::jsonb
  where rule::text like '%"field": "prepared"%';
update preference set value = replace(value::text, '"field": "prepared"', '"field": "state", "names": ["prepared"]')::jsonb
  where value::text like '%"field": "prepared"%';

-- +goose Down
alter table download_item drop version_id, drop recipe;
alter table asset drop sent_at, drop sent_version, drop sent_recipe;
