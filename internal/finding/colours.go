package finding

import (
	"context"
	"fmt"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/tagstore"
)

// longestColour is how many characters the name of a colour has at most, and mostColours how many a brand has.
const (
	longestColour = 60
	mostColours   = 40
)

// Colours lists the colours of the brand, which one looks for by name.
func (s *Service) Colours(ctx context.Context, v *access.Viewer) ([]tagstore.BrandColour, error) {
	return tagstore.BrandColours(ctx, s.DB, v.Brand)
}

// SaveColour adds a colour of the brand, or changes one that has an id.
func (s *Service) SaveColour(ctx context.Context, v *access.Viewer, c tagstore.BrandColour) (store.Done, error) {
	c.Name, c.Colour = strings.Join(strings.Fields(c.Name), " "), strings.ToLower(strings.TrimSpace(c.Colour))
	if c.Name == "" || len([]rune(c.Name)) > longestColour {
		return store.Done{}, fault.Invalidf("name", "The name of a colour has between 1 and %d characters.", longestColour)
	}
	if _, err := likeness.ParseColour(c.Colour); err != nil {
		return store.Done{}, fault.Invalidf("colour", "%v.", err)
	}
	return s.DB.Act(ctx, v, "brand_colour", func(tx *store.Tx) (store.Done, error) {
		said := "Changed the colour “%s”"
		if c.ID == 0 {
			said = "Added the colour “%s”"
			all, err := tagstore.BrandColours(ctx, tx, v.Brand)
			if err != nil {
				return store.Done{}, err
			}
			if len(all) >= mostColours {
				return store.Done{}, fault.Invalidf("name", "A brand has at most %d colours.", mostColours)
			}
		}
		id, err := tagstore.SaveBrandColour(ctx, tx, v.Brand, c)
		return store.Done{Said: fmt.Sprintf(said, c.Name), Changed: 1, ID: id}, err
	})
}

// RemoveColour removes a colour of the brand.
func (s *Service) RemoveColour(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "brand_colour", func(tx *store.Tx) (store.Done, error) {
		n, err := tagstore.RemoveBrandColour(ctx, tx, v.Brand, id)
		if err == nil && n == 0 {
			err = fault.NotFoundf("That colour is not there any more.")
		}
		return store.Done{Said: "Removed a colour of the brand", Changed: n}, err
	})
}
