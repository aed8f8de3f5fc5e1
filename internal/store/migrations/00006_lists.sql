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
