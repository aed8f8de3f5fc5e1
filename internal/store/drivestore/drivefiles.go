// Package drivestore keeps what the drive needs beyond items and folders: files on their way, locks, properties, passwords.
package drivestore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/store"
)

// DrivePlace is where something is on the drive: in a folder (0 is Unfiled), or in an album or on a page.
type DrivePlace struct{ Folder, Album, Page int64 }

// DriveFile is a file that was copied onto the drive and is no item yet. Replaces is the item that it becomes a version of; Asset the item
// that it is, on its way to a page. Stray is what systems leave behind, which is never taken.
type DriveFile struct {
	ID       int64         `db:"id"`
	Brand    int64         `db:"brand_id"`
	Person   int64         `db:"person_id"`
	Folder   int64         `db:"folder"`
	Album    int64         `db:"album"`
	Page     int64         `db:"page"`
	Name     string        `db:"name"`
	Code     string        `db:"code"`
	Bytes    int64         `db:"bytes"`
	Replaces sql.NullInt64 `db:"replaces"`
	Asset    sql.NullInt64 `db:"asset_id"`
	Stray    bool          `db:"stray"`
	State    string        `db:"state"`
	Why      string        `db:"why"`
	Written  time.Time     `db:"written_at"`
}

const driveFileFields = `id, brand_id, person_id, coalesce(folder_id, 0) as folder, coalesce(album_id, 0) as album,
	coalesce(page_id, 0) as page, name, code, bytes, replaces, asset_id, stray, state, why, written_at`

const driveFileColumns = `select ` + driveFileFields + ` from drive_file `

const inDrivePlace = `brand_id = $1 and coalesce(folder_id, 0) = $2 and coalesce(album_id, 0) = $3 and coalesce(page_id, 0) = $4 `

// DriveFiles lists the files at a place of the drive that are no items yet.
func DriveFiles(ctx context.Context, r store.Reader, brand int64, at DrivePlace) ([]DriveFile, error) {
	return store.List[DriveFile](ctx, r, driveFileColumns+`where `+inDrivePlace+`order by name`, brand, at.Folder, at.Album, at.Page)
}

// DriveNamed finds what has a name at a place of the drive: the file that is no item yet, or nil, and in a folder the items, the oldest
// first. It is one question, since each small file that is read or copied asks it.
func DriveNamed(ctx context.Context, r store.Reader, brand int64, at DrivePlace, name string) (file *DriveFile, items []DriveItem,
	err error) {
	found, err := store.List[struct {
		DriveFile
		Item     bool           `db:"item"`
		Sum      []byte         `db:"sha256"`
		Tag      string         `db:"tag"`
		Type     string         `db:"media_type"`
		LeftRoot sql.NullString `db:"left_root"`
		LeftAt   sql.NullString `db:"left_at"`
	}](ctx, r, `select `+driveFileFields+`, false as item, null::bytea as sha256, '' as tag, '' as media_type,
			null::text as left_root, null::text as left_at
			from drive_file where `+inDrivePlace+`and name = $5
		union all (select a.id, a.brand_id, 0, coalesce(a.folder_id, 0), 0, 0, a.file_name, a.code, v.bytes, null, null, false, '', '',
			v.created_at, true, v.sha256, coalesce(dt.tag, ''), v.media_type, sf.path, v.left_at from `+driveItemTables+`
			where a.brand_id = $1 and a.binned_at is null and a.file_name = $5 and `+atFolder(at.Folder)+`
			and $3 = 0 and $4 = 0 order by a.id limit 100)
		order by item, id`, brand, at.Folder, at.Album, at.Page, name)
	for _, f := range found {
		if f.Item {
			items = append(items, DriveItem{ID: f.ID, Code: f.Code, Name: f.Name, Folder: f.Folder, Bytes: f.Bytes, Sum: f.Sum, Tag: f.Tag,
				Written: f.Written, Type: f.Type, LeftRoot: f.LeftRoot, LeftAt: f.LeftAt})
		} else {
			file = &f.DriveFile
		}
	}
	return file, items, err
}

// PutDriveFile writes a file down, in place of one of the same name there that is not being taken. It is held for as long as somebody has
// its path locked. It returns it as it is there, and the code of the bytes that are not needed any more, or "". It is one statement, with
// no transaction around it: many small files are copied one by one.
func PutDriveFile(ctx context.Context, db *store.DB, f DriveFile, path string) (put DriveFile, dropped string, err error) {
	var row struct {
		DriveFile
		Dropped string `db:"dropped"`
	}
	err = db.GetContext(ctx, &row, `with before as (select code from drive_file where brand_id = $1 and coalesce(folder_id, 0) = $3
			and coalesce(album_id, 0) = $4 and coalesce(page_id, 0) = $5 and name = $6),
		held as (select max(expires_at) as until from drive_lock where brand_id = $1 and expires_at >= now()
			and (root = $12 or not alone and starts_with($12, rtrim(root, '/') || '/')))
		insert into drive_file (brand_id, person_id, folder_id, album_id, page_id, name, code, bytes, replaces, asset_id, stray, held_until)
		values ($1, $2, nullif($3::bigint, 0), nullif($4::bigint, 0), nullif($5::bigint, 0), $6, $7, $8, $9, $10, $11,
			(select until from held))
		on conflict (brand_id, coalesce(folder_id, 0), coalesce(album_id, 0), coalesce(page_id, 0), name) do update
		set person_id = $2, code = $7, bytes = $8, asset_id = $10, state = 'here', why = '', written_at = now(),
			replaces = coalesce($9, drive_file.replaces), held_until = coalesce(excluded.held_until, drive_file.held_until)
		returning `+driveFileFields+`, coalesce((select max(code) from before), '') as dropped`,
		f.Brand, f.Person, f.Folder, f.Album, f.Page, f.Name, f.Code, f.Bytes, f.Replaces, f.Asset, f.Stray, path)
	if err != nil {
		return f, "", err
	}
	return row.DriveFile, row.Dropped, nil
}

// MoveDriveFile puts a file elsewhere on the drive, or gives it another name there, unless it is being brought in. It returns how many
// files it moved.
func MoveDriveFile(ctx context.Context, tx *store.Tx, id int64, to DrivePlace, name string, replaces sql.NullInt64, stray bool) (int,
	error) {
	return tx.Change(ctx, `update drive_file set folder_id = nullif($2::bigint, 0), album_id = nullif($3::bigint, 0),
		page_id = nullif($4::bigint, 0), name = $5, replaces = $6, stray = $7, state = 'here', why = '', written_at = now()
		where id = $1 and state <> 'taken'`, id, to.Folder, to.Album, to.Page, name, replaces, stray)
}

// RemoveDriveFile removes a file that is not being brought in, and returns the code of its bytes.
func RemoveDriveFile(ctx context.Context, tx *store.Tx, brand, id int64) (string, error) {
	return store.Get[string](ctx, tx, "There is no such file.", `delete from drive_file where brand_id = $1 and id = $2 and state <> 'taken'
		returning code`, brand, id)
}

// RemoveDriveFilesIn removes the files in folders that are no items yet, and returns the codes of their bytes.
func RemoveDriveFilesIn(ctx context.Context, tx *store.Tx, brand int64, folders []int64) ([]string, error) {
	return store.List[string](ctx, tx, `delete from drive_file where brand_id = $1 and folder_id = any($2) returning code`, brand, folders)
}

// HoldDriveFile keeps a file from being taken while somebody has it locked; a nil time lets it go.
func HoldDriveFile(ctx context.Context, tx *store.Tx, id int64, until *time.Time) error {
	_, err := tx.ExecContext(ctx, `update drive_file set held_until = $2, written_at = now() where id = $1`, id, until)
	return err
}

// DriveGroup are the files of one person at one place that wait to be taken.
type DriveGroup struct {
	Brand  int64 `db:"brand_id"`
	Person int64 `db:"person_id"`
	Folder int64 `db:"folder"`
	Album  int64 `db:"album"`
	Page   int64 `db:"page"`
}

// DriveGroupsReady lists where files wait of which nothing was written for so long; or which wait for a minute, though others follow.
// Empty ones, and those that somebody has locked, wait on.
func DriveGroupsReady(ctx context.Context, r store.Reader, still time.Duration) ([]DriveGroup, error) {
	return store.List[DriveGroup](ctx, r, `select brand_id, person_id, coalesce(folder_id, 0) as folder, coalesce(album_id, 0) as album,
			coalesce(page_id, 0) as page from drive_file
		where state = 'here' and bytes > 0 and not stray and asset_id is null and coalesce(held_until, '-infinity') < now() group by 1, 2, 3, 4, 5
		having max(written_at) < now() - make_interval(secs => $1) or min(written_at) < now() - interval '1 minute' limit 200`,
		still.Seconds())
}

// TakeDriveFiles locks the files of a group that can be taken, at most so many. What is saved over a file that is being brought in waits.
func TakeDriveFiles(ctx context.Context, tx *store.Tx, g DriveGroup, still time.Duration, most int) ([]DriveFile, error) {
	return store.List[DriveFile](
		ctx,
		tx,
		driveFileColumns+`where `+inDrivePlace+`and person_id = $5 and state = 'here' and bytes > 0 and not stray
		and asset_id is null
		and coalesce(held_until, '-infinity') < now() and written_at < now() - make_interval(secs => $6)
		and not exists (select from intake n join intake_file f on f.intake_id = n.id where n.brand_id = $1 and n.finished_at is null
			and n.source = 'drive' and f.state in ('waiting', 'arrived') and f.name = drive_file.name
			and coalesce(n.folder_id, 0) = $2 and coalesce(n.album_id, 0) = $3) order by id limit $7
		for update skip locked`,
		g.Brand,
		g.Folder,
		g.Album,
		g.Page,
		g.Person,
		still.Seconds(),
		most,
	)
}

// DriveFilesTaken notes that files are being brought in, by the codes of their bytes, and says how many still had these.
func DriveFilesTaken(ctx context.Context, tx *store.Tx, codes []string) (int, error) {
	return tx.Change(ctx, `update drive_file set state = 'taken' where code = any($1) and state = 'here'`, codes)
}

// DriveFilesRefused notes that files are not brought in, and why.
func DriveFilesRefused(ctx context.Context, tx *store.Tx, ids []int64, why string) error {
	_, err := tx.ExecContext(ctx, `update drive_file set state = 'refused', why = $2 where id = any($1)`, ids, why)
	return err
}

// DriveArrival is a file that was copied onto the drive, by its code and its name in an intake, and what came of it: an item or 0, and why.
type DriveArrival struct {
	Code, Name    string
	Intake, Asset int64
	State         arrival.State
	Why           string
}

// DriveFileSettled writes down what came of a file that was brought in: an item, which is on its way to a page or takes its place on the
// drive, with its entity tag; or nothing, and why. One that was saved over it meanwhile becomes a version of that item.
func DriveFileSettled(ctx context.Context, tx *store.Tx, in DriveArrival) error {
	asset := in.Asset
	if in.State == arrival.Added || in.State == arrival.Version {
		if _, err := tx.ExecContext(ctx, `insert into drive_tag (version_id, tag) select version_id, $2 from asset where id = $1
			on conflict do nothing`, asset, in.Code); err != nil {
			return err
		}
	}
	rows, err := store.List[DriveFile](ctx, tx, driveFileColumns+`where code = $1 for update`, in.Code)
	if err == nil && len(rows) == 0 && asset != 0 {
		_, err = tx.ExecContext(ctx, `update drive_file d set replaces = $2 from intake i where i.id = $1 and d.brand_id = i.brand_id
			and d.folder_id is not distinct from i.folder_id and d.album_id is not distinct from i.album_id and d.page_id is null
			and d.name = $3 and d.replaces is null and d.state = 'here'`, in.Intake, asset, in.Name)
	}
	if err != nil || len(rows) == 0 {
		return err
	}
	f := rows[0]
	switch {
	case asset != 0 && f.Page != 0:
		_, err = tx.ExecContext(ctx, `update drive_file set state = 'here', asset_id = $2, written_at = now() where id = $1`, f.ID, asset)
	case asset != 0:
		if err := moveDriveProperties(ctx, tx, f.Brand, DriveNode("file", f.ID), DriveNode("item", asset)); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `delete from drive_file where id = $1`, f.ID)
	default:
		_, err = tx.ExecContext(ctx, `update drive_file set state = 'refused', why = $2, written_at = now() where id = $1`, f.ID, in.Why)
	}
	return err
}

// OldDriveFiles removes what systems left on the drive, what stayed empty and what was refused, if nothing was written to it since before;
// and returns the codes of the bytes.
func OldDriveFiles(ctx context.Context, tx *store.Tx, before time.Time) ([]string, error) {
	return store.List[string](ctx, tx, `delete from drive_file where written_at < $1 and coalesce(held_until, '-infinity') < now()
		and (state = 'refused' or bytes = 0 or stray) returning code`, before)
}

// OnDrive says whether there is a file on the drive whose bytes have a code.
func OnDrive(ctx context.Context, r store.Reader, code string) (bool, error) {
	return store.Get[bool](ctx, r, "", `select exists (select from drive_file where code = $1)`, code)
}
