package finding

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/albumstore"
)

// Counted is how many items each of some rules finds, and each in words.
type Counted struct {
	Items []int
	Said  []string
}

// CountRules counts what rules find in the place of a query, each by itself and in place of the filter of the query.
func (s *Service) CountRules(ctx context.Context, v *access.Viewer, q query.Query, rules []query.Rule) (Counted, error) {
	if err := query.CheckAll(rules); err != nil {
		return Counted{}, err
	}
	names, err := s.ruleNames(ctx, v)
	if err != nil {
		return Counted{}, err
	}
	out := Counted{Items: make([]int, len(rules)), Said: make([]string, len(rules))}
	for i := range rules {
		one := q
		one.Filter = query.Both(rules[i])
		if out.Items[i], err = s.Count(ctx, v, one); err != nil {
			return Counted{}, err
		}
		out.Said[i] = rules[i].Say(names)
	}
	return out, nil
}

// ruleNames are what the things are called that rules speak of, as far as the viewer may know: of tags those that are on something
// that they see, and of outlets none if they may not look everywhere.
func (s *Service) ruleNames(ctx context.Context, v *access.Viewer) (*query.Names, error) {
	names, err := albumstore.RuleNames(ctx, s.DB, v)
	if err != nil || v.May(access.Look).All {
		return names, err
	}
	tags, err := s.Tags(ctx, v)
	names.Tags, names.Outlets = make(map[int64]string, len(tags)), nil
	for _, t := range tags {
		names.Tags[t.ID] = t.Name
	}
	return names, err
}
