// Package gallerystore keeps galleries, their guests, what these marked and wrote, and what they contributed.
package gallerystore

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"

	"github.com/jackc/pgx/v5/pgconn"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
)

// Gallery is a gallery for guests. OpenedAt is when it was opened first; before that nobody outside can tell that it exists.
type Gallery struct {
	ID           int64           `db:"id"`
	Brand        int64           `db:"brand_id"`
	BrandName    string          `db:"brand_name"`
	BrandCode    string          `db:"brand_code"`
	Code         string          `db:"code"`
	Kind         string          `db:"kind"`
	Address      string          `db:"address"` // of its own, "" is none
	Title        string          `db:"title"`
	Message      string          `db:"message"`
	Audience     string          `db:"audience"`
	PasswordHash string          `db:"password_hash"`
	Open         bool            `db:"open"`
	OpenedAt     sql.NullTime    `db:"opened_at"`
	Ends         sql.NullString  `db:"ends_on"`
	Settings     gallerySettings `db:"settings"`
	Chosen       sql.NullInt64   `db:"chosen"`
	TakesInto    sql.NullInt64   `db:"takes_into"` // folder for what guests add
	TakesBy      sql.NullInt64   `db:"takes_by"`   // in whose name that comes
	Chapters     []Chapter       `db:"-"`
	Items        int             `db:"-"`
	albumstore.Cover
}

// Gate is what decides who sees the gallery.
func (g *Gallery) Gate() galleries.Gate {
	return galleries.Gate{Open: g.Open, LastDay: g.Ends.String, Audience: g.Audience, Password: g.PasswordHash != ""}
}

// Ended says whether its last day is over.
func (g *Gallery) Ended() bool {
	return g.Ends.Valid && g.Ends.String < time.Now().Format(time.DateOnly)
}

// Places are the folders and albums of its chapters that are still there.
func (g *Gallery) Places() []assetstore.Place {
	out := make([]assetstore.Place, 0, len(g.Chapters))
	for _, c := range g.Chapters {
		if c.Folder != 0 || c.Album != 0 {
			out = append(out, c.Place)
		}
	}
	return out
}

// At is its path below the address of this server.
func (g *Gallery) At() string {
	if g.Address != "" {
		return "/g/" + g.Address
	}
	return "/g/" + g.Code
}

// gallerySettings are settings as they are kept.
type gallerySettings struct{ galleries.Settings }

// Scan implements sql.Scanner.
func (s *gallerySettings) Scan(value any) error { return store.ScanJSON(value, &s.Settings) }

// Chapter is a part of a gallery: a folder or an album, with a title and words of its own; without a title that of the place serves.
type Chapter struct {
	ID    int64  `db:"id"`
	Title string `db:"title"`
	Words string `db:"words"`
	assetstore.Place
}

const galleryColumns = `select g.id, g.brand_id, br.name as brand_name, br.code as brand_code,
	g.code, g.kind, coalesce(g.address, '') as address, g.title,
	g.message, g.audience, g.password_hash, g.open, g.opened_at, g.ends_on::text as ends_on, g.settings, g.cover_id as chosen,
	g.takes_into, g.takes_by, ` +
	albumstore.CoverColumns + ` from gallery g join brand br on br.id = g.brand_id
	left join asset ca on ca.id = g.cover_id and ca.binned_at is null left join version cv on cv.id = ca.version_id`

const galleryMissing = "There is no gallery under this address."

// Galleries lists the galleries of a brand, newest first.
func Galleries(ctx context.Context, r store.Reader, brand int64) ([]Gallery, error) {
	all, err := store.List[Gallery](ctx, r, galleryColumns+` where g.brand_id = $1 order by g.id desc`, brand)
	if err != nil {
		return nil, err
	}
	return all, withChapters(ctx, r, all)
}

// GalleryByID reads one gallery of a brand.
func GalleryByID(ctx context.Context, r store.Reader, v *access.Viewer, id int64) (Gallery, error) {
	return oneGallery(ctx, r, galleryColumns+` where g.brand_id = $1 and g.id = $2`, v.Brand, id)
}

// GalleryForChange reads one gallery of a brand, and keeps it as it is until the transaction ends.
func GalleryForChange(ctx context.Context, tx *store.Tx, v *access.Viewer, id int64) (Gallery, error) {
	if _, err := tx.ExecContext(ctx, `select from gallery where brand_id = $1 and id = $2 for no key update`, v.Brand, id); err != nil {
		return Gallery{}, err
	}
	return GalleryByID(ctx, tx, v, id)
}

// GalleryByCode reads a gallery for a guest, by its code or its address. One that was never opened is not found.
func GalleryByCode(ctx context.Context, r store.Reader, code string) (Gallery, error) {
	return oneGallery(ctx, r, galleryColumns+` where g.code = $1 and g.opened_at is not null union all `+
		galleryColumns+` where g.address = $1 and g.opened_at is not null`, code)
}

// ListedGalleries lists the galleries of a brand that are for everyone and open, newest first.
func ListedGalleries(ctx context.Context, r store.Reader, brand int64) ([]Gallery, error) {
	all, err := store.List[Gallery](ctx, r, galleryColumns+` where g.brand_id = $1 and g.audience = 'everyone' and `+assetstore.ShownNow+`
		order by g.opened_at desc`, brand)
	if err != nil {
		return nil, err
	}
	return all, withChapters(ctx, r, all)
}

func oneGallery(ctx context.Context, r store.Reader, query string, args ...any) (Gallery, error) {
	g, err := store.Get[Gallery](ctx, r, galleryMissing, query, args...)
	if err != nil {
		return g, err
	}
	one := []Gallery{g}
	err = withChapters(ctx, r, one)
	return one[0], err
}

func withChapters(ctx context.Context, r store.Reader, all []Gallery) error {
	ids, at := make([]int64, len(all)), make(map[int64]*Gallery, len(all))
	for i := range all {
		ids[i], at[all[i].ID] = all[i].ID, &all[i]
	}
	chapters, err := store.List[struct {
		Gallery int64 `db:"gallery_id"`
		Chapter
	}](ctx, r, `select s.gallery_id, s.id, s.title, s.words, `+assetstore.PlaceColumns+` from gallery_chapter s`+assetstore.PlaceJoins+`
		where s.gallery_id = any($1) order by s.gallery_id, s.position, s.id`, ids)
	for _, c := range chapters {
		at[c.Gallery].Chapters = append(at[c.Gallery].Chapters, c.Chapter)
	}
	return err
}

// AddGallery makes a gallery that is closed, and returns its id.
func AddGallery(ctx context.Context, tx *store.Tx, g Gallery) (int64, error) {
	settings, err := json.Marshal(g.Settings.Settings)
	if err != nil {
		return 0, err
	}
	err = tx.GetContext(ctx, &g.ID, `insert into gallery (brand_id, kind, address, title, message, audience, password_hash, settings,
		cover_id, ends_on) values ($1, $2, nullif($3, ''), $4, $5, $6, $7, $8, $9, $10::date) returning id`, g.Brand, g.Kind, g.Address,
		g.Title, g.Message, g.Audience, g.PasswordHash, string(settings), g.Chosen, g.Ends)
	if err != nil {
		return 0, addressTaken(err, g.Address)
	}
	return g.ID, SetChapters(ctx, tx, g)
}

// ChangeGallery writes everything about a gallery that can be set, but for its chapters.
func ChangeGallery(ctx context.Context, tx *store.Tx, g Gallery) error {
	settings, err := json.Marshal(g.Settings.Settings)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update gallery set title = $2, message = $3, password_hash = $4, settings = $5, cover_id = $6, open = $7,
		ends_on = $8::date, opened_at = case when $7 then coalesce(opened_at, now()) else opened_at end, audience = $9,
		address = nullif($10, ''), kind = $11, takes_into = $12, takes_by = $13 where id = $1`,
		g.ID, g.Title, g.Message, g.PasswordHash, string(settings), g.Chosen, g.Open, g.Ends, g.Audience, g.Address, g.Kind,
		g.TakesInto, g.TakesBy)
	return addressTaken(err, g.Address)
}

func addressTaken(err error, address string) error {
	var e *pgconn.PgError
	if errors.As(err, &e) && e.ConstraintName == "gallery_address_key" {
		return fault.Invalidf("address", "Another gallery has the address “%s”. Choose another one.", address)
	}
	return err
}

// SetChapters gives a gallery its chapters, in their order. Those with an id that it has keep it.
func SetChapters(ctx context.Context, tx *store.Tx, g Gallery) error {
	kept := make([]int64, len(g.Chapters))
	for i, c := range g.Chapters {
		kept[i] = c.ID
	}
	if _, err := tx.ExecContext(ctx, `delete from gallery_chapter where gallery_id = $1 and not id = any($2)`, g.ID, kept); err != nil {
		return err
	}
	for i, c := range g.Chapters {
		var err error
		if c.ID == 0 {
			_, err = tx.ExecContext(ctx, `insert into gallery_chapter (brand_id, gallery_id, position, title, words, folder_id, album_id, below)
				values ($1, $2, $3, $4, $5, nullif($6, 0), nullif($7, 0), $8)`, g.Brand, g.ID, i, c.Title, c.Words, c.Folder, c.Album, c.Below)
		} else {
			_, err = tx.ExecContext(ctx, `update gallery_chapter set position = $3, title = $4, words = $5, below = $6
				where gallery_id = $1 and id = $2 and (position, title, words, below) is distinct from ($3, $4, $5, $6)`, g.ID, c.ID, i,
				c.Title, c.Words, c.Below)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// RemoveGallery removes a gallery; the items stay in the library.
func RemoveGallery(ctx context.Context, tx *store.Tx, id int64) error {
	_, err := tx.ExecContext(ctx, `delete from gallery where id = $1`, id)
	return err
}

// GalleriesEnding lists the open galleries of all brands whose last day is within so many days and about which nobody was reminded.
func GalleriesEnding(ctx context.Context, r store.Reader, days int) ([]Gallery, error) {
	return store.List[Gallery](ctx, r, galleryColumns+` where `+assetstore.ShownNow+` and g.ends_on < current_date + $1::int
		and g.reminded_on is distinct from g.ends_on order by g.id`, days)
}

// NoteReminded writes down that somebody was reminded of the last day of a gallery, and says whether that was not known.
func NoteReminded(ctx context.Context, tx *store.Tx, id int64, day string) (bool, error) {
	n, err := tx.Change(ctx, `update gallery set reminded_on = $2::date where id = $1 and ends_on = $2::date
		and reminded_on is distinct from $2::date`, id, day)
	return n > 0, err
}
