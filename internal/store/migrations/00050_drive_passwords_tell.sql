-- +goose Up
-- A password that is taken back is known to every server at once, and to the page that lists them.
create trigger tell_insert after insert on drive_password referencing new table as changed for each statement execute function tell_change();
create trigger tell_update after update on drive_password referencing new table as changed for each statement execute function tell_change();
create trigger tell_delete after delete on drive_password referencing old table as changed for each statement execute function tell_change();

-- +goose Down
drop trigger tell_insert on drive_password;
drop trigger tell_update on drive_password;
drop trigger tell_delete on drive_password;
