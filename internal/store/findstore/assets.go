package findstore

import (
	"context"
	"database/sql"
	"maps"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// rowsAtOnce is how many rows are read at a time: of more, all of what is shown in galleries and on websites would be gone through.
const rowsAtOnce = 100

// Rows reads what tiles show, for those of the ids that the viewer may look at, each once, in the order of the ids.
func Rows(ctx context.Context, db *store.DB, v *access.Viewer, ids []int64) ([]assetstore.AssetRow, error) {
	place := make(map[int64]int, len(ids))
	for i, id := range ids {
		place[id] = i
	}
	var rows []assetstore.AssetRow
	for some := range slices.Chunk(slices.Sorted(maps.Keys(place)), rowsAtOnce) {
		c := store.Clause{From: "from asset a join version v on v.id = a.version_id", Args: []any{v.Person}}
		c.And("a.id = any(%s)", some)
		c.And("a.brand_id = %s", v.Brand)
		c.Within(v.May(access.Look))
		read, err := store.List[assetstore.AssetRow](ctx, db, "select "+assetstore.RowColumns+" "+c.SQL(), c.Args...)
		if err != nil {
			return nil, err
		}
		rows = append(rows, read...)
	}
	if err := hideUnseen(ctx, db, v, rows); err != nil {
		return nil, err
	}
	if err := Find(db).NameTags(ctx, v.Brand, rows); err != nil {
		return nil, err
	}
	slices.SortFunc(rows, func(a, b assetstore.AssetRow) int { return place[a.ID] - place[b.ID] })
	return rows, nil
}

// hideUnseen takes out of rows what the viewer may not know: folders that they may not look into, and how many items of a
// stack they do not see.
func hideUnseen(ctx context.Context, r store.Reader, v *access.Viewer, rows []assetstore.AssetRow) error {
	reach := v.May(access.Look)
	if reach.All {
		return nil
	}
	var stacked []int64
	for i := range rows {
		if !reach.Folder(rows[i].Folder.Int64) {
			rows[i].Folder = sql.NullInt64{}
		}
		if rows[i].Stacked > 0 {
			stacked = append(stacked, rows[i].ID)
		}
	}
	if len(stacked) == 0 {
		return nil
	}
	c := store.Clause{From: "from asset one join asset a on a.stack_id = one.stack_id and a.binned_at is null"}
	c.And("one.id = any(%s)", stacked)
	c.Within(reach)
	seen, err := store.List[struct {
		ID    int64 `db:"id"`
		Items int   `db:"items"`
	}](ctx, r, "select one.id, count(*) as items "+c.SQL()+" group by one.id", c.Args...)
	for _, s := range seen {
		for i := range rows {
			if rows[i].ID == s.ID {
				rows[i].Stacked = s.Items
			}
		}
	}
	return err
}
