-- +goose Up
-- What the machine does in somebody's name (a loader, a watched folder) is in the trail as its own.
alter table trail add agent text not null default '';
