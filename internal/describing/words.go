package describing

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/wordstore"
)

// Describe changes the words on one item. See store.Tx.Describe for what happens when somebody else changed them too.
func (s *Service) Describe(ctx context.Context, v *access.Viewer, id int64, d wordstore.Description) (store.Done, error) {
	for name, text := range d.Words {
		field, err := describing.FieldOf(name)
		if err == nil {
			d.Words[name], err = field.Clean(text)
		}
		if err != nil {
			return store.Done{}, err
		}
	}
	return s.DB.Act(ctx, v, "describe", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Describe, []int64{id}); err != nil {
			return store.Done{}, err
		}
		n, err := wordstore.Describe(ctx, tx, id, d)
		if n == 0 {
			return store.Done{Said: "Nothing to change"}, err
		}
		return store.Done{Said: "Described 1 item", Changed: n}, err
	})
}

var writeAct = pieces.Act[describing.Change]{
	Name: "write", Needs: access.Describe,
	Doing: func(n int, c describing.Change) string {
		return fmt.Sprintf("Writing the %s of %s", labelOf(c.Field), wording.Items(n))
	},
	Done: func(n, _ int, c describing.Change) string {
		switch {
		case n == 0:
			return "Nothing to change"
		case c.Text == "":
			return fmt.Sprintf("Emptied the %s of %s", labelOf(c.Field), wording.Items(n))
		case c.How == describing.Replace:
			return fmt.Sprintf("Set the %s of %s", labelOf(c.Field), wording.Items(n))
		case c.How == describing.Fill:
			return fmt.Sprintf("Filled in the %s of %s", labelOf(c.Field), wording.Items(n))
		}
		return fmt.Sprintf("Added to the %s of %s", labelOf(c.Field), wording.Items(n))
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, c describing.Change) (int, error) {
		words, err := wordstore.WordsOf(ctx, tx, p.IDs, c.Field)
		if err != nil {
			return 0, err
		}
		for i := range words {
			if words[i].Text, err = c.To(words[i].Text); err != nil {
				return 0, err
			}
		}
		return wordstore.WriteWords(ctx, tx, c.Field, words)
	},
}

func labelOf(name string) string {
	field, err := describing.FieldOf(name)
	if err != nil {
		return name
	}
	return field.Label
}

// Write writes into one field of a selection.
func (s *Service) Write(ctx context.Context, v *access.Viewer, sel query.Selection, c describing.Change) (store.Done, error) {
	c, err := c.Check()
	if err != nil {
		return store.Done{}, err
	}
	return s.write.Do(ctx, v, sel, pieces.Just(c))
}

var nameAct = pieces.Act[describing.Pattern]{
	Name: "name", Needs: access.Describe,
	Doing: func(n int, _ describing.Pattern) string { return fmt.Sprintf("Giving %s titles", wording.Items(n)) },
	Done: func(n, _ int, _ describing.Pattern) string {
		if n == 0 {
			return "Those are their titles already"
		}
		return fmt.Sprintf("Gave %s a title by a pattern", wording.Items(n))
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, pattern describing.Pattern) (int, error) {
		facts, err := wordstore.PatternFacts(ctx, tx, p.IDs)
		if err != nil {
			return 0, err
		}
		words := make([]wordstore.Word, len(facts))
		for i, f := range facts {
			words[i] = wordstore.Word{ID: p.IDs[i], Text: pattern.Title(f, p.Before+i)}
		}
		return wordstore.WriteWords(ctx, tx, "title", words)
	},
}

// Name gives the items of a selection titles by a pattern, numbered in their order.
func (s *Service) Name(ctx context.Context, v *access.Viewer, sel query.Selection, p describing.Pattern) (store.Done, error) {
	if err := p.Check(); err != nil {
		return store.Done{}, err
	}
	ids, err := findstore.Select(ctx, s.DB, v, access.Describe, sel)
	if err != nil {
		return store.Done{}, err
	}
	p.Total = len(ids)
	return s.name.DoTo(ctx, v, ids, pieces.Just(p))
}

// Named is what a pattern makes of the title of an item.
type Named struct {
	ID           int64
	Was, Becomes string
}

// previewed is how many titles are shown before they are given.
const previewed = 100

// PreviewNames says what a pattern would make of the first titles of a selection, and how many items there are.
func (s *Service) PreviewNames(ctx context.Context, v *access.Viewer, sel query.Selection, p describing.Pattern) ([]Named, int, error) {
	if err := p.Check(); err != nil {
		return nil, 0, err
	}
	ids, err := findstore.Select(ctx, s.DB, v, access.Describe, sel)
	if err != nil {
		return nil, 0, err
	}
	p.Total = len(ids)
	first := ids[:min(len(ids), previewed)]
	facts, err := wordstore.PatternFacts(ctx, s.DB, first)
	out := make([]Named, len(facts))
	for i, f := range facts {
		out[i] = Named{ID: first[i], Was: f.Title, Becomes: p.Title(f, i)}
	}
	return out, len(ids), err
}

// mostCompared is how many items are compared, word by word; of more only the number is said.
const mostCompared = 50_000

// Shared compares the words of a selection. Of too many items it says nothing but their number.
func (s *Service) Shared(ctx context.Context, v *access.Viewer, sel query.Selection) ([]wordstore.Shared, int, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil || len(ids) > mostCompared {
		return nil, len(ids), err
	}
	shared, err := wordstore.SharedWords(ctx, s.DB, ids)
	return shared, len(ids), err
}

// mostTexts is how many different texts of a field are listed.
const mostTexts = 100

// Texts lists what a selection says in one field, the most frequent first.
func (s *Service) Texts(ctx context.Context, v *access.Viewer, sel query.Selection, field string) ([]wordstore.Said, error) {
	if _, err := describing.FieldOf(field); err != nil {
		return nil, err
	}
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return nil, err
	}
	return wordstore.TextsOf(ctx, s.DB, ids[:min(len(ids), mostCompared)], field, mostTexts)
}
