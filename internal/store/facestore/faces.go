// Package facestore keeps faces in pictures, who they are, and what these people agreed to.
package facestore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/recipestore"
)

// Face is an outline of a face on an item, in fractions of what is shown, after the recipe. State is found (by the machine), drawn
// (by a person) or named; Tag and Name are of whoever it is, 0 and "" while that is open.
type Face struct {
	ID     int64   `db:"id"`
	X      float64 `db:"x"`
	Y      float64 `db:"y"`
	Width  float64 `db:"width"`
	Height float64 `db:"height"`
	Tag    int64   `db:"tag"`
	Name   string  `db:"name"`
	State  string  `db:"state"`
}

// Region is where the face is.
func (f *Face) Region() geometry.Region {
	return geometry.Region{X: f.X, Y: f.Y, Width: f.Width, Height: f.Height}
}

func (f *Face) put(r geometry.Region) { f.X, f.Y, f.Width, f.Height = r.X, r.Y, r.Width, r.Height }

const faceColumns = `f.id, f.x, f.y, f.width, f.height, coalesce(f.tag_id, 0) as tag, coalesce(t.name, '') as name, f.state from face f
	left join tag t on t.id = f.tag_id`

// NameFace adds a face that a file names, with the tag of the person. The region is of the upright file.
func NameFace(ctx context.Context, tx *store.Tx, brand, asset, tag int64, r geometry.Region) error {
	_, err := tx.ExecContext(ctx, `insert into face (brand_id, asset_id, x, y, width, height, tag_id, state) values ($1, $2, $3, $4, $5,
		$6, $7, 'named')`,
		brand, asset, r.X, r.Y, r.Width, r.Height, tag)
	return err
}

// FacesOf lists the faces on an item from left to right, as it is shown. What its crop cut off is not among them.
func FacesOf(ctx context.Context, r store.Reader, asset int64, by geometry.Frame) ([]Face, error) {
	faces, err := store.List[Face](ctx, r, `select `+faceColumns+` where f.asset_id = $1 and f.state <> 'none' order by f.x, f.id`, asset)
	seen := faces[:0]
	for _, f := range faces {
		if shown, ok := by.ShownRegion(f.Region()); ok {
			f.put(shown)
			seen = append(seen, f)
		}
	}
	return seen, err
}

// mostFaces is how many outlines people draw on one item at most.
const mostFaces = 400

// faceFrame locks an item whose faces change, and reads how it is framed.
func faceFrame(ctx context.Context, tx *store.Tx, asset int64) (geometry.Frame, error) {
	by, err := store.Get[recipestore.Framed](
		ctx,
		tx,
		assetstore.AssetMissing,
		`select `+recipestore.FramedColumns+` from asset a join version v on v.id = a.version_id where a.id = $1
		for no key update of a`,
		asset,
	)
	return by.Frame(), err
}

// FaceByID reads a face of an item as it is shown, locking the item.
func FaceByID(ctx context.Context, tx *store.Tx, asset, id int64) (Face, error) {
	by, err := faceFrame(ctx, tx, asset)
	if err != nil {
		return Face{}, err
	}
	f, err := store.Get[Face](ctx, tx, "That outline is not there any more.", `select `+faceColumns+` where f.asset_id = $1 and f.id = $2
		and f.state <> 'none'`, asset, id)
	shown, _ := by.ShownRegion(f.Region())
	f.put(shown)
	return f, err
}

// DrawFace adds an outline, in fractions of what is shown, and returns its id.
func DrawFace(ctx context.Context, tx *store.Tx, brand, asset int64, r geometry.Region) (int64, error) {
	by, err := faceFrame(ctx, tx, asset)
	if err != nil {
		return 0, err
	}
	n, err := store.Get[int](ctx, tx, "", `select count(*) from face where asset_id = $1`, asset)
	if err != nil {
		return 0, err
	}
	if n >= mostFaces {
		return 0, fault.Invalidf("face", "An item has at most %d outlines.", mostFaces)
	}
	r = by.FileRegion(r)
	return store.Get[int64](ctx, tx, "", `insert into face (brand_id, asset_id, x, y, width, height, state) values ($1, $2, $3, $4, $5, $6,
		'drawn')
		returning id`,
		brand,
		asset,
		r.X,
		r.Y,
		r.Width,
		r.Height,
	)
}

// PlaceFace puts an outline elsewhere, in fractions of what is shown. What the machine found is a person's from then on.
func PlaceFace(ctx context.Context, tx *store.Tx, asset, id int64, r geometry.Region) error {
	by, err := faceFrame(ctx, tx, asset)
	if err != nil {
		return err
	}
	r = by.FileRegion(r)
	_, err = tx.ExecContext(ctx, `update face set x = $3, y = $4, width = $5, height = $6,
		state = case when state = 'found' then 'drawn' else state end where asset_id = $1 and id = $2`, asset, id, r.X, r.Y, r.Width, r.Height)
	return err
}

// GiveFace says whose face it is, or with 0 that this is open again, and tags the item. The tag that naming the face put there goes
// when no other face of the item has it.
func GiveFace(ctx context.Context, tx *store.Tx, brand, asset int64, f Face, tag int64) error {
	for _, statement := range []struct {
		sql  string
		args []any
	}{
		{`update face set tag_id = nullif($3::bigint, 0), state = case when $3 = 0 then 'drawn' else 'named' end
			where asset_id = $1 and id = $2`, []any{asset, f.ID, tag}},
		{`delete from asset_tag x where x.asset_id = $1 and x.tag_id = $2 and x.tag_id <> $3 and x.origin = 'face'
			and not exists (select from face where asset_id = $1 and tag_id = $2)`, []any{asset, f.Tag, tag}},
		{`insert into asset_tag (brand_id, asset_id, tag_id, origin) select $1, $2, $3::bigint, 'face' where $3 <> 0 on conflict do nothing`,
			[]any{brand, asset, tag}},
	} {
		if _, err := tx.ExecContext(ctx, statement.sql, statement.args...); err != nil {
			return err
		}
	}
	return nil
}

// DropFace takes an outline away. What the machine found, or might find again, is kept as no face.
func DropFace(ctx context.Context, tx *store.Tx, asset int64, f Face) error {
	_, err := tx.ExecContext(ctx, `update face set state = 'none', tag_id = null where asset_id = $1 and id = $2`, asset, f.ID)
	if err == nil {
		_, err = tx.ExecContext(ctx, `delete from asset_tag x where x.asset_id = $1 and x.tag_id = $2 and x.origin = 'face'
			and not exists (select from face where asset_id = $1 and tag_id = $2)`, asset, f.Tag)
	}
	return err
}

// OpenFace is a face that nobody has named yet, with the item that it is on.
type OpenFace struct {
	Face
	Asset int64 `db:"asset_id"`
}

// openFaces are the faces without a name on items where the viewer may do something, of which $2 lists the folders.
const openFaces = `from face f join asset a on a.id = f.asset_id join version v on v.id = a.version_id where f.brand_id = $1
	and f.state in ('found', 'drawn') and a.binned_at is null and ($3 or a.folder_id = any($2))`

// NextFace finds the first open face after an id, or before it, on items that the viewer may describe, as it is shown. There may be
// none: then the id of what is returned is 0.
func NextFace(ctx context.Context, r store.Reader, v *access.Viewer, after int64, back bool) (OpenFace, error) {
	reach := v.May(access.Describe)
	side, order := ">", ""
	if back {
		side, order = "<", " desc"
	}
	found, err := store.List[struct {
		OpenFace
		recipestore.Framed
	}](ctx, r, `select f.id, f.x, f.y, f.width, f.height, f.state, f.asset_id, `+recipestore.FramedColumns+` `+openFaces+` and f.id `+side+` $4
		order by f.id`+order+` limit 1`, v.Brand, reach.FolderIDs(), reach.All, after)
	if err != nil || len(found) == 0 {
		return OpenFace{}, err
	}
	f := found[0].OpenFace
	shown, _ := found[0].Frame().ShownRegion(f.Region())
	f.put(shown)
	return f, nil
}

// CountFaces says on how many faces nobody has put a name yet, up to so many.
func CountFaces(ctx context.Context, r store.Reader, v *access.Viewer, most int) (int, error) {
	reach := v.May(access.Describe)
	return store.Get[int](ctx, r, "", `select count(*) from (select `+openFaces+` limit $4) x`, v.Brand, reach.FolderIDs(), reach.All, most)
}
