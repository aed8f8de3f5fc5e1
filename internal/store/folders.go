package store

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
)

// Folder is a folder with the number of items in it that are not in the bin.
type Folder struct {
	ID          int64         `db:"id"`
	Code        string        `db:"code"`
	Parent      sql.NullInt64 `db:"parent_id"`
	Name        string        `db:"name"`
	Description string        `db:"description"`
	Own         int           `db:"own"`
}

const folderMissing = "That folder is not there any more."

// FolderTree reads the parents of all folders of a brand.
func FolderTree(ctx context.Context, r Reader, brand int64) (access.Tree, error) {
	rows, err := list[struct {
		ID     int64         `db:"id"`
		Parent sql.NullInt64 `db:"parent_id"`
	}](ctx, r, `select id, parent_id from folder where brand_id = $1`, brand)
	tree := make(access.Tree, len(rows))
	for _, f := range rows {
		tree[f.ID] = f.Parent.Int64
	}
	return tree, err
}

// Folders lists all folders of a brand in natural order of their names.
func Folders(ctx context.Context, r Reader, brand int64) ([]Folder, error) {
	return list[Folder](ctx, r, `select f.id, f.code, f.parent_id, f.name, f.description, coalesce(c.n, 0) as own from folder f
		left join (select folder_id, count(*) as n from asset where brand_id = $1 and binned_at is null and folder_id is not null group by folder_id) c
		on c.folder_id = f.id where f.brand_id = $1 order by f.name collate natural_name, f.id`, brand)
}

// FolderByID reads one folder of a brand.
func FolderByID(ctx context.Context, r Reader, brand, id int64) (Folder, error) {
	return get[Folder](ctx, r, folderMissing, `select id, code, parent_id, name, description, 0 as own from folder where id = $1 and brand_id = $2`, id, brand)
}

// EnsureFolder returns the folder of that name in parent (0 is the top), and whether it had to be made. The name is
// compared without regard to case and Unicode form.
func (tx *Tx) EnsureFolder(ctx context.Context, brand, parent int64, name string) (id int64, made bool, err error) {
	found := `select id from folder where brand_id = $1 and coalesce(parent_id, 0) = $2 and lower(normalize(name, NFC)) = lower(normalize($3, NFC))`
	ids, err := list[int64](ctx, tx, found, brand, parent, name)
	if err != nil || len(ids) > 0 {
		return first(ids), false, err
	}
	ids, err = list[int64](ctx, tx, `insert into folder (brand_id, parent_id, name) values ($1, nullif($2::bigint, 0), $3) on conflict do nothing returning id`, brand, parent, name)
	if err != nil || len(ids) > 0 {
		return first(ids), true, err
	}
	ids, err = list[int64](ctx, tx, found, brand, parent, name) // somebody made it in the same moment
	return first(ids), false, err
}

func first(ids []int64) int64 {
	if len(ids) == 0 {
		return 0
	}
	return ids[0]
}

// AddFolder makes a folder. Two siblings cannot have one name.
func (tx *Tx) AddFolder(ctx context.Context, brand, parent int64, name string) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into folder (brand_id, parent_id, name) values ($1, nullif($2::bigint, 0), $3) returning id`, brand, parent, name)
	return id, folderNameTaken(err, name)
}

func folderNameTaken(err error, name string) error {
	if violates(err, "folder_sibling_name") {
		return fault.Invalidf("name", "There is a folder “%s” here already. Try “%s 2”.", name, name)
	}
	return err
}

// ChangeFolder writes name, description and parent (0 is the top) of a folder.
func (tx *Tx) ChangeFolder(ctx context.Context, id int64, name, description string, parent int64) error {
	_, err := tx.ExecContext(ctx, `update folder set name = $2, description = $3, parent_id = nullif($4::bigint, 0) where id = $1`, id, name, description, parent)
	return folderNameTaken(err, name)
}

// RemoveFolder moves what is in a folder to its parent (0: items become Unfiled, folders go to the top) and removes it.
// It returns how many items and folders moved.
func (tx *Tx) RemoveFolder(ctx context.Context, id, parent int64) (items, folders int, err error) {
	moved, err := tx.ExecContext(ctx, `update asset set folder_id = nullif($2::bigint, 0) where folder_id = $1`, id, parent)
	if err != nil {
		return 0, 0, err
	}
	up, err := tx.ExecContext(ctx, `update folder set parent_id = nullif($2::bigint, 0) where parent_id = $1`, id, parent)
	if violates(err, "folder_sibling_name") {
		return 0, 0, fault.Invalidf("name", "A folder inside has the same name as one beside it. Rename it first.")
	}
	if err != nil {
		return 0, 0, err
	}
	if _, err = tx.ExecContext(ctx, `delete from folder where id = $1`, id); err != nil {
		return 0, 0, err
	}
	return affected(moved), affected(up), nil
}

func affected(r sql.Result) int {
	n, _ := r.RowsAffected()
	return int(n)
}

// LockFolderTree reads the tree and keeps other transactions from changing it with this function until the end.
func (tx *Tx) LockFolderTree(ctx context.Context, brand int64) (access.Tree, error) {
	if _, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(hashtext('folder tree'), $1::int)`, brand); err != nil {
		return nil, err
	}
	return FolderTree(ctx, tx, brand)
}

// FolderPath names a folder with everything above it, as in "Shoots / 2026 / Studio".
func FolderPath(ctx context.Context, r Reader, id int64) (string, error) {
	return get[string](ctx, r, folderMissing, `with recursive up as (
			select id, parent_id, name, 0 as depth from folder where id = $1
			union all select f.id, f.parent_id, f.name, up.depth + 1 from folder f join up on f.id = up.parent_id where up.depth < 100)
		select string_agg(name, ' / ' order by depth desc) from up`, id)
}
