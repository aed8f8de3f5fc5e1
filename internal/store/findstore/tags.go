package findstore

import (
	"context"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/tagstore"
)

// Tags implements Finder.
func (f SQL) Tags(ctx context.Context, v *access.Viewer) ([]tagstore.Tag, error) {
	all, err := tagstore.AllTags(ctx, f.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	uses, err := f.Uses(ctx, v, HasTag)
	return tagstore.SeenTags(v, all, uses), err
}

// NameTags implements Finder.
func (f SQL) NameTags(ctx context.Context, brand int64, rows []assetstore.AssetRow) error {
	var ids []int64
	for i := range rows {
		ids = append(ids, rows[i].TagIDs...)
	}
	if len(ids) == 0 {
		return nil
	}
	tags, err := store.List[tagstore.Tag](
		ctx,
		f.DB,
		`select id, name, row_number() over (order by name collate natural_name, id) as place from tag
		where brand_id = $1 and id = any($2)`,
		brand,
		ids,
	)
	byID := make(map[int64]*tagstore.Tag, len(tags))
	for i := range tags {
		byID[tags[i].ID] = &tags[i]
	}
	WriteTagNames(rows, byID)
	return err
}

// WriteTagNames writes the names of tags into rows, in their order.
func WriteTagNames(rows []assetstore.AssetRow, byID map[int64]*tagstore.Tag) {
	for i := range rows {
		row := &rows[i]
		tags := make([]*tagstore.Tag, 0, len(row.TagIDs))
		for _, id := range row.TagIDs {
			if t := byID[id]; t != nil {
				tags = append(tags, t)
			}
		}
		slices.SortFunc(tags, func(a, b *tagstore.Tag) int { return a.Place - b.Place })
		row.Tags = make([]string, len(tags))
		for j, t := range tags {
			row.Tags[j] = t.Name
		}
	}
}
