package filing

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// Move puts a selection into a folder; 0 is Unfiled. A large selection is moved in pieces, of which the first words tell.
func (s *Service) Move(ctx context.Context, v *access.Viewer, sel query.Selection, folder int64) (store.Done, error) {
	if err := s.mayFile(v, folder); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "move", func(tx *store.Tx) (store.Done, error) {
		target, err := nameOf(ctx, tx, v, folder)
		if err != nil {
			return store.Done{}, err
		}
		ids, err := store.Select(ctx, tx, v, access.File, sel)
		if err != nil {
			return store.Done{}, err
		}
		if len(ids) > atOnce {
			return s.inPieces(ctx, tx, v, "move", moveTo{Folder: folder, Name: target}, ids, fmt.Sprintf("Moving %s to %s", query.Items(len(ids)), target))
		}
		n, err := tx.MoveAssets(ctx, ids, folder)
		if n == 0 {
			return store.Done{Said: "They are in " + target + " already"}, err
		}
		return store.Done{Said: fmt.Sprintf("Moved %s to %s", query.Items(n), target), Changed: n}, err
	})
}

func nameOf(ctx context.Context, r store.Reader, v *access.Viewer, folder int64) (string, error) {
	if folder == 0 {
		return "Unfiled", nil
	}
	f, err := store.FolderByID(ctx, r, v.Brand, folder)
	return f.Name, err
}

// Audience is who would gain sight of items by a move. Told says that this widening was told before.
type Audience struct {
	Gains []string
	Items int
	Told  bool
}

// Widens finds out who could see items after a move that cannot now.
func (s *Service) Widens(ctx context.Context, v *access.Viewer, sel query.Selection, folder int64) (Audience, error) {
	if folder == 0 {
		return Audience{}, nil // what is unfiled nobody sees by a grant
	}
	ids, err := store.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return Audience{}, err
	}
	from, err := store.FoldersOf(ctx, s.DB, ids)
	if err != nil {
		return Audience{}, err
	}
	people, err := store.Members(ctx, s.DB, v.Brand)
	if err != nil {
		return Audience{}, err
	}
	actors := make([]access.Actor, len(people))
	names := map[int64]string{}
	for i, p := range people {
		actors[i], names[p.ID] = p.Actor, p.Name
	}
	out := Audience{}
	for _, a := range access.Gain(actors, v.Tree, from, folder) {
		out.Gains = append(out.Gains, fmt.Sprintf("%s (%s)", names[a.Person], a.Role))
	}
	if len(out.Gains) == 0 {
		return out, nil
	}
	slices.Sort(out.Gains)
	out.Items = len(ids)
	out.Told, err = store.WideningTold(ctx, s.DB, folder, strings.Join(out.Gains, ", "))
	return out, err
}

// Tell notes that a widening was told, so that it is not told again.
func (s *Service) Tell(ctx context.Context, v *access.Viewer, folder int64, a Audience) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		return tx.TellWidening(ctx, v.Brand, folder, strings.Join(a.Gains, ", "))
	})
}

// Copy makes a second item of each, on the same bytes, in a folder; 0 is Unfiled.
func (s *Service) Copy(ctx context.Context, v *access.Viewer, sel query.Selection, folder int64) (store.Done, error) {
	if err := s.mayFile(v, folder); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "copy", func(tx *store.Tx) (store.Done, error) {
		target, err := nameOf(ctx, tx, v, folder)
		if err != nil {
			return store.Done{}, err
		}
		ids, err := store.Select(ctx, tx, v, access.Look, sel)
		if err != nil {
			return store.Done{}, err
		}
		if len(ids) > mostCopies {
			return store.Done{}, tooMany(len(ids), mostCopies)
		}
		n, err := tx.CopyAssets(ctx, v.Brand, v.Person, ids, folder)
		said := fmt.Sprintf("Made a second item of each of %d in %s. They share their files, so hardly any room is taken", n, target)
		if n == 1 {
			said = fmt.Sprintf("Made a second item in %s. It shares its file with the first, so hardly any room is taken", target)
		}
		return store.Done{Said: said, Changed: n}, err
	})
}

// Order puts items of a folder before another one in it, or at its end when before is 0.
func (s *Service) OrderItems(ctx context.Context, v *access.Viewer, folder int64, ids []int64, before int64) (store.Done, error) {
	if err := s.mayFile(v, folder); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "order_in_folder", func(tx *store.Tx) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, access.File, query.Selection{IDs: ids})
		if err != nil {
			return store.Done{}, err
		}
		if len(ids) > atOnce {
			return store.Done{}, tooMany(len(ids), atOnce)
		}
		inside, err := store.FoldersOf(ctx, tx, ids)
		if err != nil {
			return store.Done{}, err
		}
		if len(inside) != 1 || inside[0] != folder {
			return store.Done{}, notInside()
		}
		_, err = tx.OrderInFolder(ctx, folder, ids, before)
		return store.Done{Said: fmt.Sprintf("Placed %s by hand", query.Items(len(ids))), Changed: len(ids)}, err
	})
}
