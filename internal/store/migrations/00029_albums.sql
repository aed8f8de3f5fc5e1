-- +goose Up
-- Albums that are not in use are parked out of sight. An album that was made of a choice remembers the choice, so that it can say when
-- the items are no longer what was chosen; whole says that it held everything of it.
alter table album add parked boolean not null default false, add chosen_by jsonb, add chosen_whole boolean not null default false;

-- +goose Down
alter table album drop parked, drop chosen_by, drop chosen_whole;
