-- +goose Up
-- A tag that was merged into another stays as another spelling of that one; one that was removed waits, under another name,
-- until nothing hangs on it.
alter table tag
  add merged_into bigint references tag deferrable initially immediate,
  add removed_at timestamptz;
create index tag_merged on tag (merged_into) where merged_into is not null;
create index tag_in_group on tag (group_id) where group_id is not null;

-- Groups are renamed, closed and removed with undo. Making one is not taken back: others may be in it by then.
create trigger record after update or delete on tag_group for each row execute function record_change('id');
create trigger tell_insert after insert on tag_group referencing new table as changed for each statement execute function tell_change();
create trigger tell_update after update on tag_group referencing new table as changed for each statement execute function tell_change();
create trigger tell_delete after delete on tag_group referencing old table as changed for each statement execute function tell_change();
