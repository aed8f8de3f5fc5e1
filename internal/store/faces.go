package store

import "context"

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

// NameFace adds a face that a file names, with the tag of the person.
func (tx *Tx) NameFace(ctx context.Context, brand, asset, tag int64, f Region) error {
	_, err := tx.ExecContext(ctx, `insert into face (brand_id, asset_id, x, y, width, height, tag_id, state) values ($1, $2, $3, $4, $5,
		$6, $7, 'named')`,
		brand, asset, f.X, f.Y, f.Width, f.Height, tag)
	return err
}

// FacesOf lists the faces on an item from left to right.
func FacesOf(ctx context.Context, r Reader, asset int64) ([]Region, error) {
	return list[Region](ctx, r, `select f.id, f.x, f.y, f.width, f.height, coalesce(t.name, '') as name, f.state from face f left
		join tag t on t.id = f.tag_id
		where f.asset_id = $1 order by f.x, f.id`, asset)
}
