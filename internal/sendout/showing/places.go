// Package showing finds what folders, albums and embeds show to those outside.
package showing

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
)

// asPublic finds for those outside: what is shown to them, whoever made the gallery or embed decided.
func asPublic(brand int64) *access.Viewer {
	return &access.Viewer{Actor: access.Actor{Brand: brand, Role: access.Reviewer}}
}

// Page lists a part of what a question finds, and how much there is in all.
func Page(ctx context.Context, db *store.DB, brand int64, q query.Query, from, most int) ([]int64, int, error) {
	p, err := findstore.Find(db).Sheet(ctx, asPublic(brand), q, from, most)
	ids := make([]int64, len(p.Rows))
	for i, row := range p.Rows {
		ids[i] = row.ID
	}
	return ids, p.Total, err
}

// CountPlaces counts what is in some places, each item once.
func CountPlaces(ctx context.Context, db *store.DB, brand int64, places []assetstore.Place) (int, error) {
	_, total, err := Page(ctx, db, brand, together(places, &embeds.Settings{Sort: "taken"}), 0, 0)
	return total, err
}
