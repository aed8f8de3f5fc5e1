package embedstore

import (
	"context"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// Site is a website whose editors may pick items. What was picked is told to pages of its origin only.
type Site struct {
	ID        int64  `db:"id"`
	Brand     int64  `db:"brand_id"`
	BrandCode string `db:"brand_code"`
	Code      string `db:"code"`
	Name      string `db:"name"`
	Origin    string `db:"origin"`
}

const siteColumns = `select s.id, s.brand_id, b.code as brand_code, s.code, s.name, s.origin from site s join brand b on b.id = s.brand_id`

// Sites lists the websites of a brand.
func Sites(ctx context.Context, r store.Reader, brand int64) ([]Site, error) {
	return store.List[Site](ctx, r, siteColumns+` where s.brand_id = $1 order by s.name, s.id`, brand)
}

// SiteByID reads one website of a brand.
func SiteByID(ctx context.Context, r store.Reader, brand, id int64) (Site, error) {
	return store.Get[Site](ctx, r, "There is no such website.", siteColumns+` where s.brand_id = $1 and s.id = $2`, brand, id)
}

// SiteByCode reads a website by its code, of whichever brand.
func SiteByCode(ctx context.Context, r store.Reader, code string) (Site, error) {
	return store.Get[Site](ctx, r, "There is no such website.", siteColumns+` where s.code = $1`, code)
}

// AddSite makes a website known, and returns its id.
func AddSite(ctx context.Context, tx *store.Tx, s Site) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into site (brand_id, name, origin) values ($1, $2, $3) returning id`, s.Brand, s.Name, s.Origin)
	if store.Violates(err, "site_brand_id_origin_key") {
		return 0, fault.Invalidf("origin", "“%s” is there already.", s.Origin)
	}
	return id, err
}

// RemoveSite forgets a website: its editors cannot pick any more.
func RemoveSite(ctx context.Context, tx *store.Tx, brand, id int64) error {
	_, err := tx.ExecContext(ctx, `delete from site where brand_id = $1 and id = $2`, brand, id)
	return err
}
