package drivestore

import (
	"context"
	"fmt"

	"brightsatchel/internal/store"
)

// DriveProperty is a property that a program gave something on the drive, which means nothing here (a dead property, RFC 4918).
type DriveProperty struct {
	Node  string `db:"node"`
	Space string `db:"space"`
	Name  string `db:"name"`
	Lang  string `db:"lang"`
	Value []byte `db:"value"`
}

// DriveNode names something that properties are given to: a kind and an id.
func DriveNode(kind string, id int64) string { return fmt.Sprintf("%s %d", kind, id) }

// DriveProperties lists the properties of some things.
func DriveProperties(ctx context.Context, r store.Reader, brand int64, nodes []string) ([]DriveProperty, error) {
	return store.List[DriveProperty](ctx, r,
		`select node, space, name, lang, value from drive_property where brand_id = $1 and node = any($2)`,
		brand,
		nodes,
	)
}

// SetDriveProperty gives something a property.
func SetDriveProperty(ctx context.Context, tx *store.Tx, brand int64, p DriveProperty) error {
	_, err := tx.ExecContext(ctx, `insert into drive_property (brand_id, node, space, name, lang, value) values ($1, $2, $3, $4, $5, $6)
		on conflict (brand_id, node, space, name) do update set lang = $5, value = $6`, brand, p.Node, p.Space, p.Name, p.Lang, p.Value)
	return err
}

// DropDriveProperty takes a property away.
func DropDriveProperty(ctx context.Context, tx *store.Tx, brand int64, node, space, name string) error {
	_, err := tx.ExecContext(ctx, `delete from drive_property where brand_id = $1 and node = $2 and space = $3 and name = $4`, brand, node,
		space, name)
	return err
}

// CopyDriveProperties gives something the properties of another one too.
func CopyDriveProperties(ctx context.Context, tx *store.Tx, brand int64, from, to string) error {
	_, err := tx.ExecContext(ctx, `insert into drive_property (brand_id, node, space, name, lang, value)
		select brand_id, $3, space, name, lang, value from drive_property where brand_id = $1 and node = $2 on conflict do nothing`,
		brand, from, to)
	return err
}

func moveDriveProperties(ctx context.Context, tx *store.Tx, brand int64, from, to string) error {
	if err := CopyDriveProperties(ctx, tx, brand, from, to); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `delete from drive_property where brand_id = $1 and node = $2`, brand, from)
	return err
}
