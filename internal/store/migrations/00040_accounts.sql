-- +goose Up
-- Accounts at services that people let the server into: their tokens are sealed by a key that is not in the database. The plain token of
-- before is sealed when the server starts.
alter table outlet
  drop constraint outlet_kind_check,
  add account text not null default '',
  add secret bytea,
  add standing text not null default 'connected' check (standing in ('connected', 'again')),
  add trouble text not null default '',
  add asked_at timestamptz;
update outlet set kind = 'windward' where kind = 'social';
create unique index outlet_account on outlet (brand_id, kind, account) where account <> '';
create table connecting (
  state text primary key, -- SHA-256 of it
  brand_id bigint not null references brand,
  person_id bigint not null references person on delete cascade,
  kind text not null,
  verifier text not null,
  ends_at timestamptz not null
);
alter table page
  add zone text not null default '',
  add reach text not null default 'everyone' check (reach in ('everyone', 'members', 'nobody')),
  add people int not null default 0,
  add albums boolean not null default false,
  add gone_at timestamptz;

-- +goose Down
alter table page drop zone, drop reach, drop people, drop albums, drop gone_at;
drop table connecting;
update outlet set kind = 'social';
alter table outlet drop account, drop secret, drop standing, drop trouble, drop asked_at,
  add constraint outlet_kind_check check (kind in ('social'));
