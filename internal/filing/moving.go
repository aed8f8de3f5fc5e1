package filing

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/recipestore"
)

// moveTo is where items go: a folder (0 is Unfiled), by its name.
type moveTo struct {
	Folder int64  `json:"folder"`
	Name   string `json:"name"`
}

var moveAct = pieces.Act[moveTo]{
	Name: "move", Needs: access.File,
	Doing: func(n int, to moveTo) string { return fmt.Sprintf("Moving %s to %s", wording.Items(n), to.Name) },
	Done: func(n, of int, to moveTo) string {
		if n == 0 {
			return "Already in " + to.Name
		}
		return fmt.Sprintf("Moved %s to %s", wording.Items(n), to.Name) + wording.Rest(n, of, "was there already", "were there already")
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, to moveTo) (int, error) {
		if err := mayFile(p.Viewer, to.Folder); err != nil {
			return 0, err
		}
		return assetstore.MoveAssets(ctx, tx, p.IDs, to.Folder)
	},
	Blocked: folderGone,
}

// folderGone says so when an act cannot go on because the folder that it puts items into has been removed.
func folderGone(err error) string {
	if store.ReferenceGone(err) {
		return "The folder they were to go to has been removed."
	}
	return ""
}

// Move puts a selection into a folder; 0 is Unfiled. A large selection is moved in pieces, of which the first words tell.
func (s *Service) Move(ctx context.Context, v *access.Viewer, sel query.Selection, folder int64) (store.Done, error) {
	return s.acts.move.Do(ctx, v, sel, func(tx *store.Tx) (moveTo, error) { return target(ctx, tx, v, folder) })
}

func target(ctx context.Context, tx *store.Tx, v *access.Viewer, folder int64) (moveTo, error) {
	if err := mayFile(v, folder); err != nil {
		return moveTo{}, err
	}
	name, err := nameOf(ctx, tx, v, folder)
	return moveTo{Folder: folder, Name: name}, err
}

func nameOf(ctx context.Context, r store.Reader, v *access.Viewer, folder int64) (string, error) {
	if folder == 0 {
		return "Unfiled", nil
	}
	f, err := folderstore.FolderByID(ctx, r, v.Brand, folder)
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
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return Audience{}, err
	}
	from, err := assetstore.FoldersOf(ctx, s.DB, ids)
	if err != nil {
		return Audience{}, err
	}
	people, err := peoplestore.Members(ctx, s.DB, v.Brand)
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
		if a.Person == v.Person {
			continue // whoever moves them needs not be told of themself
		}
		out.Gains = append(out.Gains, fmt.Sprintf("%s (%s)", names[a.Person], a.Role))
	}
	if len(out.Gains) == 0 {
		return out, nil
	}
	slices.Sort(out.Gains)
	out.Items = len(ids)
	out.Told, err = recipestore.WideningTold(ctx, s.DB, folder, strings.Join(out.Gains, ", "))
	return out, err
}

// Tell notes that a widening was told, so that it is not told again.
func (s *Service) Tell(ctx context.Context, v *access.Viewer, folder int64, a Audience) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		return recipestore.TellWidening(ctx, tx, v.Brand, folder, strings.Join(a.Gains, ", "))
	})
}

var copyAct = pieces.Act[moveTo]{
	Name: "copy", Needs: access.Look,
	Doing: func(n int, to moveTo) string {
		return fmt.Sprintf("Copying %s to %s", wording.Items(n), to.Name)
	},
	Done: func(n, _ int, to moveTo) string {
		return fmt.Sprintf("Copied %s to %s. No second file is stored", wording.Items(n), to.Name)
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, to moveTo) (int, error) {
		if err := mayFile(p.Viewer, to.Folder); err != nil {
			return 0, err
		}
		// Whoever may only look at something gets no copy of it to do more with.
		if err := store.StillReachable(ctx, tx, p.Viewer, access.File, p.IDs); err != nil {
			return 0, err
		}
		return assetstore.CopyAssets(ctx, tx, p.Viewer.Brand, p.Viewer.Person, p.IDs, to.Folder)
	},
	Blocked: folderGone,
}

// Copy makes a second item of each, on the same bytes, in a folder; 0 is Unfiled. It takes the right to file where they
// are and where they go.
func (s *Service) Copy(ctx context.Context, v *access.Viewer, sel query.Selection, folder int64) (store.Done, error) {
	return s.acts.copy.Do(ctx, v, sel, func(tx *store.Tx) (moveTo, error) { return target(ctx, tx, v, folder) })
}

// Order puts items of a folder before another one in it, or at its end when before is 0.
func (s *Service) OrderItems(ctx context.Context, v *access.Viewer, folder int64, ids []int64, before int64) (store.Done, error) {
	if err := mayFile(v, folder); err != nil {
		return store.Done{}, err
	}
	if len(ids) > pieces.AtOnce {
		return store.Done{}, tooMany(len(ids), pieces.AtOnce)
	}
	return s.DB.Act(ctx, v, "order_in_folder", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.File, ids); err != nil {
			return store.Done{}, err
		}
		inside, err := assetstore.FoldersOf(ctx, tx, ids)
		if err != nil {
			return store.Done{}, err
		}
		if len(inside) != 1 || inside[0] != folder {
			return store.Done{}, notInside()
		}
		f, err := folderstore.FolderByID(ctx, tx, v.Brand, folder)
		if err != nil {
			return store.Done{}, err
		}
		_, err = folderstore.OrderInFolder(ctx, tx, folder, ids, before)
		return store.Done{Said: fmt.Sprintf("Placed %s in “%s” by hand", wording.Items(len(ids)), f.Name), Changed: len(ids)}, err
	})
}
