-- +goose Up
-- The name under which the file of an item came, where it is called otherwise now; it is found by that, too.
alter table asset add came_as text not null default '';

-- +goose Down
alter table asset drop came_as;
