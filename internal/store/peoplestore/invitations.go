package peoplestore

import (
	"context"
	"time"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// Invitation is a link with which a person chooses their password.
type Invitation struct {
	ID       int64     `db:"id"`
	Person   int64     `db:"person_id"`
	Name     string    `db:"name"`
	Email    string    `db:"email"`
	Brand    string    `db:"brand"`
	Code     string    `db:"code"` // of the brand
	Ends     time.Time `db:"ends_at"`
	Returned bool      `db:"returned"` // they had a password before
}

// AddInvitation keeps a link by the SHA-256 of its token; earlier ones of the person do not work any more.
func AddInvitation(ctx context.Context, tx *store.Tx, brand, person, by int64, sum []byte, ends time.Time) error {
	if _, err := tx.ExecContext(ctx, `delete from invitation where person_id = $1 and used_at is null`, person); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `insert into invitation (brand_id, person_id, made_by, token_sha256, ends_at) values ($1, $2, $3, $4, $5)`,
		brand, person, by, sum, ends)
	return err
}

// InvitationBy finds a link that still works.
func InvitationBy(ctx context.Context, r store.Reader, sum []byte) (Invitation, error) {
	return store.Get[Invitation](ctx, r, "This link does not work any more. It works once and for a week; ask a steward for a new one.",
		`select i.id, i.person_id, p.name, p.email, b.name as brand, b.code, i.ends_at, p.password_hash <> '' as returned
		from invitation i join person p on p.id = i.person_id join brand b on b.id = i.brand_id
		join membership m on m.person_id = i.person_id and m.brand_id = i.brand_id
		where i.token_sha256 = $1 and i.used_at is null and i.ends_at > now()`, sum)
}

// UseInvitation spends a link and says whether it was there to be spent: of two at once only one is.
func UseInvitation(ctx context.Context, tx *store.Tx, id int64) error {
	n, err := tx.Change(ctx, `update invitation set used_at = now() where id = $1 and used_at is null and ends_at > now()`, id)
	if err == nil && n == 0 {
		err = fault.NotFoundf("This link has been used. Sign in, or ask a steward for a new one.")
	}
	return err
}

// OpenInvitations says until when the links of the people of a brand work that are not used.
func OpenInvitations(ctx context.Context, r store.Reader, brand int64) (map[int64]time.Time, error) {
	rows, err := store.List[struct {
		Person int64     `db:"person_id"`
		Ends   time.Time `db:"ends_at"`
	}](ctx, r, `select person_id, ends_at from invitation where brand_id = $1 and used_at is null and ends_at > now()`, brand)
	out := make(map[int64]time.Time, len(rows))
	for _, row := range rows {
		out[row.Person] = row.Ends
	}
	return out, err
}
