package intakestore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// WatchedFolder is a folder on the server that brings in what lands in it.
type WatchedFolder struct {
	ID           int64          `db:"id"`
	Brand        int64          `db:"brand_id"`
	BrandCode    string         `db:"brand_code"`
	ServerFolder int64          `db:"server_folder_id"`
	Root         string         `db:"root"`
	RootName     string         `db:"root_name"`
	Path         string         `db:"path"`
	Folder       sql.NullInt64  `db:"folder_id"`
	FolderName   sql.NullString `db:"folder_name"`
	Person       int64          `db:"person_id"`
	By           string         `db:"by"`
	Leave        bool           `db:"leave"`
}

// WatchedFolders lists the watched folders of a brand, or of all brands for 0.
func WatchedFolders(ctx context.Context, r store.Reader, brand int64) ([]WatchedFolder, error) {
	return store.List[WatchedFolder](ctx, r, watchedColumns+` where $1::bigint in (0, w.brand_id) order by w.id`, brand)
}

// AddWatchedFolder begins to watch and returns the id.
func AddWatchedFolder(ctx context.Context, tx *store.Tx, w WatchedFolder) (int64, error) {
	ids, err := store.List[int64](ctx, tx, `insert into watched_folder (brand_id, server_folder_id, path, folder_id, person_id, leave)
		values ($1, $2, $3, $4, $5, $6) on conflict do nothing returning id`, w.Brand, w.ServerFolder, w.Path, w.Folder, w.Person, w.Leave)
	if err == nil && len(ids) == 0 {
		return 0, fault.Invalidf("path", "That folder is watched already.")
	}
	return store.First(ids), err
}

// RemoveWatchedFolder stops watching.
func RemoveWatchedFolder(ctx context.Context, tx *store.Tx, brand, id int64) error {
	n, err := tx.Change(ctx, `delete from watched_folder where brand_id = $1 and id = $2`, brand, id)
	if err == nil && n == 0 {
		return fault.NotFoundf("That folder is not watched any more.")
	}
	return err
}

// LandedFile is a file in a watched folder, by its path below it.
type LandedFile struct {
	Path     string
	Bytes    int64
	Modified time.Time
}

// NoteLanded compares what a watched folder holds with what it held before, and returns the paths of those files that have stayed the same
// for the given time, and of empty ones that have stayed empty for theirs, and were not taken yet. Only one process at a time does so for a
// folder.
func NoteLanded(ctx context.Context, tx *store.Tx, watched int64, files []LandedFile, still, empty time.Duration) ([]string, error) {
	if _, err := tx.ExecContext(ctx, `select from watched_folder where id = $1 for no key update`, watched); err != nil {
		return nil, err
	}
	paths, sizes, times := make([]string, len(files)), make([]int64, len(files)), make([]time.Time, len(files))
	for i, f := range files {
		paths[i], sizes[i], times[i] = f.Path, f.Bytes, f.Modified
	}
	_, err := tx.ExecContext(ctx, `insert into watched_file as w (watched_folder_id, path, bytes, modified)
		select $1::bigint, path, bytes, modified from unnest($2::text[], $3::bigint[], $4::timestamptz[]) as f(path, bytes, modified)
		on conflict (watched_folder_id, path) do update set bytes = excluded.bytes, modified = excluded.modified, since = now(),
		taken = false
		where w.bytes <> excluded.bytes or w.modified <> excluded.modified`, watched, paths, sizes, times)
	if err != nil {
		return nil, err
	}
	if _, err = tx.ExecContext(ctx, `delete from watched_file where watched_folder_id = $1 and path <> all($2)`, watched,
		paths); err != nil {
		return nil, err
	}
	return store.List[string](ctx, tx, `select path from watched_file where watched_folder_id = $1 and not taken
		and since <= now() - make_interval(secs => $2) and (bytes > 0 or since <= now() - make_interval(secs => $3)) order by path`,
		watched, still.Seconds(), empty.Seconds())
}

// LandedTaken notes that files of a watched folder were brought in.
func LandedTaken(ctx context.Context, tx *store.Tx, watched int64, paths []string) error {
	_, err := tx.ExecContext(ctx, `update watched_file set taken = true where watched_folder_id = $1 and path = any($2)`, watched, paths)
	return err
}

const watchedColumns = `select w.id, w.brand_id, b.code as brand_code, w.server_folder_id, s.path as root, s.name as root_name, w.path,
	w.folder_id, f.name as folder_name, w.person_id, p.name as by, w.leave
	from watched_folder w join brand b on b.id = w.brand_id join server_folder s on s.id = w.server_folder_id
	join person p on p.id = w.person_id left join folder f on f.id = w.folder_id`
