package albumstore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
)

// OwnCoverPrefix begins the code of a cover that is a file of its own, where other covers have the code of their item.
const OwnCoverPrefix = "own-"

// AddOwnCover writes down a file that is shown for an album.
func AddOwnCover(ctx context.Context, tx *store.Tx, brand, person int64, sum []byte) (id int64, err error) {
	return store.Get[int64](ctx, tx, "", `insert into own_cover (brand_id, person_id, sha256) values ($1, nullif($2::bigint, 0), $3)
		returning id`,
		brand,
		person,
		sum,
	)
}

// OwnCover is the sum of the file under a code that is shown for an album which the viewer may look at.
func OwnCover(ctx context.Context, r store.Reader, v *access.Viewer, code string) ([]byte, error) {
	c := store.Clause{From: "from own_cover o"}
	c.And("o.brand_id = %s", v.Brand)
	c.And("o.code = %s", code)
	if reach := v.May(access.Look); !reach.All {
		c.And("exists (select from album al where al.own_cover_id = o.id and al.id = any(%s))", reach.AlbumIDs())
	}
	return store.Get[[]byte](ctx, r, "That picture is not there.", "select o.sha256 "+c.SQL(), c.Args...)
}
