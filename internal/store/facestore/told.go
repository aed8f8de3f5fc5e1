package facestore

import (
	"context"

	"brightsatchel/internal/store"
)

// ToTell is somebody who is to be told of new pictures that show them.
type ToTell struct {
	Person    int64  `db:"tag_id"`
	Brand     int64  `db:"brand_id"`
	BrandName string `db:"brand_name"`
	Name      string `db:"name"`
	Email     string `db:"email"`
}

// PeopleToTell lists those of all brands who want to be told and had no letter within the last day.
func PeopleToTell(ctx context.Context, r store.Reader) ([]ToTell, error) {
	return store.List[ToTell](ctx, r, `select p.tag_id, p.brand_id, b.name as brand_name, t.name, p.email from person_shown p
		join tag t on t.id = p.tag_id join brand b on b.id = p.brand_id where p.told and p.email <> ''
		and (p.told_at is null or p.told_at < now() - interval '20 hours') order by p.tag_id`)
}

// NewOn lists the titles of items that show somebody and of which they were not told, and notes that they are told now.
func NewOn(ctx context.Context, tx *store.Tx, p ToTell) ([]string, error) {
	// two workers wait for each other, and the second finds nothing new
	if _, err := tx.ExecContext(ctx, `select from person_shown where tag_id = $1 for no key update`, p.Person); err != nil {
		return nil, err
	}
	titles, err := store.List[string](ctx, tx, `with news as (insert into person_told (tag_id, asset_id) select x.tag_id, x.asset_id
		from asset_tag x join asset a on a.id = x.asset_id where x.tag_id = $1 and a.binned_at is null
		on conflict do nothing returning asset_id)
		select coalesce(nullif(a.title, ''), a.file_name) from news join asset a on a.id = news.asset_id
		order by a.captured_at desc nulls last, a.id`, p.Person)
	if err != nil || len(titles) == 0 {
		return nil, err
	}
	_, err = tx.ExecContext(ctx, `update person_shown set told_at = now() where tag_id = $1`, p.Person)
	return titles, err
}

// KnowsAll notes that somebody knows of all items that show them now.
func KnowsAll(ctx context.Context, tx *store.Tx, person int64) error {
	_, err := tx.ExecContext(ctx, `insert into person_told (tag_id, asset_id) select tag_id, asset_id from asset_tag where tag_id = $1
		on conflict do nothing`, person)
	return err
}
