-- +goose Up
-- Several output sizes at once, into a ZIP that is put together as it is fetched, or into a folder on the server. What is wanted is
-- answered at once; the files are worked out behind it, from the items in selected.
alter table server_folder add takes boolean not null default false; -- files may be put there, too

alter table download_item add output_size_id bigint references output_size, add bytes bigint not null default 0;
update download_item i set output_size_id = d.output_size_id from download d where d.id = i.download_id;
alter table download_item alter output_size_id set not null;

alter table download drop constraint download_state_check,
  add constraint download_state_check check (state in ('making', 'ready', 'failed', 'stopped')),
  add sizes bigint[] not null default '{}', -- output sizes in their order
  add size_names text[] not null default '{}', -- as they were called
  add selected bigint[],
  add numbered boolean not null default false,
  add server_folder_id bigint references server_folder on delete set null,
  add place text not null default '', -- what the server folder was called, or nothing for a ZIP
  add path text not null default '', -- the folder in it that holds the files
  add total int not null default 0,
  add made int not null default 0,
  add failed int not null default 0,
  add finished_at timestamptz;
update download d set sizes = array[d.output_size_id], size_names = array[o.name], finished_at = d.started_at,
  total = (select count(*) from download_item i where i.download_id = d.id),
  made = (select count(*) from download_item i where i.download_id = d.id and i.state = 'made'),
  failed = (select count(*) from download_item i where i.download_id = d.id and i.state = 'failed')
  from output_size o where o.id = d.output_size_id;
alter table download drop output_size_id;
create index download_brand on download (brand_id, id desc);

-- +goose Down
alter table download add output_size_id bigint references output_size;
update download set output_size_id = sizes[1];
alter table download alter output_size_id set not null, drop sizes, drop size_names, drop selected, drop numbered, drop server_folder_id,
  drop place, drop path, drop total, drop made, drop failed, drop finished_at;
alter table download_item drop output_size_id, drop bytes;
alter table server_folder drop takes;
