package drivestore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// DriveItem is an item as a file on the drive. Others of the same name at the same place have their code in theirs. Tag is the entity tag
// of a file that was copied onto the drive, which it keeps, or "".
type DriveItem struct {
	ID       int64          `db:"id"`
	Code     string         `db:"code"`
	Name     string         `db:"file_name"`
	Folder   int64          `db:"folder"`
	Bytes    int64          `db:"bytes"`
	Sum      []byte         `db:"sha256"`
	Tag      string         `db:"tag"`
	Written  time.Time      `db:"written"`
	Type     string         `db:"media_type"`
	LeftRoot sql.NullString `db:"left_root"`
	LeftAt   sql.NullString `db:"left_at"`
}

const driveItemColumns = `select a.id, a.code, a.file_name, coalesce(a.folder_id, 0) as folder, v.bytes, v.sha256,
	coalesce(dt.tag, '') as tag, v.created_at as written, v.media_type, sf.path as left_root, v.left_at from ` + driveItemTables

const driveItemTables = `asset a join version v on v.id = a.version_id left join server_folder sf on sf.id = v.server_folder_id
	left join drive_tag dt on dt.version_id = v.id `

// atFolder is the condition that an item is in a folder, which is the second argument (0 is Unfiled), in a form that an index answers.
func atFolder(folder int64) string {
	if folder == 0 {
		return "a.folder_id is null and $2::bigint = 0"
	}
	return "a.folder_id = $2"
}

// MostDriveItems is how many items one folder of the drive shows.
const MostDriveItems = 50_000

// DriveItemsIn lists the items in a folder (0 is Unfiled), by name and then by age.
func DriveItemsIn(ctx context.Context, r store.Reader, brand, folder int64) ([]DriveItem, error) {
	return store.List[DriveItem](ctx, r, driveItemColumns+`where a.brand_id = $1 and a.binned_at is null and `+atFolder(folder)+`
		order by a.file_name, a.id limit $3`, brand, folder, MostDriveItems)
}

// DriveItemsOf lists items by their ids, by name and then by age.
func DriveItemsOf(ctx context.Context, r store.Reader, brand int64, ids []int64) ([]DriveItem, error) {
	return store.List[DriveItem](ctx, r, driveItemColumns+`where a.brand_id = $1 and a.id = any($2) and a.binned_at is null
		order by a.file_name, a.id limit $3`, brand, ids, MostDriveItems)
}

// OnPage lists the items that a page shows, and those that wait to go there.
func OnPage(ctx context.Context, r store.Reader, page int64) ([]int64, error) {
	return store.List[int64](ctx, r, `select asset_id from placement where page_id = $1 and gone_at is null
		union select i.asset_id from dispatch_post d join dispatch_item i on i.post_id = d.id where d.page_id = $1 and i.asset_id is not null
			and d.phase not in ('out', 'refused', 'cancelled')
		union select unnest(assets) from dispatch_draft where $1 = any(pages)`, page)
}

// RenameFile gives the file of an item another name; that of its versions stays, and the name under which it came is kept beside.
func RenameFile(ctx context.Context, tx *store.Tx, brand, asset int64, name string) error {
	_, err := tx.ExecContext(ctx, `update asset set file_name = $3,
		came_as = case $3 when coalesce(nullif(came_as, ''), file_name) then '' else coalesce(nullif(came_as, ''), file_name) end
		where brand_id = $1 and id = $2`, brand, asset, name)
	return err
}

// ItemsInFolders lists the items in folders, at most so many.
func ItemsInFolders(ctx context.Context, r store.Reader, brand int64, folders []int64, most int) ([]int64, error) {
	return store.List[int64](ctx, r, `select id from asset where brand_id = $1 and folder_id = any($2) and binned_at is null limit $3`, brand,
		folders, most)
}

// NewestItemOf finds the item that somebody added last to a folder (0 is Unfiled) under the name of a file.
func NewestItemOf(ctx context.Context, r store.Reader, brand, person, folder int64, name string) (int64, error) {
	return store.Get[int64](
		ctx,
		r,
		assetstore.AssetMissing,
		`select a.id from asset a where a.brand_id = $1 and a.added_by = $3 and a.binned_at is null
		and a.file_name = $4 and `+atFolder(folder)+` order by a.id desc limit 1`,
		brand,
		folder,
		person,
		name,
	)
}
