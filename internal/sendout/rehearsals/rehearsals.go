// Package rehearsals tries posts and advertisements out before they exist: in variants, with what colleagues say of them.
package rehearsals

import (
	"context"
	"database/sql"
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/rehearsing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/rehearsalstore"
)

// Service is what it uses.
type Service struct {
	DB *store.DB
}

// Bounds of rehearsals besides those of the core.
const (
	mostRehearsals  = 2000
	mostRemarksOfIt = 1000
	longestSaid     = 2000 // signs of a remark
)

// Rehearsed is a rehearsal with its variants and what was said of it.
type Rehearsed struct {
	rehearsalstore.Rehearsal
	Variants []RehearsedVariant
	Remarks  []rehearsalstore.RehearsalRemark
}

// RehearsedVariant is a variant with what each kind of place shows of its first picture, and which of its items are not in the library now.
type RehearsedVariant struct {
	rehearsalstore.Variant
	Seen map[rehearsing.Kind]float64
	Gone []int64
}

// maySeeAll says no to whoever does not see the whole library: a rehearsal shows items from anywhere in it.
func maySeeAll(v *access.Viewer) error {
	if v.May(access.Look).All {
		return nil
	}
	return fault.NotFoundf("That rehearsal is not there any more.")
}

// All lists what is tried out, the newest first.
func (s *Service) All(ctx context.Context, v *access.Viewer) ([]rehearsalstore.Rehearsal, error) {
	if maySeeAll(v) != nil {
		return []rehearsalstore.Rehearsal{}, nil
	}
	return rehearsalstore.Rehearsals(ctx, s.DB, v.Brand, mostRehearsals)
}

// Read reads a rehearsal with all that is in it.
func (s *Service) Read(ctx context.Context, v *access.Viewer, id int64) (out Rehearsed, err error) {
	if err := maySeeAll(v); err != nil {
		return out, err
	}
	if out.Rehearsal, err = rehearsalstore.RehearsalByID(ctx, s.DB, v.Brand, id); err != nil {
		return out, err
	}
	if out.Remarks, err = rehearsalstore.RehearsalRemarks(ctx, s.DB, id); err != nil {
		return out, err
	}
	variants, err := rehearsalstore.Variants(ctx, s.DB, id)
	if err != nil {
		return out, err
	}
	var all []int64
	for _, one := range variants {
		all = append(all, one.Assets...)
	}
	items, err := assetstore.AssetsIn(ctx, s.DB, v.Brand, all)
	if err != nil {
		return out, err
	}
	known := map[int64]assetstore.Asset{}
	for _, a := range items {
		if !a.Binned.Valid {
			known[a.ID] = a
		}
	}
	for _, one := range variants {
		out.Variants = append(out.Variants, seenOf(one, known))
	}
	return out, nil
}

func seenOf(v rehearsalstore.Variant, known map[int64]assetstore.Asset) RehearsedVariant {
	out := RehearsedVariant{Variant: v, Seen: map[rehearsing.Kind]float64{}}
	for _, id := range v.Assets {
		a, here := known[id]
		if !here {
			out.Gone = append(out.Gone, id)
			continue
		}
		if len(out.Seen) > 0 {
			continue
		}
		for _, p := range rehearsing.Places {
			out.Seen[p.Kind] = p.Seen(geometry.Size{Width: a.Width, Height: a.Height}, geometry.Point{X: a.FocalX, Y: a.FocalY})
		}
	}
	return out
}

// Make begins to try out items as a post or an advertisement.
func (s *Service) Make(ctx context.Context, v *access.Viewer, name string, sel query.Selection) (store.Done, error) {
	name, err := rehearsalName(name)
	if err != nil {
		return store.Done{}, err
	}
	ids, err := s.rehearsed(ctx, v, sel)
	if err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "rehearsal", func(tx *store.Tx) (store.Done, error) {
		n, err := rehearsalstore.CountRehearsals(ctx, tx, v.Brand)
		if err == nil && n >= mostRehearsals {
			err = fault.Invalidf("name", "There are %d rehearsals already. Remove some first.", n)
		}
		if err != nil {
			return store.Done{}, err
		}
		id, err := rehearsalstore.AddRehearsal(ctx, tx, rehearsalstore.Rehearsal{Brand: v.Brand, Person: sql.NullInt64{Int64: v.Person,
			Valid: true}, Name: name, Places: rehearsing.All()})
		if err == nil {
			_, err = rehearsalstore.AddVariant(ctx, tx, v.Brand, id, rehearsalstore.Variant{Name: "A", Assets: ids})
		}
		return store.Done{Said: fmt.Sprintf("Made the rehearsal “%s”", name), Changed: 1, ID: id}, err
	})
}

func rehearsalName(name string) (string, error) {
	if name = strings.TrimSpace(name); name == "" {
		return "", fault.Invalidf("name", "A rehearsal needs a name.")
	}
	if len([]rune(name)) > rehearsing.LongestName {
		return "", fault.Invalidf("name", "A name has at most %d characters.", rehearsing.LongestName)
	}
	return name, nil
}

// rehearsed reads a selection of items that can be in a variant.
func (s *Service) rehearsed(ctx context.Context, v *access.Viewer, sel query.Selection) ([]int64, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err == nil && len(ids) > rehearsing.MostItems {
		err = fault.Invalidf("selection", "At most %d items are tried out together; these are %d.", rehearsing.MostItems, len(ids))
	}
	return ids, err
}

// inRehearsal changes a rehearsal in a transaction, in which nobody else does.
func (s *Service) inRehearsal(ctx context.Context, v *access.Viewer, id int64,
	f func(tx *store.Tx, r *rehearsalstore.Rehearsal) (string, error)) (store.Done, error) {
	if err := maySeeAll(v); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "rehearsal", func(tx *store.Tx) (store.Done, error) {
		r, err := rehearsalstore.RehearsalForChange(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		said, err := f(tx, &r)
		return store.Done{Said: said, Changed: 1, ID: id}, err
	})
}

// Change renames a rehearsal, or chooses the kinds of places where it is shown; nil stays.
func (s *Service) Change(ctx context.Context, v *access.Viewer, id int64, name *string, places []string) (store.Done, error) {
	return s.inRehearsal(ctx, v, id, func(tx *store.Tx, r *rehearsalstore.Rehearsal) (said string, err error) {
		said = fmt.Sprintf("Changed the rehearsal “%s”", r.Name)
		if name != nil {
			if r.Name, err = rehearsalName(*name); err != nil {
				return "", err
			}
		}
		if places != nil {
			if r.Places, err = rehearsing.CheckPlaces(places); err != nil {
				return "", err
			}
		}
		return said, rehearsalstore.ChangeRehearsal(ctx, tx, *r)
	})
}

// Remove removes a rehearsal. Its items stay, and so does what was sent from it.
func (s *Service) Remove(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.inRehearsal(ctx, v, id, func(tx *store.Tx, r *rehearsalstore.Rehearsal) (string, error) {
		return fmt.Sprintf("Removed the rehearsal “%s”. Its pictures stay in the library", r.Name), rehearsalstore.RemoveRehearsal(ctx, tx, id)
	})
}

// AddVariant adds a variant like another one of the rehearsal, or like its last one for 0.
func (s *Service) AddVariant(ctx context.Context, v *access.Viewer, id, like int64) (store.Done, error) {
	made := int64(0)
	done, err := s.inRehearsal(ctx, v, id, func(tx *store.Tx, r *rehearsalstore.Rehearsal) (string, error) {
		all, err := rehearsalstore.Variants(ctx, tx, id)
		if err != nil {
			return "", err
		}
		if len(all) >= rehearsing.MostVariants {
			return "", fault.Invalidf("variant", "A rehearsal has at most %d variants.", rehearsing.MostVariants)
		}
		next := rehearsalstore.Variant{Assets: []int64{}}
		var names []string
		for i, one := range all {
			names = append(names, one.Name)
			if one.ID == like || like == 0 && i == len(all)-1 {
				next = one
			}
		}
		next.Name = rehearsing.NextName(names)
		made, err = rehearsalstore.AddVariant(ctx, tx, v.Brand, id, next)
		return fmt.Sprintf("Added variant %s to “%s”", next.Name, r.Name), err
	})
	done.ID = made
	return done, err
}

// VariantChange is what can be changed about a variant; nil stays.
type VariantChange struct {
	Name, Caption, Headline, Button *string
	Items                           *query.Selection
}

// ChangeVariant changes a variant of a rehearsal.
func (s *Service) ChangeVariant(ctx context.Context, v *access.Viewer, id, variant int64, c VariantChange) (store.Done, error) {
	var items []int64
	if c.Items != nil {
		var err error
		if items, err = s.rehearsed(ctx, v, *c.Items); err != nil {
			return store.Done{}, err
		}
	}
	return s.inVariant(ctx, v, id, variant, func(tx *store.Tx, one *rehearsalstore.Variant) (string, error) {
		words := rehearsing.Words{Caption: pick(c.Caption, one.Caption), Headline: pick(c.Headline, one.Headline),
			Button: pick(c.Button, one.Button)}
		if err := words.Check(); err != nil {
			return "", err
		}
		one.Caption, one.Headline, one.Button = words.Caption, words.Headline, words.Button
		if c.Name != nil {
			var err error
			if one.Name, err = rehearsalName(*c.Name); err != nil {
				return "", err
			}
		}
		if items != nil {
			one.Assets = items
		}
		return fmt.Sprintf("Changed variant %s", one.Name), rehearsalstore.ChangeVariant(ctx, tx, *one)
	})
}

func pick(changed *string, was string) string {
	if changed != nil {
		return *changed
	}
	return was
}

// RemoveVariant removes a variant; the last one stays.
func (s *Service) RemoveVariant(ctx context.Context, v *access.Viewer, id, variant int64) (store.Done, error) {
	return s.inVariant(ctx, v, id, variant, func(tx *store.Tx, one *rehearsalstore.Variant) (string, error) {
		all, err := rehearsalstore.Variants(ctx, tx, id)
		if err == nil && len(all) == 1 {
			err = fault.Invalidf("variant", "The last variant stays. Remove the rehearsal instead.")
		}
		if err != nil {
			return "", err
		}
		return fmt.Sprintf("Removed variant %s", one.Name), rehearsalstore.RemoveVariant(ctx, tx, variant)
	})
}

func (s *Service) inVariant(ctx context.Context, v *access.Viewer, id, variant int64,
	f func(tx *store.Tx, one *rehearsalstore.Variant) (string, error)) (store.Done, error) {
	return s.inRehearsal(ctx, v, id, func(tx *store.Tx, r *rehearsalstore.Rehearsal) (string, error) {
		all, err := rehearsalstore.Variants(ctx, tx, id)
		if err != nil {
			return "", err
		}
		at := slices.IndexFunc(all, func(one rehearsalstore.Variant) bool { return one.ID == variant })
		if at < 0 {
			return "", fault.NotFoundf("That variant is not there any more.")
		}
		said, err := f(tx, &all[at])
		if err != nil {
			return "", err
		}
		return said + fmt.Sprintf(" of “%s”", r.Name), rehearsalstore.ChangeRehearsal(ctx, tx, *r) // which notes when
	})
}

// Remark says something of a rehearsal, or of one of its variants; whoever sees it may.
func (s *Service) Remark(ctx context.Context, v *access.Viewer, id, variant int64, words string) (store.Done, error) {
	words = strings.TrimSpace(words)
	if words == "" || len([]rune(words)) > longestSaid {
		return store.Done{}, fault.Invalidf("words", "A remark has 1 to %d characters.", longestSaid)
	}
	return s.inRehearsal(ctx, v, id, func(tx *store.Tx, r *rehearsalstore.Rehearsal) (string, error) {
		all, err := rehearsalstore.Variants(ctx, tx, id)
		if err != nil {
			return "", err
		}
		if variant != 0 && !slices.ContainsFunc(all, func(one rehearsalstore.Variant) bool { return one.ID == variant }) {
			return "", fault.NotFoundf("That variant is not there any more.")
		}
		if r.Remarks >= mostRemarksOfIt {
			return "", fault.Invalidf("words", "There are %d remarks already.", r.Remarks)
		}
		_, err = rehearsalstore.AddRehearsalRemark(ctx, tx, v.Brand, id, rehearsalstore.RehearsalRemark{Words: words,
			Variant: sql.NullInt64{Int64: variant, Valid: variant != 0}, Person: sql.NullInt64{Int64: v.Person, Valid: true}})
		return fmt.Sprintf("Left a remark on “%s”", r.Name), err
	})
}

// RemoveRemark removes one's own remark, or anybody's for whoever coordinates.
func (s *Service) RemoveRemark(ctx context.Context, v *access.Viewer, id, remark int64) (store.Done, error) {
	return s.inRehearsal(ctx, v, id, func(tx *store.Tx, r *rehearsalstore.Rehearsal) (string, error) {
		all, err := rehearsalstore.RehearsalRemarks(ctx, tx, id)
		if err != nil {
			return "", err
		}
		at := slices.IndexFunc(all, func(m rehearsalstore.RehearsalRemark) bool { return m.ID == remark })
		switch {
		case at < 0:
			return "", fault.NotFoundf("That remark is not there any more.")
		case all[at].Person.Int64 != v.Person && !v.Can(access.Galleries):
			return "", fault.Forbiddenf("That is somebody else’s remark.")
		}
		return fmt.Sprintf("Removed a remark on “%s”", r.Name), rehearsalstore.RemoveRehearsalRemark(ctx, tx, remark)
	})
}
