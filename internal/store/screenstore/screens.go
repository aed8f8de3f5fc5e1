// Package screenstore keeps screens and what they play.
package screenstore

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"brightsatchel/internal/core/screens"
	"brightsatchel/internal/store"
)

// Screen is a screen in a shop that is paired with a brand. Person is who paired it, in whose name it shows what it shows.
type Screen struct {
	ID        int64          `db:"id"`
	Brand     int64          `db:"brand_id"`
	Person    sql.NullInt64  `db:"person_id"`
	By        sql.NullString `db:"by_name"`
	Code      string         `db:"code"`
	Name      string         `db:"name"`
	Album     sql.NullInt64  `db:"album_id"`
	AlbumName sql.NullString `db:"album_name"`
	ByRule    bool           `db:"by_rule"`
	Settings  screenSettings `db:"settings"`
	State     string         `db:"state"` // playing, paused or blank
	Jumps     int            `db:"jumps"` // how often it was told to go on; less for going back
	Seen      sql.NullTime   `db:"seen_at"`
	Width     sql.NullInt64  `db:"width"` // of the screen, in pixels
	Height    sql.NullInt64  `db:"height"`
	Showing   sql.NullInt64  `db:"showing"`
	Kept      sql.NullInt64  `db:"kept"` // how many of its items are stored there
}

type screenSettings struct{ screens.Settings }

// Scan implements sql.Scanner.
func (s *screenSettings) Scan(value any) error { return store.ScanJSON(value, &s.Settings) }

const screenColumns = `select s.id, s.brand_id, s.person_id, p.name as by_name, s.code, s.name, s.album_id, al.name as album_name,
	coalesce(al.rule is not null, false) as by_rule, s.settings, s.state, s.jumps, x.at as seen_at, x.width, x.height, x.showing, x.kept
	from screen s left join person p on p.id = s.person_id left join album al on al.id = s.album_id
	left join screen_seen x on x.screen_id = s.id `

const noScreen = "That screen is not paired any more."

// Screens lists the screens of a brand, by name.
func Screens(ctx context.Context, r store.Reader, brand int64) ([]Screen, error) {
	return store.List[Screen](ctx, r, screenColumns+`where s.brand_id = $1 order by s.name collate natural_name, s.id`, brand)
}

// ScreenByID reads a screen of a brand.
func ScreenByID(ctx context.Context, r store.Reader, brand, id int64) (Screen, error) {
	return store.Get[Screen](ctx, r, noScreen, screenColumns+`where s.brand_id = $1 and s.id = $2`, brand, id)
}

// ScreenByToken finds the screen that has a token, by its sum.
func ScreenByToken(ctx context.Context, r store.Reader, sum []byte) (Screen, error) {
	return store.Get[Screen](ctx, r, noScreen, screenColumns+`where s.token_sum = $1`, sum)
}

// ScreenByCode finds the screen that has a code.
func ScreenByCode(ctx context.Context, r store.Reader, code string) (Screen, error) {
	return store.Get[Screen](ctx, r, noScreen, screenColumns+`where s.code = $1`, code)
}

// AddScreen pairs a screen with a brand.
func AddScreen(ctx context.Context, tx *store.Tx, s Screen, sum []byte) (int64, error) {
	settings, err := json.Marshal(s.Settings.Settings)
	if err != nil {
		return 0, err
	}
	return store.Get[int64](ctx, tx, "", `insert into screen (brand_id, person_id, token_sum, name, album_id, settings)
		values ($1, $2, $3, $4, $5, $6) returning id`, s.Brand, s.Person, sum, s.Name, s.Album, json.RawMessage(settings))
}

// ChangeScreen writes all that can be set about a screen.
func ChangeScreen(ctx context.Context, tx *store.Tx, s Screen) error {
	settings, err := json.Marshal(s.Settings.Settings)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update screen set name = $2, album_id = $3, settings = $4, state = $5, jumps = $6, person_id = $7
		where id = $1`, s.ID, s.Name, s.Album, json.RawMessage(settings), s.State, s.Jumps, s.Person)
	return err
}

// RemoveScreen ends that a screen shows anything.
func RemoveScreen(ctx context.Context, tx *store.Tx, id int64) error {
	_, err := tx.ExecContext(ctx, `delete from screen where id = $1`, id)
	return err
}

// ScreenSeen is what a screen says of itself.
type ScreenSeen struct {
	Width, Height int
	Showing       string // the code of an item
	Kept          int
}

// NoteScreen writes down that a screen was heard of, at most every so often unless it says something else.
func NoteScreen(ctx context.Context, tx *store.Tx, s Screen, seen ScreenSeen, every time.Duration) error {
	_, err := tx.ExecContext(ctx, `insert into screen_seen as x (screen_id, brand_id, width, height, showing, kept)
		values ($1, $2, $3, $4, (select id from asset where brand_id = $2 and code = $5), $6)
		on conflict (screen_id) do update set at = now(), width = $3, height = $4, showing = excluded.showing, kept = $6
		where x.at < now() - make_interval(secs => $7)
			or (x.width, x.height, x.showing, x.kept) is distinct from ($3, $4, excluded.showing, $6)`, s.ID, s.Brand, seen.Width, seen.Height,
		seen.Showing, seen.Kept, every.Seconds())
	return err
}

// Pairing is a screen that waits to be paired, with the code that it shows.
type Pairing struct {
	Code    string    `db:"code"`
	Expires time.Time `db:"expires_at"`
}

// PairingOf finds the code that a screen shows which is not paired, by the sum of its token; an ended one too.
func PairingOf(ctx context.Context, r store.Reader, sum []byte) (Pairing, error) {
	return store.Get[Pairing](ctx, r, noScreen, `select code, expires_at from screen_pairing where token_sum = $1`, sum)
}

// AddPairing has a screen wait to be paired under a code, in place of one that it had; ok is false when another screen has the code. What
// ended long ago is forgotten.
func AddPairing(ctx context.Context, tx *store.Tx, sum []byte, p Pairing, keep time.Duration) (ok bool, err error) {
	if _, err := tx.ExecContext(ctx, `delete from screen_pairing where expires_at < now() - make_interval(secs => $1)`,
		keep.Seconds()); err != nil {
		return false, err
	}
	n, err := tx.Change(ctx, `insert into screen_pairing (token_sum, code, expires_at)
		select $1, $2, $3 where not exists (select from screen_pairing where code = $2 and token_sum <> $1)
		on conflict (token_sum) do update set code = $2, expires_at = $3`, sum, p.Code, p.Expires)
	return n > 0, err
}

// CountPairings counts the screens that wait to be paired.
func CountPairings(ctx context.Context, r store.Reader) (int, error) {
	return store.Get[int](ctx, r, "", `select count(*)::int from screen_pairing where expires_at > now()`)
}

// TakePairing ends that a screen waits under a code, and returns the sum of its token. A code is taken once.
func TakePairing(ctx context.Context, tx *store.Tx, code string) ([]byte, error) {
	return store.Get[[]byte](ctx, tx, "No screen shows that code now. Look at it again: it changes every ten minutes.",
		`delete from screen_pairing
		where code = $1 and expires_at > now() returning token_sum`,
		code,
	)
}
