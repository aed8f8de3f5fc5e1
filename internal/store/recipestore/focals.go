package recipestore

import (
	"context"
	"encoding/json"
	"fmt"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/store"
)

// Focals are focal points of an item for some proportions, in place of its own, as places in what is shown.
type Focals map[string]geometry.Point

// Scan implements sql.Scanner.
func (f *Focals) Scan(value any) error {
	text, ok := value.([]byte)
	if s, is := value.(string); is {
		text, ok = []byte(s), true
	}
	if !ok {
		return fmt.Errorf("focal points cannot be read from a %T", value)
	}
	*f = nil
	return json.Unmarshal(text, f)
}

func (f Focals) text() string {
	if len(f) == 0 {
		return "{}"
	}
	out, _ := json.Marshal(f) // numbers by names
	return string(out)
}

// moved has every point where move takes it.
func (f Focals) moved(move func(geometry.Point) geometry.Point) Focals {
	out := make(Focals, len(f))
	for proportion, at := range f {
		out[proportion] = move(at)
	}
	return out
}

// SetFocalFor says where the focal point of an item is for a proportion; nil has it follow the item's own again.
func SetFocalFor(ctx context.Context, tx *store.Tx, asset int64, proportion string, at *geometry.Point) (int, error) {
	if at == nil {
		return tx.Change(ctx, `update asset set focal_for = focal_for - $2 where id = $1 and focal_for ? $2`, asset, proportion)
	}
	one := Focals{proportion: *at}
	return tx.Change(ctx, `update asset set focal_for = focal_for || $2::jsonb where id = $1 and not focal_for @> $2::jsonb`, asset,
		one.text())
}
