package assetstore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/store"
)

// Twin is a pair of items that look alike: the one that came later, and the one that was here.
type Twin struct {
	Asset    int64  `db:"asset_id"`
	Other    int64  `db:"other_id"`
	Distance int    `db:"distance"`
	Reason   string `db:"reason"` // alike, or later_state
}

// AddTwins notes that an item looks like others; pairs that were noted before, either way round, stay as they are.
func AddTwins(ctx context.Context, tx *store.Tx, brand, asset int64, others []int64, distances []int) error {
	_, err := tx.ExecContext(ctx, `insert into twin (brand_id, asset_id, other_id, distance) select $1, greatest($2, o), least($2, o), d
		from unnest($3::bigint[], $4::int[]) as x(o, d) on conflict do nothing`,
		brand, asset, others, distances)
	return err
}

// AddLaterState notes that an item is a later state of another one, which is in no stack with it.
func AddLaterState(ctx context.Context, tx *store.Tx, brand, asset, original int64) error {
	_, err := tx.ExecContext(ctx, `insert into twin (brand_id, asset_id, other_id, distance, reason) values ($1, greatest($2::bigint, $3),
		least($2::bigint, $3), 0, 'later_state') on conflict do nothing`, brand, asset, original)
	return err
}

// OriginalOf finds the item that one is a later state of, going by the document that both files say they are states of, or else by the stem
// of a file name and the date taken; 0 where there is none. Of several it is the one that came first.
func OriginalOf(ctx context.Context, r store.Reader, brand, asset int64, stem string) (int64, error) {
	byDocument, err := store.List[int64](ctx, r, `select a.id from version mine join version v on v.brand_id = mine.brand_id
			and document_of(v.metadata) = document_of(mine.metadata)
		join asset a on a.version_id = v.id and a.id < $2 and a.binned_at is null
		where mine.id = (select version_id from asset where id = $2) and v.brand_id = $1 and document_of(v.metadata) is not null
		order by a.id limit 1`, brand, asset)
	if err != nil || len(byDocument) > 0 || stem == "" {
		return store.First(byDocument), err
	}
	// All names that begin with the stem and a dot lie between it with that and with the sign after that.
	byName, err := store.List[int64](ctx, r, `select a.id from asset mine join asset a on a.brand_id = mine.brand_id
			and lower(a.file_name) >= $3 || '.' and lower(a.file_name) < $3 || '/' and position('.' in substr(a.file_name, length($3) + 2)) = 0
		where mine.id = $2 and mine.brand_id = $1 and a.brand_id = $1 and a.id < $2 and a.binned_at is null
		and (a.captured_at is null or mine.captured_at is null or a.captured_at = mine.captured_at)
		order by a.id limit 1`, brand, asset, stem)
	return store.First(byName), err
}

// OpenTwins lists pairs, newest first, that nobody decided about and of which the viewer may look at both: all of the
// brand, or those of one intake when that is not 0.
func OpenTwins(ctx context.Context, r store.Reader, v *access.Viewer, intake int64, limit int) ([]Twin, error) {
	c := store.Clause{From: "from twin t join asset a on a.id = t.asset_id join asset b on b.id = t.other_id"}
	c.And("t.brand_id = %s", v.Brand)
	c.And("t.state = 'open' and a.binned_at is null and b.binned_at is null")
	if intake != 0 {
		c.And("t.asset_id in (select asset_id from intake_file where intake_id = %s and state = 'added')", intake)
	}
	c.Within(v.May(access.Look))
	if reach := v.May(access.Look); !reach.All {
		c.And("b.folder_id = any(%s)", reach.FolderIDs())
	}
	return store.List[Twin](ctx, r, "select t.asset_id, t.other_id, t.distance, t.reason "+c.SQL()+
		" order by t.asset_id desc, t.distance limit "+
		""+c.Arg(limit),
		c.Args...)
}

// SettleTwin writes what was decided about a pair.
func SettleTwin(ctx context.Context, tx *store.Tx, brand, asset, other int64, state string) error {
	n, err := tx.Change(ctx, `update twin set state = $4 where brand_id = $1 and asset_id = $2 and other_id = $3 and state = 'open'`,
		brand, asset, other, state)
	if err == nil && n == 0 {
		return fault.NotFoundf("Somebody has decided about these two already.")
	}
	return err
}

// Likely is an item that looks like another one.
type Likely struct {
	Asset    int64        `db:"id"`
	Width    int          `db:"width"`
	Height   int          `db:"height"`
	Taken    sql.NullTime `db:"captured_at"`
	Likeness int64        `db:"likeness"`
}

// Alike finds the items of a brand, other than the given one and outside of the bin, whose present version has a hash
// within likeness.Near of h.
func Alike(ctx context.Context, r store.Reader, brand, asset int64, h likeness.Hash) ([]Likely, error) {
	// The planner takes the bands for less choosy than they are, so they are looked up first, by themselves.
	found, err := store.List[Likely](ctx, r, `with near as materialized (select id, asset_id, brand_id, likeness from version
		where likeness_bands && $2::int[])
		select a.id, a.width, a.height, a.captured_at, v.likeness from near v join asset a on a.id = v.asset_id and a.version_id = v.id
		where v.brand_id = $1 and a.id <> $3 and a.binned_at is null`, brand, h.Probes(), asset)
	near := found[:0]
	for _, l := range found {
		if likeness.Distance(h, likeness.Hash(l.Likeness)) <= likeness.Near {
			near = append(near, l)
		}
	}
	return near, err
}

// Compared is an item as it is compared with another one that looks like it.
func Compared(a Asset) likeness.Picture {
	p := likeness.Picture{Width: a.Width, Height: a.Height, Bytes: a.Bytes, MediaType: a.MediaType}
	if a.Taken.Valid {
		p.Taken = &a.Taken.Time
	}
	return p
}
