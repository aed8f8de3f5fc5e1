-- +goose Up
-- part_of: what was done to one item of an entry, taken out of it so that it could be undone by itself.
alter table trail add part_of bigint references trail on delete cascade;
create index trail_person on trail (brand_id, person_id, id desc);

-- The folders that an entry concerns: those it changed, and those that its items were or are in.
create table trail_folder (
  folder_id bigint not null, -- no reference: the folder may be gone
  trail_id bigint not null references trail on delete cascade,
  primary key (folder_id, trail_id)
);
create index trail_folder_trail on trail_folder (trail_id);

-- +goose StatementBegin
-- Notes which folders an entry concerns.
create function note_folders(entry bigint) returns void language sql as $$
  insert into trail_folder (folder_id, trail_id)
  select distinct f.id, entry from trail_change c
  left join asset a on a.id = coalesce((c.key ->> 'asset_id')::bigint, case when c.table_name = 'asset' then (c.key ->> 'id')::bigint end)
  cross join lateral (values (a.folder_id), ((c.before ->> 'folder_id')::bigint), ((c.after ->> 'folder_id')::bigint),
    ((c.before ->> 'parent_id')::bigint), ((c.key ->> 'folder_id')::bigint),
    (case when c.table_name = 'folder' then (c.key ->> 'id')::bigint end)) f(id)
  where c.trail_id = entry and c.table_name <> 'album' and f.id is not null
  on conflict do nothing
$$;
-- +goose StatementEnd
select note_folders(id) from trail;
