package gallerystore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/store"
)

// Link is the secret part of a guest's own link as it is kept: its sum (SHA-256), by which it is found, and itself, sealed, so that it can
// be written into further letters.
type Link struct {
	Sum    []byte `db:"link_sum"`
	Sealed []byte `db:"link_sealed"`
}

// Guest is somebody who looks at a gallery: invited, with a link of their own, or known by the name that they gave.
type Guest struct {
	ID      int64 `db:"id"`
	Brand   int64 `db:"brand_id"`
	Gallery int64 `db:"gallery_id"`
	Link
	Name      string       `db:"name"`
	Email     string       `db:"email"`
	Invited   sql.NullTime `db:"invited_at"`
	Withdrawn sql.NullTime `db:"withdrawn_at"`
	Silent    bool         `db:"silent"` // wants no more letters
	FirstSeen sql.NullTime `db:"first_seen"`
	LastSeen  sql.NullTime `db:"last_seen"`
	Visits    int          `db:"visits"`
}

// Called is what a guest is called: by name, or else by address.
func (g Guest) Called() string {
	if g.Name != "" {
		return g.Name
	}
	return g.Email
}

const guestColumns = `u.id, u.brand_id, u.gallery_id, u.link_sum, u.link_sealed, u.name, u.email, u.invited_at, u.withdrawn_at, u.silent,
	u.first_seen, u.last_seen, u.visits`

// ListedGuest is a guest with their last letter.
type ListedGuest struct {
	Guest
	Letter      sql.NullInt64  `db:"letter_id"`
	LetterKind  sql.NullString `db:"letter_kind"`
	LetterState sql.NullString `db:"letter_state"`
	LetterWhy   sql.NullString `db:"letter_why"`
}

// Guests lists the guests of a gallery, those invited first, at most 1,000.
func Guests(ctx context.Context, r store.Reader, gallery int64) ([]ListedGuest, error) {
	return store.List[ListedGuest](ctx, r, `select `+guestColumns+`, l.id as letter_id, l.kind as letter_kind, l.state as letter_state,
		l.why as letter_why from guest u
		left join lateral (select id, kind, state, why from letter where guest_id = u.id order by id desc limit 1) l on true
		where u.gallery_id = $1 order by u.invited_at is null, lower(u.name), u.email, u.id limit 1000`, gallery)
}

// GuestByLink finds a guest of a gallery by the sum of their link. One whose link was taken back is not found.
func GuestByLink(ctx context.Context, r store.Reader, gallery int64, sum []byte) (Guest, error) {
	return store.Get[Guest](ctx, r, "This link does not work any more.", `select `+guestColumns+` from guest u
		where u.gallery_id = $1 and u.link_sum = $2 and u.withdrawn_at is null`, gallery, sum)
}

// InviteGuest makes somebody a guest with a link, or finds them with theirs. Who was one before whose link was taken back gets the new one.
func InviteGuest(ctx context.Context, tx *store.Tx, brand, gallery int64, a letters.Address, l Link) (Guest, error) {
	return store.Get[Guest](
		ctx,
		tx,
		galleryMissing,
		`insert into guest as u (brand_id, gallery_id, name, email, link_sum, link_sealed, invited_at)
		values ($1, $2, $3, $4, $5, $6, now()) on conflict (gallery_id, lower(email)) where email <> '' do update set
		name = case when excluded.name <> '' then excluded.name else u.name end,
		link_sum = case when u.withdrawn_at is null then u.link_sum else excluded.link_sum end,
		link_sealed = case when u.withdrawn_at is null then u.link_sealed else excluded.link_sealed end, withdrawn_at = null,
		invited_at = coalesce(u.invited_at, now()) returning `+guestColumns,
		brand,
		gallery,
		a.Name,
		a.Email,
		l.Sum,
		l.Sealed,
	)
}

// AddGuest makes somebody a guest who gave a name; a gallery has so many at most.
func AddGuest(ctx context.Context, tx *store.Tx, g Gallery, name string, most int, l Link) (Guest, error) {
	n, err := store.Get[int](ctx, tx, galleryMissing, `select count(*)::int from guest where gallery_id = $1`, g.ID)
	if err != nil {
		return Guest{}, err
	}
	if n >= most {
		return Guest{}, fault.Invalidf("name", "This gallery has so many guests already that it takes no more names.")
	}
	return store.Get[Guest](ctx, tx, galleryMissing, `insert into guest as u (brand_id, gallery_id, name, link_sum, link_sealed,
		first_seen, last_seen) values ($1, $2, $3, $4, $5, now(), now()) returning `+guestColumns, g.Brand, g.ID, name, l.Sum, l.Sealed)
}

// WithdrawGuest takes the link of a guest back. What they marked and wrote stays.
func WithdrawGuest(ctx context.Context, tx *store.Tx, gallery, id int64) (Guest, error) {
	return store.Get[Guest](ctx, tx, "That guest is not there any more.", `update guest u set withdrawn_at = coalesce(withdrawn_at, now())
		where u.gallery_id = $1 and u.id = $2 returning `+guestColumns, gallery, id)
}

// SawGuest writes down that a guest opened their gallery.
func SawGuest(ctx context.Context, db *store.DB, id int64) error {
	_, err := db.ExecContext(ctx, `update guest set first_seen = coalesce(first_seen, now()), last_seen = now(), visits = visits + 1
		where id = $1`, id)
	return err
}

// Stopped is a guest who wants no more letters, with the gallery that they were about.
type Stopped struct {
	Email  string `db:"email"`
	Title  string `db:"title"`
	Brand  string `db:"brand"`
	Silent bool   `db:"silent"`
}

const stoppedColumns = `u.email, g.title, b.name as brand, u.silent`

// StopLetters ends the letters to a guest, by the sum of their link.
func StopLetters(ctx context.Context, db *store.DB, sum []byte) (Stopped, error) {
	return store.Get[Stopped](ctx, db, "There is nothing under this address.", `update guest u set silent = true from gallery g
		join brand b on b.id = g.brand_id where g.id = u.gallery_id and u.link_sum = $1 returning `+stoppedColumns, sum)
}

// MayStop is whose letters the link with a sum ends.
func MayStop(ctx context.Context, db *store.DB, sum []byte) (Stopped, error) {
	return store.Get[Stopped](ctx, db, "There is nothing under this address.", `select `+stoppedColumns+` from guest u
		join gallery g on g.id = u.gallery_id join brand b on b.id = g.brand_id where u.link_sum = $1`, sum)
}

// HadLetter says which guests of a gallery had a letter of a kind that arrived or is on its way and was written after a moment.
func HadLetter(ctx context.Context, r store.Reader, gallery int64, kind string, after time.Time) (map[int64]bool, error) {
	ids, err := store.List[int64](ctx, r, `select distinct l.guest_id from letter l join guest u on u.id = l.guest_id where u.gallery_id = $1
		and l.kind = $2 and l.created_at > $3 and l.state <> 'refused'`, gallery, kind, after)
	had := make(map[int64]bool, len(ids))
	for _, id := range ids {
		had[id] = true
	}
	return had, err
}

// GalleryEvent is something that happened in a gallery. Guest is nobody's where it is not known who it was.
type GalleryEvent struct {
	What   string         `db:"what"` // opened, took
	Guest  sql.NullString `db:"guest"`
	Items  int            `db:"items"`
	Detail string         `db:"detail"`
	At     time.Time      `db:"at"`
}

// Happened writes down that a gallery was opened or that something was taken along; guest 0 is not known.
func Happened(ctx context.Context, db *store.DB, g Gallery, guest int64, what string, items int, detail string) error {
	_, err := db.ExecContext(ctx, `insert into gallery_event (brand_id, gallery_id, guest_id, what, items, detail)
		values ($1, $2, nullif($3, 0), $4, $5, $6)`, g.Brand, g.ID, guest, what, items, detail)
	return err
}

// GalleryEvents lists what happened last in a gallery.
func GalleryEvents(ctx context.Context, r store.Reader, gallery int64, most int) ([]GalleryEvent, error) {
	return store.List[GalleryEvent](ctx, r, `select e.what, coalesce(nullif(u.name, ''), u.email) as guest, e.items, e.detail, e.at
		from gallery_event e left join guest u on u.id = e.guest_id where e.gallery_id = $1 order by e.id desc limit $2`, gallery, most)
}

// GuestDeeds is how much a guest did in a gallery: how often they opened it, how many files they took along, and how many remarks they
// made. Those who are not known by name are one, of whom it is not said which.
type GuestDeeds struct {
	Guest   sql.NullInt64 `db:"guest_id"`
	Opened  int           `db:"opened"`
	Took    int           `db:"took"`
	Remarks int           `db:"remarks"`
}

// DeedsOf counts what happened in a gallery, guest by guest.
func DeedsOf(ctx context.Context, r store.Reader, gallery int64) ([]GuestDeeds, error) {
	return store.List[GuestDeeds](ctx, r, `select guest_id, sum(opened)::bigint as opened, sum(took)::bigint as took, sum(remarks)::bigint
		as remarks
		from (select guest_id, count(*) filter (where what = 'opened') as opened, coalesce(sum(items) filter (where what = 'took'), 0) as took,
				0 as remarks from gallery_event where gallery_id = $1 group by guest_id
			union all select guest_id, 0, 0, count(*) from remark where gallery_id = $1 and guest_id is not null group by guest_id) d
		group by guest_id`,
		gallery,
	)
}

// GuestByID reads one guest of a gallery.
func GuestByID(ctx context.Context, r store.Reader, gallery, id int64) (Guest, error) {
	return store.Get[Guest](ctx, r, "That guest is not there any more.", `select `+guestColumns+` from guest u
		where u.gallery_id = $1 and u.id = $2`, gallery, id)
}
