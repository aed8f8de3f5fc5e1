package peoplestore

import (
	"context"
	"database/sql"
	"errors"

	"brightsatchel/internal/store"
)

// Brand is one brand of the installation.
type Brand struct {
	ID   int64  `db:"id"`
	Code string `db:"code"`
	Name string `db:"name"`

	Needs          store.Array[string] `db:"described_needs"` // what an item must have to be called described, of describing.Needs
	ReviewersCount bool                `db:"reviewers_count"` // the stars of reviewers are the team's; else they are shown beside
	SecondGo       bool                `db:"second_go"`       // a dispatch waits for the go of a second person
}

// BrandsOf lists the brands that a person belongs to, by name.
func BrandsOf(ctx context.Context, r store.Reader, person int64) ([]Brand, error) {
	return store.List[Brand](ctx, r, `select b.id, b.code, b.name from brand b join membership m on m.brand_id = b.id where m.person_id = $1
		order by b.name`, person)
}

// BrandByID reads a brand.
func BrandByID(ctx context.Context, r store.Reader, id int64) (Brand, error) {
	return store.Get[Brand](ctx, r, "There is no such brand.", `select id, code, name, reviewers_count, second_go, described_needs
		from brand where id = $1`, id)
}

// ChangeBrand writes the name of a brand and how its people work together, and tells the index and the open screens.
func ChangeBrand(ctx context.Context, tx *store.Tx, b Brand) error {
	_, err := tx.ExecContext(ctx, `update brand set name = $2, reviewers_count = $3, described_needs = $4, second_go = $5 where id = $1`, b.ID,
		b.Name, b.ReviewersCount, b.Needs, b.SecondGo)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `with told as (insert into feed (brand_id, what) values ($1, 'brand') returning brand_id)
		select pg_notify('satchel', brand_id || ' brand') from told`, b.ID)
	return err
}

// AddBrand makes a brand and returns its id.
func AddBrand(ctx context.Context, tx *store.Tx, code, name string) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into brand (code, name) values ($1, $2) returning id`, code, name)
	return id, err
}

// LockBrands makes those who make brands wait for each other, so that two do not take one code.
func LockBrands(ctx context.Context, tx *store.Tx) error {
	_, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(hashtext('brands'))`)
	return err
}

// BrandByCode finds a brand, or returns nil.
func BrandByCode(ctx context.Context, r store.Reader, code string) (*Brand, error) {
	var b Brand
	err := r.GetContext(ctx, &b, `select id, code, name from brand where code = $1`, code)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return &b, err
}

// BrandCode is the code of a brand.
func BrandCode(ctx context.Context, r store.Reader, brand int64) (string, error) {
	return store.Get[string](ctx, r, "There is no such brand.", `select code from brand where id = $1`, brand)
}

// BrandIDs lists all brands.
func BrandIDs(ctx context.Context, r store.Reader) ([]int64, error) {
	return store.List[int64](ctx, r, `select id from brand order by id`)
}
