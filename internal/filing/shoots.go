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
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
)

// Shoots is how a selection would be filed by date: each shoot into a folder of its day within one of its year. Undated
// items stay where they are.
type Shoots struct {
	Shoots  []calendar.Shoot
	Undated []int64
}

// ByDate proposes how to file a selection by date. A shoot ends where more than gap passes without a picture.
func (s *Service) ByDate(ctx context.Context, v *access.Viewer, sel query.Selection, gap time.Duration) (Shoots, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.File, sel)
	if err != nil {
		return Shoots{}, err
	}
	return shootsOf(ctx, s.DB, ids, gap)
}

func shootsOf(ctx context.Context, r store.Reader, ids []int64, gap time.Duration) (Shoots, error) {
	shots, err := assetstore.Shots(ctx, r, ids)
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

// byDate says how many of the items, in their order, go to which folder.
type byDate struct {
	Into []intoFolder `json:"into"`
}

type intoFolder struct {
	Folder int64 `json:"folder"`
	Items  int   `json:"items"`
}

var byDateAct = pieces.Act[byDate]{
	Name: "file_by_date", Needs: access.File,
	Doing: func(n int, b byDate) string {
		return fmt.Sprintf("Filing %s by date into %s", wording.Items(n), wording.Count(len(b.Into), "folder", "folders"))
	},
	Done: func(n, _ int, b byDate) string {
		return fmt.Sprintf("Filed %s by date into %s", wording.Items(n), wording.Count(len(b.Into), "folder", "folders"))
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, b byDate) (int, error) {
		moved, at := 0, 0 // at is where the items of a folder begin
		for _, into := range b.Into {
			from, to := max(0, at-p.Before), min(len(p.IDs), at+into.Items-p.Before)
			at += into.Items
			if from >= to {
				continue
			}
			n, err := assetstore.MoveAssets(ctx, tx, p.IDs[from:to], into.Folder)
			if err != nil {
				return 0, err
			}
			moved += n
		}
		return moved, nil
	},
	Blocked: folderGone,
}

// FileByDate files a selection by date into folders in parent (0 is the top), which are made where they are not there, as
// one step that can be undone. It refuses when the shoots are not the proposed ones any more.
func (s *Service) FileByDate(ctx context.Context, v *access.Viewer, sel query.Selection, gap time.Duration, parent int64,
	named []NamedShoot) (store.Done, error) {
	if err := mayFile(v, parent); err != nil {
		return store.Done{}, err
	}
	ids, err := findstore.Select(ctx, s.DB, v, access.File, sel)
	if err != nil {
		return store.Done{}, err
	}
	now, err := shootsOf(ctx, s.DB, ids, gap)
	if err != nil {
		return store.Done{}, err
	}
	if err := asProposed(now, named); err != nil {
		return store.Done{}, err
	}
	var dated []int64
	for i, shoot := range now.Shoots {
		if named[i].Name != "" {
			dated = append(dated, shoot.IDs...)
		}
	}
	return s.acts.byDate.DoTo(ctx, v, dated, func(tx *store.Tx) (b byDate, err error) {
		for i, shoot := range now.Shoots {
			if named[i].Name == "" {
				continue
			}
			into, err := folderOfShoot(ctx, tx, v, parent, shoot, named[i].Name)
			if err != nil {
				return b, err
			}
			b.Into = append(b.Into, intoFolder{Folder: into, Items: len(shoot.IDs)})
		}
		return b, nil
	})
}

// asProposed refuses where the shoots are not those that a person named.
func asProposed(now Shoots, named []NamedShoot) error {
	same := len(now.Shoots) == len(named)
	for i := 0; same && i < len(named); i++ {
		same = now.Shoots[i].First.Equal(named[i].First) && len(now.Shoots[i].IDs) == named[i].Items
	}
	if !same {
		return &fault.Conflict{Text: "Items came or went meanwhile, so the shoots are others now. Look at them again."}
	}
	return nil
}

// folderOfShoot is the folder of a shoot within one of its year, made where it is not there.
func folderOfShoot(ctx context.Context, tx *store.Tx, v *access.Viewer, parent int64, shoot calendar.Shoot, name string) (int64, error) {
	parts := outputs.CleanPath(name)
	if len(parts) == 0 {
		return 0, fault.Invalidf("name", "%q cannot be the name of a folder.", name)
	}
	year, _ := shoot.Folder()
	into := parent
	for _, part := range append([]string{year}, parts...) {
		var err error
		if into, _, err = folderstore.EnsureFolder(ctx, tx, v.Brand, into, part); err != nil {
			return 0, err
		}
	}
	return into, nil
}
