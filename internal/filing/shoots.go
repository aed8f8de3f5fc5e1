package filing

import (
	"context"
	"fmt"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// Most items that are filed by date at once.
const mostByDate = 20_000

// Shoots is how a selection would be filed by date: each shoot into a folder of its day within one of its year. Undated
// items stay where they are.
type Shoots struct {
	Shoots  []calendar.Shoot
	Undated []int64
}

// ByDate proposes how to file a selection by date. A shoot ends where more than gap passes without a picture.
func (s *Service) ByDate(ctx context.Context, v *access.Viewer, sel query.Selection, gap time.Duration) (Shoots, error) {
	return s.byDate(ctx, s.DB, v, sel, gap)
}

func (s *Service) byDate(ctx context.Context, r store.Reader, v *access.Viewer, sel query.Selection, gap time.Duration) (Shoots, error) {
	ids, err := store.Select(ctx, r, v, access.File, sel)
	if err != nil {
		return Shoots{}, err
	}
	if len(ids) > mostByDate {
		return Shoots{}, tooMany(len(ids), mostByDate)
	}
	shots, err := store.Shots(ctx, r, ids)
	if err != nil {
		return Shoots{}, err
	}
	var out Shoots
	out.Shoots, out.Undated = calendar.Shoots(shots, gap)
	return out, nil
}

// NamedShoot is a shoot of a proposal as a person wants it: First and Items tell which one, Name is how its folder is to be
// called ("" leaves its items where they are).
type NamedShoot struct {
	First time.Time
	Items int
	Name  string
}

// FileByDate files a selection by date into folders in parent (0 is the top), which are made where they are not there, as
// one step that can be undone. It refuses when the shoots are not the proposed ones any more.
func (s *Service) FileByDate(ctx context.Context, v *access.Viewer, sel query.Selection, gap time.Duration, parent int64, named []NamedShoot) (store.Done, error) {
	if err := s.mayFile(v, parent); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "file_by_date", func(tx *store.Tx) (store.Done, error) {
		now, err := s.byDate(ctx, tx, v, sel, gap)
		if err != nil {
			return store.Done{}, err
		}
		if len(now.Shoots) != len(named) {
			return store.Done{}, &fault.Conflict{Text: "Items came or went meanwhile, so the shoots are others now. Look at them again."}
		}
		moved, folders := 0, 0
		for i, shoot := range now.Shoots {
			if !shoot.First.Equal(named[i].First) || len(shoot.IDs) != named[i].Items {
				return store.Done{}, &fault.Conflict{Text: "Items came or went meanwhile, so the shoots are others now. Look at them again."}
			}
			if named[i].Name == "" {
				continue
			}
			parts := outputs.CleanPath(named[i].Name)
			if len(parts) == 0 {
				return store.Done{}, fault.Invalidf("name", "%q cannot be the name of a folder.", named[i].Name)
			}
			year, _ := shoot.Folder()
			into, first := parent, true
			for _, part := range append([]string{year}, parts...) {
				var made bool
				if into, made, err = tx.EnsureFolder(ctx, v.Brand, into, part); err != nil {
					return store.Done{}, err
				}
				if made && !first {
					folders++
				}
				first = false
			}
			n, err := tx.MoveAssets(ctx, shoot.IDs, into)
			if err != nil {
				return store.Done{}, err
			}
			moved += n
		}
		return store.Done{Said: fmt.Sprintf("Filed %s by date into %s", query.Items(moved), plural(len(namedOnly(named)), "folder")), Changed: moved + folders}, nil
	})
}

func namedOnly(all []NamedShoot) (out []NamedShoot) {
	for _, s := range all {
		if s.Name != "" {
			out = append(out, s)
		}
	}
	return out
}
