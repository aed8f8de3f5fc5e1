package embedstore

import (
	"context"
	"time"

	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// PublicAddress is the address under which anybody may have an item, as long as it is live. It stays when the item is renamed, moved or
// gets another version.
type PublicAddress struct {
	ID    int64     `db:"id"`
	Brand int64     `db:"brand_id"`
	Asset int64     `db:"asset_id"`
	Code  string    `db:"code"`
	Live  bool      `db:"live"`
	Since time.Time `db:"since"`
	Pages int       `db:"pages"` // that were seen to show it
}

const addressColumns = `select p.id, p.brand_id, p.asset_id, p.code, p.live, p.since,
	(select count(*) from sighting s where s.address_id = p.id) as pages from public_address p`

// PublicAddresses lists the live public addresses of a brand, the newest first: those before an id, or all of them where that is 0.
func PublicAddresses(ctx context.Context, r store.Reader, brand, before int64, most int) ([]PublicAddress, error) {
	return store.List[PublicAddress](ctx, r, addressColumns+` where p.brand_id = $1 and p.live and ($2 = 0 or p.id < $2)
		order by p.id desc limit $3`, brand, before, most)
}

// LiveAddress reads a public address for the outside, by its code, with the item that it leads to. One in the bin is not shown.
func LiveAddress(ctx context.Context, r store.Reader, code string) (PublicAddress, assetstore.Asset, error) {
	p, err := store.Get[PublicAddress](ctx, r, "There is nothing under this address.", addressColumns+` where p.code = $1 and p.live`, code)
	if err != nil {
		return p, assetstore.Asset{}, err
	}
	a, err := store.Get[assetstore.Asset](ctx, r, "There is nothing under this address.",
		"select "+assetstore.OwnColumns+assetstore.OwnWords+assetstore.FromAssets+` where a.id = $1
		and a.binned_at is null`,
		p.Asset,
	)
	return p, a, err
}

// MakePublic gives items public addresses, or switches those on that they had, and returns how many were not public before.
func MakePublic(ctx context.Context, tx *store.Tx, brand int64, ids []int64) (int, error) {
	return tx.Change(ctx, `insert into public_address (brand_id, asset_id) select $1, i from unnest($2::bigint[]) i order by i
		on conflict (asset_id) do update set live = true, since = now() where not public_address.live`, brand, ids)
}

// AddressesOf reads the live public addresses of some items.
func AddressesOf(ctx context.Context, r store.Reader, brand int64, ids []int64) ([]PublicAddress, error) {
	return store.List[PublicAddress](ctx, r, addressColumns+` where p.brand_id = $1 and p.asset_id = any($2) and p.live`, brand, ids)
}

// EndPublic switches public addresses off, and returns how many were on.
func EndPublic(ctx context.Context, tx *store.Tx, brand int64, ids []int64) (int, error) {
	return tx.Change(ctx, `update public_address set live = false where brand_id = $1 and id = any($2) and live`, brand, ids)
}

// SawAddress remembers that a page shows an item by its public address.
func SawAddress(ctx context.Context, db *store.DB, brand, address int64, page string) error {
	_, err := db.ExecContext(ctx, `insert into sighting (brand_id, address_id, page)
		select $1, $2, $3 where (select count(*) from sighting where address_id = $2) < $4
			or exists (select from sighting where address_id = $2 and page = $3)
		on conflict (address_id, page) where address_id is not null do update set last_at =
		now()`, brand, address, page, assetstore.MostSightings)
	return err
}

// AddressSightings lists the pages that were seen to show an item by its public address, those seen last first.
func AddressSightings(ctx context.Context, r store.Reader, brand, address int64) ([]assetstore.Sighting, error) {
	return store.List[assetstore.Sighting](ctx, r, `select page, first_at, last_at from sighting where brand_id = $1 and address_id = $2
		order by last_at desc, id desc limit 500`, brand, address)
}

// CountPublicAddresses counts the items that anybody can open who has their address.
func CountPublicAddresses(ctx context.Context, r store.Reader, brand int64) (int, error) {
	return store.Get[int](ctx, r, "", `select count(*)::int from public_address p join asset a on a.id = p.asset_id
		where p.brand_id = $1 and p.live and a.binned_at is null`, brand)
}
