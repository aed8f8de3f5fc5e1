-- +goose Up
-- A table that came back is read and compared in the background: until then its bytes wait here, and how far it is stands beside them.
alter table words_table add column state text not null default 'ready' check (state in ('reading', 'ready', 'refused'));
alter table words_table add column data bytea; -- while it is read
alter table words_table add column rows_read int not null default 0;
alter table words_table add column rows_of int not null default 0; -- 0 is not known yet
alter table words_table add column why text not null default ''; -- it is refused
alter table words_table add column applied_at timestamptz;

-- +goose Down
alter table words_table drop column applied_at;
alter table words_table drop column why;
alter table words_table drop column rows_of;
alter table words_table drop column rows_read;
alter table words_table drop column data;
alter table words_table drop column state;
