package peoplestore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// Letter is a letter by e-mail and what came of it. State is waiting, sending, sent, refused, or unsure: it may have been sent.
type Letter struct {
	ID      int64         `db:"id"`
	Brand   int64         `db:"brand_id"`
	Code    string        `db:"code"`
	Kind    string        `db:"kind"`
	Guest   sql.NullInt64 `db:"guest_id"`
	Name    string        `db:"to_name"`
	Email   string        `db:"to_email"`
	Subject string        `db:"subject"`
	Text    string        `db:"body_text"`
	HTML    string        `db:"body_html"`
	Cover   string        `db:"cover_blob"`   // key of a JPEG that is inside, "" is none
	Stop    string        `db:"stop_address"` // where such letters are ended with one click, "" is nowhere
	State   string        `db:"state"`
	Why     string        `db:"why"`
	Tries   int           `db:"tries"`
	Created time.Time     `db:"created_at"`
	Sent    sql.NullTime  `db:"sent_at"`
}

const letterColumns = `select id, brand_id, code, kind, guest_id, to_name, to_email, subject, body_text, body_html, cover_blob,
	stop_address, state, why, tries, created_at, sent_at from letter`

// AddLetter keeps a letter that is to be sent, and returns its id.
func AddLetter(ctx context.Context, tx *store.Tx, l Letter) (id int64, err error) {
	err = tx.GetContext(ctx, &id, `insert into letter (brand_id, kind, guest_id, to_name, to_email, subject, body_text, body_html,
		cover_blob, stop_address) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) returning id`, l.Brand, l.Kind, l.Guest, l.Name, l.Email,
		l.Subject, l.Text, l.HTML, l.Cover, l.Stop)
	return id, err
}

// TakeLetter marks a letter that waits as being sent, which is kept before it is. One that was being sent when its process ended becomes
// unsure.
func TakeLetter(ctx context.Context, db *store.DB, id int64) (Letter, bool, error) {
	var l Letter
	taken := false
	err := db.InTx(ctx, func(tx *store.Tx) (err error) {
		if l, err = store.Get[Letter](ctx, tx, "There is no such letter.", letterColumns+` where id = $1 for update`, id); err != nil {
			return err
		}
		switch l.State {
		case "waiting":
			taken = true
			_, err = tx.ExecContext(ctx, `update letter set state = 'sending', tries = tries + 1 where id = $1`, id)
		case "sending":
			_, err = tx.ExecContext(ctx, `update letter set state = 'unsure',
				why = 'This server ended while it was being sent, so it may have arrived.' where id = $1`, id)
		}
		return err
	})
	return l, taken, err
}

// EndLetter writes down what came of a letter that was being sent. Of one that is out no link is kept.
func EndLetter(ctx context.Context, db *store.DB, id int64, state, why string) error {
	_, err := db.ExecContext(ctx, `update letter set state = $2, why = $3, sent_at = case when $2 = 'sent' then now() end,
		body_text = case when $2 = 'sent' then regexp_replace(body_text, 'https?://\S+', '(link)', 'g') else body_text end,
		body_html = case when $2 = 'sent' then '' else body_html end, stop_address = case when $2 = 'sent' then '' else stop_address end
		where id = $1 and state = 'sending'`, id, state, why)
	return err
}

// GiveUpLetter ends a letter that nobody tries to send any more.
func GiveUpLetter(ctx context.Context, db *store.DB, id int64, why string) error {
	_, err := db.ExecContext(ctx, `update letter set state = 'refused', why = $2 where id = $1 and state = 'waiting'`, id, why)
	return err
}

// SendAgain lets a letter wait once more of which a person says that it did not arrive.
func SendAgain(ctx context.Context, tx *store.Tx, brand, id int64) error {
	n, err := tx.Change(ctx, `update letter set state = 'waiting', why = '' where brand_id = $1 and id = $2
		and state in ('refused', 'unsure')`, brand, id)
	if err == nil && n == 0 {
		err = fault.Invalidf("letter", "That letter is on its way, or has arrived.")
	}
	return err
}

// LetterByID reads one letter of a brand.
func LetterByID(ctx context.Context, r store.Reader, brand, id int64) (Letter, error) {
	return store.Get[Letter](ctx, r, "There is no such letter.", letterColumns+` where brand_id = $1 and id = $2`, brand, id)
}
