-- +goose Up
-- What may be done with an item and until when, and when its file says that it was taken: that can be brought back.
alter table asset
  add usage_terms text not null default '',
  add rights_until date,
  add file_captured_at timestamp,
  add file_captured_zone text not null default '';

-- Credits are searched too.
drop trigger derive_update on asset;
create trigger derive_update before update of title, file_name, description, alt, place, camera, credit on asset for each row execute function derive();
alter table asset disable trigger user;
update asset set file_captured_at = captured_at, file_captured_zone = captured_zone,
  search = search_text(title, file_name, description, alt, place, camera, credit);
alter table asset enable trigger user;
alter table asset enable always trigger derive_insert;
create index asset_rights on asset (brand_id, rights_until) where rights_until is not null;
