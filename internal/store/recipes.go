package store

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/recipe"
)

// Recipe is the recipe of an item as it is kept.
type Recipe struct{ recipe.Recipe }

// Scan implements sql.Scanner.
func (r *Recipe) Scan(value any) (err error) {
	switch text := value.(type) {
	case []byte:
		r.Recipe, err = recipe.Parse(text)
	case string:
		r.Recipe, err = recipe.Parse([]byte(text))
	default:
		err = fmt.Errorf("a recipe cannot be read from a %T", value)
	}
	return err
}

// SetRecipe gives an item a recipe, with the dimensions in pixels that it makes of the version. It says false when that is
// not the present version any more.
func (tx *Tx) SetRecipe(ctx context.Context, asset, version int64, to recipe.Recipe, width, height int) (bool, error) {
	n, err := tx.change(ctx, `update asset set recipe = $3, recipe_hash = $4, width = $5, height = $6, looked_into = null where id = $1
		and version_id = $2`,
		asset, version, string(to.Canonical()), to.Hash(), width, height)
	return n > 0, err
}
