package poststore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/store"
)

// PlannedPost is a post in the calendar.
type PlannedPost struct {
	ID        int64         `db:"id"`
	Dispatch  int64         `db:"dispatch_id"`
	Page      int64         `db:"page_id"`
	PageName  string        `db:"page_name"`
	Phase     string        `db:"phase"`
	Due       time.Time     `db:"due_at"`
	Wall      string        `db:"wall"`
	Zone      string        `db:"zone"`
	Items     int           `db:"items"`
	Item      sql.NullInt64 `db:"asset_id"` // the first of them
	Caption   string        `db:"caption"`
	Code      string        `db:"code"`
	Withdrawn bool          `db:"withdrawn"`
	Still     bool          `db:"still"`
	Ends      bool          `db:"ends"` // the rights in one of its items end before
}

// PlannedPosts lists the posts of a brand that are due from a moment until before another one, by their moment, at most so many.
func PlannedPosts(ctx context.Context, r store.Reader, brand int64, from, to time.Time, most int) ([]PlannedPost, error) {
	return store.List[PlannedPost](ctx, r, `select d.id, d.dispatch_id, coalesce(d.page_id, 0) as page_id, d.page_name, d.phase, d.due_at,
		d.wall,
		d.zone,
		jsonb_array_length(d.post->'Media') as items, i.asset_id, left(d.caption, 200) as caption, d.code, d.withdrawn_at is not null as
			withdrawn,
		x.waits or x.held as still, d.phase in ('planned', 'preparing') and exists (select from dispatch_item e join asset a on a.id = e.asset_id
			where e.post_id = d.id and a.rights_until < (d.due_at at time zone 'UTC')::date) as ends
		from dispatch_post d join dispatch x on x.id = d.dispatch_id left join dispatch_item i on i.post_id = d.id and i.position = 0
		where d.brand_id = $1 and d.due_at >= $2 and d.due_at < $3 order by d.due_at, d.id limit $4`,
		brand,
		from,
		to,
		most,
	)
}

// PlannedDay is a day with how many posts are due on it by the clocks of their pages, how many of them are still to come, and how many went
// wrong.
type PlannedDay struct {
	Day     string `db:"day"`
	Posts   int    `db:"posts"`
	Planned int    `db:"planned"`
	Wrong   int    `db:"wrong"`
}

// PlannedDays lists the days of a brand on which something is due, from a moment until before another one.
func PlannedDays(ctx context.Context, r store.Reader, brand int64, from, to time.Time) ([]PlannedDay, error) {
	return store.List[PlannedDay](ctx, r, `select left(wall, 10) as day, count(*)::int as posts,
		count(*) filter (where phase in ('planned', 'preparing', 'placing', 'settling'))::int as planned,
		count(*) filter (where phase in ('refused', 'unsure'))::int as wrong from dispatch_post
		where brand_id = $1 and due_at >= $2 and due_at < $3 and phase <> 'cancelled' group by 1 order by 1`, brand, from, to)
}

// MakeCalendarFeed gives somebody a new address for the calendar; the sum of its code is kept.
func MakeCalendarFeed(ctx context.Context, tx *store.Tx, brand, person int64, code string) error {
	_, err := tx.ExecContext(ctx, `insert into calendar_feed (code, brand_id, person_id) values ($1, $2, $3)
		on conflict (brand_id, person_id) do update set code = excluded.code, created_at = now()`, code, brand, person)
	return err
}

// EndCalendarFeed ends it.
func EndCalendarFeed(ctx context.Context, tx *store.Tx, brand, person int64) error {
	_, err := tx.ExecContext(ctx, `delete from calendar_feed where brand_id = $1 and person_id = $2`, brand, person)
	return err
}

// CalendarFeed finds whose address for the calendar of which brand has a code with a sum.
func CalendarFeed(ctx context.Context, r store.Reader, code string) (f struct {
	Person int64  `db:"person_id"`
	Brand  string `db:"brand"`
}, err error) {
	return store.Get[struct {
		Person int64  `db:"person_id"`
		Brand  string `db:"brand"`
	}](ctx, r, "There is no such calendar any more.", `select f.person_id, b.code as brand from calendar_feed f join brand b on b.id =
		f.brand_id
		where f.code = $1`, code)
}

// PageFeed is an album that feeds a page by itself.
type PageFeed struct {
	ID      int64         `db:"id"`
	Brand   int64         `db:"brand_id"`
	Page    int64         `db:"page_id"`
	Album   int64         `db:"album_id"`
	Title   string        `db:"title"` // of the album
	Caption string        `db:"caption"`
	Running bool          `db:"running"`
	GoBy    sql.NullInt64 `db:"go_by"`
	Next    sql.NullTime  `db:"next_at"`
	Trouble string        `db:"trouble"`
}

const feedColumns = `select f.id, f.brand_id, f.page_id, f.album_id, a.name as title, f.caption, f.running, f.go_by, f.next_at, f.trouble
	from page_feed f join album a on a.id = f.album_id`

// PageFeeds lists what feeds the pages of a brand.
func PageFeeds(ctx context.Context, r store.Reader, brand int64) ([]PageFeed, error) {
	return store.List[PageFeed](ctx, r, feedColumns+` where f.brand_id = $1 order by f.id`, brand)
}

// FeedsToRun lists the feeds whose next moment is before one.
func FeedsToRun(ctx context.Context, r store.Reader, before time.Time) ([]PageFeed, error) {
	return store.List[PageFeed](ctx, r, feedColumns+` where f.running and f.next_at < $1 order by f.next_at limit 100`, before)
}

// AddPageFeed adds one, which does nothing yet, and returns its id.
func AddPageFeed(ctx context.Context, tx *store.Tx, f PageFeed) (int64, error) {
	return store.Get[int64](ctx, tx, "", `insert into page_feed (brand_id, page_id, album_id, caption) values ($1, $2, $3, $4) returning id`,
		f.Brand,
		f.Page, f.Album, f.Caption)
}

// PageFeedOf reads one, and keeps it as it is until the transaction ends.
func PageFeedOf(ctx context.Context, tx *store.Tx, brand, id int64) (PageFeed, error) {
	return store.Get[PageFeed](ctx, tx, "That is not there any more.",
		feedColumns+` where f.brand_id = $1 and f.id = $2 for update of f`,
		brand,
		id,
	)
}

// SavePageFeed writes down how one runs.
func SavePageFeed(ctx context.Context, tx *store.Tx, f PageFeed) error {
	_, err := tx.ExecContext(ctx, `update page_feed set running = $2, go_by = $3, next_at = $4, trouble = $5 where id = $1`, f.ID, f.Running,
		f.GoBy,
		f.Next, f.Trouble)
	return err
}

// RemovePageFeed removes one.
func RemovePageFeed(ctx context.Context, tx *store.Tx, brand, id int64) error {
	_, err := tx.ExecContext(ctx, `delete from page_feed where brand_id = $1 and id = $2`, brand, id)
	return err
}

// EverOn says which of some items were shown on a page at any time, or are to be.
func EverOn(ctx context.Context, r store.Reader, page int64, ids []int64) (map[int64]bool, error) {
	found, err := store.List[int64](ctx, r, `select distinct i.asset_id from dispatch_item i join dispatch_post p on p.id = i.post_id
		where p.page_id = $1 and i.asset_id = any($2) and p.phase not in ('refused', 'cancelled')`, page, ids)
	out := make(map[int64]bool, len(found))
	for _, id := range found {
		out[id] = true
	}
	return out, err
}
