package gathering

import (
	"context"
	"fmt"
	"maps"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
)

var fillAct = pieces.Act[inAlbum]{
	Name: "create_album", Needs: access.Look,
	Doing: func(n int, a inAlbum) string {
		return fmt.Sprintf("Making the album “%s” with %s", a.Name, wording.Items(n))
	},
	Done: func(n, _ int, a inAlbum) string {
		return fmt.Sprintf("Made the album “%s” with %s", a.Name, wording.Items(n))
	},
	Apply:   addToAlbum,
	Blocked: albumGone,
}

// CreateByRule makes an album that a rule keeps filled.
func (s *Service) CreateByRule(ctx context.Context, v *access.Viewer, parent int64, name string, by query.RuleAlbum) (store.Done, error) {
	name = outputs.CleanName(name)
	return s.DB.Act(ctx, v, fillAct.Name, func(tx *store.Tx) (store.Done, error) {
		if parent != 0 {
			if _, err := albumstore.AlbumByID(ctx, tx, v, parent); err != nil {
				return store.Done{}, err
			}
		}
		id, err := albumstore.AddAlbum(ctx, tx, v.Brand, parent, name)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{
			Said:    fmt.Sprintf("Made the rule album “%s”", name),
			Changed: 1,
			ID:      id,
		}, albumstore.SetAlbumRule(ctx, tx, v.Brand, id, by)
	})
}

// Choice is what items were chosen by: a query, of which a new album holds everything or some.
type Choice struct {
	Query query.Query
	Whole bool
}

// rule is the rule of a choice, or nil where that says nothing: everything there is was not chosen.
func (c *Choice) rule() (*query.Rule, error) {
	if c == nil || c.Query.Filter == nil && c.Query.Place == "everything" {
		return nil, nil
	}
	if err := c.Query.Check(); err != nil {
		return nil, err
	}
	rule := c.Query.Rule()
	return &rule, rule.Check()
}

// Create makes an album, with a selection in it unless sel is nil. It remembers by what the items were chosen, if there is a choice.
func (s *Service) Create(ctx context.Context, v *access.Viewer, parent int64, name string, sel *query.Selection, by *Choice) (store.Done,
	error) {
	name = outputs.CleanName(name)
	rule, err := by.rule()
	if err != nil {
		return store.Done{}, err
	}
	var ids []int64
	if sel != nil {
		if ids, err = findstore.Select(ctx, s.DB, v, access.Look, *sel); err != nil {
			return store.Done{}, err
		}
	}
	return s.DB.Act(ctx, v, fillAct.Name, func(tx *store.Tx) (store.Done, error) {
		if parent != 0 {
			if _, err := albumstore.AlbumByID(ctx, tx, v, parent); err != nil {
				return store.Done{}, err
			}
		}
		id, err := albumstore.AddAlbum(ctx, tx, v.Brand, parent, name)
		if err != nil || sel == nil {
			return store.Done{Said: fmt.Sprintf("Made the album “%s”", name), Changed: 1, ID: id}, err
		}
		if rule != nil {
			if err := albumstore.SetAlbumChoice(ctx, tx, id, rule, by.Whole); err != nil {
				return store.Done{}, err
			}
		}
		done, err := s.acts.fill.Within(ctx, tx, v, ids, inAlbum{Album: id, Name: name})
		done.ID = id
		done.Changed = max(1, done.Changed)
		return done, err
	})
}

// Change is what can be changed about an album; nil stays as it is. Cover 0 takes the chosen cover away, Parent 0 is the top.
type Change struct {
	Name, Description *string
	Cover, Parent     *int64
	Parked            *bool
	Rule              *query.RuleAlbum // only of a rule album
}

// Change renames, describes, covers, moves or parks an album.
func (s *Service) Change(ctx context.Context, v *access.Viewer, id int64, c Change) (store.Done, error) {
	begin := s.with
	if c.Parent != nil {
		begin = s.inTree
	}
	return begin(ctx, v, id, "change_album", func(tx *store.Tx, a albumstore.Album) (store.Done, error) {
		name, description := a.Name, a.Description
		if c.Name != nil {
			name = outputs.CleanName(*c.Name)
		}
		if c.Description != nil {
			description = *c.Description
		}
		if c.Cover != nil {
			if *c.Cover != 0 {
				if err := store.Reachable(ctx, tx, v, access.Look, []int64{*c.Cover}); err != nil {
					return store.Done{}, err
				}
			}
			if err := albumstore.SetAlbumCover(ctx, tx, id, *c.Cover, 0); err != nil {
				return store.Done{}, err
			}
		}
		if c.Rule != nil {
			if a.Kept == nil {
				return store.Done{}, fault.Invalidf("rule", "“%s” is filled by hand. Make another album for the rule.", a.Name)
			}
			if err := albumstore.SetAlbumRule(ctx, tx, v.Brand, id, *c.Rule); err != nil {
				return store.Done{}, err
			}
		}
		said := fmt.Sprintf("Changed the album “%s”", name)
		if c.Parent != nil {
			into := "the top"
			if *c.Parent != 0 {
				parent, err := albumstore.SeenAlbum(ctx, tx, v, *c.Parent)
				if err != nil {
					return store.Done{}, err
				}
				into = "“" + parent.Name + "”"
			}
			if err := albumstore.MoveAlbum(ctx, tx, v.Brand, a, *c.Parent); err != nil {
				return store.Done{}, err
			}
			said = fmt.Sprintf("Moved the album “%s” to %s", name, into)
		}
		if c.Parked != nil {
			if err := albumstore.ParkAlbum(ctx, tx, id, *c.Parked); err != nil {
				return store.Done{}, err
			}
			said = fmt.Sprintf("Took the album “%s” out of parking", name)
			if *c.Parked {
				said = fmt.Sprintf("Parked the album “%s”", name)
			}
		}
		return store.Done{Said: said, Changed: 1}, albumstore.ChangeAlbum(ctx, tx, id, name, description)
	})
}

// Remove removes an album, or with all that are in it; their items stay.
func (s *Service) Remove(ctx context.Context, v *access.Viewer, id int64, below bool) (store.Done, error) {
	return s.inTree(ctx, v, id, "remove_album", func(tx *store.Tx, a albumstore.Album) (store.Done, error) {
		gone, err := s.within(ctx, tx, v, id, below)
		if err != nil {
			return store.Done{}, err
		}
		if !below {
			gone = gone[:1]
		}
		said := fmt.Sprintf("Removed the album “%s”; its items stay in the library", a.Name)
		if len(gone) > 1 {
			said = fmt.Sprintf("Removed the album “%s” with %s in it; all items stay in the library", a.Name,
				wording.Count(len(gone)-1, "album", "albums"))
		}
		return store.Done{Said: said, Changed: len(gone)}, albumstore.RemoveAlbums(ctx, tx, idsOf(gone))
	})
}

// within lists an album with all that are in it, itself first, and keeps them as they are. With all of them the viewer must be allowed to
// look at each.
func (s *Service) within(ctx context.Context, tx *store.Tx, v *access.Viewer, id int64, all bool) ([]albumstore.Album, error) {
	albums, err := albumstore.AlbumsWithin(ctx, tx, v.Brand, id)
	if err != nil {
		return nil, err
	}
	reach := v.May(access.Look)
	for _, a := range albums {
		if all && !reach.All && !reach.Albums[a.ID] {
			return nil, fault.Forbiddenf("There are albums in it that you may not look at.")
		}
	}
	return albums, albumstore.KeepAlbums(ctx, tx, idsOf(albums))
}

func idsOf(albums []albumstore.Album) []int64 {
	ids := make([]int64, len(albums))
	for i, a := range albums {
		ids[i] = a.ID
	}
	return ids
}

// mostCopied is how many items the albums may hold that are duplicated at once.
const mostCopied = 50_000

// Duplicate makes another album like one beside it, with all that are in it or without them. The items are the same ones.
func (s *Service) Duplicate(ctx context.Context, v *access.Viewer, id int64, below bool) (store.Done, error) {
	return s.inTree(ctx, v, id, fillAct.Name, func(tx *store.Tx, a albumstore.Album) (store.Done, error) {
		albums := []albumstore.Album{a}
		if below {
			var err error
			if albums, err = s.within(ctx, tx, v, id, true); err != nil {
				return store.Done{}, err
			}
		}
		items, err := albumstore.CountInAlbums(ctx, tx, idsOf(albums))
		if err == nil && items > mostCopied {
			err = fault.Invalidf("id", "These albums hold %d items; at most %d are duplicated at once.", items, mostCopied)
		}
		if err != nil {
			return store.Done{}, err
		}
		name, err := albumstore.FreeAlbumName(ctx, tx, v.Brand, a.Parent.Int64, a.Name+" copy")
		if err != nil {
			return store.Done{}, err
		}
		copies := map[int64]int64{} // by what they are copies of
		for i, one := range albums {
			parent, called := copies[one.Parent.Int64], one.Name
			if i == 0 {
				parent, called = a.Parent.Int64, name
			}
			if copies[one.ID], err = albumstore.CopyAlbum(ctx, tx, v.Brand, one, parent, called); err != nil {
				return store.Done{}, err
			}
		}
		said := fmt.Sprintf("Duplicated the album “%s” as “%s”; no item was copied", a.Name, name)
		if len(albums) > 1 {
			said = fmt.Sprintf("Duplicated the album “%s” with %s in it as “%s”; no item was copied", a.Name,
				wording.Count(len(albums)-1, "album", "albums"), name)
		}
		return store.Done{Said: said, Changed: len(albums), ID: copies[id]}, nil
	})
}

// byFolder is which album the items of each folder go into.
type byFolder struct {
	Albums map[int64]int64 `json:"albums"` // by folder
	Name   string          `json:"name"`
}

var byFolderAct = pieces.Act[byFolder]{
	Name: "albums_from_folder", Needs: access.Look,
	Doing: func(n int, a byFolder) string { return a.said("Making", n) },
	Done:  func(_, of int, a byFolder) string { return a.said("Made", of) },
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, a byFolder) (int, error) {
		homes, err := assetstore.HomesOf(ctx, tx, p.IDs)
		if err != nil {
			return 0, err
		}
		inside := map[int64][]int64{}
		for _, id := range p.IDs { // in their order
			if album := a.Albums[homes[id]]; album != 0 {
				inside[album] = append(inside[album], id)
			}
		}
		total := 0
		for _, album := range slices.Sorted(maps.Keys(inside)) {
			n, err := addToAlbum(ctx, tx, pieces.Piece{Viewer: p.Viewer, IDs: inside[album]}, inAlbum{Album: album})
			if err != nil {
				return 0, err
			}
			total += n
		}
		return total, nil
	},
	Blocked: albumGone,
}

func (a byFolder) said(what string, n int) string {
	if len(a.Albums) == 1 {
		return fmt.Sprintf("%s the album “%s” with %s", what, a.Name, wording.Items(n))
	}
	return fmt.Sprintf("%s the album “%s” and %s in it with %s", what, a.Name, wording.Count(len(a.Albums)-1, "album", "albums"),
		wording.Items(n))
}

// FromFolder makes an album of what is in a folder; with below one for each folder below it too, in each other as the folders are.
func (s *Service) FromFolder(ctx context.Context, v *access.Viewer, folder int64, below bool) (store.Done, error) {
	reach := v.May(access.Look)
	if !reach.Folder(folder) {
		return store.Done{}, fault.NotFoundf("That folder is not there any more.")
	}
	all, err := folderstore.Folders(ctx, s.DB, v.Brand)
	if err != nil {
		return store.Done{}, err
	}
	ids, err := findstore.Find(s.DB).IDs(ctx, v, query.Query{Place: "folder", ID: folder, Below: below, Sort: "taken"})
	if err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, byFolderAct.Name, func(tx *store.Tx) (store.Done, error) {
		a := byFolder{Albums: map[int64]int64{}}
		var add func(id, parent int64) error
		add = func(id, parent int64) error {
			at := slices.IndexFunc(all, func(f folderstore.Folder) bool { return f.ID == id })
			if at < 0 {
				return fault.NotFoundf("That folder is not there any more.")
			}
			name, err := albumstore.FreeAlbumName(ctx, tx, v.Brand, parent, all[at].Name)
			if err != nil {
				return err
			}
			if a.Name == "" {
				a.Name = name
			}
			if a.Albums[id], err = albumstore.AddAlbum(ctx, tx, v.Brand, parent, name); err != nil {
				return err
			}
			for _, f := range all {
				if below && f.Parent.Int64 == id && reach.Folder(f.ID) {
					if err := add(f.ID, a.Albums[id]); err != nil {
						return err
					}
				}
			}
			return nil
		}
		if err := add(folder, 0); err != nil {
			return store.Done{}, err
		}
		done := store.Done{Said: a.said("Made", 0)}
		if len(ids) > 0 {
			if done, err = s.acts.sort.Within(ctx, tx, v, ids, a); err != nil {
				return store.Done{}, err
			}
		}
		done.ID, done.Changed = a.Albums[folder], max(1, done.Changed)
		return done, nil
	})
}
