package assetstore

import (
	"context"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/tags"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/tagstore"
)

// What counts as near: moments, metres, and how many neighbours of one kind are looked at.
const (
	burstSpan      = 2 * time.Second
	hourSpan       = time.Hour
	nearbyMetres   = 200
	mostNeighbours = 200
)

// neighbourhood is a kind of neighbours, with the condition on asset a that finds them. What is asked for is written into the
// condition as values and not taken from the other item's row: each kind is found by an index then, whatever the size of the library.
type neighbourhood struct {
	what, condition string
	args            []any
}

// neighbourhoods are the kinds of neighbours that an item can have, the nearest first.
func neighbourhoods(o Asset) []neighbourhood {
	out := []neighbourhood{{"that look alike", `a.id in (select other_id from twin where asset_id = %s union all
		select asset_id from twin where other_id = %s)`, []any{o.ID, o.ID}}}
	if at := o.Taken.Time; o.Taken.Valid {
		between := `a.captured_at between %s and %s`
		out = append([]neighbourhood{{"taken within seconds", between + ` and a.camera = %s`, []any{at.Add(-burstSpan), at.Add(burstSpan),
			o.Camera}}}, append(out, neighbourhood{"taken within the hour", between, []any{at.Add(-hourSpan), at.Add(hourSpan)}})...)
	}
	if o.Place != "" {
		out = append(out, neighbourhood{"taken at this place", `a.place = %s`, []any{o.Place}})
	}
	if o.Latitude.Valid && o.Longitude.Valid {
		box := geometry.Around(o.Latitude.Float64, o.Longitude.Float64, nearbyMetres)
		out = append(out, neighbourhood{"taken within 200 metres", `a.latitude between %s and %s and a.longitude between %s and %s`,
			[]any{box.South, box.North, box.West, box.East}})
	}
	if o.Folder.Valid {
		out = append(out, neighbourhood{"in this folder", `a.folder_id = %s`, []any{o.Folder.Int64}})
	}
	return out
}

// NeighboursOf counts the tags of the items around one, as far as the viewer may look at them.
func NeighboursOf(ctx context.Context, r store.Reader, v *access.Viewer, of Asset) ([]tags.Neighbours, error) {
	var out []tags.Neighbours
	for _, kind := range neighbourhoods(of) {
		c := store.Clause{From: "from asset a"}
		c.And("a.brand_id = %s", v.Brand)
		c.And("a.binned_at is null and a.id <> %s", of.ID)
		c.And(kind.condition, kind.args...)
		c.Within(v.May(access.Look))
		rows, err := store.List[struct {
			Items int   `db:"items"`
			Tag   int64 `db:"tag_id"`
			On    int   `db:"n"`
		}](ctx, r, `with near as materialized (select a.id `+c.SQL()+` limit `+c.Arg(mostNeighbours)+`)
			select (select count(*) from near) as items, x.tag_id, count(*) as n from near join asset_tag x on x.asset_id = near.id
			join tag t on t.id = x.tag_id and `+tagstore.LivingTag+` group by x.tag_id`, c.Args...)
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
