package gathering

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/findstore"
)

// Standing is how an album stands to the choice that it was made of: in words, which of its items are not what was chosen any more, and,
// where it held everything of it, what is chosen now and not in it.
type Standing struct {
	Said       string
	Gone, More []int64
}

// Standing says how an album stands to the choice that it was made of, or nil where it was not made of one.
func (s *Service) Standing(ctx context.Context, v *access.Viewer, id int64) (*Standing, error) {
	a, err := albumstore.SeenAlbum(ctx, s.DB, v, id)
	if err != nil || a.ChosenBy == nil {
		return nil, err
	}
	names, err := albumstore.RuleNames(ctx, s.DB, v)
	if err != nil {
		return nil, err
	}
	chosen, err := findstore.Find(s.DB).IDs(ctx, v, query.Query{Place: "everything", Filter: query.Both(a.ChosenBy.Rule, query.WithAside),
		Sort: "taken"})
	if err != nil {
		return nil, err
	}
	inside, err := albumstore.AlbumItemIDs(ctx, s.DB, id)
	if err != nil {
		return nil, err
	}
	out := &Standing{Said: sayChoice(a.ChosenBy.Rule, names), Gone: without(inside, chosen)}
	if a.ChosenWhole {
		out.More = without(chosen, inside)
	}
	return out, nil
}

// sayChoice says a choice without what is so of every sheet: not in the bin, not set aside, not behind another one.
func sayChoice(rule query.Rule, names *query.Names) string {
	rule.Rules = slices.DeleteFunc(slices.Clone(rule.Rules), func(r query.Rule) bool {
		plain := r.Match == query.None && len(r.Rules) == 1 && (r.Rules[0].Field == "binned" || r.Rules[0].Field == "behind")
		return plain || r.Field == "stars" && r.From != nil && *r.From == 0 && r.To != nil && *r.To == 5
	})
	return rule.Say(names)
}

// without lists those of some ids that are not among others, in their order.
func without(ids, others []int64) []int64 {
	there := make(map[int64]bool, len(others))
	for _, id := range others {
		there[id] = true
	}
	out := []int64{}
	for _, id := range ids {
		if !there[id] {
			out = append(out, id)
		}
	}
	return out
}

// Follow has an album follow the choice that it was made of: what is not chosen any more is taken out, what is chosen now is added.
func (s *Service) Follow(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	now, err := s.Standing(ctx, v, id)
	if err == nil && now == nil {
		err = fault.Invalidf("id", "This album was not made of a choice.")
	}
	if err != nil {
		return store.Done{}, err
	}
	if len(now.Gone)+len(now.More) > mostOrdered {
		return store.Done{}, fault.Invalidf("id", "At most %d items follow at once.", mostOrdered)
	}
	return s.with(ctx, v, id, "follow_choice", func(tx *store.Tx, a albumstore.Album) (store.Done, error) {
		var out, in int
		if len(now.Gone) > 0 {
			if out, err = albumstore.TakeOutOfAlbum(ctx, tx, id, now.Gone); err != nil {
				return store.Done{}, err
			}
		}
		if len(now.More) > 0 {
			if in, err = albumstore.AddToAlbum(ctx, tx, v.Brand, id, now.More); err != nil {
				return store.Done{}, err
			}
		}
		var said []string
		if out > 0 {
			said = append(said, "took out "+wording.Items(out))
		}
		if in > 0 {
			said = append(said, "added "+wording.Items(in))
		}
		if len(said) == 0 {
			return store.Done{Said: fmt.Sprintf("“%s” matches its choice already", a.Name)}, nil
		}
		return store.Done{Said: fmt.Sprintf("“%s” follows its choice again: %s", a.Name, strings.Join(said, ", ")), Changed: out + in}, nil
	})
}

// Forget has an album forget the choice that it was made of.
func (s *Service) Forget(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.with(ctx, v, id, "change_album", func(tx *store.Tx, a albumstore.Album) (store.Done, error) {
		said := fmt.Sprintf("“%s” is not compared with its choice any more", a.Name)
		return store.Done{Said: said, Changed: 1}, albumstore.SetAlbumChoice(ctx, tx, id, nil, false)
	})
}
