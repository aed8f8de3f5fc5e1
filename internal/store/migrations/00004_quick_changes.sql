-- +goose Up
-- What is searched in and sorted by was generated, and so was made anew with every change of an item, also by a move.
-- Now a trigger makes it, when one of its sources changes.
alter table asset alter search drop expression, alter search set not null;
alter table asset alter name_key drop expression, alter name_key set not null;

-- +goose StatementBegin
create function derive() returns trigger language plpgsql as $$
begin
  new.search := search_text(new.title, new.file_name, new.description, new.alt, new.place, new.camera);
  new.name_key := natural_key(coalesce(nullif(new.title, ''), new.file_name));
  return new;
end $$;
-- +goose StatementEnd
create trigger derive_insert before insert on asset for each row execute function derive();
create trigger derive_update before update of title, file_name, description, alt, place, camera on asset for each row execute function derive();
alter table asset enable always trigger derive_insert;

-- +goose StatementBegin
-- The feed tells apart what concerns an item itself and what it is related to: the name of the table says which.
create or replace function feed_change() returns trigger language plpgsql as $$
begin
  if tg_argv[0] = '' then
    insert into feed (brand_id, what) select distinct brand_id, tg_table_name from changed;
  else
    execute format('insert into feed (brand_id, what, assets) select brand_id, %2$L, array_agg(distinct %1$I) from changed where %1$I is not null group by brand_id', tg_argv[0], tg_table_name);
  end if;
  return null;
end $$;
-- +goose StatementEnd

-- +goose StatementBegin
-- record_change for the updates of a table with the key id, set by set: hundreds of items change at once. It asks first
-- which columns differ in any row, and then looks at those only.
create function record_updates() returns trigger language plpgsql as $$
declare
  entry bigint := nullif(current_setting('satchel.trail', true), '')::bigint;
  differing text;
  columns text[];
  was text;
  becomes text;
begin
  if entry is null then return null; end if;
  select format('select array_remove(array[%s], null) from before b join after a using (id)',
      string_agg(format('case when bool_or(b.%1$I is distinct from a.%1$I) then %1$L end', attname), ', ')) into differing
    from pg_attribute where attrelid = tg_relid and attnum > 0 and not attisdropped and attname not in ('id', 'search', 'name_key', 'revision', 'changed_at');
  execute differing into columns;
  if cardinality(columns) = 0 then return null; end if;
  select string_agg(format('case when b.%1$I is distinct from a.%1$I then jsonb_build_object(%1$L, b.%1$I) else ''{}'' end', c), ' || '),
      string_agg(format('case when b.%1$I is distinct from a.%1$I then jsonb_build_object(%1$L, a.%1$I) else ''{}'' end', c), ' || ') into was, becomes
    from unnest(columns) c;
  execute format('insert into trail_change (trail_id, table_name, key, before, after)
    select $1, $2, jsonb_build_object(''id'', id), was, becomes from (select id, %s as was, %s as becomes from before b join after a using (id)) x where was <> ''{}''', was, becomes) using entry, tg_table_name;
  return null;
end $$;
-- +goose StatementEnd
drop trigger record on asset;
create trigger record after insert or delete on asset for each row execute function record_change('id');
create trigger record_updates after update on asset referencing old table as before new table as after for each statement execute function record_updates();

-- +goose StatementBegin
-- Takes back the plain updates of a trail entry, set by set: rows of one table of which the same columns changed. It returns
-- how many rows that were, and raises SB001 when one of them is no longer as the entry left it.
create or replace function undo_updates(entry bigint) returns int language plpgsql as $$
declare
  g record;
  matches text;
  typed text;
  sets text;
  same text;
  missed jsonb;
  n int;
  total int := 0;
begin
  for g in select table_name, changed_columns(before) as cols, changed_columns(key) as keys, count(*) as n from trail_change where trail_id = entry group by 1, 2, 3 loop
    select string_agg(format('t.%1$I = (c.key ->> %1$L)::bigint', k), ' and ') into matches from unnest(g.keys) k;
    select string_agg(format('%I %s', attname, format_type(atttypid, atttypmod)), ', '), string_agg(format('%1$I = was.%1$I', attname), ', '),
        string_agg(format('t.%1$I is not distinct from became.%1$I', attname), ' and ') into typed, sets, same
      from pg_attribute where attrelid = g.table_name::regclass and attname = any(g.cols);
    execute format('update %I t set %s from trail_change c, jsonb_to_record(c.before) was(%s), jsonb_to_record(c.after) became(%s)
      where c.trail_id = $1 and c.table_name = %L and changed_columns(c.before) = $2 and %s and %s', g.table_name, sets, typed, typed, g.table_name, matches, same) using entry, g.cols;
    get diagnostics n = row_count;
    if n < g.n then
      execute format('select c.key from trail_change c where c.trail_id = $1 and c.table_name = %L and changed_columns(c.before) = $2
        and not exists (select from %I t where %s and to_jsonb(t) @> c.before) limit 1', g.table_name, g.table_name, matches) into missed using entry, g.cols;
      raise exception 'changed since' using errcode = 'SB001', detail = g.table_name || ' ' || coalesce(missed, '{}')::text;
    end if;
    total := total + n;
  end loop;
  return total;
end $$;
-- +goose StatementEnd
