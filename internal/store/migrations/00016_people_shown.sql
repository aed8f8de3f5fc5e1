-- +goose Up
-- Faces are kept in fractions of the upright file, before its recipe: they turn with it. A person draws some and says of others that
-- they are no face, which are kept so that they are not found again.
alter table face drop constraint face_state_check;
alter table face add constraint face_state_check check (state in ('found', 'named', 'drawn', 'none'));
update face f set x = f.y, y = 1 - f.x - f.width, width = f.height, height = f.width from asset a
  where a.id = f.asset_id and f.state = 'found' and a.recipe ->> 'turn' = '90';
update face f set x = 1 - f.x - f.width, y = 1 - f.y - f.height from asset a
  where a.id = f.asset_id and f.state = 'found' and a.recipe ->> 'turn' = '180';
update face f set x = 1 - f.y - f.height, y = f.x, width = f.height, height = f.width from asset a
  where a.id = f.asset_id and f.state = 'found' and a.recipe ->> 'turn' = '270';
drop trigger record on face;
create trigger record after insert or update or delete on face for each row execute function record_change('id', 'asset_id');
create index face_unnamed on face (brand_id, id) where state in ('found', 'drawn');
create index face_tag on face (tag_id, id) where tag_id is not null;

-- What is known of somebody who is shown in pictures, whose name is the tag.
create table person_shown (
  tag_id bigint primary key references tag on delete cascade deferrable initially immediate,
  brand_id bigint not null references brand deferrable initially immediate,
  email text not null default '',
  consent text not null default 'open' check (consent in ('open', 'given', 'refused')),
  consent_until date,
  note text not null default ''
);
create trigger record after insert or update or delete on person_shown for each row execute function record_change('tag_id');
create trigger tell_insert after insert on person_shown referencing new table as changed for each statement execute function tell_change();
create trigger tell_update after update on person_shown referencing new table as changed for each statement execute function tell_change();
create trigger tell_delete after delete on person_shown referencing old table as changed for each statement execute function tell_change();
create trigger feed_insert after insert on person_shown referencing new table as changed for each statement execute function feed_change('');
create trigger feed_update after update on person_shown referencing new table as changed for each statement execute function feed_change('');
create trigger feed_delete after delete on person_shown referencing old table as changed for each statement execute function feed_change('');
