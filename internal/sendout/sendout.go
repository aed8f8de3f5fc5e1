// Package sendout hands items out: as a ZIP of renditions, and in client galleries; and it connects outlets.
package sendout

import (
	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/sealing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// Service sends items out.
type Service struct {
	DB         *store.DB
	Blobs      *blob.Store
	Queue      *queue.Queue
	Renditions *renditions.Service
	Outlets    *outlets.Connections
	Passwords  *passwords.Guard
	Mailer     *mail.Service
	Keys       sealing.Keys // seal the links of guests
	Origin     string       // how people reach the server
}

// names gives the files of items their names by the pattern of a size, all different.
func names(assets []assetstore.Asset, size outputs.Size) []string {
	items := make([]outputs.Item, len(assets))
	for i, a := range assets {
		items[i] = outputs.Item{Source: renditions.Source(a), Title: a.Title, FileName: a.FileName}
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
