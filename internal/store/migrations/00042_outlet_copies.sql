-- +goose Up
-- What the brand itself posted at an outlet is copied here as it appears, in the name of somebody.
alter table outlet
  add copied boolean not null default false,
  add copied_by bigint references person on delete set null,
  add copied_at timestamptz;

-- +goose Down
alter table outlet drop copied, drop copied_by, drop copied_at;
