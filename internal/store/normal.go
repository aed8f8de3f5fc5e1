package store

import (
	"context"
	"slices"

	"brightsatchel/internal/core/query"
)

// Normal writes words as search_text does, in which they are looked for.
func Normal(ctx context.Context, r Reader, words []string) ([]string, error) {
	return List[string](ctx, r, `select search_text(w) from unnest($1::text[]) with ordinality as u(w, n) order by n`, words)
}

// Normalise brings the words in a rule into the form in which they are looked for.
func Normalise(ctx context.Context, r Reader, rule *query.Rule) (err error) {
	if rule.Field == "words" {
		rule.Names, err = Normal(ctx, r, rule.Names)
		return err
	}
	rule.Rules = slices.Clone(rule.Rules) // it may be somebody's
	for i := range rule.Rules {
		if err = Normalise(ctx, r, &rule.Rules[i]); err != nil {
			return err
		}
	}
	return nil
}
