package index

import (
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store/findstore"
)

// Sees says whether a viewer may look at an item, by what the index knows at this moment and without asking the database:
// it follows within a moment. Known is false while it knows nothing of the item.
func (x *Index) Sees(v *access.Viewer, reach access.Reach, id int64) (sees, known bool) {
	s := x.ready(v.Brand)
	if s == nil {
		return false, false
	}
	s.mu.RLock()
	defer s.mu.RUnlock()
	slot, known := s.slots[id]
	if !known || reach.All || reach.Folders[s.home[slot]] {
		return known, known
	}
	for album := range reach.Albums {
		if set := s.relations[findstore.InAlbum].sets[album]; set != nil && set.Contains(slot) {
			return true, true
		}
	}
	return false, true
}

// Lag is how long ago the least current brand was brought up to date; brands look for changes every few seconds at least.
func (x *Index) Lag() time.Duration {
	x.mu.Lock()
	defer x.mu.Unlock()
	most := time.Duration(0)
	for _, s := range x.shelves {
		if at := s.current.Load(); at != 0 {
			most = max(most, time.Since(time.Unix(0, at)))
		}
	}
	return most
}
