package store

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/access"
)

// Gallery is a client gallery. OpenedAt is when it was opened first; before that nobody outside can tell that it exists.
type Gallery struct {
	ID           int64          `db:"id"`
	Brand        int64          `db:"brand_id"`
	BrandName    string         `db:"brand_name"`
	Code         string         `db:"code"`
	Title        string         `db:"title"`
	Message      string         `db:"message"`
	Album        int64          `db:"album_id"`
	AlbumName    string         `db:"album_name"`
	PasswordHash string         `db:"password_hash"`
	Open         bool           `db:"open"`
	OpenedAt     sql.NullTime   `db:"opened_at"`
	Downloads    bool           `db:"downloads"`
	SizeID       int64          `db:"output_size_id"`
	Ends         sql.NullString `db:"ends_on"`
	Ended        bool           `db:"ended"`
	Items        int            `db:"items"`
	Chosen       sql.NullInt64  `db:"chosen"`
	Cover
}

var galleryColumns = `select g.id, g.brand_id, br.name as brand_name, g.code, g.title, g.message, g.album_id, al.name as album_name,
	g.password_hash, g.open, g.opened_at,
		g.downloads, g.output_size_id, g.ends_on::text as ends_on, coalesce(g.ends_on < current_date, false) as ended,
		g.cover_id as chosen, ` + coverColumns + `
	from gallery g join brand br on br.id = g.brand_id join album al on al.id = g.album_id` + replaceChosen("g.cover_id")

// shownNow is the condition that a gallery g is open and its last day not over.
const shownNow = `g.open and coalesce(g.ends_on >= current_date, true)`

const galleryMissing = "There is no gallery under this address."

// Galleries lists the galleries of a brand, newest first.
func Galleries(ctx context.Context, r Reader, brand int64) ([]Gallery, error) {
	return list[Gallery](ctx, r, galleryColumns+` where g.brand_id = $1 order by g.id desc`, brand)
}

// GalleryByID reads one gallery of a brand.
func GalleryByID(ctx context.Context, r Reader, v *access.Viewer, id int64) (Gallery, error) {
	return get[Gallery](ctx, r, galleryMissing, galleryColumns+` where g.brand_id = $1 and g.id = $2`, v.Brand, id)
}

// GalleryByCode reads a gallery for a guest. One that was never opened is not found.
func GalleryByCode(ctx context.Context, r Reader, code string) (Gallery, error) {
	return get[Gallery](ctx, r, galleryMissing, galleryColumns+` where g.code = $1 and g.opened_at is not null`, code)
}

// AddGallery makes a gallery that is closed, and returns its id.
func (tx *Tx) AddGallery(ctx context.Context, g Gallery) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into gallery (brand_id, title, message, album_id, password_hash, output_size_id, cover_id,
		downloads, ends_on)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9::date) returning id`, g.Brand, g.Title, g.Message, g.Album, g.PasswordHash, g.SizeID,
		g.Chosen, g.Downloads, g.Ends)
	return id, err
}

// ChangeGallery writes everything about a gallery that can be set.
func (tx *Tx) ChangeGallery(ctx context.Context, g Gallery) error {
	_, err := tx.ExecContext(ctx, `update gallery set title = $2, message = $3, password_hash = $4, output_size_id = $5, cover_id = $6,
		downloads = $7, open = $8,
		ends_on = $9::date, opened_at = case when $8 then coalesce(opened_at, now()) else opened_at end where id = $1`,
		g.ID, g.Title, g.Message, g.PasswordHash, g.SizeID, g.Chosen, g.Downloads, g.Open, g.Ends)
	return err
}

// GalleryAsset reads an item that a gallery shows, by its code.
func GalleryAsset(ctx context.Context, r Reader, g Gallery, code string) (Asset, error) {
	return get[Asset](ctx, r, "That picture is not in this gallery.", "select "+assetColumns+` where a.code = $2 and a.brand_id = $3
		and a.binned_at is null and
		(a.id = $4 or exists (select from album_item i where i.album_id = $5 and i.asset_id = a.id))`, 0, code, g.Brand, g.CoverID, g.Album)
}

// GalleriesShowing lists the open galleries that show an item.
func GalleriesShowing(ctx context.Context, r Reader, asset int64) ([]ShownAt, error) {
	return list[ShownAt](ctx, r, `select 'gallery' as kind, g.title as name, '/g/' || g.code as path, g.opened_at as since
		from gallery g join album_item i on i.album_id = g.album_id where i.asset_id = $1 and `+shownNow+` order by g.title`, asset)
}
