-- +goose Up
-- What an item must have to be called described, of the needs in core/describing.
alter table brand add described_needs text[] not null default '{title,alt}';
