package assetstore

import (
	"context"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/store"
)

// Looked is what looking into an item found. Nil parts were not looked for and stay as they are.
type Looked struct {
	Likeness  *likeness.Hash
	Sharpness *float64
	Tint      *int
	Shades    []likeness.Shade // nil was not looked for
	Focal     *[2]float64
	Faces     []geometry.Region // in fractions of the upright file; only with FacesLooked
	// FacesLooked says that faces were looked for; those that nobody named are replaced.
	FacesLooked bool
	// Recipe is the hash of the recipe by which it was shown, or nil where it does not matter.
	Recipe *string
}

// SaveLooked writes what was found about an item whose present version and recipe are still those that were looked into; it says
// false when they are not. A focal point that a person set stays.
func SaveLooked(ctx context.Context, tx *store.Tx, brand, asset, version int64, l Looked) (bool, error) {
	var fx, fy *float64
	if l.Focal != nil {
		fx, fy = &l.Focal[0], &l.Focal[1]
	}
	var shades []int32
	var hash *int64
	if l.Likeness != nil {
		hash = new(int64(*l.Likeness))
	}
	if l.Shades != nil {
		shades = likeness.Ints(l.Shades)
	}
	n, err := tx.Change(ctx, `update asset set looked_into = now(), sharpness = coalesce($3, sharpness), tint = coalesce($4, tint),
		likeness = coalesce($7, likeness), colours = coalesce($8::int[], colours),
		focal_x = case when $5::real is null or focal_by = 'person' then focal_x else $5 end,
		focal_y = case when $6::real is null or focal_by = 'person' then focal_y else $6 end,
		focal_by = case when $5::real is null or focal_by = 'person' then focal_by else 'proposed' end
		where id = $1 and version_id = $2 and ($9::text is null or recipe_hash = $9)`, asset, version, l.Sharpness, l.Tint, fx, fy, hash,
		shades, l.Recipe)
	if err != nil || n == 0 {
		return false, err
	}
	if l.Likeness != nil {
		var bands []int32
		if l.Likeness.Tells() {
			b := l.Likeness.Bands()
			bands = b[:]
		}
		if _, err := tx.ExecContext(ctx, `update version set likeness = $2, likeness_bands = $3 where id = $1`, version,
			*hash, bands); err != nil {
			return false, err
		}
	}
	if !l.FacesLooked {
		return true, nil
	}
	if _, err := tx.ExecContext(ctx, `delete from face where asset_id = $1 and state = 'found'`, asset); err != nil {
		return false, err
	}
	for _, f := range l.Faces {
		// One that is inside of what a person named, drew, or took for none is that one.
		_, err := tx.ExecContext(ctx, `insert into face (brand_id, asset_id, x, y, width, height, state) select $1, $2, $3::real,
			$4::real, $5::real, $6::real, 'found'
			where not exists (select from face where asset_id = $2 and state <> 'found' and $3::real + $5::real / 2 between x
			and x + width and $4::real + $6::real / 2 between y and y + height)`,
			brand, asset, f.X, f.Y, f.Width, f.Height)
		if err != nil {
			return false, err
		}
	}
	return true, nil
}

// LookWaiting counts the items of a brand that wait to be looked into.
func LookWaiting(ctx context.Context, r store.Reader, brand int64) (int, error) {
	return store.Get[int](ctx, r, "", `select count(*) from asset where brand_id = $1 and binned_at is null and kind <> 'file'
		and looked_into is null`, brand)
}

// LookAgain marks the next items of a brand after an id, at most so many, as not looked into, and returns their ids.
func LookAgain(ctx context.Context, tx *store.Tx, brand, after int64, limit int) ([]int64, error) {
	return store.List[int64](ctx, tx, `with next as (select id from asset where brand_id = $1 and id > $2 and binned_at is null
		and kind <> 'file' order by id limit $3),
		marked as (update asset set looked_into = null where id in (select id from next)) select id from next order by id`, brand,
		after, limit)
}
