// Package recipestore keeps how pictures are prepared: recipes, focal points, and looks saved by name.
package recipestore

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/store"
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

// Framed is how an item is framed, for reading beside something else.
type Framed struct {
	Recipe     Recipe `db:"recipe"`
	FileWidth  int    `db:"file_width"`
	FileHeight int    `db:"file_height"`
}

// FramedColumns reads it from asset a joined with its version v.
const FramedColumns = `a.recipe, v.width as file_width, v.height as file_height`

// Frame is how the item is framed.
func (f Framed) Frame() geometry.Frame {
	return f.Recipe.Frame(geometry.Size{Width: f.FileWidth, Height: f.FileHeight})
}

// Prepared is an item as its recipe is changed.
type Prepared struct {
	ID      int64   `db:"id"`
	Kind    string  `db:"kind"`
	Version int64   `db:"version_id"`
	FocalX  float64 `db:"focal_x"`
	FocalY  float64 `db:"focal_y"`
	Focals  Focals  `db:"focal_for"`
	Seconds float64 `db:"file_seconds"` // of the file of a clip
	Framed
}

// FileSize is the size in pixels of the upright file.
func (p Prepared) FileSize() geometry.Size {
	return geometry.Size{Width: p.FileWidth, Height: p.FileHeight}
}

// RecipesOfContent lists the hashes of the recipes by which items with a content are shown.
func RecipesOfContent(ctx context.Context, r store.Reader, sum []byte) ([]string, error) {
	return store.List[string](ctx, r, `select distinct a.recipe_hash from version v join asset a on a.id = v.asset_id where v.sha256 = $1`,
		sum,
	)
}

// SetFocal says where the focal point of an item is, for a person: from then on no machine moves it.
func SetFocal(ctx context.Context, tx *store.Tx, asset int64, at geometry.Point) (int, error) {
	return tx.Change(ctx, `update asset set focal_x = $2, focal_y = $3, focal_by = 'person' where id = $1
		and (focal_x, focal_y, focal_by) is distinct from ($2::real, $3::real, 'person')`, asset, at.X, at.Y)
}

// ForgetFocal leaves the focal point of an item to the machine again.
func ForgetFocal(ctx context.Context, tx *store.Tx, asset int64) (int, error) {
	return tx.Change(ctx, `update asset set focal_by = 'proposed' where id = $1 and focal_by = 'person'`, asset)
}

// SetRecipes changes the recipes of items: next says for each what becomes of it, and that stays as it is where it says the same. The
// dimensions follow, the focal point stays on what it was on, and the machine looks into the items again. It returns which changed.
func SetRecipes(ctx context.Context, tx *store.Tx, ids []int64, next func(Prepared) recipe.Recipe) ([]int64, error) {
	items, err := store.List[Prepared](ctx, tx, `select a.id, a.kind, a.version_id, a.focal_x, a.focal_y, a.focal_for,
		coalesce(v.seconds, 0) as file_seconds,
		`+FramedColumns+` from asset a
		join version v on v.id = a.version_id where a.id = any($1) order by a.id for no key update of a`, ids)
	if err != nil {
		return nil, err
	}
	var changed []int64
	var recipes, hashes, others []string
	var widths, heights []int
	var xs, ys, lengths []float64
	for _, item := range items {
		to := next(item)
		if to.Same(item.Recipe.Recipe) {
			continue
		}
		file := item.FileSize()
		was, is := item.Frame(), to.Frame(file)
		follow := func(p geometry.Point) geometry.Point { return is.Shown(was.File(p)).Inside() }
		focal := follow(geometry.Point{X: item.FocalX, Y: item.FocalY})
		others = append(others, item.Focals.moved(follow).text())
		size := to.Size(file)
		changed, recipes, hashes = append(changed, item.ID), append(recipes, string(to.Canonical())), append(hashes, to.Hash())
		widths, heights, xs, ys = append(widths, size.Width), append(heights, size.Height), append(xs, focal.X), append(ys, focal.Y)
		from, until := to.Span(item.Seconds)
		lengths = append(lengths, until-from)
	}
	if len(changed) == 0 {
		return nil, nil
	}
	_, err = tx.ExecContext(ctx, `update asset a set recipe = n.recipe::jsonb, recipe_hash = n.hash, width = n.width, height = n.height,
		focal_x = n.x, focal_y = n.y, focal_for = n.others::jsonb, looked_into = null,
		seconds = case when a.kind = 'clip' then n.seconds else a.seconds end
		from unnest($1::bigint[], $2::text[], $3::text[], $4::int[], $5::int[], $6::float8[], $7::float8[], $8::float8[],
		$9::text[]) as n(id, recipe, hash, width, height, x, y, seconds, others) where a.id = n.id`, changed, recipes, hashes, widths, heights,
		xs, ys, lengths, others)
	return changed, err
}
