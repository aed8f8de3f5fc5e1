package describing

import (
	"context"
	"fmt"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/tagstore"
	"brightsatchel/internal/store/wordstore"
)

// takingOver is what items take over from another one: texts by the names of fields, in the order of describing.Fields, and tags.
type takingOver struct {
	Words []describing.Change `json:"words"`
	Tags  []int64             `json:"tags"`
	From  string              `json:"from"` // what that one is called
}

var takeOverAct = pieces.Act[takingOver]{
	Name: "take_over", Needs: access.Describe,
	Doing: func(n int, t takingOver) string {
		return fmt.Sprintf("Describing %s like “%s”", wording.Items(n), t.From)
	},
	Done: func(n, _ int, t takingOver) string {
		if n == 0 {
			return "They are described like that already"
		}
		return fmt.Sprintf("Described %s like “%s”", wording.Items(n), t.From)
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, t takingOver) (int, error) {
		most := 0
		for _, change := range t.Words {
			words := make([]wordstore.Word, len(p.IDs))
			for i, id := range p.IDs {
				words[i] = wordstore.Word{ID: id, Text: change.Text}
			}
			n, err := wordstore.WriteWords(ctx, tx, change.Field, words)
			if err != nil {
				return 0, err
			}
			most = max(most, n)
		}
		if len(t.Tags) == 0 {
			return most, nil
		}
		n, err := tagstore.ChangeTags(ctx, tx, p.Viewer.Brand, p.IDs, t.Tags, nil)
		return max(most, n), err
	},
}

// TakeOver carries chosen fields of one item to a selection, in place of what is there, and adds its tags where they are asked for.
func (s *Service) TakeOver(ctx context.Context, v *access.Viewer, sel query.Selection, from int64, fields []string,
	tags bool) (store.Done, error) {
	if len(fields) == 0 && !tags {
		return store.Done{}, fault.Invalidf("fields", "Choose what is to be taken over.")
	}
	for _, name := range fields {
		if _, err := describing.FieldOf(name); err != nil {
			return store.Done{}, err
		}
	}
	ids, err := findstore.Select(ctx, s.DB, v, access.Describe, sel)
	if err != nil {
		return store.Done{}, err
	}
	ids = slices.DeleteFunc(ids, func(id int64) bool { return id == from })
	return s.takeOver.DoTo(ctx, v, ids, func(tx *store.Tx) (takingOver, error) {
		one, err := assetstore.AssetByID(ctx, tx, v, from)
		if err != nil {
			return takingOver{}, err
		}
		t := takingOver{From: one.Title}
		if t.From == "" {
			t.From = one.FileName
		}
		for _, field := range describing.Fields {
			if !slices.Contains(fields, field.Name) {
				continue
			}
			said, err := wordstore.WordsOf(ctx, tx, []int64{from}, field.Name)
			if err != nil {
				return t, err
			}
			t.Words = append(t.Words, describing.Change{Field: field.Name, How: describing.Replace, Text: said[0].Text})
		}
		if tags {
			t.Tags = one.TagIDs
		}
		return t, nil
	})
}
