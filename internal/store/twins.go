package store

import (
	"context"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
)

// Twin is a pair of items that look alike: the one that came later, and the one that was here.
type Twin struct {
	Asset    int64 `db:"asset_id"`
	Other    int64 `db:"other_id"`
	Distance int   `db:"distance"`
}

// AddTwins notes that an item looks like others; pairs that were noted before, either way round, stay as they are.
func (tx *Tx) AddTwins(ctx context.Context, brand, asset int64, others []int64, distances []int) error {
	_, err := tx.ExecContext(ctx, `insert into twin (brand_id, asset_id, other_id, distance) select $1, greatest($2, o), least($2, o), d from unnest($3::bigint[], $4::int[]) as x(o, d) on conflict do nothing`,
		brand, asset, others, distances)
	return err
}

// OpenTwins lists pairs, newest first, that nobody decided about and of which the viewer may look at both: all of the
// brand, or those of one intake when that is not 0.
func OpenTwins(ctx context.Context, r Reader, v *access.Viewer, intake int64, limit int) ([]Twin, error) {
	c := clause{from: "from twin t join asset a on a.id = t.asset_id join asset b on b.id = t.other_id"}
	c.and("t.brand_id = %s", v.Brand)
	c.and("t.state = 'open' and a.binned_at is null and b.binned_at is null")
	if intake != 0 {
		c.and("t.asset_id in (select asset_id from intake_file where intake_id = %s and state = 'added')", intake)
	}
	c.within(v.May(access.Look))
	if reach := v.May(access.Look); !reach.All {
		c.and("b.folder_id = any(%s)", reach.FolderIDs())
	}
	return list[Twin](ctx, r, "select t.asset_id, t.other_id, t.distance "+c.sql()+" order by t.asset_id desc, t.distance limit "+c.arg(limit), c.args...)
}

// SettleTwin writes what was decided about a pair.
func (tx *Tx) SettleTwin(ctx context.Context, brand, asset, other int64, state string) error {
	res, err := tx.ExecContext(ctx, `update twin set state = $4 where brand_id = $1 and asset_id = $2 and other_id = $3 and state = 'open'`, brand, asset, other, state)
	if err == nil && affected(res) == 0 {
		return fault.NotFoundf("Somebody has decided about these two already.")
	}
	return err
}

// FileOf reads the file of an item's present version, to make it a version of another one.
func FileOf(ctx context.Context, r Reader, asset int64) (File, error) {
	row, err := get[struct {
		FileName  string     `db:"file_name"`
		MediaType string     `db:"media_type"`
		Bytes     int64      `db:"bytes"`
		SHA256    []byte     `db:"sha256"`
		Kind      string     `db:"kind"`
		Width     int        `db:"width"`
		Height    int        `db:"height"`
		Turn      int        `db:"turn"`
		Seconds   *float64   `db:"seconds"`
		Codec     string     `db:"codec"`
		Pages     *int       `db:"pages"`
		Tint      int        `db:"tint"`
		Metadata  []byte     `db:"metadata"`
		Folder    *int64     `db:"server_folder_id"`
		LeftAt    *string    `db:"left_at"`
		Modified  *time.Time `db:"left_modified"`
	}](ctx, r, assetMissing, `select v.file_name, v.media_type, v.bytes, v.sha256, v.kind, v.width, v.height, v.turn, v.seconds, v.codec, v.pages, v.tint, v.metadata,
		v.server_folder_id, v.left_at, v.left_modified from version v join asset a on a.version_id = v.id where a.id = $1`, asset)
	f := File{Kind: row.Kind, FileName: row.FileName, MediaType: row.MediaType, Bytes: row.Bytes, SHA256: row.SHA256, Width: row.Width, Height: row.Height, Turn: row.Turn,
		Seconds: row.Seconds, Codec: row.Codec, Pages: row.Pages, Tint: row.Tint, Metadata: row.Metadata}
	if err == nil && row.LeftAt != nil {
		f.Left = &Left{ServerFolder: *row.Folder, Path: *row.LeftAt, Modified: *row.Modified}
	}
	return f, err
}
