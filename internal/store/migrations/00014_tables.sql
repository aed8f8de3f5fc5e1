-- +goose Up
-- Tables of words that came back from a spreadsheet, compared row by row, until they are applied or a day has passed.
create table words_table (
  id bigint generated always as identity primary key,
  brand_id bigint not null references brand,
  person_id bigint not null references person,
  name text not null,
  made_at timestamptz not null default now(),
  warnings text[] not null,
  new_tags text[] not null
);
create index words_table_person on words_table (brand_id, person_id);

create table words_row (
  table_id bigint not null references words_table on delete cascade,
  number integer not null,
  asset_id bigint,
  code text not null,
  file_name text not null,
  state text not null,
  changes jsonb not null,
  problems jsonb not null,
  primary key (table_id, number)
);
create index words_row_state on words_row (table_id, state, number);
create index words_row_asset on words_row (table_id, asset_id) where state = 'changes';
