package index

import (
	"context"
	"maps"
	"slices"
	"sync"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/tagstore"
)

// lists are the albums and tags of a brand, in order and without counts, kept until something of them changes. What is not
// there is read when somebody asks.
type lists struct {
	mu      sync.Mutex
	albums  []albumstore.Album
	outdone map[int64]bool // albums whose covers are to be looked up again
	tags    []tagstore.Tag
	byID    map[int64]*tagstore.Tag
}

// Albums implements findstore.Finder.
func (x *Index) Albums(ctx context.Context, v *access.Viewer) ([]albumstore.Album, error) {
	s := x.current(ctx, v.Brand)
	if s == nil {
		return x.sql.Albums(ctx, v)
	}
	defer s.mu.RUnlock()
	all, err := s.allAlbums(ctx)
	if err != nil {
		return nil, err
	}
	items, err := s.uses(v, findstore.InAlbum)
	if err != nil {
		return nil, err
	}
	seen := albumstore.SeenAlbums(v, all, items)
	return seen, findstore.FillRuleAlbums(ctx, s.db, seen, func(q query.Query) ([]int64, error) {
		slots, err := s.answer(ctx, v, &q)
		return s.idsOf(slots), err
	})
}

// Tags implements findstore.Finder.
func (x *Index) Tags(ctx context.Context, v *access.Viewer) ([]tagstore.Tag, error) {
	s := x.current(ctx, v.Brand)
	if s == nil {
		return x.sql.Tags(ctx, v)
	}
	defer s.mu.RUnlock()
	all, _, err := s.allTags(ctx)
	if err != nil {
		return nil, err
	}
	uses, err := s.uses(v, findstore.HasTag)
	return tagstore.SeenTags(v, all, uses), err
}

// NameTags implements findstore.Finder.
func (x *Index) NameTags(ctx context.Context, brand int64, rows []assetstore.AssetRow) error {
	s := x.current(ctx, brand)
	if s == nil {
		return x.sql.NameTags(ctx, brand, rows)
	}
	defer s.mu.RUnlock()
	_, byID, err := s.allTags(ctx)
	findstore.WriteTagNames(rows, byID)
	return err
}

// Uses implements findstore.Finder.
func (x *Index) Uses(ctx context.Context, v *access.Viewer, of findstore.Relation) (map[int64]int, error) {
	s := x.current(ctx, v.Brand)
	if s == nil {
		return x.sql.Uses(ctx, v, of)
	}
	defer s.mu.RUnlock()
	uses, err := s.uses(v, of)
	return maps.Clone(uses), err
}

// uses is Uses for as long as the shelf is locked.
func (s *shelf) uses(v *access.Viewer, of findstore.Relation) (map[int64]int, error) {
	if v.May(access.Look).All {
		return s.relations[of].live, nil
	}
	return answered(s.counts, s.asked(v, "uses "+string(of), &query.Query{}), s.version, func() (map[int64]int, error) {
		return s.relations[of].among(roaring.AndNot(s.visible(v), s.binned)), nil
	})
}

// allAlbums is never older than the rest of the shelf, which is locked for reading: what is newer the feed brings once more.
func (s *shelf) allAlbums(ctx context.Context) ([]albumstore.Album, error) {
	l := &s.lists
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.albums == nil {
		albums, err := albumstore.AllAlbums(ctx, s.db, s.brand)
		if err != nil {
			return nil, err
		}
		l.albums, l.outdone = albums, map[int64]bool{}
	}
	if len(l.outdone) > 0 {
		covers, err := albumstore.AlbumCovers(ctx, s.db, slices.Collect(maps.Keys(l.outdone)))
		if err != nil {
			return nil, err
		}
		l.albums = slices.Clone(l.albums) // somebody may be reading the one before
		for i := range l.albums {
			if cover, there := covers[l.albums[i].ID]; there {
				l.albums[i].Cover = cover
			}
		}
		clear(l.outdone)
	}
	return l.albums, nil
}

func (s *shelf) allTags(ctx context.Context) ([]tagstore.Tag, map[int64]*tagstore.Tag, error) {
	l := &s.lists
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.tags == nil {
		tags, err := tagstore.AllTags(ctx, s.db, s.brand)
		if err != nil {
			return nil, nil, err
		}
		l.tags, l.byID = tags, make(map[int64]*tagstore.Tag, len(tags))
		for i := range tags {
			l.byID[tags[i].ID] = &tags[i]
		}
	}
	return l.tags, l.byID, nil
}

// forget drops the lists that changed. Whoever calls it holds the shelf for writing, as for what follows.
func (l *lists) forget(changes *findstore.Changes) {
	if changes.AlbumList() {
		l.albums = nil
	}
	if changes.TagList() {
		l.tags = nil
	}
}

// uncover notes albums whose cover may be another one now.
func (l *lists) uncover(albums []int64) {
	if l.albums == nil {
		return
	}
	for _, id := range albums {
		l.outdone[id] = true
	}
}

// uncoverBy notes the albums for which one of the items stands, or was chosen to stand.
func (l *lists) uncoverBy(items []int64) {
	if len(l.albums) == 0 {
		return
	}
	changed := make(map[int64]bool, len(items))
	for _, id := range items {
		changed[id] = true
	}
	for i := range l.albums {
		if a := &l.albums[i]; changed[a.CoverID.Int64] || changed[a.Chosen.Int64] {
			l.outdone[a.ID] = true
		}
	}
}
