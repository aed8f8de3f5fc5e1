-- +goose Up
-- Whether somebody who is shown is told of new pictures, by one letter a day, and of which they know.
alter table person_shown add column told boolean not null default false, add column told_at timestamptz;
create table person_told (
  tag_id bigint not null references tag on delete cascade,
  asset_id bigint not null references asset on delete cascade,
  primary key (tag_id, asset_id)
);
create index person_told_asset on person_told (asset_id);

-- +goose Down
drop table person_told;
alter table person_shown drop column told, drop column told_at;
