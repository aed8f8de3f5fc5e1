-- +goose Up
-- Output sizes of one's own, in an order of their own; one that is retired is not offered any more, and stays with what was made by it.
alter table output_size
  add colour text not null default '',
  add enlarge boolean not null default false,
  add budget bigint not null default 0,
  add sharpen int not null default 0,
  add clip_side int not null default 0,
  add clip_rate double precision not null default 0,
  add quiet boolean not null default false,
  add on_arrival boolean not null default false,
  add position int not null default 0,
  add retired_at timestamptz;
update output_size s set position = n.n from (select id, row_number() over (partition by brand_id order by id) as n from output_size) n
  where n.id = s.id;
drop index output_size_name;
create unique index output_size_name on output_size (brand_id, lower(name)) where retired_at is null;
create trigger record after insert or update on output_size for each row execute function record_change('id');
-- Which size a file was made for first, how long that took, and what came of it.
alter table rendition add output_size_id bigint references output_size on delete set null, add seconds real not null default 0,
  add quality int not null default 0, add likeness real;
create index rendition_output_size on rendition (output_size_id) where output_size_id is not null;
-- Focal points of an item for some proportions, in place of its own, as {"1:1": [x, y]}.
alter table asset add focal_for jsonb not null default '{}';

-- +goose Down
alter table asset drop focal_for;
alter table rendition drop output_size_id, drop seconds, drop quality, drop likeness;
drop trigger record on output_size;
drop index output_size_name;
create unique index output_size_name on output_size (brand_id, lower(name));
alter table output_size drop colour, drop enlarge, drop budget, drop sharpen, drop clip_side, drop clip_rate, drop quiet, drop on_arrival,
  drop position, drop retired_at;
