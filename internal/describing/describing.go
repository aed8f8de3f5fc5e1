// Package describing gives items their words: titles, descriptions, alt text and tags.
package describing

import (
	"context"
	"fmt"
	"strings"

	"golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/tags"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
)

// Service describes items.
type Service struct {
	DB  *store.DB
	tag *pieces.Registered[tagging]
}

// New returns the service, with its acts made known.
func New(db *store.DB, many *pieces.Service) *Service {
	return &Service{DB: db, tag: pieces.Register(many, tagAct)}
}

// Describe changes the words on one item. See store.Tx.Describe for what happens when somebody else changed them too.
func (s *Service) Describe(ctx context.Context, v *access.Viewer, id int64, d store.Description) (store.Done, error) {
	return s.DB.Act(ctx, v, "describe", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Describe, []int64{id}); err != nil {
			return store.Done{}, err
		}
		for _, text := range []*string{d.Title, d.Alt, d.Credit, d.Copyright} {
			if text != nil {
				*text = oneLine(*text)
			}
		}
		n, err := tx.Describe(ctx, id, d)
		if n == 0 {
			return store.Done{Said: "Nothing to change"}, err
		}
		return store.Done{Said: "Described 1 item", Changed: n}, err
	})
}

func oneLine(text string) string {
	return strings.Join(strings.Fields(norm.NFC.String(text)), " ")
}

// tagging is which tags items get and lose.
type tagging struct {
	Names  []string `json:"names"` // of those to add, as they were typed
	Add    []int64  `json:"add"`
	Remove []int64  `json:"remove"`
	Gone   []string `json:"gone"` // what those to remove are called
}

var tagAct = pieces.Act[tagging]{
	Name: "tag", Needs: access.Describe,
	Doing: func(n int, t tagging) string {
		if len(t.Add) > 0 {
			return fmt.Sprintf("Tagging %s with %s", wording.Items(n), strings.Join(t.Names, ", "))
		}
		return fmt.Sprintf("Taking tags off %s", wording.Items(n))
	},
	Done: func(n, _ int, t tagging) string {
		switch {
		case n == 0:
			return "Those tags are there already"
		case len(t.Add) > 0 && len(t.Remove) > 0:
			return fmt.Sprintf("Changed the tags of %s", wording.Items(n))
		case len(t.Add) > 0:
			return fmt.Sprintf("Tagged %s with %s", wording.Items(n), strings.Join(t.Names, ", "))
		}
		return fmt.Sprintf("Removed “%s” from %s", strings.Join(t.Gone, "”, “"), wording.Items(n))
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, t tagging) (int, error) {
		return tx.ChangeTags(ctx, p.Viewer.Brand, p.IDs, t.Add, t.Remove)
	},
}

// Tag puts tags on a selection, making those that are new, and takes others off.
func (s *Service) Tag(ctx context.Context, v *access.Viewer, sel query.Selection, add string, remove []int64) (store.Done, error) {
	names, err := tags.Split(add)
	if err != nil {
		return store.Done{}, err
	}
	return s.tag.Do(ctx, v, sel, func(tx *store.Tx) (tagging, error) {
		put, err := tx.EnsureTags(ctx, v, names)
		if err != nil {
			return tagging{}, err
		}
		gone, err := store.NamesOfTags(ctx, tx, v.Brand, remove)
		return tagging{Names: names, Add: put, Remove: remove, Gone: gone}, err
	})
}

// Tags lists the tags of the brand with how often they are used. Whoever may not look everywhere sees those that are on
// something they see.
func (s *Service) Tags(ctx context.Context, v *access.Viewer) ([]store.Tag, error) {
	return s.DB.Find().Tags(ctx, v)
}

// TagsOf lists the tags on a selection, each with on how many items it is, and the number of items.
func (s *Service) TagsOf(ctx context.Context, v *access.Viewer, sel query.Selection) ([]store.Tag, int, error) {
	ids, err := store.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return nil, 0, err
	}
	on, err := store.TagsOf(ctx, s.DB, ids)
	return on, len(ids), err
}
