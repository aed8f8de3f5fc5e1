package assetstore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
)

// PlacedOn is a page with the items that it shows now: how many, and at most 500 of them.
type PlacedOn struct {
	Page  int64              `db:"page_id"`
	Name  string             `db:"page_name"`
	Items int                `db:"items"`
	IDs   store.Array[int64] `db:"ids"`
}

// PlacedPages lists the pages of a brand that show something now, by name. What was removed here and is still there counts. Whoever may not
// look everywhere is told of the pages with what they may see, and of that alone.
func PlacedPages(ctx context.Context, r store.Reader, v *access.Viewer) ([]PlacedOn, error) {
	if look := v.May(access.Look); !look.All {
		c := store.Clause{From: "from placement l join page g on g.id = l.page_id join asset a on a.id = l.asset_id"}
		c.And("a.brand_id = %s and a.binned_at is null and l.gone_at is null", v.Brand)
		c.Within(look)
		return store.List[PlacedOn](ctx, r, `select g.id as page_id, g.name as page_name, count(distinct a.id)::int as items,
			(array_agg(distinct a.id))[:500] as ids `+c.SQL()+` group by g.id, g.name order by g.name collate natural_name, g.id`, c.Args...)
	}
	return store.List[PlacedOn](ctx, r, `select g.id as page_id, g.name as page_name, n.items,
		array(select distinct asset_id from placement where page_id = g.id and gone_at is null order by 1 limit 500) as ids
		from page g cross join lateral (select count(*)::int as items from (select distinct asset_id from placement
			where page_id = g.id and gone_at is null) x) n
		where g.brand_id = $1 and n.items > 0 order by g.name collate natural_name, g.id`, v.Brand)
}

// PlacementsOf says which pages show some of these items now, with how many of them.
func PlacementsOf(ctx context.Context, r store.Reader, ids []int64) ([]PlacedOn, error) {
	return store.List[PlacedOn](ctx, r, `select n.page_id, g.name as page_name, n.items, '{}'::bigint[] as ids
		from (select l.page_id, count(distinct l.asset_id)::int as items from unnest($1::bigint[]) i (id)
			join placement l on l.asset_id = i.id and l.gone_at is null where l.page_id is not null group by 1) n
		join page g on g.id = n.page_id order by 2`, ids)
}

// CountAddresses says how many of these items have a public address now.
func CountAddresses(ctx context.Context, r store.Reader, ids []int64) (int, error) {
	return store.Get[int](ctx, r, "", `select count(*)::int from public_address where asset_id = any($1) and live`, ids)
}

// PostsShowing lists the posts that show some of these items now, on pages that let them be taken back or not, the newest first.
func PostsShowing(ctx context.Context, r store.Reader, brand int64, ids []int64) ([]int64, error) {
	return store.List[int64](ctx, r, `select distinct post_id from placement where brand_id = $1 and asset_id = any($2) and gone_at is null
		order by 1 desc`, brand, ids)
}

// ShowingBeside counts the posts that show some of these items now, and, where these are no more than most, how many are on pages that let
// nothing be taken back, and the other items that they show.
func ShowingBeside(ctx context.Context, r store.Reader, brand int64, ids []int64, most int) (Beside, error) {
	posts, err := store.List[int64](ctx, r, `select distinct l.post_id from unnest($2::bigint[]) i (id)
		join placement l on l.asset_id = i.id and l.gone_at is null where l.brand_id = $1 limit $3`, brand, ids, most+1)
	if err != nil || len(posts) > most || len(posts) == 0 {
		return Beside{Posts: len(posts)}, err
	}
	return store.Get[Beside](ctx, r, "", `select count(*)::int as posts,
			count(*) filter (where not coalesce((g.limits->>'withdraws')::boolean, false))::int as stay,
			(select count(distinct asset_id)::int from placement where post_id = any($1) and gone_at is null and asset_id <> all($2)) as others
		from dispatch_post d left join page g on g.id = d.page_id where d.id = any($1)`, posts, ids)
}

// Beside is what is taken back together with items: in how many posts they are, how many of these stay, and how many other items go too.
type Beside struct {
	Posts  int `db:"posts"`
	Stay   int `db:"stay"`
	Others int `db:"others"`
}

// CameFrom is an album of an outlet with the items that came from it: how many, and at most 500 of them.
type CameFrom struct {
	Outlet int64              `db:"outlet_id"`
	Name   string             `db:"name"`
	Album  string             `db:"album"`
	Items  int                `db:"items"`
	IDs    store.Array[int64] `db:"ids"`
}

// Origins lists from which albums of which outlets the items came that the viewer may see.
func Origins(ctx context.Context, r store.Reader, v *access.Viewer) ([]CameFrom, error) {
	c := store.Clause{From: "from asset_origin x join outlet o on o.id = x.outlet_id join asset a on a.id = x.asset_id"}
	c.And("o.brand_id = %s and a.binned_at is null", v.Brand)
	c.Within(v.May(access.Look))
	return store.List[CameFrom](ctx, r, `select o.id as outlet_id, o.name, x.album, count(*)::int as items, (array_agg(x.asset_id))[:500] as
		ids
		`+c.SQL()+` group by 1, 2, 3 order by 2, 3 limit 500`,
		c.Args...)
}
