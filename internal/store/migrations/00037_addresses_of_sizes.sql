-- +goose Up
-- Clips as animations; and output sizes under which items are had at their public addresses, by a name that stays when a size is renamed.
alter table output_size
  add clip_format text not null default '',
  add public boolean not null default false,
  add address text not null default '';
update output_size set address = trim(both '-' from left(regexp_replace(lower(unaccent(name)), '[^a-z0-9]+', '-', 'g'), 40));
update output_size s set address = trim(both '-' from 'size-' || address || '-' || id) where address ~ '^[0-9-]*$'
  or address in ('small', 'medium', 'large')
  or exists (select from output_size o where o.brand_id = s.brand_id and o.address = s.address and o.id < s.id);
create unique index output_size_address on output_size (brand_id, address) where address <> '';
-- The logos of a brand: they can be drawn across what guests see.
create table logo (
  asset_id bigint primary key references asset on delete cascade deferrable,
  brand_id bigint not null references brand,
  since timestamptz not null default now()
);
create index logo_brand on logo (brand_id);
create trigger record after insert or update or delete on logo for each row execute function record_change('asset_id');
create trigger tell_insert after insert on logo referencing new table as changed for each statement execute function tell_change();
create trigger tell_delete after delete on logo referencing old table as changed for each statement execute function tell_change();
create index sighting_brand on sighting (brand_id);
-- Squeezing the ids of 40,000 items takes longer than writing them, and each piece would have to open all of them.
alter table bulk alter rest set storage external;

-- +goose Down
alter table bulk alter rest set storage extended;
drop index sighting_brand;
drop table logo;
alter table output_size drop clip_format, drop public, drop address;
