package intakestore

import (
	"context"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// ServerFolder is a folder on the server that a steward allows a brand to bring in from.
type ServerFolder struct {
	ID    int64  `db:"id"`
	Brand int64  `db:"brand_id"`
	Name  string `db:"name"`
	Path  string `db:"path"`
	Takes bool   `db:"takes"` // files may be put there, too
}

const serverFolderMissing = "That server folder is not allowed any more."

// ServerFolders lists the server folders of a brand by name.
func ServerFolders(ctx context.Context, r store.Reader, brand int64) ([]ServerFolder, error) {
	return store.List[ServerFolder](ctx, r, `select id, brand_id, name, path, takes from server_folder where brand_id = $1
		order by name collate natural_name, id`, brand)
}

// ServerFolderByID reads one server folder of a brand.
func ServerFolderByID(ctx context.Context, r store.Reader, brand, id int64) (ServerFolder, error) {
	return store.Get[ServerFolder](ctx, r, serverFolderMissing, `select id, brand_id, name, path, takes from server_folder where brand_id = $1
		and id = $2`, brand, id)
}

// AddServerFolder allows a folder and returns its id.
func AddServerFolder(ctx context.Context, tx *store.Tx, brand int64, name, path string) (int64, error) {
	ids, err := store.List[int64](ctx, tx, `insert into server_folder (brand_id, name, path) values ($1, $2, $3) on conflict do nothing
		returning id`, brand, name, path)
	if err == nil && len(ids) == 0 {
		return 0, fault.Invalidf("path", "That folder is allowed already.")
	}
	return store.First(ids), err
}

// SetServerFolderTakes allows that files are put into a server folder, or no longer.
func SetServerFolderTakes(ctx context.Context, tx *store.Tx, brand, id int64, takes bool) error {
	n, err := tx.Change(ctx, `update server_folder set takes = $3 where brand_id = $1 and id = $2`, brand, id, takes)
	if err == nil && n == 0 {
		err = fault.NotFoundf("%s", serverFolderMissing)
	}
	return err
}

// RemoveServerFolder no longer allows a folder. One that items refer to stays.
func RemoveServerFolder(ctx context.Context, tx *store.Tx, brand, id int64) error {
	n, err := store.Get[int](ctx, tx, "", `select count(*) from version where server_folder_id = $1`, id)
	if err != nil {
		return err
	}
	if n > 0 {
		return fault.Invalidf("serverFolder", "%d files were left in that folder and are shown from there. Bring them in as copies "+
			"first.", n)
	}
	n, err = tx.Change(ctx, `delete from server_folder where brand_id = $1 and id = $2`, brand, id)
	if err == nil && n == 0 {
		return fault.NotFoundf("%s", serverFolderMissing)
	}
	return err
}
