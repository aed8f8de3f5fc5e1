package preparing

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/recipestore"
)

// longestLook is how many characters the name of a look may have.
const longestLook = 60

// Looks lists the looks of the brand.
func (s *Service) Looks(ctx context.Context, v *access.Viewer) ([]recipestore.PictureLook, error) {
	return recipestore.Looks(ctx, s.DB, v.Brand)
}

// SaveLook saves adjustments under a name: those of the chosen groups. With an id it changes a look, and no picture that it was put on.
func (s *Service) SaveLook(ctx context.Context, v *access.Viewer, l recipestore.PictureLook) (store.Done, error) {
	l.Name = strings.Join(strings.Fields(norm.NFC.String(l.Name)), " ")
	switch {
	case l.Name == "" || len([]rune(l.Name)) > longestLook:
		return store.Done{}, fault.Invalidf("name", "The name of a look has between 1 and %d characters.", longestLook)
	case len(l.Groups) == 0:
		return store.Done{}, fault.Invalidf("groups", "Choose what the look is about.")
	}
	for _, g := range l.Groups {
		if !slices.Contains(recipe.Groups, g) {
			return store.Done{}, fault.Invalidf("groups", "“%s” is no group of adjustments.", g)
		}
	}
	whole := recipe.Recipe{Adjustments: l.Values.Adjustments}
	if err := whole.Check(); err != nil {
		return store.Done{}, err
	}
	if l.Values.Adjustments = l.Values.Only(l.Groups); l.Values.Neutral() {
		return store.Done{}, fault.Invalidf("groups", "Nothing is adjusted in what you chose, so the look would do nothing.")
	}
	return s.DB.Act(ctx, v, "look", func(tx *store.Tx) (store.Done, error) {
		said := fmt.Sprintf("Saved the look “%s”", l.Name)
		if l.ID != 0 {
			said = fmt.Sprintf("Changed the look “%s”", l.Name)
		}
		id, err := recipestore.SaveLook(ctx, tx, v.Brand, l)
		return store.Done{Said: said, Changed: 1, ID: id}, err
	})
}

// RemoveLook removes a look. Items that it was put on stay as they are.
func (s *Service) RemoveLook(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "look", func(tx *store.Tx) (store.Done, error) {
		was, err := recipestore.LookByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		n, err := recipestore.RemoveLook(ctx, tx, v.Brand, id)
		return store.Done{Said: fmt.Sprintf("Removed the look “%s”", was.Name), Changed: n}, err
	})
}
