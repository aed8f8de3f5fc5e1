-- +goose Up
-- Several may have something on the drive open at once, and keep others from changing it (RFC 4918, section 6.2).
alter table drive_lock add shared boolean not null default false;

-- +goose Down
alter table drive_lock drop shared;
