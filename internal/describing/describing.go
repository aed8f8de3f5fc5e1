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
	"brightsatchel/internal/store"
)

// Service describes items.
type Service struct{ DB *store.DB }

// Describe changes the words on one item. See store.Tx.Describe for what happens when somebody else changed them too.
func (s *Service) Describe(ctx context.Context, v *access.Viewer, id int64, d store.Description) (store.Done, error) {
	return s.DB.Act(ctx, v, "describe", func(tx *store.Tx) (store.Done, error) {
		if _, err := store.Select(ctx, tx, v, access.Describe, query.Selection{IDs: []int64{id}}); err != nil {
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

// Tag puts tags on a selection, making those that are new, and takes others off.
func (s *Service) Tag(ctx context.Context, v *access.Viewer, sel query.Selection, add string, remove []int64) (store.Done, error) {
	names, err := tags.Split(add)
	if err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "tag", func(tx *store.Tx) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, access.Describe, sel)
		if err != nil {
			return store.Done{}, err
		}
		added, err := s.add(ctx, tx, v, ids, names)
		if err != nil {
			return store.Done{}, err
		}
		removed := 0
		if len(remove) > 0 {
			if removed, err = tx.TakeTagsOff(ctx, ids, remove); err != nil {
				return store.Done{}, err
			}
		}
		return store.Done{Said: said(names, added, removed), Changed: added + removed}, nil
	})
}

func (s *Service) add(ctx context.Context, tx *store.Tx, v *access.Viewer, ids []int64, names []string) (int, error) {
	put, err := tx.EnsureTags(ctx, v, names)
	if err != nil || len(put) == 0 {
		return 0, err
	}
	return tx.AddTags(ctx, v.Brand, ids, put)
}

func said(names []string, added, removed int) string {
	switch {
	case added > 0 && removed > 0:
		return fmt.Sprintf("Tagged %s and took tags off %s", query.Items(added), query.Items(removed))
	case added > 0:
		return fmt.Sprintf("Tagged %s with %s", query.Items(added), strings.Join(names, ", "))
	case removed > 0:
		return fmt.Sprintf("Took a tag off %s", query.Items(removed))
	}
	return "They have those tags already"
}

// Tags lists every tag of the brand.
func (s *Service) Tags(ctx context.Context, v *access.Viewer) ([]store.Tag, error) {
	return store.Tags(ctx, s.DB, v.Brand)
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
