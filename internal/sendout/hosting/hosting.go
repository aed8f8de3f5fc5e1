// Package hosting shows galleries to guests: what is in them chapter by chapter, who is invited, what guests mark, write and add, the
// letters about it, and what of the brand anybody outside can reach.
package hosting

import (
	"brightsatchel/internal/blob"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/sealing"
	"brightsatchel/internal/store"
)

// Service shows galleries.
type Service struct {
	DB         *store.DB
	Blobs      *blob.Store
	Queue      *queue.Queue
	Renditions *renditions.Service
	Passwords  *passwords.Guard
	Mailer     *mail.Service
	Keys       sealing.Keys // seal the links of guests
	Origin     string       // how people reach the server
}
