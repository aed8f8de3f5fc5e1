-- +goose Up
-- Pictures that guests of a gallery add: into which folder, in whose name they are brought in, and which of them nobody has looked at.
alter table gallery
  add column takes_into bigint references folder on delete set null deferrable,
  add column takes_by bigint references person;
create index gallery_takes_into on gallery (takes_into) where takes_into is not null;
alter table asset drop constraint asset_source_check,
  add constraint asset_source_check check (source in ('upload', 'server', 'watched', 'outlet', 'guest'));
alter table intake drop constraint intake_source_check,
  add constraint intake_source_check check (source in ('upload', 'server', 'watched', 'outlet', 'guest'));
create table contribution (
  file_id bigint primary key references intake_file on delete cascade,
  brand_id bigint not null references brand,
  gallery_id bigint references gallery on delete set null deferrable,
  guest_id bigint references guest on delete set null deferrable,
  guest_name text not null,
  agreed_at timestamptz not null default now(), -- that the brand may use it
  accepted_at timestamptz,
  accepted_by bigint references person
);
create index contribution_gallery on contribution (gallery_id);
create index contribution_guest on contribution (guest_id);
create trigger tell_insert after insert on contribution referencing new table as changed for each statement execute function tell_change();
create trigger tell_update after update on contribution referencing new table as changed for each statement execute function tell_change();

-- +goose Down
drop table contribution;
update asset set source = 'upload' where source = 'guest';
update intake set source = 'upload' where source = 'guest';
alter table asset drop constraint asset_source_check,
  add constraint asset_source_check check (source in ('upload', 'server', 'watched', 'outlet'));
alter table intake drop constraint intake_source_check,
  add constraint intake_source_check check (source in ('upload', 'server', 'watched', 'outlet'));
alter table gallery drop column takes_into, drop column takes_by;
