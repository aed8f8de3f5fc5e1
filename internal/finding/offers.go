package finding

import (
	"context"
	"maps"
	"slices"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/findstore"
)

// Offered is a condition that somebody who types may mean, in words, and how many items it would show.
type Offered struct {
	query.Offer
	Said  string
	Items int
}

// mostOffered is how many conditions are offered at a time.
const mostOffered = 8

// Offers are the conditions that what somebody types may mean, each counted beside the filter of a query and the words that were typed
// before it. What was only begun and shows nothing is left out.
func (s *Service) Offers(ctx context.Context, v *access.Viewer, q query.Query, typed string) ([]Offered, error) {
	names, err := s.ruleNames(ctx, v)
	if err != nil {
		return nil, err
	}
	facets, err := s.Facets(ctx, v, query.Query{Place: "everything"})
	if err != nil {
		return nil, err
	}
	names.Places, names.Cameras = slices.Collect(maps.Keys(facets.Places)), slices.Collect(maps.Keys(facets.Cameras))
	today, err := time.Parse(time.DateOnly, findstore.Today())
	if err != nil {
		return nil, err
	}
	var out []Offered
	for _, o := range query.Read(typed, today, names) {
		rules := []query.Rule{o.Rule}
		if o.Rest != "" {
			rules = append(rules, query.Words(o.Rest))
		}
		if q.Filter != nil {
			rules = append(rules, *q.Filter)
		}
		one := q
		one.Filter = query.Both(rules...)
		items, err := s.Count(ctx, v, one)
		if err != nil {
			return nil, err
		}
		if items > 0 || o.Sure {
			out = append(out, Offered{Offer: o, Said: o.Rule.Say(names), Items: items})
		}
		if len(out) == mostOffered {
			break
		}
	}
	return out, nil
}
