package peoplestore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/folderstore"
)

// viewerRow is one grant of somebody in a brand, or the one row when there is none, with the stamp of the brand's folders.
type viewerRow struct {
	ID      int64          `db:"id"`
	Code    string         `db:"code"`
	Brand   string         `db:"brand"`
	Person  int64          `db:"person"`
	Name    string         `db:"name"`
	Email   string         `db:"email"`
	Role    string         `db:"role"`
	Folder  sql.NullInt64  `db:"folder_id"`
	Album   sql.NullInt64  `db:"album_id"`
	Level   sql.NullString `db:"level"`
	Folders string         `db:"folders"`
}

const (
	viewerColumns = `b.id, b.code, b.name as brand, p.id as person, p.name, p.email, m.role, g.folder_id, g.album_id, g.level, ` +
		folderstore.FoldersStamp + ` as folders`
	viewerTables = ` membership m join brand b on b.id = m.brand_id join person p on p.id = m.person_id
		left join access_grant g on g.brand_id = b.id and (g.person_id = m.person_id or g.role = m.role) `
)

// viewerOf is how somebody sees a brand by their rows, without its folders.
func viewerOf(rows []viewerRow) (*access.Viewer, error) {
	if len(rows) == 0 {
		return nil, fault.NotFoundf("There is no such brand among yours.")
	}
	row := rows[0]
	v := &access.Viewer{
		Actor:     access.Actor{Person: row.Person, Brand: row.ID, Role: access.Role(row.Role)},
		BrandCode: row.Code, BrandName: row.Brand, Name: row.Name, Email: row.Email,
	}
	for _, g := range rows {
		if g.Level.Valid {
			v.Grants = append(v.Grants, access.Grant{Folder: g.Folder.Int64, Album: g.Album.Int64, Level: access.Level(g.Level.String)})
		}
	}
	return v, nil
}

// LoadViewer reads all that decides what a person may do in a brand. Somebody who does not belong to the brand, and a
// brand that does not exist, give the same NotFound.
func LoadViewer(ctx context.Context, r store.Reader, person int64, brandCode string) (*access.Viewer, error) {
	rows, err := store.List[viewerRow](ctx, r, `select `+viewerColumns+` from`+viewerTables+`where m.person_id = $1 and b.code = $2`,
		person, brandCode)
	if err != nil {
		return nil, err
	}
	v, err := viewerOf(rows)
	if err != nil {
		return nil, err
	}
	if db, ok := r.(*store.DB); ok {
		now, err := folderstore.FoldersAs(ctx, db, v.Brand, rows[0].Folders)
		v.Tree = now.Tree
		return v, err
	}
	v.Tree, err = folderstore.FolderTree(ctx, r, v.Brand)
	return v, err
}

// DriveViewer is whose password opens the drive of a brand, how they see it now, and its folders, which may not be changed; what the brand
// takes; and whether anything on its drive is locked. It is one question, since each small file that is read or copied asks it.
type DriveViewer struct {
	*access.Viewer
	Password int64
	Used     sql.NullTime
	Folders  []folderstore.Folder
	Limits   arrival.Limits
	Locked   bool
}

// DriveViewerOf finds whose password has a sum; the address that goes with it is theirs.
func DriveViewerOf(ctx context.Context, db *store.DB, email string, sum []byte) (DriveViewer, error) {
	found, err := store.List[struct {
		viewerRow
		limitsRow
		Password int64        `db:"password"`
		LastUsed sql.NullTime `db:"used_at"`
		Locked   bool         `db:"locked"`
	}](ctx, db, `select `+viewerColumns+`, `+limitsColumns+`, d.id as password, d.used_at,
			exists(select from drive_lock k where k.brand_id = b.id and k.expires_at >= now()) as locked
		from drive_password d join (`+viewerTables+`)
		on m.brand_id = d.brand_id and m.person_id = d.person_id
		where d.sum = $1 and d.ended_at is null and coalesce(d.ends_at, 'infinity') > now() and lower(p.email) = lower($2)`, sum, email)
	if err != nil {
		return DriveViewer{}, err
	}
	rows := make([]viewerRow, len(found))
	for i, f := range found {
		rows[i] = f.viewerRow
	}
	v, err := viewerOf(rows)
	if err != nil {
		return DriveViewer{}, err
	}
	now, err := folderstore.FoldersAs(ctx, db, v.Brand, rows[0].Folders)
	v.Tree = now.Tree
	return DriveViewer{Viewer: v, Password: found[0].Password, Used: found[0].LastUsed, Folders: now.Rows, Limits: found[0].limits(),
		Locked: found[0].Locked}, err
}

// ViewerIn is LoadViewer for a brand by its id, for work that goes on when nobody asks.
func ViewerIn(ctx context.Context, r store.Reader, person, brand int64) (*access.Viewer, error) {
	code, err := BrandCode(ctx, r, brand)
	if err != nil {
		return nil, err
	}
	return LoadViewer(ctx, r, person, code)
}
