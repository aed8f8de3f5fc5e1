-- +goose Up
-- A rule album is kept filled by a rule (core/query), of which it may show so many at random each day.
alter table album add rule jsonb, add pick int not null default 0 check (pick >= 0);
