package takealong

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
)

// mostOwnSizes is how many output sizes a brand has at most.
const mostOwnSizes = 100

// AddSize makes an output size.
func (s *Service) AddSize(ctx context.Context, v *access.Viewer, size outputs.Size) (store.Done, error) {
	size.Name = strings.TrimSpace(size.Name)
	return s.DB.Act(ctx, v, "output_size", func(tx *store.Tx) (store.Done, error) {
		all, err := downloadstore.OutputSizes(ctx, tx, v.Brand)
		if err != nil {
			return store.Done{}, err
		}
		if len(all) >= mostOwnSizes {
			return store.Done{}, fault.Invalidf("name", "There are %d output sizes already. Retire one that is not used.", len(all))
		}
		id, err := downloadstore.AddOutputSize(ctx, tx, v.Brand, size)
		return store.Done{Said: fmt.Sprintf("Made the output size “%s”", size.Name), Changed: 1, ID: id}, err
	})
}

// ChangeSize writes everything about an output size. What was made by it before is made anew when it is asked for.
func (s *Service) ChangeSize(ctx context.Context, v *access.Viewer, size downloadstore.OutputSize) (store.Done, error) {
	size.Name = strings.TrimSpace(size.Name)
	return s.DB.Act(ctx, v, "output_size", func(tx *store.Tx) (store.Done, error) {
		if _, err := s.present(ctx, tx, v, size.ID); err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: fmt.Sprintf("Changed the output size “%s”", size.Name), Changed: 1, ID: size.ID},
			downloadstore.ChangeOutputSize(ctx, tx, v.Brand, size)
	})
}

// present finds an output size that is not retired.
func (s *Service) present(ctx context.Context, r store.Reader, v *access.Viewer, id int64) (downloadstore.OutputSize, error) {
	all, err := downloadstore.OutputSizes(ctx, r, v.Brand)
	if err != nil {
		return downloadstore.OutputSize{}, err
	}
	at := slices.IndexFunc(all, func(o downloadstore.OutputSize) bool { return o.ID == id })
	if at < 0 {
		return downloadstore.OutputSize{}, fault.NotFoundf("That output size is not there any more.")
	}
	return all[at], nil
}

// DuplicateSize makes another output size like one.
func (s *Service) DuplicateSize(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	like, err := s.present(ctx, s.DB, v, id)
	if err != nil {
		return store.Done{}, err
	}
	all, err := downloadstore.OutputSizes(ctx, s.DB, v.Brand)
	if err != nil {
		return store.Done{}, err
	}
	names := make([]string, len(all))
	for i, o := range all {
		names[i] = strings.ToLower(o.Name)
	}
	name := like.Name + " copy"
	for n := 2; slices.Contains(names, strings.ToLower(name)); n++ {
		name = fmt.Sprintf("%s copy %d", like.Name, n)
	}
	like.Name = name
	return s.AddSize(ctx, v, like.Size)
}

// OrderSizes puts the output sizes in an order.
func (s *Service) OrderSizes(ctx context.Context, v *access.Viewer, ids []int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "output_size", func(tx *store.Tx) (store.Done, error) {
		return store.Done{Said: "Put the output sizes in another order", Changed: 1}, downloadstore.OrderOutputSizes(ctx, tx, v.Brand, ids)
	})
}

// RetireSize does not offer an output size any more; with clear what was made by it is removed from the storage. Whoever still asks for
// one of these files, as a ZIP of last week does, has it made again.
func (s *Service) RetireSize(ctx context.Context, v *access.Viewer, id int64, clear bool) (store.Done, error) {
	size, err := s.present(ctx, s.DB, v, id)
	if err != nil {
		return store.Done{}, err
	}
	var gone []string
	done, err := s.DB.Act(ctx, v, "output_size", func(tx *store.Tx) (store.Done, error) {
		if err := downloadstore.RetireOutputSize(ctx, tx, v.Brand, id); err != nil {
			return store.Done{}, err
		}
		said := fmt.Sprintf("Retired the output size “%s”", size.Name)
		if clear {
			if gone, err = downloadstore.ForgetMade(ctx, tx, v.Brand, id); err != nil {
				return store.Done{}, err
			}
			said += fmt.Sprintf(" and removed %s made by it", wording.Count(len(gone), "file", "files"))
		}
		return store.Done{Said: said, Changed: 1}, nil
	})
	if err != nil {
		return done, err
	}
	return done, s.removeMade(ctx, gone)
}

// removeMade removes files from the storage, once nothing refers to them.
func (s *Service) removeMade(ctx context.Context, gone []string) error {
	for _, key := range gone {
		if err := s.Blobs.RemoveMade(ctx, key); err != nil {
			return err
		}
	}
	return nil
}

// ClearMade removes what was made by an output size, which stays; 0 is what was made for pages and players. Whoever asks for one of these
// files has it made again.
func (s *Service) ClearMade(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	what := "for pages and players"
	if id != 0 {
		size, err := s.present(ctx, s.DB, v, id)
		if err != nil {
			return store.Done{}, err
		}
		what = fmt.Sprintf("by “%s”", size.Name)
	}
	var gone []string
	done, err := s.DB.Act(ctx, v, "output_size", func(tx *store.Tx) (_ store.Done, err error) {
		gone, err = downloadstore.ForgetMade(ctx, tx, v.Brand, id)
		return store.Done{Said: fmt.Sprintf("Removed %s made %s", wording.Count(len(gone), "file", "files"), what), Changed: len(gone)}, err
	})
	if err != nil {
		return done, err
	}
	return done, s.removeMade(ctx, gone)
}

// DefaultSizes puts the output sizes that a brand begins with back: those that are missing are made, those that were changed become what
// they were. Others stay.
func (s *Service) DefaultSizes(ctx context.Context, v *access.Viewer) (store.Done, error) {
	return s.DB.Act(ctx, v, "output_size", func(tx *store.Tx) (store.Done, error) {
		all, err := downloadstore.OutputSizes(ctx, tx, v.Brand)
		if err != nil {
			return store.Done{}, err
		}
		made, changed := 0, 0
		for _, size := range outputs.Defaults {
			at := slices.IndexFunc(all, func(o downloadstore.OutputSize) bool { return strings.EqualFold(o.Name, size.Name) })
			switch {
			case at < 0:
				if _, err := downloadstore.AddOutputSize(ctx, tx, v.Brand, size); err != nil {
					return store.Done{}, err
				}
				made++
			default:
				size.ID = all[at].ID
				if size != all[at].Size {
					if err := downloadstore.ChangeOutputSize(ctx, tx, v.Brand, downloadstore.OutputSize{Size: size, OnArrival: all[at].OnArrival,
						Public: all[at].Public}); err != nil {
						return store.Done{}, err
					}
					changed++
				}
			}
		}
		said := "The output sizes to begin with are all there, as they were"
		if made+changed > 0 {
			said = fmt.Sprintf("Put back %s to begin with; your own stay", wording.Count(made+changed, "output size", "output sizes"))
		}
		return store.Done{Said: said, Changed: made + changed}, nil
	})
}

// Costs says what was made by the output sizes so far.
func (s *Service) Costs(ctx context.Context, v *access.Viewer) ([]downloadstore.SizeCost, error) {
	return downloadstore.SizeCosts(ctx, s.DB, v.Brand)
}

// Example is what an output size would make of an item: a file of so many bytes in so many seconds, at a quality, with how like it is to
// what it was written from (SSIM, at most 1; 0 where it was not measured), and what it says in the end, by group and name.
type Example struct {
	Plan     outputs.Plan
	Bytes    int64
	Seconds  float64
	Quality  int
	Likeness float64
	Says     map[string]string
	Why      string // why it cannot be made
}

// TryOut makes of an item what an output size would make of it, and keeps nothing.
func (s *Service) TryOut(ctx context.Context, v *access.Viewer, asset int64, size outputs.Size) (Example, error) {
	if size.Name == "" {
		size.Name = "new"
	}
	if err := size.Check(); err != nil {
		return Example{}, err
	}
	a, err := assetstore.AssetByID(ctx, s.DB, v, asset)
	if err != nil {
		return Example{}, err
	}
	if a.Kind == "clip" {
		return Example{}, fault.Invalidf("asset", "Choose a picture to try it on; a clip takes too long.")
	}
	tried, err := s.Renditions.TryOut(ctx, a, size)
	var refused *media.Refused
	if errors.As(err, &refused) {
		return Example{Why: refused.Why}, nil
	}
	return Example{Plan: tried.Plan, Bytes: tried.Bytes, Seconds: tried.Seconds, Quality: tried.Quality, Likeness: tried.Likeness,
		Says: tried.Says}, err
}
