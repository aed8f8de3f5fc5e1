-- +goose Up
-- The index keeps the lists of albums and tags: the feed tells it when they change.
-- +goose StatementBegin
do $$
declare
  t text;
begin
  foreach t in array array['album', 'tag_group'] loop
    execute format('create trigger feed_insert after insert on %I referencing new table as changed for each statement execute function feed_change('''')', t);
    execute format('create trigger feed_update after update on %I referencing new table as changed for each statement execute function feed_change('''')', t);
    execute format('create trigger feed_delete after delete on %I referencing old table as changed for each statement execute function feed_change('''')', t);
  end loop;
end $$;
-- +goose StatementEnd

-- Screens are told what changed about items (functions.sql).
-- +goose StatementBegin
create function tell_items() returns trigger language plpgsql as $$ begin return null; end $$;
-- +goose StatementEnd
drop trigger tell_insert on asset;
drop trigger tell_update on asset;
drop trigger tell_delete on asset;
create trigger tell_insert after insert on asset referencing new table as changed for each statement execute function tell_change('asset_place');
create trigger tell_update after update on asset referencing old table as before new table as after for each statement execute function tell_items();
create trigger tell_delete after delete on asset referencing old table as changed for each statement execute function tell_change('asset_place');
