package undostore

import (
	"context"
	"encoding/json"
	"time"

	"brightsatchel/internal/store"
)

// Bulk is a change of many items that is done in pieces. Rest is what is still to do.
type Bulk struct {
	ID       int64           `db:"id"`
	Brand    int64           `db:"brand_id"`
	Person   int64           `db:"person_id"`
	Trail    int64           `db:"trail_id"`
	Action   string          `db:"action"`
	Argument json.RawMessage `db:"argument"`
	Said     string          `db:"said"`
	Total    int             `db:"total"`
	Left     int             `db:"left"`
	Changed  int             `db:"changed"`
	Failed   string          `db:"failed"`
	Finished *time.Time      `db:"finished_at"`
}

const bulkColumns = `b.id, b.brand_id, b.person_id, b.trail_id, b.action, b.argument, t.said, b.total, cardinality(b.rest) as left,
	b.changed, b.failed, b.finished_at
	from bulk b join trail t on t.id = b.trail_id`

// AddBulk notes a change of many items in the trail entry of the transaction.
func AddBulk(ctx context.Context, tx *store.Tx, brand, person int64, action string, argument any, ids []int64) (int64, error) {
	entry, err := tx.TrailEntry(ctx)
	if err != nil {
		return 0, err
	}
	text, err := json.Marshal(argument)
	if err != nil {
		return 0, err
	}
	return store.Get[int64](ctx, tx, "", `insert into bulk (brand_id, person_id, trail_id, action, argument, rest, total) values ($1, $2, $3,
		$4, $5, $6, cardinality($6::bigint[])) returning id`,
		brand, person, entry, action, text, ids)
}

// BulkByID reads a bulk change.
func BulkByID(ctx context.Context, r store.Reader, id int64) (Bulk, error) {
	return store.Get[Bulk](ctx, r, "That change is not there.", `select `+bulkColumns+` where b.id = $1`, id)
}

// StepGoesOn says whether a step of the trail is still being done in pieces.
func StepGoesOn(ctx context.Context, r store.Reader, trail int64) (bool, error) {
	return store.Get[bool](ctx, r, "", `select exists (select from bulk where trail_id = $1 and finished_at is null)`, trail)
}

// StepIsOf says whether a step of the trail is a person's own, in a brand.
func StepIsOf(ctx context.Context, r store.Reader, brand, person, trail int64) (bool, error) {
	return store.Get[bool](ctx, r, "", `select exists (select from trail where id = $3 and brand_id = $1 and person_id = $2)`,
		brand,
		person,
		trail,
	)
}

// OpenBulks lists the bulk changes of a person that go on, and those that ended within the last minute.
func OpenBulks(ctx context.Context, r store.Reader, brand, person int64) ([]Bulk, error) {
	return store.List[Bulk](ctx, r, `select `+bulkColumns+` where b.brand_id = $1 and b.person_id = $2
		and (b.finished_at is null or b.finished_at > now() - interval '1 minute') order by b.id`, brand, person)
}

// CountOpenBulks says how many bulk changes of a person go on or wait.
func CountOpenBulks(ctx context.Context, r store.Reader, brand, person int64) (int, error) {
	return store.Get[int](ctx, r, "", `select count(*)::int from bulk where brand_id = $1 and person_id = $2 and finished_at is null`,
		brand,
		person,
	)
}

// OthersWait says whether large acts of other people than the one of a bulk change go on or wait.
func OthersWait(ctx context.Context, r store.Reader, b Bulk) (bool, error) {
	return store.Get[bool](ctx, r, "", `select exists (select from bulk where finished_at is null and person_id <> $1)`, b.Person)
}

// LockBulk keeps others from a bulk change until the end of the transaction, and says whether it is still open.
func LockBulk(ctx context.Context, tx *store.Tx, id int64) (bool, error) {
	open, err := store.List[int64](ctx, tx, `select id from bulk where id = $1 and finished_at is null for no key update`, id)
	return len(open) > 0, err
}

// TakeBulk locks a bulk change and returns the next items of it, none when it is done, and how many came before them.
func TakeBulk(ctx context.Context, tx *store.Tx, id int64, most int) (ids []int64, before int, err error) {
	next, err := store.Get[struct {
		IDs    store.Array[int64] `db:"ids"`
		Before int                `db:"before"`
	}](ctx, tx, "That change is not there.", `select rest[1:$2] as ids, total - cardinality(rest) as before from bulk where id = $1
		and finished_at is null for no key update`, id, most)
	return next.IDs, next.Before, err
}

// AdvanceBulk notes that so many of the next items are done, of which some changed.
func AdvanceBulk(ctx context.Context, tx *store.Tx, id int64, done, changed int) error {
	_, err := tx.ExecContext(ctx, `update bulk set rest = rest[$2::int + 1:], changed = changed + $3 where id = $1`, id, done, changed)
	return err
}

// EndBulk ends a bulk change: said becomes the words of its trail entry unless it is "", failed says why it did not go on.
func EndBulk(ctx context.Context, tx *store.Tx, id int64, said, failed string) error {
	_, err := tx.ExecContext(ctx, `with ended as (update bulk set finished_at = now(), rest = '{}', failed = $3 where id = $1
		and finished_at is null returning trail_id), noted as (select note_folders(trail_id) from ended)
		update trail set said = coalesce(nullif($2, ''), said) from ended, noted where trail.id = ended.trail_id`, id, said, failed)
	return err
}
