// Package rehearsalstore keeps rehearsals and what was remarked on them.
package rehearsalstore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/store"
)

// Rehearsal is a post or an advertisement that is tried out.
type Rehearsal struct {
	ID       int64               `db:"id"`
	Brand    int64               `db:"brand_id"`
	Person   sql.NullInt64       `db:"person_id"`
	By       sql.NullString      `db:"by_name"`
	Name     string              `db:"name"`
	Places   store.Array[string] `db:"places"`
	Changed  time.Time           `db:"changed_at"`
	Variants int                 `db:"variants"`
	Remarks  int                 `db:"remarks"`
	Sent     int                 `db:"sent"`  // dispatches that followed from it
	Cover    sql.NullInt64       `db:"cover"` // its first picture
}

// Variant is one way in which a rehearsal could be.
type Variant struct {
	ID       int64              `db:"id"`
	Position int                `db:"position"`
	Name     string             `db:"name"`
	Assets   store.Array[int64] `db:"assets"`
	Caption  string             `db:"caption"`
	Headline string             `db:"headline"`
	Button   string             `db:"button"`
}

// RehearsalRemark is what somebody said of a rehearsal, or of one of its variants.
type RehearsalRemark struct {
	ID      int64          `db:"id"`
	Variant sql.NullInt64  `db:"variant_id"`
	Person  sql.NullInt64  `db:"person_id"`
	By      sql.NullString `db:"by_name"`
	Words   string         `db:"words"`
	Said    time.Time      `db:"said_at"`
}

const rehearsalColumns = `select r.id, r.brand_id, r.person_id, p.name as by_name, r.name, r.places, r.changed_at,
	(select count(*)::int from rehearsal_variant v where v.rehearsal_id = r.id) as variants,
	(select count(*)::int from rehearsal_remark m where m.rehearsal_id = r.id) as remarks,
	(select count(*)::int from dispatch d where d.rehearsal_id = r.id) as sent,
	(select v.assets[1] from rehearsal_variant v where v.rehearsal_id = r.id and v.assets <> '{}' order by v.position, v.id limit 1) as cover
	from rehearsal r left join person p on p.id = r.person_id `

const noRehearsal = "That rehearsal is not there any more."

// Rehearsals lists the rehearsals of a brand, the newest first.
func Rehearsals(ctx context.Context, r store.Reader, brand int64, most int) ([]Rehearsal, error) {
	return store.List[Rehearsal](ctx, r, rehearsalColumns+`where r.brand_id = $1 order by r.id desc limit $2`, brand, most)
}

// RehearsalByID reads a rehearsal.
func RehearsalByID(ctx context.Context, r store.Reader, brand, id int64) (Rehearsal, error) {
	return store.Get[Rehearsal](ctx, r, noRehearsal, rehearsalColumns+`where r.brand_id = $1 and r.id = $2`, brand, id)
}

// CountRehearsals counts the rehearsals of a brand.
func CountRehearsals(ctx context.Context, r store.Reader, brand int64) (int, error) {
	return store.Get[int](ctx, r, "", `select count(*)::int from rehearsal where brand_id = $1`, brand)
}

// Variants lists the variants of a rehearsal in their order.
func Variants(ctx context.Context, r store.Reader, rehearsal int64) ([]Variant, error) {
	return store.List[Variant](ctx, r, `select id, position, name, assets, caption, headline, button from rehearsal_variant where
		rehearsal_id = $1
		order by position, id`,
		rehearsal,
	)
}

// RehearsalRemarks lists what was said of a rehearsal, in the order in which it was said.
func RehearsalRemarks(ctx context.Context, r store.Reader, rehearsal int64) ([]RehearsalRemark, error) {
	return store.List[RehearsalRemark](ctx, r,
		`select m.id, m.variant_id, m.person_id, p.name as by_name, m.words, m.said_at from rehearsal_remark m
		left join person p on p.id = m.person_id where m.rehearsal_id = $1 order by m.id`,
		rehearsal,
	)
}

// AddRehearsal makes a rehearsal without variants.
func AddRehearsal(ctx context.Context, tx *store.Tx, r Rehearsal) (int64, error) {
	return store.Get[int64](ctx, tx, "", `insert into rehearsal (brand_id, person_id, name, places) values ($1, $2, $3, $4) returning id`,
		r.Brand,
		r.Person,
		r.Name,
		r.Places,
	)
}

// ChangeRehearsal writes the name and the places of a rehearsal.
func ChangeRehearsal(ctx context.Context, tx *store.Tx, r Rehearsal) error {
	_, err := tx.ExecContext(ctx, `update rehearsal set name = $2, places = $3, changed_at = now() where id = $1`, r.ID, r.Name, r.Places)
	return err
}

// RehearsalForChange reads a rehearsal, and keeps others from changing it until the end of the transaction.
func RehearsalForChange(ctx context.Context, tx *store.Tx, brand, id int64) (Rehearsal, error) {
	if _, err := store.Get[int64](ctx, tx, noRehearsal, `select id from rehearsal where brand_id = $1 and id = $2 for update`, brand,
		id); err != nil {
		return Rehearsal{}, err
	}
	return RehearsalByID(ctx, tx, brand, id)
}

// RemoveRehearsal removes a rehearsal with all that is in it.
func RemoveRehearsal(ctx context.Context, tx *store.Tx, id int64) error {
	_, err := tx.ExecContext(ctx, `delete from rehearsal where id = $1`, id)
	return err
}

// AddVariant adds a variant at the end of a rehearsal.
func AddVariant(ctx context.Context, tx *store.Tx, brand, rehearsal int64, v Variant) (int64, error) {
	return store.Get[int64](ctx, tx, "", `insert into rehearsal_variant (brand_id, rehearsal_id, position, name, assets, caption, headline,
		button)
		select $1, $2, coalesce((select max(position) from rehearsal_variant where rehearsal_id = $2), -1) + 1, $3, $4, $5, $6, $7
		returning id`,
		brand,
		rehearsal,
		v.Name,
		v.Assets,
		v.Caption,
		v.Headline,
		v.Button,
	)
}

// ChangeVariant writes a variant.
func ChangeVariant(ctx context.Context, tx *store.Tx, v Variant) error {
	_, err := tx.ExecContext(ctx, `update rehearsal_variant set name = $2, assets = $3, caption = $4, headline = $5, button = $6 where id =
		$1`,
		v.ID, v.Name, v.Assets, v.Caption, v.Headline, v.Button)
	return err
}

// RemoveVariant removes a variant with what was said of it.
func RemoveVariant(ctx context.Context, tx *store.Tx, id int64) error {
	_, err := tx.ExecContext(ctx, `delete from rehearsal_variant where id = $1`, id)
	return err
}

// AddRehearsalRemark adds what somebody says of a rehearsal.
func AddRehearsalRemark(ctx context.Context, tx *store.Tx, brand, rehearsal int64, m RehearsalRemark) (int64, error) {
	return store.Get[int64](ctx, tx, "", `insert into rehearsal_remark (brand_id, rehearsal_id, variant_id, person_id, words)
		values ($1, $2, $3, $4, $5) returning id`, brand, rehearsal, m.Variant, m.Person, m.Words)
}

// RemoveRehearsalRemark removes what was said.
func RemoveRehearsalRemark(ctx context.Context, tx *store.Tx, id int64) error {
	_, err := tx.ExecContext(ctx, `delete from rehearsal_remark where id = $1`, id)
	return err
}
