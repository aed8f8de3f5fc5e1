package gallerystore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// Contribution is a file that a guest added, with who agreed when that the brand may use it. Accepted is when somebody of the team looked
// at it; until then it should not go out.
type Contribution struct {
	Code     string        `db:"code"` // of the file in its intake
	Name     string        `db:"name"` // of the file
	State    string        `db:"state"`
	Why      string        `db:"why"`
	Asset    sql.NullInt64 `db:"asset_id"`
	Guest    string        `db:"guest_name"`
	Agreed   time.Time     `db:"agreed_at"`
	Accepted sql.NullTime  `db:"accepted_at"`
}

// AddContributions writes down that the files of an intake are a guest's, unless the guest or the gallery has too many then.
func AddContributions(ctx context.Context, tx *store.Tx, g Gallery, guest Guest, intake int64, mostOfGuest, mostOfGallery int) error {
	if _, err := tx.ExecContext(ctx, `select from guest where id = $1 for no key update`, guest.ID); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `insert into contribution (file_id, brand_id, gallery_id, guest_id, guest_name)
		select id, brand_id, $2, $3, $4 from intake_file where intake_id = $1`, intake, g.ID, guest.ID, guest.Called()); err != nil {
		return err
	}
	n, err := store.Get[struct {
		Guest   int `db:"guest"`
		Gallery int `db:"gallery"`
	}](ctx, tx, "", `select count(*) filter (where guest_id = $2) as guest, count(*) as gallery from contribution where gallery_id = $1`,
		g.ID, guest.ID)
	if err == nil && (n.Guest > mostOfGuest || n.Gallery > mostOfGallery) {
		err = fault.Invalidf("files", "That would be more than this gallery takes: %d files of each guest, %d in all.", mostOfGuest,
			mostOfGallery)
	}
	return err
}

// ContributionOf says whose gallery and guest a file belongs to, by the code of the file.
func ContributionOf(ctx context.Context, r store.Reader, gallery, guest int64, code string) (int64, error) {
	return store.Get[int64](ctx, r, "That file was not announced here.",
		`select f.bytes from contribution c join intake_file f on f.id = c.file_id
		where c.gallery_id = $1 and c.guest_id = $2 and f.code = $3 and f.state = 'waiting'`,
		gallery,
		guest,
		code,
	)
}

// Contributions lists what guests added to a gallery, the newest first; of one guest, or of all with guest 0.
func Contributions(ctx context.Context, r store.Reader, gallery, guest int64, most int) ([]Contribution, error) {
	return store.List[Contribution](ctx, r, `select f.code, f.name, f.state, f.why, case when a.binned_at is null then f.asset_id end as
		asset_id,
		c.guest_name, c.agreed_at, c.accepted_at from contribution c join intake_file f on f.id = c.file_id
		left join asset a on a.id = f.asset_id where c.gallery_id = $1 and ($2 = 0 or c.guest_id = $2) order by c.file_id desc limit $3`,
		gallery,
		guest,
		most,
	)
}

// AcceptContributions writes down that somebody looked at items that guests added to a gallery and found that they may go out.
func AcceptContributions(ctx context.Context, tx *store.Tx, gallery, person int64, assets []int64) (int, error) {
	return tx.Change(ctx, `update contribution c set accepted_at = now(), accepted_by = $2 from intake_file f where f.id = c.file_id
		and c.gallery_id = $1 and f.asset_id = any($3) and c.accepted_at is null`, gallery, person, assets)
}

// LeftByGuests lists the intakes of guests that began before a moment and still wait for files.
func LeftByGuests(ctx context.Context, r store.Reader, before time.Time) ([]int64, error) {
	return store.List[int64](ctx, r, `select id from intake where source = 'guest' and finished_at is null and started_at < $1 order by id`,
		before,
	)
}
