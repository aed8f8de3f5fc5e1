-- The functions of the database as they are now. They are put in place after each migration, so that one which changes is
-- changed here and not copied into a migration; the few that the tables are made with begin in 00101_ground.sql.

create or replace function search_text(variadic parts text[]) returns text language sql immutable parallel safe as
$$ select lower(public.unaccent('public.unaccent', array_to_string(parts, ' '))) $$;

-- A name as it sorts: without case and accents, digits as numbers of 24 places. Compared bytewise.
create or replace function natural_key(name text) returns text language sql immutable parallel safe as
$$ select regexp_replace(regexp_replace(public.search_text(name), '(\d+)', repeat('0', 23) || '\1', 'g'), '\d*(\d{24})', '\1', 'g') $$;

-- What the outside sees instead of an id: 16 letters and digits, unguessable, never reused.
create or replace function new_code() returns text language sql volatile as
$$ select translate(encode(substr(decode(replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', ''), 'hex'), 5, 12), 'base64'), '+/', 'xy') $$;

-- The document that a file is a state of (XMP Media Management: OriginalDocumentID, DerivedFrom, DocumentID).
create or replace function document_of(metadata jsonb) returns text language sql immutable parallel safe as $$
  select left(coalesce(metadata ->> 'XMP-xmpMM:OriginalDocumentID', metadata #>> '{XMP-xmpMM:DerivedFrom,OriginalDocumentID}',
    metadata #>> '{XMP-xmpMM:DerivedFrom,DocumentID}', metadata ->> 'XMP-xmpMM:DocumentID'), 200)
$$;

-- What an item is found and sorted by, worked out from its words.
create or replace function derive() returns trigger language plpgsql as $$
begin
  new.search := search_text(new.title, new.file_name, new.came_as, new.description, new.alt, new.place, new.camera, new.credit);
  new.name_key := natural_key(coalesce(nullif(new.title, ''), new.file_name));
  return new;
end $$;

-- Whether an item differs in more than what the machine finds out about it by itself (computed_columns, and a focal point that
-- nobody has set).
create or replace function changed_by_people(was asset, becomes asset) returns boolean language plpgsql immutable as $$
begin
  was.looked_into := becomes.looked_into;
  was.sharpness := becomes.sharpness;
  was.tint := becomes.tint;
  was.colours := becomes.colours;
  was.likeness := becomes.likeness;
  was.sent_at := becomes.sent_at;
  was.sent_version := becomes.sent_version;
  was.sent_recipe := becomes.sent_recipe;
  if becomes.focal_by <> 'person' then
    was.focal_x := becomes.focal_x;
    was.focal_y := becomes.focal_y;
    was.focal_by := becomes.focal_by;
  end if;
  return was is distinct from becomes;
end $$;

-- An item that moves to another folder leaves its place by hand behind, unless a place is given in the same change. Its
-- revision counts what people do.
create or replace function touch() returns trigger language plpgsql as $$
begin
  if not changed_by_people(old, new) then
    return new;
  end if;
  new.changed_at := now();
  new.revision := old.revision + 1;
  if new.folder_id is distinct from old.folder_id and new.position is not distinct from old.position then
    new.position := null;
  end if;
  if (new.binned_at is null) <> (old.binned_at is null) then
    new.binned_folder := case when new.binned_at is not null then old.folder_id end;
  end if;
  return new;
end $$;

-- Tells every open screen of a brand what changed: the arguments are topics. Equal messages in one transaction are sent once.
create or replace function tell_change() returns trigger language plpgsql as $$
begin
  perform pg_notify('satchel', b.brand_id || ' ' || what)
    from (select distinct brand_id from changed) b, unnest(tg_argv[0:]) what;
  return null;
end $$;

-- Tells what changed about items, so that no screen asks again for what did not: anything that people do (items), what the machine
-- found out (items-looked), where they count (items-counted), and what stands for them elsewhere (items-shown). It is planned anew each
-- time, since a plan that was made for one row would join thousands one by one.
create or replace function tell_items() returns trigger language plpgsql as $$
begin
  execute 'select pg_notify(''satchel'', x.brand_id || '' '' || what) from (
    select a.brand_id, bool_or(a.revision <> b.revision) as done, bool_or(a.revision = b.revision) as looked,
      bool_or(row(a.folder_id, a.binned_at is null, a.stack_id, a.stack_front, a.stars < 0)
        is distinct from row(b.folder_id, b.binned_at is null, b.stack_id, b.stack_front, b.stars < 0)) as place,
      bool_or(row(a.version_id, a.recipe_hash, a.alt) is distinct from row(b.version_id, b.recipe_hash, b.alt)) as face
    from before b join after a using (id) group by a.brand_id) x,
    unnest(array[case when done then ''items'' end, case when looked then ''items-looked'' end, case when place then ''items-counted'' end,
      case when face then ''items-shown'' end]) what
    where what is not null';
  return null;
end $$;

-- The feed keeps apart what concerns an item itself and what it is related to: the name of the table says which.
create or replace function feed_change() returns trigger language plpgsql as $$
begin
  if tg_argv[0] = '' then
    insert into feed (brand_id, what) select distinct brand_id, tg_table_name from changed;
  else
    execute format('insert into feed (brand_id, what, assets) select brand_id, %2$L, array_agg(distinct %1$I) from changed where %1$I is not null group by brand_id', tg_argv[0], tg_table_name);
  end if;
  return null;
end $$;

create or replace function changed_columns(object jsonb) returns text[] language sql immutable parallel safe as
$$ select array_agg(k order by k) from jsonb_object_keys(object) k $$;

-- Writes each changed row into the trail of the action that the transaction belongs to (setting satchel.trail), so that
-- no query can forget to. The arguments are the key columns. Updates keep only what differs. What
-- the database computes by itself is left out.
create or replace function record_change() returns trigger language plpgsql as $$
declare
  entry bigint := nullif(current_setting('satchel.trail', true), '')::bigint;
  was jsonb := case when tg_op <> 'INSERT' then to_jsonb(old) - 'search' - 'name_key' end;
  becomes jsonb := case when tg_op <> 'DELETE' then to_jsonb(new) - 'search' - 'name_key' end;
  row_key jsonb;
begin
  if entry is null then return null; end if;
  select jsonb_object_agg(k, coalesce(becomes, was) -> k) into row_key from unnest(tg_argv) k;
  if tg_op = 'UPDATE' then
    select jsonb_object_agg(k, was -> k), jsonb_object_agg(k, becomes -> k) into was, becomes
      from jsonb_object_keys(becomes) k
      where was -> k is distinct from becomes -> k and k not in ('revision', 'changed_at');
    if was is null then return null; end if;
  elsif tg_op = 'INSERT' then
    becomes := becomes - 'revision' - 'changed_at';
  end if;
  insert into trail_change (trail_id, table_name, key, before, after) values (entry, tg_table_name, row_key, was, becomes);
  return null;
end $$;

-- record_change for the updates of a table with the key id, set by set: hundreds of items change at once. It asks first
-- which columns differ in any row, and then looks at those only.
create or replace function record_updates() returns trigger language plpgsql as $$
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

-- What the address of a picture carries of the version and the recipe that make it what it is, so that it may be kept for good.
create or replace function picture_version(code text, recipe_hash text) returns text language sql immutable parallel safe as
$$ select case when recipe_hash = '' then code else code || '-' || recipe_hash end $$;

-- What the machine finds out about items by itself: when it is written, nobody has changed anything. A focal point follows the framing,
-- and is found again by the machine afterwards; that a person set it is told by focal_by, which is compared.
create or replace function computed_columns() returns text[] language sql immutable parallel safe as
$$ select array['looked_into', 'sharpness', 'tint', 'colours', 'likeness', 'likeness_bands', 'focal_x', 'focal_y', 'sent_at',
  'sent_version', 'sent_recipe'] $$;

-- Raises SB001, with the table and the key of a row that is no longer as a trail entry left it.
create or replace function changed_since(table_name text, key jsonb) returns void language plpgsql as $$
begin
  raise exception 'changed since' using errcode = 'SB001', detail = table_name || ' ' || coalesce(key, '{}')::text;
end $$;

-- Notes which folders an entry of the trail concerns.
create or replace function note_folders(entry bigint) returns void language sql as $$
  insert into trail_folder (folder_id, trail_id)
  select distinct f.id, entry from trail_change c
  left join asset a on a.id = coalesce((c.key ->> 'asset_id')::bigint, case when c.table_name = 'asset' then (c.key ->> 'id')::bigint end)
  cross join lateral (values (a.folder_id), ((c.before ->> 'folder_id')::bigint), ((c.after ->> 'folder_id')::bigint),
    ((c.before ->> 'parent_id')::bigint), ((c.key ->> 'folder_id')::bigint),
    (case when c.table_name = 'folder' then (c.key ->> 'id')::bigint end)) f(id)
  where c.trail_id = entry and c.table_name <> 'album' and f.id is not null
  on conflict do nothing
$$;

-- Whether a table has a column: steps of the trail can be older than a table is as it is now.
create or replace function is_column(of_table text, name text) returns boolean language sql stable as
$$ select exists (select from pg_attribute where attrelid = of_table::regclass and attname = name and attnum > 0 and not attisdropped) $$;

-- The condition that a row t has the key of a trail change c.
create or replace function same_row(of_table text, keys text[]) returns text language sql stable as $$
  select string_agg(format('t.%1$I = (c.key ->> %1$L)::%2$s', k, (select format_type(atttypid, atttypmod) from pg_attribute where attrelid = of_table::regclass and attname = k)), ' and ')
  from unnest(keys) k
$$;

-- Takes back the plain updates of a trail entry, set by set: rows of one table of which the same columns changed. It returns
-- how many rows that were. What only the machine changed since is taken back too.
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
  for g in select table_name, changed_columns(before) as cols, changed_columns(key) as keys, count(*) as n from trail_change
      where trail_id = entry and before is not null and after is not null group by 1, 2, 3 loop
    matches := same_row(g.table_name, g.keys);
    select string_agg(format('%I %s', attname, format_type(atttypid, atttypmod)), ', '), string_agg(format('%1$I = was.%1$I', attname), ', '),
        coalesce(string_agg(format('t.%1$I is not distinct from became.%1$I', attname), ' and ') filter (where attname <> all (computed_columns())), 'true') into typed, sets, same
      from pg_attribute where attrelid = g.table_name::regclass and attname = any(g.cols);
    execute format('update %I t set %s from trail_change c, jsonb_to_record(c.before) was(%s), jsonb_to_record(c.after) became(%s)
      where c.trail_id = $1 and c.table_name = %L and c.after is not null and changed_columns(c.before) = $2 and %s and %s', g.table_name, sets, typed, typed, g.table_name, matches, same)
      using entry, g.cols;
    get diagnostics n = row_count;
    if n < g.n then
      execute format('select c.key from trail_change c where c.trail_id = $1 and c.table_name = %L and c.after is not null and changed_columns(c.before) = $2
        and not exists (select from %I t where %s and to_jsonb(t) @> c.before) limit 1', g.table_name, g.table_name, matches) into missed using entry, g.cols;
      perform changed_since(g.table_name, missed);
    end if;
    total := total + n;
  end loop;
  return total;
end $$;

-- Takes the rows away that a trail entry made, table by table, the one that it wrote to last first.
create or replace function undo_inserts(entry bigint) returns int language plpgsql as $$
declare
  g record;
  matches text;
  missed jsonb;
  n int;
  total int := 0;
begin
  for g in select table_name, changed_columns(key) as keys, count(*) as n, max(id) as last from trail_change where trail_id = entry and before is null group by 1, 2 order by last desc loop
    matches := same_row(g.table_name, g.keys);
    execute format('delete from %I t using trail_change c where c.trail_id = $1 and c.table_name = %L and c.before is null and %s and to_jsonb(t) @> c.after', g.table_name, g.table_name, matches) using entry;
    get diagnostics n = row_count;
    if n < g.n then
      execute format('select c.key from trail_change c where c.trail_id = $1 and c.table_name = %L and c.before is null and not exists (select from %I t where %s and to_jsonb(t) @> c.after) limit 1',
        g.table_name, g.table_name, matches) into missed using entry;
      perform changed_since(g.table_name, missed);
    end if;
    total := total + n;
  end loop;
  return total;
end $$;

-- Brings the rows back that a trail entry removed, table by table.
create or replace function undo_deletes(entry bigint) returns int language plpgsql as $$
declare
  g record;
  columns text;
  n int;
  total int := 0;
begin
  for g in select table_name, (array_agg(before))[1] as one from trail_change where trail_id = entry and after is null group by 1 loop
    select string_agg(quote_ident(k), ', ') into columns from jsonb_object_keys(g.one) k where is_column(g.table_name, k);
    execute format('insert into %1$I (%2$s) select %2$s from (select (jsonb_populate_record(null::%1$I, c.before)).* from trail_change c where c.trail_id = $1 and c.table_name = %1$L and c.after is null) r',
      g.table_name, columns) using entry;
    get diagnostics n = row_count;
    total := total + n;
  end loop;
  return total;
end $$;

-- Takes back everything that a trail entry changed, and returns how many rows that were. A row that is no longer as the
-- entry left it raises SB001. An item that was brought in goes to the bin as it is: what the entry did to it after making
-- it stays. What refers to what is looked at once at the end, so that it does not matter which of both comes back first.
-- Rows that changed once each are taken back in sets, the others one by one, the last change first.
create or replace function undo_trail(entry bigint) returns int language plpgsql as $$
declare
  c record;
  columns text;
  total int := 0;
  n int;
begin
  set constraints all deferred;
  if exists (select from trail_change x where x.trail_id = entry group by x.table_name, x.key having count(*) > 1)
     or exists (select from trail_change x where x.trail_id = entry and x.table_name = 'asset' and x.before is null) then
    for c in select * from trail_change x where trail_id = entry and not (x.table_name = 'asset' and x.before is not null and x.after is not null
        and exists (select from trail_change made where made.trail_id = entry and made.table_name = 'asset' and made.key = x.key and made.before is null))
        order by id desc loop
      if c.after is null then
        select string_agg(quote_ident(k), ', ') into columns from jsonb_object_keys(c.before) k where is_column(c.table_name, k);
        execute format('insert into %1$I (%2$s) select %2$s from jsonb_populate_record(null::%1$I, $1)', c.table_name, columns) using c.before;
      elsif c.before is null and c.table_name = 'asset' then
        update asset set binned_at = now() where id = (c.key ->> 'id')::bigint and binned_at is null;
      elsif c.before is null then
        execute format('delete from %I t using (select $1 as key) c where %s and to_jsonb(t) @> $2', c.table_name, same_row(c.table_name, changed_columns(c.key))) using c.key, c.after;
      else
        select string_agg(format('%1$I = (jsonb_populate_record(null::%2$I, $1)).%1$I', k, c.table_name), ', ') into columns from jsonb_object_keys(c.before) k;
        execute format('update %I t set %s from (select $3 as key) c where %s and to_jsonb(t) @> $2', c.table_name, columns, same_row(c.table_name, changed_columns(c.key)))
          using c.before, c.after - computed_columns(), c.key;
      end if;
      get diagnostics n = row_count;
      if n = 0 then
        perform changed_since(c.table_name, c.key);
      end if;
      total := total + n;
    end loop;
  else
    total := undo_inserts(entry) + undo_updates(entry) + undo_deletes(entry);
  end if;
  set constraints all immediate;
  return total;
end $$;

-- Keeps how many bytes the originals of a brand take, each content once, also with its versions in the bin. Files that were
-- left where they are take none. Whoever adds or removes versions of one content holds its lock (LockContent).
create or replace function count_usage() returns trigger language plpgsql as $$
begin
  insert into brand_usage as u (brand_id, bytes)
    select brand_id, case when tg_op = 'INSERT' then sum(bytes) else -sum(bytes) end from (
      select distinct on (c.brand_id, c.sha256) c.brand_id, c.bytes from changed c where c.left_at is null and not exists (
        select from version o where o.brand_id = c.brand_id and o.sha256 = c.sha256 and o.left_at is null and o.id not in (select id from changed))
      order by c.brand_id, c.sha256) first
    group by brand_id
    on conflict (brand_id) do update set bytes = u.bytes + excluded.bytes;
  return null;
end $$;

-- How much of some colours, in percent, is within reach of another one: core/likeness has the same, with how a colour is written.
create or replace function colour_share(colours int[], c int) returns int language sql immutable parallel safe as
$$ select coalesce(sum(s & 127), 0)::int from unnest(colours) s where ((s >> 23) - (c >> 23)) * ((s >> 23) - (c >> 23))
  + ((s >> 15 & 255) - (c >> 15 & 255)) * ((s >> 15 & 255) - (c >> 15 & 255))
  + ((s >> 7 & 255) - (c >> 7 & 255)) * ((s >> 7 & 255) - (c >> 7 & 255)) <= 22 * 22 $$;

create or replace function colour_overlap(colours int[], other int[]) returns int language sql immutable parallel safe as
$$ select coalesce(sum(least(s & 127, public.colour_share(other, s))), 0)::int from unnest(colours) s $$;

-- In how many bits two likenesses differ; 32 where one of them tells nothing.
create or replace function likeness_bits(a bigint, b bigint) returns int language sql immutable parallel safe as
$$ select case when coalesce(bit_count(a::bit(64)), 0) between 6 and 58 and coalesce(bit_count(b::bit(64)), 0) between 6 and 58
  then bit_count((a # b)::bit(64))::int else 32 end $$;
