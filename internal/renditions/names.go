package renditions

import (
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/store/assetstore"
)

// Names gives the files of items their names by the pattern of a size, all different.
func Names(assets []assetstore.Asset, size outputs.Size) []string {
	items := make([]outputs.Item, len(assets))
	for i, a := range assets {
		items[i] = outputs.Item{Source: Source(a), Title: a.Title, FileName: a.FileName}
		if a.Taken.Valid {
			items[i].Taken = &a.Taken.Time
		}
	}
	out := make([]string, len(assets))
	for i, f := range outputs.Arrange(items, []outputs.Size{size}, outputs.Arranging{}) {
		out[i] = f.Name
	}
	return out
}
