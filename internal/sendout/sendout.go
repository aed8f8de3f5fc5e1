// Package sendout hands items out: as a ZIP of renditions, and in client galleries; and it connects outlets.
package sendout

import (
	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
)

// Service sends items out.
type Service struct {
	DB         *store.DB
	Blobs      *blob.Store
	Queue      *queue.Queue
	Renditions *renditions.Service
	Outlets    *outlets.Connections
	Passwords  *passwords.Guard
}

// names gives the files of items their names by a pattern, all different; with folders, inside of those.
func names(assets []store.Asset, size outputs.Size, plans []outputs.Plan, folders map[int64]string) []string {
	out := make([]string, len(assets))
	for i, a := range assets {
		v := outputs.Values{
			Title: a.Title, FileName: a.FileName, Number: i + 1, Total: len(assets),
			Size: size.Name, Width: plans[i].Size.Width, Height: plans[i].Size.Height,
		}
		if a.Taken.Valid {
			v.Taken = &a.Taken.Time
		}
		format := plans[i].Format
		if format == "" {
			format = size.Format
		}
		out[i] = outputs.Name(size.Pattern, v, format)
		if folder := folders[a.Folder.Int64]; folder != "" {
			out[i] = folder + "/" + out[i]
		}
	}
	return outputs.Unique(out)
}
