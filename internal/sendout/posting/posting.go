// Package posting sends posts to pages: outlets and what their pages take, plans and drafts, sending, looking at what became of a post,
// moving it and taking it back, and what feeds pages by itself. Its files in the order of a post's life: outlets, pages, dispatches,
// drafts, fromdrive, planned, going, sendpost, seeing, moving, placements, pagefeeds.
package posting

import (
	"brightsatchel/internal/blob"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
)

// Service sends posts.
type Service struct {
	DB         *store.DB
	Blobs      *blob.Store
	Queue      *queue.Queue
	Renditions *renditions.Service
	Outlets    *outlets.Connections
	Origin     string // how people reach the server
}
