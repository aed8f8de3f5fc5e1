package index

import (
	"context"
	"math"
	"slices"
	"time"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/findstore"
)

// counted answers a question about numbers from the shelf of a brand, or from SQL while that is not loaded.
func counted[T any](ctx context.Context, x *Index, v *access.Viewer, what string, q query.Query, fromSQL func() (T, error),
	count func(s *shelf) (T, error)) (T, error) {
	var none T
	if err := q.Check(); err != nil {
		return none, err
	}
	s := x.current(ctx, v.Brand)
	if s == nil {
		return fromSQL()
	}
	defer s.mu.RUnlock()
	return answered(s.counts, s.asked(v, what, &q), s.version, func() (T, error) { return count(s) })
}

// Counts implements findstore.Finder.
func (x *Index) Counts(ctx context.Context, v *access.Viewer) (findstore.Counts, error) {
	fromSQL := func() (findstore.Counts, error) { return x.sql.Counts(ctx, v) }
	return counted(ctx, x, v, "counts", query.Query{Place: "everything"}, fromSQL, func(s *shelf) (findstore.Counts, error) {
		var c findstore.Counts
		for place, n := range map[string]*int{"everything": &c.Everything, "unfiled": &c.Unfiled, "undescribed": &c.Undescribed,
			"unchosen": &c.Unchosen, "bin": &c.Bin} {
			items, err := s.matching(ctx, v, &query.Query{Place: place})
			if err != nil {
				return c, err
			}
			*n = int(items.GetCardinality())
		}
		kept := roaring.AndNot(s.visible(v), s.binned)
		c.Lookable = int(kept.GetCardinality()) - s.kinds.among(kept)["file"]
		return c, nil
	})
}

// FolderCounts implements findstore.Finder.
func (x *Index) FolderCounts(ctx context.Context, v *access.Viewer) (map[int64]findstore.FolderCount, error) {
	everything := query.Query{Place: "everything"}
	fromSQL := func() (map[int64]findstore.FolderCount, error) { return x.sql.FolderCounts(ctx, v) }
	return counted(ctx, x, v, "folders", everything, fromSQL, func(s *shelf) (map[int64]findstore.FolderCount, error) {
		shown, err := s.matching(ctx, v, &everything)
		if err != nil {
			return nil, err
		}
		kept := roaring.AndNot(s.visible(v), s.binned)
		aside := roaring.And(kept, roaring.FastOr(s.starred.Of(-1)...))
		all, some, gone := s.inFolders(kept), s.inFolders(shown), s.inFolders(aside)
		out := make(map[int64]findstore.FolderCount, len(s.folder.sets))
		for id := range s.folder.sets {
			if all[id] > 0 {
				out[id] = findstore.FolderCount{Shown: int(some[id]), All: int(all[id]), Aside: int(gone[id])}
			}
		}
		return out, nil
	})
}

// inFolders says how many of some items lie in each folder, by its id.
func (s *shelf) inFolders(items *roaring.Bitmap) []int32 {
	last := int64(0)
	for id := range s.folder.sets {
		last = max(last, id)
	}
	out := make([]int32, last+1)
	each(items, func(slot uint32) { out[s.home[slot]]++ })
	return out
}

// each calls f for every item of a set.
func each(items *roaring.Bitmap, f func(slot uint32)) {
	var some [1024]uint32
	for it := items.ManyIterator(); ; {
		n := it.NextMany(some[:])
		if n == 0 {
			return
		}
		for _, slot := range some[:n] {
			f(slot)
		}
	}
}

// Facets implements findstore.Finder.
func (x *Index) Facets(ctx context.Context, v *access.Viewer, q query.Query) (findstore.Facets, error) {
	fromSQL := func() (findstore.Facets, error) { return x.sql.Facets(ctx, v, q) }
	return counted(ctx, x, v, "facets", q, fromSQL, func(s *shelf) (findstore.Facets, error) {
		items, err := s.matching(ctx, v, &q)
		if err != nil {
			return findstore.Facets{}, err
		}
		f := findstore.Facets{Total: int(items.GetCardinality()), Tags: s.relations[findstore.HasTag].among(items), Stages: s.stage.among(items),
			Kinds: s.kinds.among(items), Cameras: s.cameras.among(items), Places: s.places.among(items),
			Sources: s.from.among(items), By: s.ownIDs["by"].among(items), Formats: s.ownNames["format"].among(items), Years: s.years.among(items),
			Stars: map[int]int{}, Lacks: map[string]int{}, States: map[string]int{}}
		for bit, state := range query.States {
			if n := int(items.AndCardinality(s.states[bit])); n > 0 {
				f.States[state] = n
			}
		}
		for _, need := range describing.Needs {
			if n := int(items.AndCardinality(s.Lacking(need))); n > 0 {
				f.Lacks[need] = n
			}
		}
		for value, n := range s.starred.among(items) {
			f.Stars[int(value)] = n
		}
		return f, nil
	})
}

// Days implements findstore.Finder.
func (x *Index) Days(ctx context.Context, v *access.Viewer, q query.Query) ([]findstore.Day, error) {
	fromSQL := func() ([]findstore.Day, error) { return x.sql.Days(ctx, v, q) }
	return counted(ctx, x, v, "days", q, fromSQL, func(s *shelf) ([]findstore.Day, error) {
		items, err := s.matching(ctx, v, &q)
		if err != nil {
			return nil, err
		}
		return s.days(items), nil
	})
}

func (s *shelf) days(items *roaring.Bitmap) []findstore.Day {
	const day = 24 * 60 * 60
	first, last, undated := int64(math.MaxInt64), int64(math.MinInt64), 0
	each(items, func(slot uint32) {
		if at := s.taken[slot]; at == findstore.Undated {
			undated++
		} else {
			first, last = min(first, at), max(last, at)
		}
	})
	out := []findstore.Day{}
	if first <= last {
		from := floor(first, day)
		counts := make([]int32, floor(last, day)-from+1)
		each(items, func(slot uint32) {
			if at := s.taken[slot]; at != findstore.Undated {
				counts[floor(at, day)-from]++
			}
		})
		for i, n := range slices.Backward(counts) {
			if n > 0 {
				out = append(out, findstore.Day{Date: time.Unix((from+int64(i))*day, 0).UTC().Format(time.DateOnly), Items: int(n)})
			}
		}
	}
	if undated > 0 {
		out = append(out, findstore.Day{Items: undated})
	}
	return out
}

// floor divides, downwards also below 0.
func floor(n, by int64) int64 {
	if n < 0 {
		return (n - by + 1) / by
	}
	return n / by
}
