package store

import (
	"context"

	"brightsatchel/internal/core/access"
)

// OwnCoverPrefix begins the code of a cover that is a file of its own, where other covers have the code of their item.
const OwnCoverPrefix = "own-"

// AddOwnCover writes down a file that is shown for an album.
func (tx *Tx) AddOwnCover(ctx context.Context, brand, person int64, sum []byte) (id int64, err error) {
	return get[int64](ctx, tx, "", `insert into own_cover (brand_id, person_id, sha256) values ($1, nullif($2::bigint, 0), $3) returning id`,
		brand, person, sum)
}

// OwnCover is the sum of the file under a code that is shown for an album which the viewer may look at.
func OwnCover(ctx context.Context, r Reader, v *access.Viewer, code string) ([]byte, error) {
	c := clause{from: "from own_cover o"}
	c.and("o.brand_id = %s", v.Brand)
	c.and("o.code = %s", code)
	if reach := v.May(access.Look); !reach.All {
		c.and("exists (select from album al where al.own_cover_id = o.id and al.id = any(%s))", reach.AlbumIDs())
	}
	return get[[]byte](ctx, r, "That picture is not there.", "select o.sha256 "+c.sql(), c.args...)
}
