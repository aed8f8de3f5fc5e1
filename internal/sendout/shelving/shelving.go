// Package shelving puts things that pile up (galleries, embeds, screens, drafts, rehearsals) into folders of their own kind, and parks
// them out of sight.
package shelving

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/parkstore"
)

// Service is what it uses.
type Service struct {
	DB *store.DB
}

// thingNames are the kinds of things that are put into folders of their own kind and parked, in words.
var thingNames = map[string][2]string{"rehearsal": {"rehearsal", "rehearsals"}, "draft": {"draft", "drafts"},
	"gallery": {"gallery", "galleries"}, "embed": {"embed", "embeds"}, "screen": {"screen", "screens"}}

// Bounds of folders for things.
const (
	mostThingFolders = 500 // of a kind
	longestFolder    = 200
	mostPlacedAtOnce = 1000
)

// Parking is how the things of a kind lie: the folders that there are for them, and what does not lie open.
type Parking struct {
	Folders []parkstore.ThingFolder
	Things  []parkstore.ThingPlace
}

// Read tells how the things of a kind lie: to those who make them, and of rehearsals to everybody who sees all of them.
func (s *Service) Read(ctx context.Context, v *access.Viewer, kind string) (out Parking, err error) {
	if !v.Can(access.Galleries) && (kind != "rehearsal" || !v.May(access.Look).All) {
		return out, fault.Forbiddenf("How these are put away is for those who make them.")
	}
	if out.Folders, err = parkstore.ThingFolders(ctx, s.DB, v.Brand, kind); err != nil {
		return out, err
	}
	out.Things, err = parkstore.ThingPlaces(ctx, s.DB, v.Brand, kind)
	return out, err
}

func folderName(name string) (string, error) {
	name = strings.TrimSpace(name)
	if name == "" || len([]rune(name)) > longestFolder {
		return "", fault.Invalidf("name", "A folder has a name of 1 to %d characters.", longestFolder)
	}
	return name, nil
}

// MakeFolder makes a folder for things of a kind.
func (s *Service) MakeFolder(ctx context.Context, v *access.Viewer, kind, name string) (store.Done, error) {
	name, err := folderName(name)
	if err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "parking", func(tx *store.Tx) (store.Done, error) {
		all, err := parkstore.ThingFolders(ctx, tx, v.Brand, kind)
		if err == nil && len(all) >= mostThingFolders {
			err = fault.Invalidf("name", "There are %d folders already.", len(all))
		}
		if err != nil {
			return store.Done{}, err
		}
		id, made, err := parkstore.AddThingFolder(ctx, tx, v.Brand, parkstore.ThingFolder{Kind: kind, Name: name})
		if err == nil && !made {
			err = fault.Invalidf("name", "There is a folder “%s” already.", name)
		}
		return store.Done{Said: fmt.Sprintf("Made the folder “%s” for %s", name, thingNames[kind][1]), Changed: 1, ID: id}, err
	})
}

// ChangeFolder renames a folder, or parks it with all in it, or brings it back; nil stays.
func (s *Service) ChangeFolder(ctx context.Context, v *access.Viewer, kind string, id int64, name *string, parked *bool) (store.Done,
	error) {
	return s.DB.Act(ctx, v, "parking", func(tx *store.Tx) (store.Done, error) {
		f, err := parkstore.ThingFolderByID(ctx, tx, v.Brand, kind, id)
		if err != nil {
			return store.Done{}, err
		}
		said := fmt.Sprintf("Changed the folder “%s”", f.Name)
		if name != nil {
			if f.Name, err = folderName(*name); err != nil {
				return store.Done{}, err
			}
		}
		if parked != nil {
			f.Parked = *parked
			said = fmt.Sprintf("Brought the folder “%s” back", f.Name)
			if f.Parked {
				said = fmt.Sprintf("Parked the folder “%s”. What is live in it stays live", f.Name)
			}
		}
		ok, err := parkstore.ChangeThingFolder(ctx, tx, f)
		if err == nil && !ok {
			err = fault.Invalidf("name", "There is a folder “%s” already.", f.Name)
		}
		return store.Done{Said: said, Changed: 1}, err
	})
}

// RemoveFolder removes a folder; what is in it lies open again.
func (s *Service) RemoveFolder(ctx context.Context, v *access.Viewer, kind string, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "parking", func(tx *store.Tx) (store.Done, error) {
		f, err := parkstore.ThingFolderByID(ctx, tx, v.Brand, kind, id)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{
			Said:    fmt.Sprintf("Removed the folder “%s”. What was in it stays", f.Name),
			Changed: 1,
		}, parkstore.RemoveThingFolder(ctx, tx, id)
	})
}

// Place puts things into a folder of their kind (0 is none), parks them, or brings them back; nil stays. What is live stays live.
func (s *Service) Place(ctx context.Context, v *access.Viewer, kind string, ids []int64, folder *int64, parked *bool) (store.Done,
	error) {
	ids = slices.Compact(slices.Sorted(slices.Values(ids)))
	if len(ids) == 0 || len(ids) > mostPlacedAtOnce {
		return store.Done{}, fault.Invalidf("ids", "Choose 1 to %d %s.", mostPlacedAtOnce, thingNames[kind][1])
	}
	return s.DB.Act(ctx, v, "parking", func(tx *store.Tx) (store.Done, error) {
		there, err := parkstore.ThingsThere(ctx, tx, v.Brand, kind, ids)
		if err == nil && there != len(ids) {
			err = fault.NotFoundf("Some of these %s are not there any more.", thingNames[kind][1])
		}
		if err != nil {
			return store.Done{}, err
		}
		what := wording.Count(len(ids), thingNames[kind][0], thingNames[kind][1])
		said := "Brought " + what + " back"
		if folder != nil {
			said = "Took " + what + " out of the folder"
			if *folder != 0 {
				f, err := parkstore.ThingFolderByID(ctx, tx, v.Brand, kind, *folder)
				if err != nil {
					return store.Done{}, err
				}
				said = fmt.Sprintf("Put %s into “%s”", what, f.Name)
			}
		}
		if parked != nil && *parked {
			said = "Parked " + what
		}
		n, err := parkstore.PlaceThings(ctx, tx, v.Brand, kind, ids, folder, parked)
		return store.Done{Said: said, Changed: n}, err
	})
}
