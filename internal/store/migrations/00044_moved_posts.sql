-- +goose Up
-- A dispatch that moves a post: once all of it is out, that one is taken back.
alter table dispatch add moves bigint references dispatch_post on delete set null deferrable;

-- +goose Down
alter table dispatch drop moves;
