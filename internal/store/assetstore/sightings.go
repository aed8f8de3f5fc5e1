package assetstore

import (
	"context"
	"time"

	"brightsatchel/internal/store"
)

// Sighting is a page that was seen to show something.
type Sighting struct {
	Page  string    `db:"page"`
	First time.Time `db:"first_at"`
	Last  time.Time `db:"last_at"`
}

// MostSightings is how many pages are remembered of one thing.
const MostSightings = 500

// SawEmbed remembers that a page shows an embed.
func SawEmbed(ctx context.Context, db *store.DB, brand, embed int64, page string) error {
	_, err := db.ExecContext(ctx, `insert into sighting (brand_id, embed_id, page)
		select $1, $2, $3 where (select count(*) from sighting where embed_id = $2) < $4
			or exists (select from sighting where embed_id = $2 and page = $3)
		on conflict (embed_id, page) where embed_id is not null do update set last_at = now()`, brand, embed, page, MostSightings)
	return err
}

// EmbedSightings lists the pages that were seen to show an embed, those seen last first.
func EmbedSightings(ctx context.Context, r store.Reader, brand, embed int64) ([]Sighting, error) {
	return store.List[Sighting](ctx, r, `select page, first_at, last_at from sighting where brand_id = $1 and embed_id = $2
		order by last_at desc, id desc limit 500`, brand, embed)
}

// Website is a host whose pages were seen to show embeds, or items by their own addresses.
type Website struct {
	Host   string             `db:"host"`
	Pages  int                `db:"pages"`
	First  time.Time          `db:"first_at"`
	Last   time.Time          `db:"last_at"`
	Embeds store.Array[int64] `db:"embeds"`
	Items  store.Array[int64] `db:"items"`
}

// Websites lists the hosts whose pages show something of a brand that is live now, the one seen last first: at most 200, each with at
// most 500 items.
func Websites(ctx context.Context, r store.Reader, brand int64) ([]Website, error) {
	return store.List[Website](ctx, r, `select split_part(split_part(s.page, '://', 2), '/', 1) as host, count(distinct s.page)::int as pages,
		min(s.first_at) as first_at, max(s.last_at) as last_at,
		coalesce(array_agg(distinct s.embed_id) filter (where e.live), '{}') as embeds,
		coalesce((array_agg(distinct p.asset_id) filter (where p.live))[:500], '{}') as items
		from sighting s left join embed e on e.id = s.embed_id left join public_address p on p.id = s.address_id
		where s.brand_id = $1 and (e.live or p.live) group by 1 order by last_at desc, host limit 200`, brand)
}
