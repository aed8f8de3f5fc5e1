-- +goose Up
-- What was sent of an item: the recipe by which it was made, and what it looked like, so that what is out there is compared with that
-- although the item was changed here since.
alter table dispatch_item add recipe text, add sent jsonb;
update dispatch_item i set recipe = a.sent_recipe from asset a, dispatch_post p
  where a.id = i.asset_id and p.id = i.post_id and p.phase = 'out' and a.sent_version = i.version_id;

-- +goose Down
alter table dispatch_item drop recipe, drop sent;
