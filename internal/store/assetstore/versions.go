package assetstore

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/recipestore"
)

// File is what a version is made of: the bytes and all that they tell. Size is upright, in pixels.
type File struct {
	Kind          string
	FileName      string
	MediaType     string
	Bytes         int64
	SHA256        []byte
	Width, Height int
	Seconds       *float64
	Codec         string
	Pages         *int
	Tint          int
	Metadata      json.RawMessage
	Left          *Left // nil when the bytes are in our storage
}

// Left is where a file is that was left where it is: a path below a server folder, and when it was last changed.
type Left struct {
	ServerFolder int64
	Path         string
	Modified     time.Time
}

func insertVersion(ctx context.Context, tx *store.Tx, brand, asset int64, f File) (int64, error) {
	var folder *int64
	var path *string
	var modified *time.Time
	if f.Left != nil {
		folder, path, modified = &f.Left.ServerFolder, &f.Left.Path, &f.Left.Modified
	}
	return store.Get[int64](ctx, tx, "", `insert into version (brand_id, asset_id, file_name, media_type, bytes, sha256, metadata,
		server_folder_id, left_at, left_modified,
			kind, width, height, seconds, codec, pages, tint)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17) returning id`,
		brand, asset, f.FileName, f.MediaType, f.Bytes, f.SHA256, string(f.Metadata), folder, path, modified,
		f.Kind, f.Width, f.Height, f.Seconds, f.Codec, f.Pages, f.Tint)
}

// AddVersion makes a file the newest version of an item and returns the id of the version. Titles, tags and all else that
// people said about the item stay.
func AddVersion(ctx context.Context, tx *store.Tx, brand, asset int64, f File) (int64, error) {
	version, err := insertVersion(ctx, tx, brand, asset, f)
	if err != nil {
		return 0, err
	}
	return version, showVersion(ctx, tx, asset, version)
}

// showVersion makes one of the versions of an item the present one.
func showVersion(ctx context.Context, tx *store.Tx, asset, version int64) error {
	now, err := store.Get[struct {
		Recipe  recipestore.Recipe `db:"recipe"`
		Width   int                `db:"width"`
		Height  int                `db:"height"`
		Seconds sql.NullFloat64    `db:"seconds"`
	}](ctx, tx, AssetMissing, `select a.recipe, v.width, v.height, v.seconds from asset a join version v on v.asset_id = a.id where a.id = $1
		and v.id = $2`, asset, version)
	if err != nil {
		return err
	}
	shown := now.Recipe.Size(geometry.Size{Width: now.Width, Height: now.Height})
	if now.Seconds.Valid {
		from, to := now.Recipe.Span(now.Seconds.Float64)
		now.Seconds.Float64 = to - from
	}
	_, err = tx.ExecContext(ctx, `update asset a set version_id = v.id, kind = v.kind, file_name = v.file_name, came_as = '',
		media_type = v.media_type, bytes = v.bytes,
		width = $3, height = $4, seconds = $5, codec = v.codec, pages = v.pages, tint = v.tint,
		likeness = v.likeness, colours = '{}', looked_into = null
		from version v where a.id = $1 and v.id = $2 and v.asset_id = a.id`, asset, version, shown.Width, shown.Height, now.Seconds)
	return err
}

// EarlierVersion makes an item show the version that it had before the given one, and says false when that is not its
// present version or there is none before.
func EarlierVersion(ctx context.Context, tx *store.Tx, asset, version int64) (bool, error) {
	before, err := store.List[int64](ctx, tx, `select v.id from version v join asset a on a.id = v.asset_id where a.id = $1
		and a.version_id = $2 and v.id < $2 order by v.id desc limit 1`, asset, version)
	if err != nil || len(before) == 0 {
		return false, err
	}
	return true, showVersion(ctx, tx, asset, before[0])
}

// MetadataOf reads everything that the file of an item's present version says.
func MetadataOf(ctx context.Context, r store.Reader, brand, asset int64) (json.RawMessage, error) {
	text, err := store.Get[string](ctx, r, AssetMissing, `select v.metadata::text from asset a join version v on v.id = a.version_id
		where a.brand_id = $1 and a.id = $2`, brand, asset)
	return json.RawMessage(text), err
}

// Version is a file that an item has or had.
type Version struct {
	ID        int64     `db:"id"`
	FileName  string    `db:"file_name"`
	MediaType string    `db:"media_type"`
	Bytes     int64     `db:"bytes"`
	Width     int       `db:"width"`
	Height    int       `db:"height"`
	Created   time.Time `db:"created_at"`
	Current   bool      `db:"current"`
}

// VersionsOf lists the versions of an item, the newest first.
func VersionsOf(ctx context.Context, r store.Reader, brand, asset int64) ([]Version, error) {
	return store.List[Version](ctx, r, `select v.id, v.file_name, v.media_type, v.bytes, v.width, v.height, v.created_at,
		v.id = a.version_id as current
		from version v join asset a on a.id = v.asset_id where a.id = $1 and a.brand_id = $2 order by v.id desc`, asset, brand)
}

// FileOf reads the file of an item's present version, to make it a version of another one.
func FileOf(ctx context.Context, r store.Reader, asset int64) (File, error) {
	row, err := store.Get[struct {
		FileName  string     `db:"file_name"`
		MediaType string     `db:"media_type"`
		Bytes     int64      `db:"bytes"`
		SHA256    []byte     `db:"sha256"`
		Kind      string     `db:"kind"`
		Width     int        `db:"width"`
		Height    int        `db:"height"`
		Seconds   *float64   `db:"seconds"`
		Codec     string     `db:"codec"`
		Pages     *int       `db:"pages"`
		Tint      int        `db:"tint"`
		Metadata  []byte     `db:"metadata"`
		Folder    *int64     `db:"server_folder_id"`
		LeftAt    *string    `db:"left_at"`
		Modified  *time.Time `db:"left_modified"`
	}](ctx, r, AssetMissing, `select v.file_name, v.media_type, v.bytes, v.sha256, v.kind, v.width, v.height, v.seconds, v.codec,
		v.pages, v.tint, v.metadata,
		v.server_folder_id, v.left_at, v.left_modified from version v join asset a on a.version_id = v.id where a.id = $1`, asset)
	f := File{Kind: row.Kind, FileName: row.FileName, MediaType: row.MediaType, Bytes: row.Bytes, SHA256: row.SHA256, Width: row.Width,
		Height:  row.Height,
		Seconds: row.Seconds, Codec: row.Codec, Pages: row.Pages, Tint: row.Tint, Metadata: row.Metadata}
	if err == nil && row.LeftAt != nil {
		f.Left = &Left{ServerFolder: *row.Folder, Path: *row.LeftAt, Modified: *row.Modified}
	}
	return f, err
}
