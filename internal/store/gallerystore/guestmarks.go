package gallerystore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
)

// GuestList is a list into which guests put pictures, at most so many each; 0 sets no bound.
type GuestList struct {
	ID   int64  `db:"id"`
	Name string `db:"name"`
	Most int    `db:"most"`
}

// GuestLists lists the lists of a gallery in their order.
func GuestLists(ctx context.Context, r store.Reader, gallery int64) ([]GuestList, error) {
	return store.List[GuestList](ctx, r, `select id, name, coalesce(most, 0) as most from guest_list where gallery_id = $1 order by
		position, id`,
		gallery,
	)
}

// SetGuestLists gives a gallery its lists. Those with an id that it has keep what is in them.
func SetGuestLists(ctx context.Context, tx *store.Tx, g Gallery, lists []GuestList) error {
	kept := make([]int64, len(lists))
	for i, l := range lists {
		kept[i] = l.ID
	}
	if _, err := tx.ExecContext(ctx, `delete from guest_list where gallery_id = $1 and not id = any($2)`, g.ID, kept); err != nil {
		return err
	}
	for i, l := range lists {
		n, err := tx.Change(ctx, `update guest_list set position = $3, name = $4, most = nullif($5, 0) where gallery_id = $1 and id = $2`,
			g.ID, l.ID, i, l.Name, l.Most)
		if err != nil {
			return err
		}
		if n > 0 {
			continue
		}
		if _, err := tx.ExecContext(ctx, `insert into guest_list (brand_id, gallery_id, position, name, most)
			values ($1, $2, $3, $4, nullif($5, 0))`, g.Brand, g.ID, i, l.Name, l.Most); err != nil {
			return err
		}
	}
	return nil
}

// GuestMark is a picture in a list of a guest.
type GuestMark struct {
	List  int64     `db:"list_id"`
	Guest int64     `db:"guest_id"`
	Name  string    `db:"name"` // of the guest
	Asset int64     `db:"asset_id"`
	Code  string    `db:"code"` // of the item
	At    time.Time `db:"at"`
}

// GuestMarks lists what guests put into the lists of a gallery, list after list in the order in which it was put there: one guest, or
// all where none is named.
func GuestMarks(ctx context.Context, r store.Reader, gallery int64, guest sql.NullInt64) ([]GuestMark, error) {
	return store.List[GuestMark](ctx, r, `select m.list_id, m.guest_id, coalesce(nullif(u.name, ''), u.email) as name, m.asset_id, a.code, m.at
		from guest_list l join guest_mark m on m.list_id = l.id join guest u on u.id = m.guest_id
		join asset a on a.id = m.asset_id and a.binned_at is null where l.gallery_id = $1 and ($2::bigint is null or m.guest_id = $2)
		order by l.position, l.id, m.at, m.asset_id`, gallery, guest)
}

// Chosen is a picture in a list, with the guests who put it there.
type Chosen struct {
	List   int64              `db:"list_id"`
	Asset  int64              `db:"asset_id"`
	Guests store.Array[int64] `db:"guests"`
}

// ChosenBy lists what guests put into the lists of a gallery, each picture of a list once, in the order in which it was put there first.
func ChosenBy(ctx context.Context, r store.Reader, gallery int64) ([]Chosen, error) {
	return store.List[Chosen](ctx, r, `select c.list_id, c.asset_id, c.guests from (select m.list_id, m.asset_id, l.position, min(m.at) as at,
			array_agg(m.guest_id order by m.at, m.guest_id) as guests from guest_list l join guest_mark m on m.list_id = l.id
			where l.gallery_id = $1 group by m.list_id, m.asset_id, l.position) c
		join asset a on a.id = c.asset_id and a.binned_at is null order by c.position, c.list_id, c.at, c.asset_id`, gallery)
}

// Mark puts a picture into a list of a guest, or takes it out. Doing it twice does nothing.
func Mark(ctx context.Context, tx *store.Tx, g Gallery, guest, list, asset int64, on bool) error {
	l, err := store.Get[GuestList](ctx, tx, "That list is not there any more.", `select id, name, coalesce(most, 0) as most from guest_list
		where gallery_id = $1 and id = $2`, g.ID, list)
	if err != nil {
		return err
	}
	if !on {
		_, err = tx.ExecContext(ctx, `delete from guest_mark where list_id = $1 and guest_id = $2 and asset_id = $3`, list, guest, asset)
		return err
	}
	// two windows of one guest wait for each other, so that neither goes beyond what the list takes
	if _, err := tx.ExecContext(ctx, `select from guest where id = $1 for no key update`, guest); err != nil {
		return err
	}
	n, err := store.Get[int](ctx, tx, "", `select count(*)::int from guest_mark where list_id = $1 and guest_id = $2 and asset_id <> $3`, list,
		guest, asset)
	if err != nil {
		return err
	}
	if l.Most > 0 && n >= l.Most {
		return fault.Invalidf("list", "“%s” takes up to %s. Take one out first.", l.Name,
			wording.Count(l.Most, "picture", "pictures"))
	}
	_, err = tx.ExecContext(ctx, `insert into guest_mark (brand_id, list_id, guest_id, asset_id) values ($1, $2, $3, $4)
		on conflict do nothing`, g.Brand, list, guest, asset)
	return err
}

// Remark is what a guest or somebody of the team says about a picture, or about a point in it: X and Y go from 0 at the left and the top
// of the picture as it is shown to 1.
type Remark struct {
	ID      int64           `db:"id"`
	Asset   int64           `db:"asset_id"`
	Code    string          `db:"code"` // of the item
	Guest   sql.NullInt64   `db:"guest_id"`
	Person  sql.NullInt64   `db:"person_id"`
	Name    string          `db:"name"`
	Answers sql.NullInt64   `db:"answers"`
	Words   string          `db:"words"`
	X       sql.NullFloat64 `db:"x"`
	Y       sql.NullFloat64 `db:"y"`
	At      time.Time       `db:"at"`
}

// Remarks lists what was said in a gallery, in its order, at most so many of the latest: by one guest and the team, or by all where no
// guest is named.
func Remarks(ctx context.Context, r store.Reader, gallery int64, guest sql.NullInt64, most int) ([]Remark, error) {
	return store.List[Remark](ctx, r, `select * from (select k.id, k.asset_id, a.code, k.guest_id, k.person_id,
		coalesce(p.name, nullif(u.name, ''), u.email) as name, k.answers, k.words, k.x, k.y, k.at from remark k
		join asset a on a.id = k.asset_id and a.binned_at is null left join guest u on u.id = k.guest_id left join person p on p.id = k.person_id
		where k.gallery_id = $1 and ($3::bigint is null or k.guest_id = $3 or k.person_id is not null)
		order by k.id desc limit $2) latest order by id`, gallery, most, guest)
}

// RemarkLimits are how many remarks a guest makes: in a minute, in all, and how many a gallery has.
type RemarkLimits struct{ Minute, Guest, Gallery int }

// AddRemark writes a remark down, unless there are too many.
func AddRemark(ctx context.Context, tx *store.Tx, g Gallery, r Remark, limits RemarkLimits) (id int64, err error) {
	if r.Guest.Valid { // one after the other, so that the count holds
		if _, err := tx.ExecContext(ctx, `select from guest where id = $1 for no key update`, r.Guest); err != nil {
			return 0, err
		}
	}
	n, err := store.Get[struct {
		Minute  int `db:"minute"`
		Guest   int `db:"guest"`
		Gallery int `db:"gallery"`
	}](ctx, tx, "", `select count(*) filter (where guest_id = $2 and at > now() - interval '1 minute') as minute,
		count(*) filter (where guest_id = $2) as guest, count(*) as gallery from remark where gallery_id = $1`, g.ID, r.Guest)
	switch {
	case err != nil:
		return 0, err
	case n.Minute >= limits.Minute:
		return 0, &fault.TooMany{Text: "Those were a lot of remarks in one minute. Wait a little, then go on.", After: time.Minute}
	case n.Guest >= limits.Guest || n.Gallery >= limits.Gallery:
		return 0, fault.Invalidf("words", "This gallery takes no more remarks. Write to the people who made it.")
	}
	if r.Answers.Valid {
		asset, err := store.Get[int64](ctx, tx, "That remark is not there any more.",
			`select asset_id from remark where gallery_id = $1 and id = $2`,
			g.ID,
			r.Answers,
		)
		if err != nil {
			return 0, err
		}
		r.Asset = asset
	}
	err = tx.GetContext(ctx, &id, `insert into remark (brand_id, gallery_id, asset_id, guest_id, person_id, answers, words, x, y)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9) returning id`, g.Brand, g.ID, r.Asset, r.Guest, r.Person, r.Answers, r.Words, r.X, r.Y)
	return id, err
}

// RemoveRemark removes a remark with its answers; a guest only their own, guest 0 stands for the team.
func RemoveRemark(ctx context.Context, tx *store.Tx, gallery, guest, id int64) error {
	n, err := tx.Change(ctx, `delete from remark where gallery_id = $1 and id = $2 and ($3 = 0 or guest_id = $3)`, gallery, id, guest)
	if err == nil && n == 0 {
		err = fault.NotFoundf("That remark is not there any more, or it is not yours.")
	}
	return err
}
