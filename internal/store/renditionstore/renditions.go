// Package renditionstore keeps what was made of versions, and which bytes are still wanted.
package renditionstore

import (
	"context"
	"strings"
	"time"

	"brightsatchel/internal/store"
)

// Rendition is a file that was made from a version by a recipe.
type Rendition struct {
	Blob   string `db:"blob"`
	Width  int    `db:"width"`
	Height int    `db:"height"`
	Bytes  int64  `db:"bytes"`
	// How it was made: for which output size (0 for none), in how many seconds, at which quality (0 where that says nothing).
	Size    int64   `db:"-"`
	Seconds float64 `db:"-"`
	Quality int     `db:"quality"`
}

// RenditionOf finds what was made of a version by a recipe, or returns nil.
func RenditionOf(ctx context.Context, r store.Reader, version int64, recipe string) (*Rendition, error) {
	rows, err := store.List[Rendition](ctx, r,
		`select blob, width, height, bytes, quality from rendition where version_id = $1 and recipe = $2`,
		version,
		recipe,
	)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return &rows[0], nil
}

// LockRendition makes those who would make the same rendition, in any process, wait for each other.
func LockRendition(ctx context.Context, tx *store.Tx, version int64, recipe string) error {
	_, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(hashtextextended($1::bigint || ' ' || $2::text, 0))`, version, recipe)
	return err
}

// AddRendition remembers what was made; the same made twice is remembered once.
func AddRendition(ctx context.Context, tx *store.Tx, brand, version int64, recipe string, n Rendition) error {
	_, err := tx.ExecContext(ctx, `insert into rendition (brand_id, version_id, recipe, blob, width, height, bytes, output_size_id,
		seconds, quality) values ($1, $2, $3, $4, $5, $6, $7, (select id from output_size where id = $8 and brand_id = $1), $9, $10)
		on conflict (version_id, recipe) do nothing`, brand, version, recipe, n.Blob, n.Width, n.Height, n.Bytes, n.Size, n.Seconds, n.Quality)
	return err
}

// WantFilm notes that somebody waits for a film now, or that it is wanted in any case.
func WantFilm(ctx context.Context, tx *store.Tx, version int64, recipe string, inAnyCase bool) error {
	_, err := tx.ExecContext(ctx, `insert into film_wanted as w (version_id, recipe, wanted_at) values ($1, $2,
		case when $3 then 'infinity' else now() end)
		on conflict (version_id, recipe) do update set wanted_at = greatest(w.wanted_at, excluded.wanted_at), failed = ''`, version,
		recipe, inAnyCase)
	return err
}

// FilmOf finds a film that was made, or says why it could not be made. Asking says that it is still wanted.
func FilmOf(ctx context.Context, db *store.DB, version int64, recipe string) (made *Rendition, failed string, err error) {
	rows, err := store.List[string](ctx, db, `update film_wanted set wanted_at = greatest(wanted_at, now()) where version_id = $1
		and recipe = $2 returning failed`, version, recipe)
	if err != nil || len(rows) > 0 && rows[0] != "" {
		return nil, strings.Join(rows, ""), err
	}
	made, err = RenditionOf(ctx, db, version, recipe)
	return made, "", err
}

// FilmMade notes how much of a film is made, from 0 to 1.
func FilmMade(ctx context.Context, db *store.DB, version int64, recipe string, part float64) error {
	_, err := db.ExecContext(ctx, `update film_wanted set made = $3 where version_id = $1 and recipe = $2`, version, recipe, part)
	return err
}

// FilmMadeOf is how much of a film that is wanted is made.
func FilmMadeOf(ctx context.Context, r store.Reader, version int64, recipe string) (float64, error) {
	return store.Get[float64](ctx, r, "", `select coalesce(max(made), 0) from film_wanted where version_id = $1 and recipe = $2`,
		version,
		recipe,
	)
}

// FilmWanted says whether somebody has asked for a film within a time.
func FilmWanted(ctx context.Context, r store.Reader, version int64, recipe string, within time.Duration) (bool, error) {
	return store.Get[bool](ctx, r, "", `select exists (select from film_wanted where version_id = $1 and recipe = $2
		and wanted_at > now() - make_interval(secs => $3))`, version, recipe, within.Seconds())
}

// FilmFailed notes why a film could not be made.
func FilmFailed(ctx context.Context, tx *store.Tx, version int64, recipe, why string) error {
	_, err := tx.ExecContext(ctx, `update film_wanted set failed = $3 where version_id = $1 and recipe = $2`, version, recipe, why)
	return err
}
