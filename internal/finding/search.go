package finding

import (
	"context"
	"slices"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
)

// Limits of what is found out about a search.
const (
	mostExplained = 200 // items
	mostMissed    = 6   // words
	mostLoosened  = 12  // conditions
)

// Why says of items why a search for words found them. An item of which that is not known has no reasons.
func (s *Service) Why(ctx context.Context, v *access.Viewer, words string, ids []int64) (map[int64][]query.Reason, error) {
	if len(ids) > mostExplained {
		return nil, fault.Invalidf("ids", "Ask about %d items at most.", mostExplained)
	}
	terms, err := store.Normal(ctx, s.DB, query.Terms(words))
	if err != nil {
		return nil, err
	}
	says, err := findstore.Saying(ctx, s.DB, v, ids)
	out := make(map[int64][]query.Reason, len(says))
	for id, texts := range says {
		out[id] = query.Why(terms, texts)
	}
	return out, err
}

// Near is a word with how many items a search would show with it.
type Near struct {
	Word  string
	Items int
}

// Loosened is how many items would be shown without one condition of a filter: a word, or else the rule at a place.
type Loosened struct {
	Word  string
	Rule  int
	Items int
}

// Miss is what may have been meant by a search that found nothing: for words that nothing says the nearest ones, all the words as
// they were meant, and what to leave out. Meant leaves out words that nothing is near to; Certain says that there are none.
type Miss struct {
	Nearest map[string][]Near
	Meant   Near
	Certain bool
	Without []Loosened
}

// Miss looks for what is nearest to a query that shows nothing.
func (s *Service) Miss(ctx context.Context, v *access.Viewer, q query.Query) (Miss, error) {
	m := Miss{Nearest: map[string][]Near{}, Without: []Loosened{}}
	if err := q.Check(); err != nil || q.Filter == nil || q.Filter.Match != query.All {
		return m, err
	}
	for i, rule := range q.Filter.Rules[:min(mostLoosened, len(q.Filter.Rules))] {
		rest := slices.Delete(slices.Clone(q.Filter.Rules), i, i+1)
		var err error
		if rule.Field == "words" {
			words := query.Split(strings.Join(rule.Names, " "))
			err = s.missedWords(ctx, v, q, i, words[:min(mostMissed, len(words))], rest, &m)
		} else {
			err = s.loosen(ctx, v, q, rest, Loosened{Rule: i}, &m)
		}
		if err != nil {
			return m, err
		}
	}
	return m, nil
}

// missedWords finds out which of some words nothing says, what is near to them, and what each of them leaves out. Rest is the filter
// beside them.
func (s *Service) missedWords(ctx context.Context, v *access.Viewer, q query.Query, rule int, words []string, rest []query.Rule,
	m *Miss) error {
	with := func(words ...string) []query.Rule {
		if len(words) == 0 {
			return rest
		}
		return append(slices.Clone(rest), query.Rule{Field: "words", Names: words})
	}
	var known, missing []string
	for _, word := range words {
		n, err := s.count(ctx, v, query.Query{Place: "everything"}, []query.Rule{query.Words(word)})
		if err != nil {
			return err
		}
		if n > 0 {
			known = append(known, word)
		} else {
			missing = append(missing, word)
		}
	}
	m.Certain = len(missing) > 0
	for _, word := range missing {
		m.Nearest[word] = []Near{}
		if err := s.nearest(ctx, v, q, word, func(other string) []query.Rule { return with(append(slices.Clone(known), other)...) },
			m); err != nil {
			return err
		}
		m.Certain = m.Certain && len(m.Nearest[word]) > 0
	}
	var meant []string
	for _, word := range words {
		near, missed := m.Nearest[word]
		switch {
		case !missed:
			meant = append(meant, word)
		case len(near) > 0:
			meant = append(meant, near[0].Word)
		}
	}
	if len(missing) > 0 && len(meant) > 0 {
		n, err := s.count(ctx, v, q, with(meant...))
		if err != nil {
			return err
		}
		if n > 0 {
			m.Meant = Near{strings.Join(meant, " "), n}
		}
	}
	for at, word := range words {
		if err := s.loosen(ctx, v, q, with(slices.Delete(slices.Clone(words), at, at+1)...), Loosened{Word: word, Rule: rule}, m); err != nil {
			return err
		}
	}
	return nil
}

// loosen notes how many items the rest of a filter shows, if there is a rest and it shows any.
func (s *Service) loosen(ctx context.Context, v *access.Viewer, q query.Query, rest []query.Rule, without Loosened, m *Miss) error {
	if len(rest) == 0 {
		return nil
	}
	n, err := s.count(ctx, v, q, rest)
	if without.Items = n; n > 0 {
		m.Without = append(m.Without, without)
	}
	return err
}

// nearest notes the words near one, with what each would show in its place.
func (s *Service) nearest(ctx context.Context, v *access.Viewer, q query.Query, word string, with func(string) []query.Rule,
	m *Miss) error {
	plain, err := store.Normal(ctx, s.DB, []string{word})
	if err != nil {
		return err
	}
	near, err := s.Nearest(ctx, v, plain[0])
	if err != nil {
		return err
	}
	for _, other := range near {
		n, err := s.count(ctx, v, q, with(other))
		if err != nil {
			return err
		}
		if n > 0 {
			m.Nearest[word] = append(m.Nearest[word], Near{other, n})
		}
	}
	return nil
}

func (s *Service) count(ctx context.Context, v *access.Viewer, q query.Query, rules []query.Rule) (int, error) {
	q.Filter = query.Both(rules...)
	page, err := s.Sheet(ctx, v, q, 0, 0)
	return page.Total, err
}
