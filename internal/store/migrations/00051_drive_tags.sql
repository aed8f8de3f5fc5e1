-- +goose Up
-- What is copied onto the drive is told apart by its code until it is an item, and after: its bytes are summed when it is brought in, and
-- not while somebody waits.
alter table drive_file drop column sum;
create table drive_tag (
  version_id bigint primary key references version on delete cascade deferrable,
  tag text not null
);

-- +goose Down
drop table drive_tag;
alter table drive_file add sum bytea not null default '';
