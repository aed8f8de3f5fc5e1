// Package parkstore keeps what is parked on a shelf.
package parkstore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// ThingFolder is a folder of things of one kind: galleries, embeds, drafts, rehearsals or screens. Parked says that what is in it is out of
// sight.
type ThingFolder struct {
	ID     int64  `db:"id"`
	Kind   string `db:"kind"`
	Name   string `db:"name"`
	Parked bool   `db:"parked"`
}

// ThingPlace is where a thing is that is not lying open: in a folder of its kind, parked, or both.
type ThingPlace struct {
	Thing  int64         `db:"thing_id"`
	Folder sql.NullInt64 `db:"folder_id"`
	Parked bool          `db:"parked"`
}

// ThingFolders lists the folders for things of a kind, by name.
func ThingFolders(ctx context.Context, r store.Reader, brand int64, kind string) ([]ThingFolder, error) {
	return store.List[ThingFolder](ctx, r, `select id, kind, name, parked from thing_folder where brand_id = $1 and kind = $2
		order by name collate natural_name, id`, brand, kind)
}

// ThingPlaces lists where the things of a kind are, as far as they do not lie open.
func ThingPlaces(ctx context.Context, r store.Reader, brand int64, kind string) ([]ThingPlace, error) {
	return store.List[ThingPlace](ctx, r, `select thing_id, folder_id, parked from thing_place where brand_id = $1 and kind = $2
		and (folder_id is not null or parked)`, brand, kind)
}

// ThingFolderByID reads a folder for things of a kind.
func ThingFolderByID(ctx context.Context, r store.Reader, brand int64, kind string, id int64) (ThingFolder, error) {
	return store.Get[ThingFolder](ctx, r, "That folder is not there any more.",
		`select id, kind, name, parked from thing_folder where brand_id = $1
		and kind = $2 and id = $3`,
		brand,
		kind,
		id,
	)
}

// thingTables are the tables in which the things of a kind are.
var thingTables = map[string]string{"rehearsal": "rehearsal", "draft": "dispatch_draft", "gallery": "gallery", "embed": "embed",
	"screen": "screen"}

// ThingsThere says how many of some things of a kind a brand has.
func ThingsThere(ctx context.Context, r store.Reader, brand int64, kind string, ids []int64) (int, error) {
	table, known := thingTables[kind]
	if !known {
		return 0, fault.Invalidf("kind", "There are no things of that kind.")
	}
	return store.Get[int](ctx, r, "", `select count(*)::int from `+table+` where brand_id = $1 and id = any($2)`, brand, ids)
}

// sameThingFolder says whether a folder could not be written since another one of its kind has the name.
func sameThingFolder(err error) bool { return store.Violates(err, "thing_folder_name") }

// AddThingFolder makes a folder; ok is false when there is one of that name.
func AddThingFolder(ctx context.Context, tx *store.Tx, brand int64, f ThingFolder) (id int64, ok bool, err error) {
	ids, err := store.List[int64](ctx, tx, `insert into thing_folder (brand_id, kind, name) values ($1, $2, $3) on conflict do nothing
		returning id`,
		brand,
		f.Kind,
		f.Name,
	)
	if err != nil || len(ids) == 0 {
		return 0, false, err
	}
	return ids[0], true, nil
}

// ChangeThingFolder renames a folder, and parks it or brings it back; it says no to a name that another one has.
func ChangeThingFolder(ctx context.Context, tx *store.Tx, f ThingFolder) (ok bool, err error) {
	_, err = tx.ExecContext(ctx, `update thing_folder set name = $2, parked = $3 where id = $1`, f.ID, f.Name, f.Parked)
	if sameThingFolder(err) {
		return false, nil
	}
	return err == nil, err
}

// RemoveThingFolder removes a folder; what is in it lies open again.
func RemoveThingFolder(ctx context.Context, tx *store.Tx, id int64) error {
	_, err := tx.ExecContext(ctx, `delete from thing_folder where id = $1`, id)
	return err
}

// PlaceThings puts things into a folder (0 is none), where folder is not nil, and parks them or brings them back, where parked is not nil.
// It returns how many changed.
func PlaceThings(ctx context.Context, tx *store.Tx, brand int64, kind string, ids []int64, folder *int64, parked *bool) (int, error) {
	return tx.Change(ctx, `insert into thing_place as p (brand_id, kind, thing_id, folder_id, parked)
		select $1, $2, id, nullif($4::bigint, 0), coalesce($5, false) from unnest($3::bigint[]) id
		on conflict (brand_id, kind, thing_id) do update
		set folder_id = case when $4 is null then p.folder_id else nullif($4::bigint, 0) end, parked = coalesce($5, p.parked)
		where (p.folder_id, p.parked) is distinct from (case when $4 is null then p.folder_id else nullif($4::bigint, 0) end,
			coalesce($5, p.parked))`, brand, kind, ids, folder, parked)
}
