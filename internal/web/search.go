package web

import (
	"context"
	"slices"
	"strings"

	"brightsatchel/api"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/finding"
)

func (h *handler) ExplainFound(ctx context.Context, r api.ExplainFoundRequestObject) (api.ExplainFoundResponseObject, error) {
	why, err := h.house.Finding.Why(ctx, viewerOf(ctx), r.Body.Words, r.Body.Ids)
	out := api.ExplainFound200JSONResponse{}
	for _, id := range r.Body.Ids {
		if reasons, seen := why[id]; seen {
			out = append(out, api.FoundItem{ID: id, Reasons: each(reasons, func(r query.Reason) api.Reason {
				return api.Reason{Field: api.ReasonField(r.Field), Before: r.Before, Match: r.Match, After: r.After}
			})})
		}
	}
	return out, err
}

func (h *handler) ExplainMiss(ctx context.Context, r api.ExplainMissRequestObject) (api.ExplainMissResponseObject, error) {
	m, err := h.house.Finding.Miss(ctx, viewerOf(ctx), *queryOf(r.Body))
	out := api.ExplainMiss200JSONResponse{Words: []api.MissedWord{}, Without: each(m.Without, func(l finding.Loosened) api.Loosened {
		without := api.Loosened{Rule: l.Rule, Items: l.Items}
		if l.Word != "" {
			without.Word = &l.Word
		}
		return without
	})}
	if m.Meant.Items > 0 {
		out.Meant, out.Items, out.Certain = &m.Meant.Word, &m.Meant.Items, &m.Certain
	}
	for word, nearest := range m.Nearest {
		missed := api.MissedWord{Word: word, Nearest: []struct {
			Items int    `json:"items"`
			Word  string `json:"word"`
		}{}}
		for _, near := range nearest {
			missed.Nearest = append(missed.Nearest, struct {
				Items int    `json:"items"`
				Word  string `json:"word"`
			}{near.Items, near.Word})
		}
		out.Words = append(out.Words, missed)
	}
	slices.SortFunc(out.Words, func(a, b api.MissedWord) int { return strings.Compare(a.Word, b.Word) })
	return out, err
}
