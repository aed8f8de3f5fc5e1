-- +goose Up
-- A download can wait for a step of the trail that goes on in pieces, so that its files show what that does.
alter table download add after_trail_id bigint references trail;
