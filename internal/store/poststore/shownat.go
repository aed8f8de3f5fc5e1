package poststore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/store"
)

// ShownAt is somewhere outside where an item is shown now: a gallery, an embed, or its own public address. Path is below the address of
// this server. Since is when that was opened or given, where it is known; Pages how many pages of others were seen to show it.
type ShownAt struct {
	Kind  string       `db:"kind"`
	Name  string       `db:"name"`
	Path  string       `db:"path"`
	Since sql.NullTime `db:"since"`
	Pages int          `db:"pages"`
	Size  string       `db:"size"` // how large it is had there, in words, where that is known
	// Older says that a page shows the file that the item had before; no page takes a new one in its place.
	Older bool `db:"older"`
}

// AddressShowing is the live public address of an item, if it has one.
func AddressShowing(ctx context.Context, r store.Reader, asset int64) ([]ShownAt, error) {
	return store.List[ShownAt](ctx, r, `select 'address' as kind, '' as name, '/p/' || p.code || '/medium.' ||
		case a.kind when 'clip' then 'webp' else 'jpg' end as path, p.since,
		(select count(*) from sighting s where s.address_id = p.id) as pages,
		'up to ' || least(a.width, 1920) || ' pixels wide by name, or in a size of your own' as size
		from public_address p join asset a on a.id = p.asset_id where p.asset_id = $1 and p.live and a.binned_at is null`, asset)
}
