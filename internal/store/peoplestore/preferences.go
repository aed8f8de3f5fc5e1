package peoplestore

import (
	"context"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// Preferences is what a person set for themselves in a brand, as JSON.
func Preferences(ctx context.Context, r store.Reader, brand, person int64) ([]byte, error) {
	rows, err := store.List[[]byte](ctx, r, `select value from preference where brand_id = $1 and person_id = $2`, brand, person)
	if err != nil || len(rows) == 0 {
		return []byte("{}"), err
	}
	return rows[0], nil
}

// mostPreferences is how many characters all that a person set for themselves may have.
const mostPreferences = 200_000

// SetPreferences writes some of the values that a person set; null takes one away.
func SetPreferences(ctx context.Context, tx *store.Tx, brand, person int64, change []byte) error {
	length, err := store.Get[int](ctx, tx, "",
		`insert into preference (brand_id, person_id, value) values ($1, $2, jsonb_strip_nulls($3::jsonb))
		on conflict (brand_id, person_id) do update set value = jsonb_strip_nulls(preference.value || $3::jsonb)
		returning length(value::text)`,
		brand,
		person,
		string(change),
	)
	if err == nil && length > mostPreferences {
		return fault.Invalidf("value", "That is more than can be kept for one person.")
	}
	return err
}
