package store

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/tags"
)

// mostNeighbours is how many neighbours of one kind are looked at.
const mostNeighbours = 200

// kindsOfNeighbours are the kinds of neighbours of item o, the nearest first; the conditions are on asset a.
var kindsOfNeighbours = []struct{ what, condition string }{
	{"taken within seconds", `a.captured_at between o.captured_at - interval '2 seconds' and o.captured_at + interval '2 seconds'
		and a.camera = o.camera`},
	{"that look alike", `a.id in (select other_id from twin where asset_id = o.id union select asset_id from twin where other_id = o.id)`},
	{"taken within the hour", `a.captured_at between o.captured_at - interval '1 hour' and o.captured_at + interval '1 hour'`},
	{"in this folder", `a.folder_id = o.folder_id`},
}

// NeighboursOf counts the tags of the items around one, as far as the viewer may look at them.
func NeighboursOf(ctx context.Context, r Reader, v *access.Viewer, asset int64) ([]tags.Neighbours, error) {
	out := make([]tags.Neighbours, 0, len(kindsOfNeighbours))
	for _, kind := range kindsOfNeighbours {
		c := clause{from: "from asset o join asset a on a.brand_id = o.brand_id and a.id <> o.id and a.binned_at is null and " + kind.condition}
		c.and("o.id = %s", asset)
		c.and("a.brand_id = %s", v.Brand)
		c.within(v.May(access.Look))
		rows, err := list[struct {
			Items int   `db:"items"`
			Tag   int64 `db:"tag_id"`
			On    int   `db:"n"`
		}](ctx, r, `with near as materialized (select a.id `+c.sql()+` limit `+c.arg(mostNeighbours)+`)
			select (select count(*) from near) as items, x.tag_id, count(*) as n from near join asset_tag x on x.asset_id = near.id
			join tag t on t.id = x.tag_id and `+livingTag+` group by x.tag_id`, c.args...)
		if err != nil {
			return nil, err
		}
		near := tags.Neighbours{What: kind.what, On: make(map[int64]int, len(rows))}
		for _, row := range rows {
			near.Items = row.Items
			near.On[row.Tag] = row.On
		}
		out = append(out, near)
	}
	return out, nil
}
