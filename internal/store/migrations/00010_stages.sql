-- +goose Up
-- Files that say a label, for making a stage of it.
create index version_label on version (brand_id, lower(metadata ->> 'XMP-xmp:Label')) where metadata ? 'XMP-xmp:Label';

-- Making a stage is not taken back with putting items at it: others may be at it by then. So it is with tags.
drop trigger record on stage;
create trigger record after update or delete on stage for each row execute function record_change('id');

-- What was done of one kind, however rare.
create index trail_action on trail (brand_id, action, id desc);
