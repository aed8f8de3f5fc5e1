// Package sendout hands items out: as a ZIP of renditions, and in client galleries; and it connects outlets.
package sendout

import (
	"brightsatchel/internal/blob"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/sealing"
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
	Mailer     *mail.Service
	Keys       sealing.Keys // seal the links of guests
	Origin     string       // how people reach the server
}
