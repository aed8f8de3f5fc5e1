-- +goose Up
-- What shows a page: the id of a media of its outlet. And on which page an item is, beside the post that put it there: what is asked most of
-- all placements is answered from an index.
alter table page add picture text not null default '';
alter table placement add page_id bigint references page on delete set null deferrable;
update placement l set page_id = p.page_id from dispatch_post p where p.id = l.post_id;
drop index placement_shown;
create index placement_shown on placement (asset_id) include (page_id, since) where gone_at is null;
create index placement_on_page on placement (page_id, asset_id) where gone_at is null;

-- +goose Down
drop index placement_on_page;
drop index placement_shown;
create index placement_shown on placement (asset_id) where gone_at is null;
alter table placement drop page_id;
alter table page drop picture;
