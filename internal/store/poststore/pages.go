package poststore

import (
	"context"
	"encoding/json"

	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/store"
)

// Page is a page of an outlet where posts go, as it said last what it is.
type Page struct {
	ID         int64      `db:"id"`
	Brand      int64      `db:"brand_id"`
	Outlet     int64      `db:"outlet_id"`
	OutletName string     `db:"outlet_name"`
	Remote     string     `db:"remote_id"`
	Name       string     `db:"name"`
	Address    string     `db:"address"`
	Picture    string     `db:"picture"` // a media of the outlet that shows it, or ""
	Zone       string     `db:"zone"`    // of those who see it (IANA)
	Reach      string     `db:"reach"`
	People     int        `db:"people"`
	Albums     bool       `db:"albums"`
	Gone       bool       `db:"gone"`
	Audience   string     `db:"audience"`
	Limits     pageLimits `db:"limits"`
	Ways       pageWays   `db:"ways"`
	Rhythm     pageRhythm `db:"rhythm"` // when it is posted to by itself
	DriveSends bool       `db:"drive_sends"`
}

type pageLimits struct{ sending.Limits }

// Scan implements sql.Scanner.
func (l *pageLimits) Scan(value any) error { return store.ScanJSON(value, &l.Limits) }

type pageRhythm struct{ sending.Rhythm }

// Scan implements sql.Scanner.
func (p *pageRhythm) Scan(value any) error { return store.ScanJSON(value, &p.Rhythm) }

type pageWays struct{ once.Ways }

// Scan implements sql.Scanner.
func (w *pageWays) Scan(value any) error { return store.ScanJSON(value, &w.Ways) }

const pageColumns = `select p.id, p.brand_id, p.outlet_id, o.name as outlet_name, p.remote_id,
	 p.name, p.address, p.picture, p.zone, p.reach, p.people, p.albums,
	p.gone_at is not null as gone, p.audience, p.limits, p.ways, p.rhythm, p.drive_sends
	from page p join outlet o on o.id = p.outlet_id`

// Pages lists the pages of a brand by name, without those that are gone.
func Pages(ctx context.Context, r store.Reader, brand int64) ([]Page, error) {
	return store.List[Page](
		ctx,
		r,
		pageColumns+` where p.brand_id = $1 and p.gone_at is null order by p.name collate natural_name, p.id`,
		brand,
	)
}

// PageByID reads a page of a brand.
func PageByID(ctx context.Context, r store.Reader, brand, id int64) (Page, error) {
	return store.Get[Page](ctx, r, "That page is not connected any more.", pageColumns+` where p.brand_id = $1 and p.id = $2`, brand, id)
}

// SavePage writes down what a page says of itself, and returns its id.
func SavePage(ctx context.Context, tx *store.Tx, p Page) (int64, error) {
	limits, err := json.Marshal(p.Limits.Limits)
	if err != nil {
		return 0, err
	}
	ways, err := json.Marshal(p.Ways.Ways)
	if err != nil {
		return 0, err
	}
	return store.Get[int64](ctx, tx, "", `insert into page (brand_id, outlet_id, remote_id, name, address, zone, reach, people, albums,
		audience,
		limits, ways, picture) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13) on conflict (outlet_id, remote_id) do update set
		name = excluded.name, address = excluded.address, zone = excluded.zone, reach = excluded.reach, people = excluded.people,
		albums = excluded.albums, audience = excluded.audience, limits = excluded.limits, ways = excluded.ways, picture = excluded.picture,
			seen_at = now(), gone_at = null
		returning id`,
		p.Brand,
		p.Outlet,
		p.Remote,
		p.Name,
		p.Address,
		p.Zone,
		p.Reach,
		p.People,
		p.Albums,
		p.Audience,
		limits,
		ways,
		p.Picture,
	)
}

// KeepPages marks the pages of an outlet that are not among those of some ids as gone.
func KeepPages(ctx context.Context, tx *store.Tx, outlet int64, ids []int64) error {
	_, err := tx.ExecContext(ctx, `update page set gone_at = now() where outlet_id = $1 and id <> all($2) and gone_at is null`, outlet, ids)
	return err
}

// SetRhythm says when a page is posted to.
func SetRhythm(ctx context.Context, tx *store.Tx, brand, id int64, r sending.Rhythm) error {
	text, err := json.Marshal(r)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update page set rhythm = $3 where brand_id = $1 and id = $2`, brand, id, text)
	return err
}

// SetDriveSends says whether what is copied into the folder of a page on the drive is sent at once.
func SetDriveSends(ctx context.Context, tx *store.Tx, brand, page int64, sends bool) error {
	_, err := tx.ExecContext(ctx, `update page set drive_sends = $3 where brand_id = $1 and id = $2`, brand, page, sends)
	return err
}
