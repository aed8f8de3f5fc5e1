package store

import (
	"context"
	"time"
)

// Sighting is a page that was seen to show something.
type Sighting struct {
	Page  string    `db:"page"`
	First time.Time `db:"first_at"`
	Last  time.Time `db:"last_at"`
}

// mostSightings is how many pages are remembered of one thing.
const mostSightings = 500

// SawEmbed remembers that a page shows an embed.
func (db *DB) SawEmbed(ctx context.Context, brand, embed int64, page string) error {
	_, err := db.ExecContext(ctx, `insert into sighting (brand_id, embed_id, page)
		select $1, $2, $3 where (select count(*) from sighting where embed_id = $2) < $4
			or exists (select from sighting where embed_id = $2 and page = $3)
		on conflict (embed_id, page) where embed_id is not null do update set last_at = now()`, brand, embed, page, mostSightings)
	return err
}

// EmbedSightings lists the pages that were seen to show an embed, those seen last first.
func EmbedSightings(ctx context.Context, r Reader, brand, embed int64) ([]Sighting, error) {
	return list[Sighting](ctx, r, `select page, first_at, last_at from sighting where brand_id = $1 and embed_id = $2
		order by last_at desc, id desc limit 500`, brand, embed)
}
