package store

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/likeness"
)

// Looked is what looking into an item found. Nil parts were not looked for and stay as they are.
type Looked struct {
	Likeness  *likeness.Hash
	Sharpness *float64
	Tint      *int
	Focal     *[2]float64
	Faces     []Region // only with FacesLooked
	// FacesLooked says that faces were looked for; those that nobody named are replaced.
	FacesLooked bool
}

// Region is a part of an upright picture, in fractions from its upper left corner.
type Region struct {
	ID     int64   `db:"id"`
	X      float64 `db:"x"`
	Y      float64 `db:"y"`
	Width  float64 `db:"width"`
	Height float64 `db:"height"`
	Name   string  `db:"name"`
	State  string  `db:"state"`
}

// SaveLooked writes what was found about an item whose present version is still the one that was looked into; it says
// false when it is not. A focal point that a person set stays.
func (tx *Tx) SaveLooked(ctx context.Context, brand, asset, version int64, l Looked) (bool, error) {
	var fx, fy *float64
	if l.Focal != nil {
		fx, fy = &l.Focal[0], &l.Focal[1]
	}
	res, err := tx.ExecContext(ctx, `update asset set looked_into = now(), sharpness = coalesce($3, sharpness), tint = coalesce($4, tint),
		focal_x = case when $5::real is null or focal_by = 'person' then focal_x else $5 end, focal_y = case when $6::real is null or focal_by = 'person' then focal_y else $6 end,
		focal_by = case when $5::real is null or focal_by = 'person' then focal_by else 'proposed' end
		where id = $1 and version_id = $2`, asset, version, l.Sharpness, l.Tint, fx, fy)
	if err != nil || affected(res) == 0 {
		return false, err
	}
	if l.Likeness != nil {
		var bands []int32
		if l.Likeness.Tells() {
			b := l.Likeness.Bands()
			bands = b[:]
		}
		if _, err := tx.ExecContext(ctx, `update version set likeness = $2, likeness_bands = $3 where id = $1`, version, int64(*l.Likeness), bands); err != nil {
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
		// A face that is inside of a named one is that one.
		_, err := tx.ExecContext(ctx, `insert into face (brand_id, asset_id, x, y, width, height, state) select $1, $2, $3::real, $4::real, $5::real, $6::real, 'found'
			where not exists (select from face where asset_id = $2 and state = 'named' and $3::real + $5::real / 2 between x and x + width and $4::real + $6::real / 2 between y and y + height)`,
			brand, asset, f.X, f.Y, f.Width, f.Height)
		if err != nil {
			return false, err
		}
	}
	return true, nil
}

// NameFace adds a face that a file names, with the tag of the person.
func (tx *Tx) NameFace(ctx context.Context, brand, asset, tag int64, f Region) error {
	_, err := tx.ExecContext(ctx, `insert into face (brand_id, asset_id, x, y, width, height, tag_id, state) values ($1, $2, $3, $4, $5, $6, $7, 'named')`,
		brand, asset, f.X, f.Y, f.Width, f.Height, tag)
	return err
}

// FacesOf lists the faces on an item from left to right.
func FacesOf(ctx context.Context, r Reader, asset int64) ([]Region, error) {
	return list[Region](ctx, r, `select f.id, f.x, f.y, f.width, f.height, coalesce(t.name, '') as name, f.state from face f left join tag t on t.id = f.tag_id
		where f.asset_id = $1 order by f.x, f.id`, asset)
}

// LookProgress says how many items of a brand can be looked into, and how many of them still wait.
type LookProgress struct {
	Total   int `db:"total"`
	Waiting int `db:"waiting"`
}

// LookProgressOf counts.
func LookProgressOf(ctx context.Context, r Reader, brand int64) (LookProgress, error) {
	return get[LookProgress](ctx, r, "", `select count(*) as total, count(*) filter (where looked_into is null) as waiting from asset where brand_id = $1 and binned_at is null and kind <> 'file'`, brand)
}

// LookAgain marks the next items of a brand after an id, at most so many, as not looked into, and returns their ids.
func (tx *Tx) LookAgain(ctx context.Context, brand, after int64, limit int) ([]int64, error) {
	return list[int64](ctx, tx, `with next as (select id from asset where brand_id = $1 and id > $2 and binned_at is null and kind <> 'file' order by id limit $3),
		marked as (update asset set looked_into = null where id in (select id from next)) select id from next order by id`, brand, after, limit)
}

// TurnAsset notes how far an item is turned, and its dimensions then.
func (tx *Tx) TurnAsset(ctx context.Context, asset, version int64, turn, width, height int) error {
	if _, err := tx.ExecContext(ctx, `update version set turn = $2, width = $3, height = $4 where id = $1`, version, turn, width, height); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update asset set turn = $3, width = $4, height = $5, looked_into = null where id = $1 and version_id = $2`, asset, version, turn, width, height)
	return err
}

// StackRows reads the items of a stack that the viewer may look at, its pick first.
func StackRows(ctx context.Context, r Reader, v *access.Viewer, stack int64) ([]AssetRow, error) {
	ids, err := list[int64](ctx, r, `select id from asset where stack_id = $1 and brand_id = $2 and binned_at is null order by stack_pick desc, id`, stack, v.Brand)
	if err != nil {
		return nil, err
	}
	return Rows(ctx, r, v, ids)
}

// Stack puts items of a brand into one stack, joining a stack that one of them has, and makes pick its pick.
func (tx *Tx) Stack(ctx context.Context, brand int64, ids []int64, pick int64) error {
	stacks, err := list[int64](ctx, tx, `select distinct stack_id from asset where id = any($1) and stack_id is not null order by 1`, ids)
	if err != nil {
		return err
	}
	stack := first(stacks)
	if stack == 0 {
		if stack, err = get[int64](ctx, tx, "", `insert into stack (brand_id) values ($1) returning id`, brand); err != nil {
			return err
		}
	}
	_, err = tx.ExecContext(ctx, `update asset set stack_id = $2, stack_pick = (id = $3) where brand_id = $4 and (id = any($1) or stack_id = any($5))`, ids, stack, pick, brand, stacks)
	return err
}

// Unstack takes apart the stacks that items are in, and returns how many items that concerned.
func (tx *Tx) Unstack(ctx context.Context, ids []int64) (int, error) {
	res, err := tx.ExecContext(ctx, `update asset set stack_id = null, stack_pick = false
		where stack_id in (select stack_id from asset where id = any($1) and stack_id is not null)`, ids)
	if err != nil {
		return 0, err
	}
	return affected(res), nil
}

// PickOfStack makes an item the pick of its stack, and returns how many items changed.
func (tx *Tx) PickOfStack(ctx context.Context, id int64) (int, error) {
	res, err := tx.ExecContext(ctx, `update asset a set stack_pick = (a.id = $1) from asset one where one.id = $1 and a.stack_id = one.stack_id and a.stack_pick <> (a.id = $1)`, id)
	if err != nil {
		return 0, err
	}
	return affected(res), nil
}
