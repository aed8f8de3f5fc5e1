// Package folderstore keeps the tree of folders.
package folderstore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/orderstore"
)

// Folder is a folder. Date is the day that what is in it belongs to, YYYY-MM-DD or "". Tags are ids.
type Folder struct {
	ID          int64              `db:"id"`
	Code        string             `db:"code"`
	Parent      sql.NullInt64      `db:"parent_id"`
	Name        string             `db:"name"`
	Description string             `db:"description"`
	Date        string             `db:"date"`
	Parked      bool               `db:"parked"`
	Position    sql.NullString     `db:"position"`
	Tags        store.Array[int64] `db:"tags"`
}

const folderColumns = `f.id, f.code, f.parent_id, f.name, f.description, coalesce(f.happened_on::text, '') as date, f.parked, f.position,
	array(select tag_id from folder_tag t where t.folder_id = f.id order by tag_id) as tags from folder f`

const folderMissing = "That folder is not there any more."

// FolderTree reads the parents of all folders of a brand.
func FolderTree(ctx context.Context, r store.Reader, brand int64) (access.Tree, error) {
	rows, err := store.List[struct {
		ID     int64         `db:"id"`
		Parent sql.NullInt64 `db:"parent_id"`
	}](ctx, r, `select id, parent_id from folder where brand_id = $1`, brand)
	tree := make(access.Tree, len(rows))
	for _, f := range rows {
		tree[f.ID] = f.Parent.Int64
	}
	return tree, err
}

// Folders lists all folders of a brand: those with a place by hand first, and the others in natural order of their names.
func Folders(ctx context.Context, r store.Reader, brand int64) ([]Folder, error) {
	return store.List[Folder](ctx, r, `select `+folderColumns+` where f.brand_id = $1 order by f.position nulls last,
		f.name collate natural_name, f.id`, brand)
}

// FoldersAbove lists the folders that some items of a brand live in, with all that those are in, in no order.
func FoldersAbove(ctx context.Context, r store.Reader, brand int64, items []int64) ([]Folder, error) {
	return store.List[Folder](ctx, r, `with recursive up as (
		select id, parent_id from folder where brand_id = $1 and id in (select folder_id from asset where id = any($2))
		union select p.id, p.parent_id from folder p join up on p.id = up.parent_id)
		select `+folderColumns+` where f.id in (select id from up)`, brand, items)
}

// FolderByID reads one folder of a brand.
func FolderByID(ctx context.Context, r store.Reader, brand, id int64) (Folder, error) {
	return store.Get[Folder](ctx, r, folderMissing, `select `+folderColumns+` where f.id = $1 and f.brand_id = $2`, id, brand)
}

// EnsureFolder returns the folder of that name in parent (0 is the top), and whether it had to be made. The name is
// compared without regard to case and Unicode form.
func EnsureFolder(ctx context.Context, tx *store.Tx, brand, parent int64, name string) (id int64, made bool, err error) {
	found := `select id from folder where brand_id = $1 and coalesce(parent_id, 0) = $2 and lower(normalize(name,
		NFC)) = lower(normalize($3, NFC))`
	ids, err := store.List[int64](ctx, tx, found, brand, parent, name)
	if err != nil || len(ids) > 0 {
		return store.First(ids), false, err
	}
	ids, err = store.List[int64](ctx, tx, `insert into folder (brand_id, parent_id, name) values ($1, nullif($2::bigint, 0), $3)
		on conflict do nothing returning id`, brand, parent, name)
	if err != nil || len(ids) > 0 {
		return store.First(ids), true, err
	}
	ids, err = store.List[int64](ctx, tx, found, brand, parent, name) // somebody made it in the same moment
	return store.First(ids), false, err
}

// AddFolder makes a folder. Two siblings cannot have one name.
func AddFolder(ctx context.Context, tx *store.Tx, brand, parent int64, name string) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into folder (brand_id, parent_id, name) values ($1, nullif($2::bigint, 0), $3) returning id`,
		brand, parent, name)
	return id, folderNameTaken(err, name)
}

func folderNameTaken(err error, name string) error {
	if store.Violates(err, "folder_sibling_name") {
		return fault.Invalidf("name", "There is a folder “%s” here already. Try “%s 2”.", name, name)
	}
	return err
}

// ChangeFolder writes everything about a folder that people set, but its tags and its place among its siblings. One that
// goes to another parent comes after those that were placed there by hand.
func ChangeFolder(ctx context.Context, tx *store.Tx, f Folder) error {
	_, err := tx.ExecContext(ctx, `update folder set name = $2, description = $3, parent_id = $4, happened_on = nullif($5, '')::date,
		parked = $6,
		position = case when parent_id is not distinct from $4 then position end where id = $1`, f.ID, f.Name, f.Description, f.Parent,
		f.Date, f.Parked)
	return folderNameTaken(err, f.Name)
}

// TagFolder makes tags the tags of a folder and says whether that changed anything.
func TagFolder(ctx context.Context, tx *store.Tx, brand, folder int64, tags []int64) (bool, error) {
	gone, err := tx.Change(ctx, `delete from folder_tag where folder_id = $1 and tag_id <> all($2)`, folder, tags)
	if err != nil {
		return false, err
	}
	come, err := tx.Change(ctx, `insert into folder_tag (brand_id, folder_id, tag_id) select $1, $2, unnest($3::bigint[])
		on conflict do nothing`, brand, folder, tags)
	if err != nil {
		return false, err
	}
	return gone+come > 0, nil
}

// OrderFolders puts folders before another one of the same parent, or at the end of those when before is 0.
func OrderFolders(ctx context.Context, tx *store.Tx, brand, parent int64, ids []int64, before int64) (int, error) {
	siblings, err := store.List[orderstore.Placed](ctx, tx, `select id, coalesce(position, '') as position from folder where brand_id = $1
		and coalesce(parent_id, 0) = $2
		order by folder.position nulls last, name collate natural_name, id`, brand, parent)
	if err != nil {
		return 0, err
	}
	moved, keys, err := orderstore.PlaceByHand(siblings, ids, before)
	if err != nil {
		return 0, err
	}
	return tx.Change(ctx, `update folder x set position = u.key from unnest($1::bigint[], $2::text[]) u(id, key) where x.id = u.id`,
		moved, keys)
}

// OrderFoldersByName takes the places by hand from the folders in parent and returns how many had one.
func OrderFoldersByName(ctx context.Context, tx *store.Tx, brand, parent int64) (int, error) {
	return tx.Change(ctx, `update folder set position = null where brand_id = $1 and coalesce(parent_id, 0) = $2
		and position is not null`, brand, parent)
}

// OrderInFolder puts items of a folder before another one in it, or at its end when before is 0.
func OrderInFolder(ctx context.Context, tx *store.Tx, folder int64, ids []int64, before int64) (int, error) {
	siblings, err := store.List[orderstore.Placed](ctx, tx, `select id, coalesce(position, '') as position from asset where folder_id = $1
		and binned_at is null
		order by asset.position nulls last, name_key, id`, folder)
	if err != nil {
		return 0, err
	}
	moved, keys, err := orderstore.PlaceByHand(siblings, ids, before)
	if err != nil {
		return 0, err
	}
	return tx.Change(ctx, `update asset x set position = u.key from unnest($1::bigint[], $2::text[]) u(id, key) where x.id = u.id`,
		moved, keys)
}

// RemoveFolder moves what is in a folder to its parent (0: items become Unfiled, folders go to the top) and removes it.
// It returns how many items and folders moved.
func RemoveFolder(ctx context.Context, tx *store.Tx, id, parent int64) (items, folders int, err error) {
	moved, err := tx.Change(ctx, `update asset set folder_id = nullif($2::bigint, 0) where folder_id = $1`, id, parent)
	if err != nil {
		return 0, 0, err
	}
	up, err := tx.Change(ctx, `update folder set parent_id = nullif($2::bigint, 0) where parent_id = $1`, id, parent)
	if store.Violates(err, "folder_sibling_name") {
		return 0, 0, fault.Invalidf("name", "A folder inside has the same name as one beside it. Rename it first.")
	}
	if err != nil {
		return 0, 0, err
	}
	if _, err = tx.ExecContext(ctx, `delete from folder where id = $1`, id); err != nil {
		return 0, 0, err
	}
	return moved, up, nil
}

// LockFolderTree reads the tree and keeps other transactions from changing it with this function until the end.
func LockFolderTree(ctx context.Context, tx *store.Tx, brand int64) (access.Tree, error) {
	if _, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(hashtext('folder tree'), $1::int)`, brand); err != nil {
		return nil, err
	}
	return FolderTree(ctx, tx, brand)
}

// FolderPath names a folder with everything above it that the viewer may look into, as in "Shoots / 2026 / Studio".
func FolderPath(ctx context.Context, r store.Reader, v *access.Viewer, id int64) (string, error) {
	reach := v.May(access.Look)
	return store.Get[string](ctx, r, folderMissing, `with recursive up as (
			select id, parent_id, name, 0 as depth from folder where id = $1
			union all select f.id, f.parent_id, f.name, up.depth + 1 from folder f join up on f.id = up.parent_id where up.depth < 100
			and ($2 or f.id = any($3)))
		select string_agg(name, ' / ' order by depth desc) from up`, id, reach.All, reach.FolderIDs())
}

// CopyFoldersBelow makes the folders below one folder below another too, with their descriptions and order and nothing in
// them. It returns how many that were.
func CopyFoldersBelow(ctx context.Context, tx *store.Tx, brand, from, to int64) (int, error) {
	rows, err := store.List[Folder](ctx, tx, `select `+folderColumns+` where f.brand_id = $1`, brand)
	if err != nil {
		return 0, err
	}
	inside := map[int64][]Folder{}
	for _, f := range rows {
		if f.ID != to {
			inside[f.Parent.Int64] = append(inside[f.Parent.Int64], f)
		}
	}
	n := 0
	var copyInto func(from, to int64) error
	copyInto = func(from, to int64) error {
		for _, f := range inside[from] {
			id, err := store.Get[int64](ctx, tx, "", `insert into folder (brand_id, parent_id, name, description, position) values ($1, $2,
				$3, $4, $5) returning id`, brand, to, f.Name, f.Description, f.Position)
			if err != nil {
				return err
			}
			n++
			if err := copyInto(f.ID, id); err != nil {
				return err
			}
		}
		return nil
	}
	return n, copyInto(from, to)
}

// foldersAt are the folders of a brand as they were read last, so that thousands of them are not read for each request.
type foldersAt struct {
	Rows []Folder
	Tree access.Tree
}

// FoldersStamp is another one whenever a folder of brand b has changed. A transaction that ends late can have a lower number in the feed
// than one that was seen; then there is one more.
const FoldersStamp = `(select count(*) || ' ' || coalesce(max(f.seq), 0) from feed f where f.brand_id = b.id
	and f.what in ('folder', 'folder_tag'))`

// FoldersAs gives the folders of a brand, read anew only when they were read last under another stamp. They may not be changed.
func FoldersAs(ctx context.Context, db *store.DB, brand int64, stamp string) (foldersAt, error) {
	known, err := db.Lately.Under(brand, stamp, func() (any, error) {
		rows, err := Folders(ctx, db, brand)
		tree := make(access.Tree, len(rows))
		for _, f := range rows {
			tree[f.ID] = f.Parent.Int64
		}
		return foldersAt{Rows: rows, Tree: tree}, err
	})
	now, _ := known.(foldersAt)
	return now, err
}

// FoldersNow lists all folders of a brand as Folders does. They may not be changed.
func FoldersNow(ctx context.Context, db *store.DB, brand int64) ([]Folder, error) {
	stamp, err := store.Get[string](ctx, db, "", `select `+FoldersStamp+` from brand b where b.id = $1`, brand)
	if err != nil {
		return nil, err
	}
	now, err := FoldersAs(ctx, db, brand, stamp)
	return now.Rows, err
}
