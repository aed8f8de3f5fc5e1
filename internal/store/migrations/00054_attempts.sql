-- +goose Up
-- Pauses between attempts grow from the last one that was made; what was refused is not counted.
alter table attempt_count add last_at timestamptz not null default now();

-- +goose Down
alter table attempt_count drop last_at;
