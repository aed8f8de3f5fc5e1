package store

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
)

// LoadViewer reads all that decides what a person may do in a brand. Somebody who does not belong to the brand, and a
// brand that does not exist, give the same NotFound.
func LoadViewer(ctx context.Context, r Reader, person int64, brandCode string) (*access.Viewer, error) {
	rows, err := list[struct { // one for each grant, and one when there is none
		ID     int64          `db:"id"`
		Code   string         `db:"code"`
		Brand  string         `db:"brand"`
		Name   string         `db:"name"`
		Email  string         `db:"email"`
		Role   string         `db:"role"`
		Folder sql.NullInt64  `db:"folder_id"`
		Album  sql.NullInt64  `db:"album_id"`
		Level  sql.NullString `db:"level"`
	}](ctx, r, `select b.id, b.code, b.name as brand, p.name, p.email, m.role, g.folder_id, g.album_id, g.level
		from membership m join brand b on b.id = m.brand_id join person p on p.id = m.person_id
		left join access_grant g on g.brand_id = b.id and (g.person_id = m.person_id or g.role = m.role)
		where m.person_id = $1 and b.code = $2`, person, brandCode)
	if err != nil {
		return nil, err
	}
	if len(rows) == 0 {
		return nil, fault.NotFoundf("There is no such brand among yours.")
	}
	row := rows[0]
	v := &access.Viewer{
		Actor:     access.Actor{Person: person, Brand: row.ID, Role: access.Role(row.Role)},
		BrandCode: row.Code, BrandName: row.Brand, Name: row.Name, Email: row.Email,
	}
	for _, g := range rows {
		if g.Level.Valid {
			v.Grants = append(v.Grants, access.Grant{Folder: g.Folder.Int64, Album: g.Album.Int64, Level: access.Level(g.Level.String)})
		}
	}
	if db, ok := r.(*DB); ok {
		now, err := db.foldersNow(ctx, row.ID)
		v.Tree = now.tree
		return v, err
	}
	v.Tree, err = FolderTree(ctx, r, row.ID)
	return v, err
}

// ViewerIn is LoadViewer for a brand by its id, for work that goes on when nobody asks.
func ViewerIn(ctx context.Context, r Reader, person, brand int64) (*access.Viewer, error) {
	code, err := BrandCode(ctx, r, brand)
	if err != nil {
		return nil, err
	}
	return LoadViewer(ctx, r, person, code)
}
