// Package assetstore keeps assets: what they are, their versions, stacks, stages, places in the bin, and what was made of them.
package assetstore

import (
	"cmp"
	"context"
	"database/sql"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/recipestore"
)

// AssetRow is what a tile shows.
type AssetRow struct {
	ID       int64              `db:"id"`
	Code     string             `db:"code"`
	Version  string             `db:"version"`
	Kind     string             `db:"kind"`
	Title    string             `db:"title"`
	Alt      string             `db:"alt"`
	FileName string             `db:"file_name"`
	Width    int                `db:"width"`
	Height   int                `db:"height"`
	Seconds  sql.NullFloat64    `db:"seconds"`
	Pages    sql.NullInt64      `db:"pages"`
	Stars    int                `db:"stars"`
	Keeper   bool               `db:"keeper"`
	Tint     int                `db:"tint"`
	Live     bool               `db:"live"`
	Recipe   recipestore.Recipe `db:"recipe"`
	Stacked  int                `db:"stacked"`    // how many items its stack holds; 0 without one
	Sent     string             `db:"sent"`       // "", as_it_is or older, by what was sent out of it last
	Behind   bool               `db:"behind"`     // another one is the front of its stack
	LeftOver string             `db:"left_state"` // missing or changed, for a file that was left where it is
	Bytes    int64              `db:"bytes"`
	Taken    sql.NullTime       `db:"captured_at"`
	Added    time.Time          `db:"added_at"`
	AddedBy  sql.NullString     `db:"added_by_name"`
	Changed  time.Time          `db:"changed_at"`
	Folder   sql.NullInt64      `db:"folder_id"`
	Stage    sql.NullString     `db:"stage"`
	Binned   sql.NullTime       `db:"binned_at"`
	TagIDs   store.Array[int64] `db:"tag_ids"`
	Tags     []string           `db:"-"` // their names in natural order, when Finder.NameTags was asked
}

// OwnColumns reads what asset a and its version v say themselves.
const OwnColumns = `a.id, a.code, picture_version(v.code, a.recipe_hash) as version, a.kind, a.title, a.alt, a.file_name, a.width,
	a.height, a.seconds, a.pages, a.stars, a.tint,
	case when a.sent_at is null then '' when a.sent_version <> a.version_id or a.sent_recipe <> a.recipe_hash then 'older'
	else 'as_it_is' end as sent, a.recipe, v.left_state, a.stack_id is not null and not a.stack_front as behind,
	a.bytes, a.captured_at, a.added_at, a.changed_at, a.folder_id, a.binned_at`

// RowColumns reads an AssetRow from asset a joined with its version v; $1 is the person.
const RowColumns = OwnColumns + `,
	case when a.stack_id is null then 0 else (select count(*)::int from asset s where s.stack_id = a.stack_id
	and s.binned_at is null) end as stacked,
	exists (select from keeper k where k.asset_id = a.id and k.person_id = $1) as keeper,
	(` + inGallery + ` or exists (select from public_address p where p.asset_id = a.id and p.live)
	or exists (select from placement l where l.asset_id = a.id and l.gone_at is null)
	or exists (select from embed e join embed_source s on s.embed_id = e.id where e.brand_id = a.brand_id and e.live
	and ` + placeShows + `)) as live, (select name from person
	where id = a.added_by) as added_by_name, (select name from stage where id = a.stage_id) as stage,
	array(select tag_id from asset_tag x where x.asset_id = a.id) as tag_ids`

// Visible keeps those of some ids that the viewer may look at.
func Visible(ctx context.Context, r store.Reader, v *access.Viewer, ids []int64) (map[int64]bool, error) {
	c := store.Clause{From: "from asset a"}
	c.And("a.id = any(%s)", ids)
	c.And("a.brand_id = %s", v.Brand)
	c.Within(v.May(access.Look))
	seen, err := store.List[int64](ctx, r, "select a.id "+c.SQL(), c.Args...)
	out := make(map[int64]bool, len(seen))
	for _, id := range seen {
		out[id] = true
	}
	return out, err
}

// Asset is one item with everything that its card shows.
type Asset struct {
	AssetRow
	Revision    int64           `db:"revision"`
	Description string          `db:"description"`
	Credit      string          `db:"credit"`
	Copyright   string          `db:"copyright"`
	TakenZone   string          `db:"captured_zone"`
	UsageTerms  string          `db:"usage_terms"`
	RightsUntil string          `db:"rights_until"` // YYYY-MM-DD, or ""
	FileZone    string          `db:"file_captured_zone"`
	FileTaken   sql.NullTime    `db:"file_captured_at"` // when its file says that it was taken
	Camera      string          `db:"camera"`
	Lens        string          `db:"lens"`
	Place       string          `db:"place"`
	MediaType   string          `db:"media_type"`
	SHA256      []byte          `db:"sha256"`
	VersionID   int64           `db:"version_id"`
	FocalX      float64         `db:"focal_x"`
	FocalY      float64         `db:"focal_y"`
	FileWidth   int             `db:"file_width"`   // of the upright file, before its recipe
	FileSeconds sql.NullFloat64 `db:"file_seconds"` // of the file of a clip, before its recipe
	FileHeight  int             `db:"file_height"`
	Looked      bool            `db:"looked"` // the machine has looked into it as it is
	Likeness    sql.NullInt64   `db:"likeness"`

	Source    string             `db:"source"`
	Exposure  string             `db:"exposure"`
	Latitude  sql.NullFloat64    `db:"latitude"`
	Longitude sql.NullFloat64    `db:"longitude"`
	Codec     string             `db:"codec"`
	Sharpness sql.NullFloat64    `db:"sharpness"`
	FocalBy   string             `db:"focal_by"`
	Focals    recipestore.Focals `db:"focal_for"`
	Stack     sql.NullInt64      `db:"stack_id"`
	Label     string             `db:"label"`       // what the file says as its label, where that is no stage of the brand
	LeftRoot  sql.NullString     `db:"left_root"`   // the server folder of a file that was left where it is
	LeftIn    sql.NullString     `db:"left_folder"` // what that folder is called
	LeftAt    sql.NullString     `db:"left_at"`     // its path below it
	CameAs    string             `db:"came_as"`     // what its file was called, where that is another name now
}

// OwnWords reads what an Asset has beside an AssetRow, of what it and its version say themselves.
const OwnWords = `, a.revision, a.came_as, a.description, a.credit, a.copyright, a.captured_zone, a.camera, a.lens,
	a.usage_terms, coalesce(a.rights_until::text, '') as rights_until, a.file_captured_at, a.file_captured_zone,
	a.place, a.media_type, v.sha256, a.version_id, a.focal_x, a.focal_y, a.focal_for, v.width as file_width, v.height as file_height,
	v.seconds as file_seconds,
	a.looked_into is not null as looked, a.likeness,
	a.source, a.exposure, a.latitude, a.longitude, a.codec, a.sharpness, a.focal_by, a.stack_id, sf.path as left_root,
	sf.name as left_folder, v.left_at`

const FromAssets = ` from asset a join version v on v.id = a.version_id left join server_folder sf on sf.id = v.server_folder_id`

const assetColumns = RowColumns + OwnWords + `,
	case when a.stage_id is null then coalesce(v.metadata ->> 'XMP-xmp:Label', '') else '' end as label` + FromAssets

// FileSize is the size in pixels of the upright file, before its recipe.
func (a *Asset) FileSize() geometry.Size {
	return geometry.Size{Width: a.FileWidth, Height: a.FileHeight}
}

// Frame is how the item is framed.
func (a *Asset) Frame() geometry.Frame { return a.Recipe.Frame(a.FileSize()) }

const AssetMissing = "That item is not there, or you may not see it."

// AssetByID reads one item that the viewer may look at.
func AssetByID(ctx context.Context, r store.Reader, v *access.Viewer, id int64) (Asset, error) {
	return visibleAsset(ctx, r, v, "a.id = %s", id)
}

// LockAssets keeps others from changing items until the end of the transaction.
func LockAssets(ctx context.Context, tx *store.Tx, ids []int64) error {
	_, err := tx.ExecContext(ctx, `select from asset where id = any($1) order by id for no key update`, ids)
	return err
}

// AssetByCode reads one item that the viewer may look at by the code in its media address.
func AssetByCode(ctx context.Context, r store.Reader, v *access.Viewer, code string) (Asset, error) {
	return visibleAsset(ctx, r, v, "a.code = %s", code)
}

func visibleAsset(ctx context.Context, r store.Reader, v *access.Viewer, condition string, value any) (Asset, error) {
	c := store.Clause{Args: []any{v.Person}}
	c.And(condition, value)
	c.And("a.brand_id = %s", v.Brand)
	c.Within(v.May(access.Look))
	return store.Get[Asset](ctx, r, AssetMissing, "select "+assetColumns+c.SQL(), c.Args...)
}

// AssetsIn reads items of a brand in the order of the ids, for work that the machine does and for those outside: what they say themselves.
// What others say of them (tags, stage, stack, keeper, where they are shown) is left out, so that thousands are read at once.
func AssetsIn(ctx context.Context, r store.Reader, brand int64, ids []int64) ([]Asset, error) {
	return store.List[Asset](ctx, r, "select "+OwnColumns+OwnWords+FromAssets+` join unnest($2::bigint[]) with ordinality wanted (id, place)
		on wanted.id = a.id where a.brand_id = $1 order by wanted.place`, brand, ids)
}

// MoveAssets puts items into a folder (0 is Unfiled) and returns how many were elsewhere before.
func MoveAssets(ctx context.Context, tx *store.Tx, ids []int64, folder int64) (int, error) {
	return tx.Change(ctx, `update asset set folder_id = nullif($2::bigint, 0) where id = any($1) and folder_id is distinct
		from nullif($2::bigint, 0)`, ids, folder)
}

// RateAssets gives items stars from 0 to 5, or -1 to set them aside, and returns how many changed. What is set aside is
// brought back only where the viewer may set aside.
func RateAssets(ctx context.Context, tx *store.Tx, v *access.Viewer, ids []int64, stars int) (int, error) {
	verdict := v.May(access.SetAside)
	return tx.Change(ctx, `update asset set stars = $2 where id = any($1) and stars <> $2 and ((stars >= 0 and $2 >= 0) or $3
		or folder_id = any($4))`, ids, stars, verdict.All, verdict.FolderIDs())
}

// RateBeside gives items the stars of one person that are shown beside the team's; 0 takes them away. It returns how many
// changed.
func RateBeside(ctx context.Context, tx *store.Tx, brand, person int64, ids []int64, stars int) (int, error) {
	if stars <= 0 {
		return tx.Change(ctx, `delete from beside_stars where brand_id = $1 and person_id = $2 and asset_id = any($3)`, brand, person, ids)
	}
	return tx.Change(ctx, `insert into beside_stars (brand_id, person_id, asset_id, stars) select $1, $2, unnest($3::bigint[]), $4
		on conflict (asset_id, person_id) do update set stars = excluded.stars where beside_stars.stars <> excluded.stars`,
		brand, person, ids, stars)
}

// BesideStars are the stars that a reviewer gave an item in a brand that does not count them.
type BesideStars struct {
	Person int64  `db:"person_id"`
	Name   string `db:"name"`
	Stars  int    `db:"stars"`
}

// BesideStarsOf lists what reviewers gave an item.
func BesideStarsOf(ctx context.Context, r store.Reader, asset int64) ([]BesideStars, error) {
	return store.List[BesideStars](ctx, r, `select b.person_id, p.name, b.stars from beside_stars b join person p on p.id = b.person_id
		where b.asset_id = $1 order by p.name collate natural_name`, asset)
}

// KeepAssets sets or takes away a person's own mark and returns how many changed.
func KeepAssets(ctx context.Context, tx *store.Tx, brand, person int64, ids []int64, keep bool) (int, error) {
	statement := `delete from keeper where brand_id = $1 and person_id = $2 and asset_id = any($3)`
	if keep {
		statement = `insert into keeper (brand_id, person_id, asset_id) select $1, $2, unnest($3::bigint[]) on conflict do nothing`
	}
	return tx.Change(ctx, statement, brand, person, ids)
}

// BinAssets puts items in the bin, or restores them, and returns how many changed.
func BinAssets(ctx context.Context, tx *store.Tx, ids []int64, binned bool) (int, error) {
	return tx.Change(ctx, `update asset set binned_at = case when $2 then now() end where id = any($1)
		and (binned_at is not null) <> $2`, ids, binned)
}

// HomesOf says in which folder each of some items lives, leaving out those in none.
func HomesOf(ctx context.Context, r store.Reader, ids []int64) (map[int64]int64, error) {
	rows, err := store.List[struct {
		ID     int64 `db:"id"`
		Folder int64 `db:"folder_id"`
	}](ctx, r, `select id, folder_id from asset where id = any($1) and folder_id is not null`, ids)
	out := make(map[int64]int64, len(rows))
	for _, row := range rows {
		out[row.ID] = row.Folder
	}
	return out, err
}

// FoldersOf lists the folders that items are in, without doubles; 0 is Unfiled.
func FoldersOf(ctx context.Context, r store.Reader, ids []int64) ([]int64, error) {
	return store.List[int64](ctx, r, `select distinct coalesce(folder_id, 0) from asset where id = any($1) order by 1`, ids)
}

// CopyAssets makes a second item of each in a folder (0 is Unfiled): with its present version, words and tags, on the same
// bytes. Stars, albums and stacks stay with the first. It returns how many that were.
func CopyAssets(ctx context.Context, tx *store.Tx, brand, person int64, ids []int64, folder int64) (int, error) {
	pairs, err := store.List[struct {
		Was     int64 `db:"was"`
		ID      int64 `db:"id"`
		Version int64 `db:"version"`
	}](ctx, tx, `select id as was, nextval(pg_get_serial_sequence('asset', 'id')) as id, nextval(pg_get_serial_sequence('version',
		'id')) as version
		from asset where id = any($1) and brand_id = $2 order by id`, ids, brand)
	if err != nil {
		return 0, err
	}
	var was, made, versions []int64
	for _, p := range pairs {
		was, made, versions = append(was, p.Was), append(made, p.ID), append(versions, p.Version)
	}
	const pair = ` join unnest($1::bigint[], $2::bigint[], $3::bigint[]) as p(was, id, version) on p.was = `
	for _, statement := range []string{
		`insert into asset (id, version_id, brand_id, folder_id, added_by, ` + copiedOfAsset +
			`) select p.id, p.version, brand_id, nullif($4::bigint, 0), $5, ` + copiedOfAsset + ` from asset a` + pair + `a.id`,
		`insert into version (id, asset_id, brand_id, ` + strings.ReplaceAll(copiedOfVersion, "v.", "") +
			`) select p.version, p.id, v.brand_id, ` + copiedOfVersion + ` from version v join asset a on a.version_id = v.id` + pair +
			`a.id where $4::bigint >= 0 and $5::bigint > 0`,
		`insert into asset_tag (brand_id, asset_id, tag_id, origin) select t.brand_id, p.id, t.tag_id, t.origin from asset_tag t` +
			pair + `t.asset_id where $4::bigint >= 0 and $5::bigint > 0`,
	} {
		if _, err := tx.ExecContext(ctx, statement, was, made, versions, folder, person); err != nil {
			return 0, err
		}
	}
	return len(pairs), nil
}

// What a second item takes over from the first, and its version from the first's.
const (
	copiedOfAsset = `kind, title, description, alt, credit, copyright, usage_terms, rights_until, captured_at, captured_zone,
		file_captured_at, file_captured_zone, camera, lens, place, focal_x,
		focal_y, file_name, media_type, bytes, width, height, seconds, pages, tint,
		stage_id, source, recipe, recipe_hash, exposure, latitude, longitude, codec, sharpness, focal_by, looked_into`
	copiedOfVersion = `v.file_name, v.media_type, v.bytes, v.sha256, v.metadata, v.server_folder_id, v.left_at, v.left_modified,
		v.left_state, v.likeness, v.likeness_bands, v.kind, v.width, v.height, v.seconds, v.pages, v.codec, v.tint`
)

// Shots reads when items were taken.
func Shots(ctx context.Context, r store.Reader, ids []int64) ([]calendar.Shot, error) {
	return store.List[calendar.Shot](ctx, r, `select id, captured_at as taken, title from asset where id = any($1) order by id`, ids)
}

// BytesOf adds up the bytes of the present versions of items.
func BytesOf(ctx context.Context, r store.Reader, ids []int64) (int64, error) {
	return store.Get[int64](ctx, r, "", `select coalesce(sum(bytes), 0)::bigint from asset where id = any($1)`, ids)
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
	UsageTerms          string
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
	Recipe              recipe.Recipe
}

// AddAsset makes an item with its first version and returns its id.
func AddAsset(ctx context.Context, tx *store.Tx, n NewAsset) (int64, error) {
	if n.Source == "" {
		n.Source = "upload"
	}
	shown := n.Recipe.Size(geometry.Size{Width: n.Width, Height: n.Height})
	var id int64
	err := tx.GetContext(ctx, &id, `insert into asset (brand_id, folder_id, kind, title, description, alt, credit, copyright, stars,
		captured_at,
			captured_zone, camera, lens, place, file_name, media_type, bytes, width, height, seconds, pages, tint, added_by, exposure,
			latitude, longitude, source, codec, stage_id, recipe, recipe_hash, usage_terms, file_captured_at, file_captured_zone)
		values ($1, nullif($2::bigint, 0), $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21, $22,
		nullif($23::bigint, 0),
			$24, $25, $26, $27, $28, (select id from stage where brand_id = $1 and lower(name) = lower($29)), $30, $31, $32, $10, $11) returning id`,
		n.Brand, n.Folder, n.Kind, n.Title, n.Description, n.Alt, n.Credit, n.Copyright, n.Stars, n.Taken,
		n.TakenZone, n.Camera, n.Lens, n.Place, n.FileName, n.MediaType, n.Bytes, shown.Width, shown.Height, n.Seconds, n.Pages, n.Tint,
		n.Person,
		n.Exposure, n.Latitude, n.Longitude, n.Source, n.Codec, n.Stage, string(n.Recipe.Canonical()), n.Recipe.Hash(),
		n.UsageTerms)
	if err != nil {
		return 0, err
	}
	version, err := insertVersion(ctx, tx, n.Brand, id, n.File)
	if err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `update asset set version_id = $2 where id = $1`, id, version)
	return id, err
}

// Called is what an item is called: its title, or the name of its file.
func (a *Asset) Called() string { return cmp.Or(a.Title, a.FileName) }
