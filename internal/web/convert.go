package web

import (
	"database/sql"
	"time"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
)

// each converts a slice; of nothing it makes an empty one, since the contract knows no null lists.
func each[A, B any](in []A, f func(A) B) []B {
	out := make([]B, len(in))
	for i, a := range in {
		out[i] = f(a)
	}
	return out
}

// value is what a pointer points to, or the zero value.
func value[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}

func nullInt(n sql.NullInt64) *int64 {
	if !n.Valid {
		return nil
	}
	return &n.Int64
}

func moment(t sql.NullTime) *time.Time {
	if !t.Valid {
		return nil
	}
	return &t.Time
}

func nullString(s sql.NullString) *string {
	if !s.Valid {
		return nil
	}
	return &s.String
}

func nullFloat(f sql.NullFloat64) *float64 {
	if !f.Valid {
		return nil
	}
	return &f.Float64
}

func actions(list []access.Action) []api.Action {
	return each(list, func(a access.Action) api.Action { return api.Action(a) })
}

func done(d store.Done) api.DoneJSONResponse {
	out := api.DoneJSONResponse{Said: d.Said, Changed: d.Changed}
	if d.Trail != 0 {
		out.Trail = &d.Trail
	}
	if d.ID != 0 {
		out.ID = &d.ID
	}
	if d.GoesOn {
		out.GoesOn = &d.GoesOn
	}
	return out
}
