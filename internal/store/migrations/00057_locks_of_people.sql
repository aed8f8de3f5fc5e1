-- +goose Up
-- One person's locks on the drive hold up nobody else's.
alter table drive_lock add person_id bigint references person on delete cascade;

-- +goose Down
alter table drive_lock drop person_id;
