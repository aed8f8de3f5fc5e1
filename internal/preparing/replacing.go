package preparing

import (
	"bytes"
	"context"
	"fmt"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/replacing"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
)

// mostReplaced is how many items are replaced in one go.
const mostReplaced = 500

// Replacing is an item whose file is to be replaced, with everything that shows it and will change.
type Replacing struct {
	Of, With assetstore.AssetRow
	Differs  []string // sentences of core/replacing
	Same     bool     // the files are the same, and it is left out
	Prepared bool     // it has a recipe, of which is asked
	Mine     bool     // the viewer may replace it
	Showing  []assetstore.Showing
}

// PlanReplacing says what would change if items got the files of others. Nothing is changed.
func (s *Service) PlanReplacing(ctx context.Context, v *access.Viewer, pairs []assetstore.Replacement) ([]Replacing, error) {
	if err := checkPairs(pairs); err != nil {
		return nil, err
	}
	of, with := sides(pairs)
	if err := store.Reachable(ctx, s.DB, v, access.Look, distinct(append(slices.Clone(of), with...))); err != nil {
		return nil, err
	}
	return s.planned(ctx, v, pairs)
}

// PlanByName pairs a selection, of files that came back from somewhere, with the items that have the same file names. It also says how
// many of the selection have no namesake.
func (s *Service) PlanByName(ctx context.Context, v *access.Viewer, with query.Selection) ([]Replacing, int, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, with)
	if err != nil {
		return nil, 0, err
	}
	if len(ids) > mostReplaced {
		return nil, 0, tooManyReplaced(len(ids))
	}
	pairs, err := assetstore.SameNamed(ctx, s.DB, v, ids, mostReplaced+1)
	if err != nil {
		return nil, 0, err
	}
	if len(pairs) > mostReplaced {
		return nil, 0, tooManyReplaced(len(pairs))
	}
	_, used := sides(pairs)
	found, err := s.planned(ctx, v, pairs)
	return found, len(ids) - len(distinct(used)), err
}

func tooManyReplaced(n int) error {
	return fault.Invalidf("selection", "%s are more than can be replaced in one go; that is %d.", wording.Items(n), mostReplaced)
}

func (s *Service) planned(ctx context.Context, v *access.Viewer, pairs []assetstore.Replacement) ([]Replacing, error) {
	of, with := sides(pairs)
	all := distinct(append(slices.Clone(of), with...))
	rows, err := findstore.Rows(ctx, s.DB, v, all)
	if err != nil {
		return nil, err
	}
	files, sums, err := assetstore.FilesOf(ctx, s.DB, all)
	if err != nil {
		return nil, err
	}
	shown, err := assetstore.ShowingOf(ctx, s.DB, v, of)
	if err != nil {
		return nil, err
	}
	byID := map[int64]assetstore.AssetRow{}
	for _, r := range rows {
		byID[r.ID] = r
	}
	mine := v.May(access.Prepare)
	out := make([]Replacing, 0, len(pairs))
	for _, p := range pairs {
		was, is := files[p.Of], files[p.With]
		is.Same = bytes.Equal(sums[p.Of], sums[p.With])
		r := Replacing{Of: byID[p.Of], With: byID[p.With], Differs: replacing.Differences(was, is), Same: is.Same,
			Prepared: !byID[p.Of].Recipe.Neutral(), Mine: mine.Folder(byID[p.Of].Folder.Int64)}
		for _, sh := range shown {
			if sh.Asset == p.Of {
				r.Showing = append(r.Showing, sh)
			}
		}
		out = append(out, r)
	}
	return out, nil
}

// replace is the argument of the act: what takes the place of what.
type replace struct {
	With  map[int64]int64 `json:"with"`
	Stays replacing.Stays `json:"stays"`
	Afterwards
}

// Afterwards is what becomes of the items that the files come from: they go into the bin, and, where they were brought in for this alone,
// stay there when it is undone.
type Afterwards struct {
	Bin   bool `json:"bin"`
	Fresh bool `json:"fresh"`
}

func (s *Service) replaceAct() pieces.Act[replace] {
	return pieces.Act[replace]{
		Name: "replace", Needs: access.Prepare,
		Doing: func(n int, _ replace) string { return "Replacing " + wording.Items(n) },
		Done:  func(n, _ int, _ replace) string { return "Replaced " + wording.Items(n) },
		Apply: s.replace,
	}
}

func (s *Service) replace(ctx context.Context, tx *store.Tx, p pieces.Piece, a replace) (changed int, err error) {
	var used []int64
	for _, of := range p.IDs {
		used = append(used, a.With[of])
	}
	used = distinct(used)
	if err := store.Reachable(ctx, tx, p.Viewer, access.Prepare, used); err != nil {
		return 0, err
	}
	for _, of := range p.IDs {
		news, err := assetstore.Replace(ctx, tx, p.Viewer.Brand, assetstore.Replacement{Of: of, With: a.With[of]}, a.Stays)
		if err != nil {
			return changed, err
		}
		if !news {
			continue
		}
		changed++
		if err := s.Queue.Enqueue(ctx, tx, looking.Look{Brand: p.Viewer.Brand, Asset: of}); err != nil {
			return changed, err
		}
	}
	if a.Bin {
		if err := store.StillReachable(ctx, tx, p.Viewer, access.Remove, used); err != nil {
			return changed, err
		}
		if a.Fresh {
			return changed, assetstore.BinForGood(ctx, tx, used)
		}
		_, err = assetstore.BinAssets(ctx, tx, used, true)
	}
	return changed, err
}

// Replace gives items the files of other items, everywhere at once. Titles, tags, albums and all else that people said of them stays.
func (s *Service) Replace(ctx context.Context, v *access.Viewer, pairs []assetstore.Replacement, stays replacing.Stays,
	then Afterwards) (store.Done, error) {
	if err := checkPairs(pairs); err != nil {
		return store.Done{}, err
	}
	of, with := sides(pairs)
	a := replace{With: map[int64]int64{}, Stays: stays, Afterwards: then}
	for _, p := range pairs {
		a.With[p.Of] = p.With
	}
	if err := store.Reachable(ctx, s.DB, v, access.Prepare, distinct(append(slices.Clone(of), with...))); err != nil {
		return store.Done{}, err
	}
	return s.replaced.DoTo(ctx, v, of, pieces.Just(a))
}

// ShowVersion makes a version that an item had what everybody sees again.
func (s *Service) ShowVersion(ctx context.Context, v *access.Viewer, asset, version int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "show_version", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Prepare, []int64{asset}); err != nil {
			return store.Done{}, err
		}
		name, err := assetstore.ShowVersion(ctx, tx, v.Brand, asset, version)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: fmt.Sprintf("Brought “%s” back", name), Changed: 1, ID: asset},
			s.Queue.Enqueue(ctx, tx, looking.Look{Brand: v.Brand, Asset: asset})
	})
}

// checkPairs refuses what cannot be meant: nothing, too much, an item with itself, twice, or one that gives its file and gets another.
func checkPairs(pairs []assetstore.Replacement) error {
	switch {
	case len(pairs) == 0:
		return fault.Invalidf("pairs", "Say what is replaced, and with what.")
	case len(pairs) > mostReplaced:
		return tooManyReplaced(len(pairs))
	}
	of, with := sides(pairs)
	if len(distinct(of)) < len(of) {
		return fault.Invalidf("pairs", "One item cannot get two files.")
	}
	for _, id := range of {
		if slices.Contains(with, id) {
			return fault.Invalidf("pairs", "An item that gives its file to another cannot be replaced at the same time.")
		}
	}
	return nil
}

func sides(pairs []assetstore.Replacement) (of, with []int64) {
	for _, p := range pairs {
		of, with = append(of, p.Of), append(with, p.With)
	}
	return of, with
}

func distinct(ids []int64) []int64 {
	slices.Sort(ids)
	return slices.Compact(ids)
}
