package assetstore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/recipestore"
)

// Delivered is what has to be known of an item to hand out its bytes. All of it belongs to its Version, which is in the
// address of a picture.
type Delivered struct {
	ID        int64              `db:"id"`
	Version   string             `db:"version"`
	SHA256    []byte             `db:"sha256"`
	Recipe    recipestore.Recipe `db:"recipe"`
	Kind      string             `db:"kind"`
	Codec     string             `db:"codec"`
	MediaType string             `db:"media_type"`
	LeftRoot  sql.NullString     `db:"left_root"`
	LeftAt    sql.NullString     `db:"left_at"`
}

const deliveredColumns = `select a.id, picture_version(v.code, a.recipe_hash) as version, v.sha256, a.recipe, a.kind, a.codec,
	a.media_type, sf.path as left_root, v.left_at
	from asset a join version v on v.id = a.version_id left join server_folder sf on sf.id = v.server_folder_id`

// DeliveredByCode reads an item that the viewer may look at by the code in its address.
func DeliveredByCode(ctx context.Context, r store.Reader, v *access.Viewer, code string) (Delivered, error) {
	c := store.Clause{}
	c.And("a.code = %s", code)
	c.And("a.brand_id = %s", v.Brand)
	c.Within(v.May(access.Look))
	return store.Get[Delivered](ctx, r, AssetMissing, deliveredColumns+c.SQL(), c.Args...)
}
