package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"brightsatchel/internal/core/likeness"
)

// File is what a version is made of: the bytes and all that they tell. Size is upright and turned, in pixels.
type File struct {
	Kind          string
	FileName      string
	MediaType     string
	Bytes         int64
	SHA256        []byte
	Width, Height int
	Turn          int // degrees clockwise
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

// NewAsset is an item that has just been brought in.
type NewAsset struct {
	File
	Brand, Person       int64
	Folder              int64 // 0 is Unfiled
	Title               string
	Description         string
	Alt                 string
	Credit              string
	Copyright           string
	Stars               int
	Stage               string     // the name of a stage, if there is one of that name
	Taken               *time.Time // local wall time
	TakenZone           string
	Camera              string
	Lens                string
	Exposure            string
	Place               string
	Latitude, Longitude *float64
	Source              string // upload, server, watched, outlet; "" is upload
}

// AddAsset makes an item with its first version and returns its id.
func (tx *Tx) AddAsset(ctx context.Context, n NewAsset) (int64, error) {
	if n.Source == "" {
		n.Source = "upload"
	}
	var id int64
	err := tx.GetContext(ctx, &id, `insert into asset (brand_id, folder_id, kind, title, description, alt, credit, copyright, stars, captured_at,
			captured_zone, camera, lens, place, file_name, media_type, bytes, width, height, seconds, pages, tint, added_by, exposure, latitude, longitude, source, codec, turn, stage_id)
		values ($1, nullif($2::bigint, 0), $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21, $22, nullif($23::bigint, 0),
			$24, $25, $26, $27, $28, $29, (select id from stage where brand_id = $1 and lower(name) = lower($30))) returning id`,
		n.Brand, n.Folder, n.Kind, n.Title, n.Description, n.Alt, n.Credit, n.Copyright, n.Stars, n.Taken,
		n.TakenZone, n.Camera, n.Lens, n.Place, n.FileName, n.MediaType, n.Bytes, n.Width, n.Height, n.Seconds, n.Pages, n.Tint, n.Person,
		n.Exposure, n.Latitude, n.Longitude, n.Source, n.Codec, n.Turn, n.Stage)
	if err != nil {
		return 0, err
	}
	version, err := tx.insertVersion(ctx, n.Brand, id, n.File)
	if err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `update asset set version_id = $2 where id = $1`, id, version)
	return id, err
}

func (tx *Tx) insertVersion(ctx context.Context, brand, asset int64, f File) (int64, error) {
	var folder *int64
	var path *string
	var modified *time.Time
	if f.Left != nil {
		folder, path, modified = &f.Left.ServerFolder, &f.Left.Path, &f.Left.Modified
	}
	return get[int64](ctx, tx, "", `insert into version (brand_id, asset_id, file_name, media_type, bytes, sha256, metadata, server_folder_id, left_at, left_modified,
			kind, width, height, seconds, codec, pages, tint, turn)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18) returning id`,
		brand, asset, f.FileName, f.MediaType, f.Bytes, f.SHA256, string(f.Metadata), folder, path, modified,
		f.Kind, f.Width, f.Height, f.Seconds, f.Codec, f.Pages, f.Tint, f.Turn)
}

// AddVersion makes a file the newest version of an item and returns the id of the version. Titles, tags and all else that
// people said about the item stay.
func (tx *Tx) AddVersion(ctx context.Context, brand, asset int64, f File) (int64, error) {
	version, err := tx.insertVersion(ctx, brand, asset, f)
	if err != nil {
		return 0, err
	}
	return version, tx.showVersion(ctx, asset, version)
}

// showVersion makes one of the versions of an item the present one.
func (tx *Tx) showVersion(ctx context.Context, asset, version int64) error {
	_, err := tx.ExecContext(ctx, `update asset a set version_id = v.id, kind = v.kind, file_name = v.file_name, media_type = v.media_type, bytes = v.bytes,
		width = v.width, height = v.height, seconds = v.seconds, codec = v.codec, pages = v.pages, tint = v.tint, turn = v.turn, looked_into = null
		from version v where a.id = $1 and v.id = $2 and v.asset_id = a.id`, asset, version)
	return err
}

// Duplicate is an item that has, or had, a version with certain bytes.
type Duplicate struct {
	Asset    int64          `db:"id"`
	Title    string         `db:"title"`
	Folder   sql.NullInt64  `db:"folder_id"`
	Binned   sql.NullTime   `db:"binned_at"`
	LeftRoot sql.NullString `db:"left_root"`
	LeftAt   sql.NullString `db:"left_at"`
}

// SameContent finds the item of a brand, other than except, that has a version with these bytes, those outside of the bin
// first; nil when there is none.
func SameContent(ctx context.Context, r Reader, brand int64, sha256 []byte, except int64) (*Duplicate, error) {
	rows, err := list[Duplicate](ctx, r, `select a.id, coalesce(nullif(a.title, ''), a.file_name) as title, a.folder_id, a.binned_at, sf.path as left_root, v.left_at
		from version v join asset a on a.id = v.asset_id left join server_folder sf on sf.id = v.server_folder_id
		where v.brand_id = $1 and v.sha256 = $2 and a.id <> $3 order by a.binned_at nulls first, v.left_at nulls first, a.id limit 1`, brand, sha256, except)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return &rows[0], nil
}

// LockContent makes racing transactions that bring in the same bytes to one brand wait for each other; brand 0 stands for
// the stored bytes themselves, which all brands share.
func (tx *Tx) LockContent(ctx context.Context, brand int64, sha256 []byte) error {
	_, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock($1::int, ('x' || encode(substr($2::bytea, 1, 4), 'hex'))::bit(32)::int)`, brand, sha256)
	return err
}

// EarlierVersion makes an item show the version that it had before the given one, and says false when that is not its
// present version or there is none before.
func (tx *Tx) EarlierVersion(ctx context.Context, asset, version int64) (bool, error) {
	before, err := list[int64](ctx, tx, `select v.id from version v join asset a on a.id = v.asset_id where a.id = $1 and a.version_id = $2 and v.id < $2 order by v.id desc limit 1`, asset, version)
	if err != nil || len(before) == 0 {
		return false, err
	}
	return true, tx.showVersion(ctx, asset, before[0])
}

// MetadataOf reads everything that the file of an item's present version says.
func MetadataOf(ctx context.Context, r Reader, brand, asset int64) (json.RawMessage, error) {
	text, err := get[string](ctx, r, assetMissing, `select v.metadata::text from asset a join version v on v.id = a.version_id where a.brand_id = $1 and a.id = $2`, brand, asset)
	return json.RawMessage(text), err
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
func Alike(ctx context.Context, r Reader, brand, asset int64, h likeness.Hash) ([]Likely, error) {
	// The planner takes the bands for less choosy than they are, so they are looked up first, by themselves.
	found, err := list[Likely](ctx, r, `with near as materialized (select id, asset_id, brand_id, likeness from version where likeness_bands && $2::int[])
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
func VersionsOf(ctx context.Context, r Reader, brand, asset int64) ([]Version, error) {
	return list[Version](ctx, r, `select v.id, v.file_name, v.media_type, v.bytes, v.width, v.height, v.created_at, v.id = a.version_id as current
		from version v join asset a on a.id = v.asset_id where a.id = $1 and a.brand_id = $2 order by v.id desc`, asset, brand)
}
