package peoplestore

import (
	"context"
	"time"

	"brightsatchel/internal/store"
)

// Session is a browser in which somebody is signed in. Token is what its cookie holds, and for nobody else.
type Session struct {
	Token   string    `db:"token"`
	Begun   time.Time `db:"begun_at"`
	Browser string    `db:"browser"` // User-Agent
	Place   string    `db:"place"`   // network address
}

// NoteSession keeps whose a session is that begins now.
func NoteSession(ctx context.Context, db *store.DB, person int64, s Session) error {
	_, err := db.ExecContext(ctx, `with old as (delete from session_of o where person_id = $1 and begun_at < now() - interval '1 hour'
		and not exists (select from sessions s where s.token = o.token and s.expiry > now()))
		insert into session_of (token, person_id, browser, place) values ($2, $1, left($3, 300), $4) on conflict do nothing`, person,
		s.Token, s.Browser, s.Place)
	return err
}

// SessionsOf lists the sessions of a person that go on, the newest first.
func SessionsOf(ctx context.Context, r store.Reader, person int64) ([]Session, error) {
	return store.List[Session](ctx, r, `select o.token, o.begun_at, o.browser, o.place from session_of o join sessions s on s.token = o.token
		where o.person_id = $1 and s.expiry > now() order by o.begun_at desc limit 100`, person)
}

// EndSessions ends the sessions of a person but one; all when that is "".
func EndSessions(ctx context.Context, tx *store.Tx, person int64, but string) (int, error) {
	return tx.Change(ctx, `with gone as (delete from session_of where person_id = $1 and token <> $2 returning token)
		delete from sessions where token in (select token from gone)`, person, but)
}

// EndSession ends one session of a person.
func EndSession(ctx context.Context, tx *store.Tx, person int64, token string) (int, error) {
	return tx.Change(ctx, `with gone as (delete from session_of where person_id = $1 and token = $2 returning token)
		delete from sessions where token in (select token from gone)`, person, token)
}
