-- +goose Up
-- What hangs on a removed folder or album goes with it, and must come back with it.
create trigger record after update or delete on watched_folder for each row execute function record_change('id');
create trigger record after update of folder_id, album_id on intake for each row execute function record_change('id');
create trigger record after delete on widening_told for each row execute function record_change('folder_id', 'audience');

-- +goose StatementBegin
-- References can be looked at at the end of a transaction, which undoing does: what refers to something may come back before it.
do $$
declare
  r record;
begin
  for r in select conname, conrelid::regclass as of_table from pg_constraint where contype = 'f' and not condeferrable and connamespace = 'public'::regnamespace
      and conrelid::regclass::text not like 'river%' loop
    execute format('alter table %s alter constraint %I deferrable initially immediate', r.of_table, r.conname);
  end loop;
end $$;
-- +goose StatementEnd

-- What is done to a picture is a recipe (core/recipe) that is kept with the item. The file stays what it is, and so does
-- what is known of the version: its dimensions are those of the upright file. The hash stands for the recipe in addresses.
alter table asset
  add recipe jsonb not null default '{}',
  add recipe_hash text not null default '';
update asset set recipe = jsonb_build_object('turn', turn), recipe_hash = left(encode(sha256(convert_to('{"turn":' || turn || '}', 'UTF8')), 'hex'), 12) where turn <> 0;
update version set width = height, height = width where turn in (90, 270);
alter table asset drop column turn;
alter table version drop column turn;

-- Films that somebody waits for, so that one which nobody waits for any more is given up. Infinity is for those that are
-- wanted in any case.
create table film_wanted (
  version_id bigint not null references version on delete cascade,
  recipe text not null,
  wanted_at timestamptz not null default now(),
  failed text not null default '',
  primary key (version_id, recipe)
);

-- Attempts to sign in or to open a gallery, counted under several keys.
drop table attempt;
create table attempt_count (
  key text primary key,
  began timestamptz not null default now(),
  n int not null
);

-- How many bytes the originals of a brand take, kept as a sum (count_usage).
create table brand_usage (
  brand_id bigint primary key references brand,
  bytes bigint not null
);
insert into brand_usage select brand_id, sum(bytes) from (select distinct on (brand_id, sha256) brand_id, bytes from version where left_at is null order by brand_id, sha256) v group by 1;
-- +goose StatementBegin
create function count_usage() returns trigger language plpgsql as $$ begin return null; end $$; -- see functions.sql
-- +goose StatementEnd
create trigger count_usage_insert after insert on version referencing new table as changed for each statement execute function count_usage();
create trigger count_usage_delete after delete on version referencing old table as changed for each statement execute function count_usage();

-- Open screens end when what their people may do changes.
create trigger tell_insert after insert on membership referencing new table as changed for each statement execute function tell_change();
create trigger tell_update after update on membership referencing new table as changed for each statement execute function tell_change();
create trigger tell_delete after delete on membership referencing old table as changed for each statement execute function tell_change();
create trigger record after update of tag_id on face for each row execute function record_change('id');
