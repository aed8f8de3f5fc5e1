-- +goose Up
-- Output sizes are changed while others look at them.
create trigger tell_insert after insert on output_size referencing new table as changed for each statement execute function tell_change();
create trigger tell_update after update on output_size referencing new table as changed for each statement execute function tell_change();
create trigger tell_delete after delete on output_size referencing old table as changed for each statement execute function tell_change();

-- +goose Down
drop trigger tell_insert on output_size;
drop trigger tell_update on output_size;
drop trigger tell_delete on output_size;
