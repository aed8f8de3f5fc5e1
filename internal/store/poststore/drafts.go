package poststore

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
)

// Draft is a dispatch that nobody has sent yet: what it sends, to which pages, and all else as whoever prepared it left it.
type Draft struct {
	ID      int64              `db:"id"`
	Brand   int64              `db:"brand_id"`
	Person  sql.NullInt64      `db:"person_id"`
	By      sql.NullString     `db:"by_name"`
	Name    string             `db:"name"`
	Assets  store.Array[int64] `db:"assets"`
	Pages   store.Array[int64] `db:"pages"`
	Body    []byte             `db:"body"`
	Why     string             `db:"why"` // it was not sent, where it was to be
	Changed time.Time          `db:"changed_at"`
}

const draftColumns = `select d.id, d.brand_id, d.person_id, p.name as by_name, d.name, d.assets, d.pages, d.body, d.why, d.changed_at
	from dispatch_draft d left join person p on p.id = d.person_id `

// Drafts lists the drafts of a brand, the one changed last first.
func Drafts(ctx context.Context, r store.Reader, brand int64, most int) ([]Draft, error) {
	return store.List[Draft](ctx, r, draftColumns+`where d.brand_id = $1 order by d.changed_at desc, d.id limit $2`, brand, most)
}

// AddDraft keeps a new draft.
func AddDraft(ctx context.Context, tx *store.Tx, d Draft) (int64, error) {
	return store.Get[int64](ctx, tx, "", `insert into dispatch_draft (brand_id, person_id, name, assets, pages, body, why)
		values ($1, $2, $3, $4, $5, $6, $7) returning id`, d.Brand, d.Person, d.Name, d.Assets, d.Pages, json.RawMessage(d.Body), d.Why)
}

// ChangeDraft writes a draft anew.
func ChangeDraft(ctx context.Context, tx *store.Tx, d Draft) error {
	_, err := store.Get[int64](ctx, tx, "That draft is not there any more. Somebody may have sent it.", `update dispatch_draft set name = $3,
		assets = $4, pages = $5, body = $6, why = '', changed_at = now() where brand_id = $1 and id = $2 returning id`, d.Brand, d.ID, d.Name,
		d.Assets, d.Pages, json.RawMessage(d.Body))
	return err
}

// RemoveDraft removes a draft, and returns its name.
func RemoveDraft(ctx context.Context, tx *store.Tx, brand, id int64) (string, error) {
	return store.Get[string](ctx, tx, "That draft is not there any more. Somebody may have sent it.", `delete from dispatch_draft
		where brand_id = $1 and id = $2 returning name`, brand, id)
}

// CountDrafts counts the drafts of a brand.
func CountDrafts(ctx context.Context, r store.Reader, brand int64) (int, error) {
	return store.Get[int](ctx, r, "", `select count(*)::int from dispatch_draft where brand_id = $1`, brand)
}

// ReadyForPages lists where on the drive items wait to be sent from, once all files that were copied there are items and nothing was
// written for so long.
func ReadyForPages(ctx context.Context, r store.Reader, still time.Duration) ([]drivestore.DriveGroup, error) {
	return store.List[drivestore.DriveGroup](ctx, r,
		`select brand_id, person_id, 0::bigint as folder, 0::bigint as album, page_id as page from drive_file
		where page_id is not null and state <> 'refused' and bytes > 0 and not stray group by brand_id, person_id, page_id
		having bool_and(asset_id is not null) and max(written_at) < now() - make_interval(secs => $1) limit 100`,
		still.Seconds(),
	)
}

// TakeForPage takes the items off the drive that wait to be sent to a page, in the order of their names.
func TakeForPage(ctx context.Context, tx *store.Tx, g drivestore.DriveGroup, most int) ([]int64, error) {
	return store.List[int64](ctx, tx, `with taken as (delete from drive_file where id in (select id from drive_file where brand_id = $1
			and page_id = $2 and person_id = $3 and asset_id is not null order by name collate natural_name limit $4) returning asset_id, name)
		select t.asset_id from taken t join asset a on a.id = t.asset_id where a.binned_at is null order by t.name collate natural_name`,
		g.Brand, g.Page, g.Person, most)
}

// WaitsForPage lists the items on the drive that wait to be sent to a page, as TakeForPage takes them.
func WaitsForPage(ctx context.Context, r store.Reader, g drivestore.DriveGroup, most int) ([]int64, error) {
	return store.List[int64](ctx, r, `select d.asset_id from drive_file d join asset a on a.id = d.asset_id where d.brand_id = $1 and
		d.page_id = $2
		and d.person_id = $3 and a.binned_at is null order by d.name collate natural_name limit $4`,
		g.Brand,
		g.Page,
		g.Person,
		most,
	)
}
