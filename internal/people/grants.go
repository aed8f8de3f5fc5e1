package people

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
)

// Rights is who may do what in a brand, and what the public can reach.
type Rights struct {
	People []peoplestore.Member
	Grants []peoplestore.Grant
	Links  map[int64]time.Time // until when the links of those work who have not chosen a password with theirs
}

// Rights reads who may do what.
func (s *Service) Rights(ctx context.Context, v *access.Viewer) (Rights, error) {
	var r Rights
	var err error
	if r.People, err = peoplestore.Members(ctx, s.DB, v.Brand); err != nil {
		return r, err
	}
	if r.Grants, err = peoplestore.Grants(ctx, s.DB, v.Brand); err != nil {
		return r, err
	}
	if r.Links, err = peoplestore.OpenInvitations(ctx, s.DB, v.Brand); err != nil {
		return r, err
	}
	return r, nil
}

// SetRole makes somebody something else. A brand keeps at least one steward.
func (s *Service) SetRole(ctx context.Context, v *access.Viewer, person int64, role access.Role) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if _, err := folderstore.LockFolderTree(ctx, tx, v.Brand); err != nil { // so that two stewards cannot both step down
			return err
		}
		people, err := peoplestore.Members(ctx, tx, v.Brand)
		if err != nil {
			return err
		}
		at := slices.IndexFunc(people, func(m peoplestore.Member) bool { return m.ID == person })
		if at < 0 {
			return fault.NotFoundf("That person does not belong to the brand.")
		}
		if role != access.Steward && access.NeedsSteward(actors(people), person) {
			return fault.Invalidf("role", "A brand needs a steward, and %s is the only one. Make somebody else a steward first.",
				people[at].Name)
		}
		said := fmt.Sprintf("Made %s a %s", people[at].Name, role)
		if err := tx.Note(ctx, v.Brand, v.Person, "set_role", said); err != nil {
			return err
		}
		return peoplestore.SetRole(ctx, tx, v.Brand, person, role)
	})
}

// Give grants a person, or everybody of a role, a level in a folder or for an album.
func (s *Service) Give(ctx context.Context, v *access.Viewer, person int64, role access.Role, g access.Grant) (store.Done, error) {
	if (person == 0) == (role == "") {
		return store.Done{}, fault.Invalidf("person", "A grant is for a person or for a role.")
	}
	if (g.Folder == 0) == (g.Album == 0) {
		return store.Done{}, fault.Invalidf("folder", "A grant is for a folder or for an album.")
	}
	return s.DB.Act(ctx, v, "grant", func(tx *store.Tx) (store.Done, error) {
		who, what := "everybody who is "+string(role), ""
		if person != 0 {
			people, err := peoplestore.Members(ctx, tx, v.Brand)
			if err != nil {
				return store.Done{}, err
			}
			at := slices.IndexFunc(people, func(m peoplestore.Member) bool { return m.ID == person })
			if at < 0 {
				return store.Done{}, fault.NotFoundf("That person does not belong to the brand.")
			}
			who = people[at].Name
		}
		if g.Album != 0 {
			if err := albumstore.RefuseRuleAlbum(ctx, tx, g.Album); err != nil {
				return store.Done{}, err
			}
		}
		if g.Folder != 0 {
			f, err := folderstore.FolderByID(ctx, tx, v.Brand, g.Folder)
			if err != nil {
				return store.Done{}, err
			}
			what = f.Name
		} else {
			a, err := albumstore.AlbumByID(ctx, tx, v, g.Album)
			if err != nil {
				return store.Done{}, err
			}
			what, g.Level = a.Name, access.LevelLook // an album copies nothing, so there is nothing in it to manage
		}
		err := peoplestore.SetGrant(ctx, tx, v.Brand, person, role, g)
		return store.Done{Said: fmt.Sprintf("Let %s %s in “%s”", who, g.Level, what), Changed: 1}, err
	})
}

// Take takes a grant away.
func (s *Service) Take(ctx context.Context, v *access.Viewer, grant int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "take_grant", func(tx *store.Tx) (store.Done, error) {
		there, err := peoplestore.RemoveGrant(ctx, tx, v.Brand, grant)
		if err == nil && !there {
			err = fault.NotFoundf("That grant has been taken away already.")
		}
		return store.Done{Said: "Took a grant away", Changed: 1}, err
	})
}

// As is how somebody else sees a brand. Only for showing it to a steward.
func (s *Service) As(ctx context.Context, v *access.Viewer, person int64) (*access.Viewer, error) {
	return peoplestore.LoadViewer(ctx, s.DB, person, v.BrandCode)
}

// Preferences is what the viewer set for themselves.
func (s *Service) Preferences(ctx context.Context, v *access.Viewer) (json.RawMessage, error) {
	return peoplestore.Preferences(ctx, s.DB, v.Brand, v.Person)
}

// mostPreferences is how many bytes a person's own settings may have in one change.
const mostPreferences = 100_000

// SetPreferences writes some of the values that the viewer set; null takes one away.
func (s *Service) SetPreferences(ctx context.Context, v *access.Viewer, change map[string]any) (json.RawMessage, error) {
	text, err := json.Marshal(change)
	if err != nil {
		return nil, err
	}
	if len(text) > mostPreferences {
		return nil, fault.Invalidf("value", "That is more than can be kept for one person.")
	}
	if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return peoplestore.SetPreferences(ctx, tx, v.Brand, v.Person, text) }); err != nil {
		return nil, err
	}
	return s.Preferences(ctx, v)
}

func actors(people []peoplestore.Member) []access.Actor {
	out := make([]access.Actor, len(people))
	for i, m := range people {
		out[i] = m.Actor
	}
	return out
}
