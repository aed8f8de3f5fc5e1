package findstore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// Saying reads what some items say where words are looked for, by item, in the order in which a reason is given: what the item says
// itself first. Items, folders and albums that the viewer may not look at say nothing.
func Saying(ctx context.Context, r store.Reader, v *access.Viewer, ids []int64) (map[int64][]query.Said, error) {
	c := store.Clause{From: "from asset a"}
	c.And("a.id = any(%s)", ids)
	c.And("a.brand_id = %s", v.Brand)
	c.Within(v.May(access.Look))
	rows, err := store.List[struct {
		ID     int64               `db:"id"`
		Folder int64               `db:"folder"`
		Own    store.Array[string] `db:"own"`
		Tags   store.Array[string] `db:"tags"`
		Albums store.Array[int64]  `db:"albums"`
	}](ctx, r, `select a.id, coalesce(a.folder_id, 0) as folder, array[a.title, a.file_name, a.alt, a.description, a.place, a.credit,
			a.camera, a.came_as] as own,
		array(select t.name from asset_tag x join tag t on x.tag_id in (t.id, t.merged_into) where x.asset_id = a.id
			and t.removed_at is null) as tags,
		array(select album_id from album_item x where x.asset_id = a.id) as albums `+c.SQL(), c.Args...)
	if err != nil {
		return nil, err
	}
	own := []string{"title", "fileName", "alt", "description", "place", "credit", "camera", "fileName"}
	folders, err := store.Names(ctx, r, `select id, name || ' ' || description as name from folder where brand_id = $1`, v.Brand)
	if err != nil {
		return nil, err
	}
	albums, err := store.Names(ctx, r, `select id, name from album where brand_id = $1`, v.Brand)
	if err != nil {
		return nil, err
	}
	reach := v.May(access.Look)
	out := make(map[int64][]query.Said, len(rows))
	for _, row := range rows {
		says := func(field, text string) { out[row.ID] = append(out[row.ID], query.Said{Field: field, Text: text}) }
		for i, field := range own {
			says(field, row.Own[i])
		}
		for _, tag := range row.Tags {
			says("tag", tag)
		}
		for folder, steps := row.Folder, 0; folder != 0 && steps < 100; folder, steps = v.Tree[folder], steps+1 {
			if reach.Folder(folder) {
				says("folder", folders[folder])
			}
		}
		for _, album := range row.Albums {
			if reach.All || reach.Albums[album] {
				says("album", albums[album])
			}
		}
	}
	return out, nil
}
