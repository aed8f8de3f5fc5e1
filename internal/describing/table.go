package describing

import (
	"context"
	"fmt"
	"io"
	"maps"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/tagstore"
	"brightsatchel/internal/store/wordstore"
)

// readAtOnce is how many rows of a table are read from the database, or compared with it, at a time.
const readAtOnce = 2000

// WriteTable writes the words of a selection, in its order, as CSV or JSON. Nothing is written before the selection is known.
func (s *Service) WriteTable(ctx context.Context, v *access.Viewer, sel query.Selection, asJSON bool) (func(io.Writer) error, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return nil, err
	}
	return func(out io.Writer) error {
		w, err := describing.NewTableWriter(out, asJSON)
		if err != nil {
			return err
		}
		for some := range slices.Chunk(ids, readAtOnce) {
			rows, err := wordstore.RowsOfTable(ctx, s.DB, some)
			if err != nil {
				return err
			}
			for _, row := range rows {
				if err := w.Write(row.Row); err != nil {
					return err
				}
			}
		}
		return w.Close()
	}, nil
}

// BringBack keeps a table, to be read and compared with what the items say; what it would change is looked at then, and applied.
func (s *Service) BringBack(ctx context.Context, v *access.Viewer, name string, data []byte) (wordstore.WordsTable, error) {
	var kept wordstore.WordsTable
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		id, err := wordstore.AddWordsTable(ctx, tx, v, name, data)
		if err == nil {
			err = s.jobs.Enqueue(ctx, tx, readTable{id})
		}
		if err == nil {
			kept, err = wordstore.WordsTableOf(ctx, tx, v, id)
		}
		return err
	})
	return kept, err
}

// Table says how far a table is that the viewer brought back.
func (s *Service) Table(ctx context.Context, v *access.Viewer, id int64) (wordstore.WordsTable, error) {
	return wordstore.WordsTableOf(ctx, s.DB, v, id)
}

// Tables lists the table that the viewer brought back last and did not apply, if there is one.
func (s *Service) Tables(ctx context.Context, v *access.Viewer) ([]wordstore.WordsTable, error) {
	id, err := wordstore.LatestWordsTable(ctx, s.DB, v)
	if err != nil || id == 0 {
		return nil, err
	}
	table, err := wordstore.WordsTableOf(ctx, s.DB, v, id)
	return []wordstore.WordsTable{table}, err
}

// mostRows is how many rows of a table are shown at a time.
const mostRows = 100

// TableRows lists rows of a table after a number, of one state or, without one, all.
func (s *Service) TableRows(ctx context.Context, v *access.Viewer, id int64, state wordstore.RowState, after int) ([]wordstore.WordsRow,
	error) {
	if _, err := wordstore.WordsTableOf(ctx, s.DB, v, id); err != nil {
		return nil, err
	}
	return wordstore.WordsRows(ctx, s.DB, id, state, after, mostRows)
}

// tabled is the table that an act applies.
type tabled struct {
	Table int64  `json:"table"`
	Name  string `json:"name"`
}

var tableAct = pieces.Act[tabled]{
	Name: "table", Needs: access.Describe,
	Doing: func(n int, t tabled) string {
		return fmt.Sprintf("Describing %s by “%s”", wording.Items(n), t.Name)
	},
	Done: func(n, of int, t tabled) string {
		switch {
		case n == 0:
			return "Nothing to change"
		case n < of:
			return fmt.Sprintf("Described %s by “%s”; %d had changed meanwhile", wording.Items(n), t.Name, of-n)
		}
		return fmt.Sprintf("Described %s by “%s”", wording.Items(n), t.Name)
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, t tabled) (int, error) {
		return applyTable(ctx, tx, p, t.Table)
	},
}

// applyTable changes what a table changes in some items, where they still say what they said when it was compared: what somebody
// wrote since is not overwritten. It returns how many items changed.
func applyTable(ctx context.Context, tx *store.Tx, p pieces.Piece, table int64) (int, error) {
	rows, err := wordstore.ChangingRows(ctx, tx, table, p.IDs)
	if err != nil {
		return 0, err
	}
	now, err := wordstore.RowsOfTable(ctx, tx, p.IDs)
	if err != nil {
		return 0, err
	}
	says := make(map[int64]wordstore.TableItem, len(now))
	for _, one := range now {
		says[one.ID] = one
	}
	changed := map[int64]bool{}
	words := map[string][]wordstore.Word{}
	put, off := map[string][]int64{}, map[string][]int64{} // items by the names of tags
	for _, row := range rows {
		item, there := says[row.Asset]
		for _, c := range row.Changes {
			switch {
			case !there:
			case c.Field == describing.TagsColumn:
				retag(row.Asset, c, put, off)
				changed[row.Asset] = true
			case item.Words[c.Field] == c.Was:
				words[c.Field] = append(words[c.Field], wordstore.Word{ID: row.Asset, Text: c.Becomes})
				changed[row.Asset] = true
			}
		}
	}
	for _, f := range describing.Fields {
		if _, err := wordstore.WriteWords(ctx, tx, f.Name, words[f.Name]); err != nil {
			return 0, err
		}
	}
	return len(changed), changeTagsByName(ctx, tx, p.Viewer, put, off)
}

// retag notes which tags an item gets and loses: tags are added and taken off, so what others add meanwhile stays.
func retag(asset int64, c describing.CellChange, put, off map[string][]int64) {
	was, becomes := describing.TagsIn(c.Was), describing.TagsIn(c.Becomes)
	for _, tag := range becomes {
		if !slices.Contains(was, tag) {
			put[tag] = append(put[tag], asset)
		}
	}
	for _, tag := range was {
		if !slices.Contains(becomes, tag) {
			off[tag] = append(off[tag], asset)
		}
	}
}

// changeTagsByName puts tags on items, making those that are new, and takes others off; in one order, so that two who do it do not
// wait for each other for ever.
func changeTagsByName(ctx context.Context, tx *store.Tx, v *access.Viewer, put, off map[string][]int64) error {
	for _, tag := range slices.Sorted(maps.Keys(put)) {
		add, err := tagstore.EnsureTags(ctx, tx, v, []string{tag})
		if err == nil {
			_, err = tagstore.ChangeTags(ctx, tx, v.Brand, put[tag], add, nil)
		}
		if err != nil {
			return err
		}
	}
	if len(off) == 0 {
		return nil
	}
	tags, err := tagstore.TagIDs(ctx, tx, v.Brand)
	if err != nil {
		return err
	}
	for _, tag := range slices.Sorted(maps.Keys(off)) {
		if id, there := tags[tag]; there {
			if _, err := tagstore.ChangeTags(ctx, tx, v.Brand, off[tag], nil, []int64{id}); err != nil {
				return err
			}
		}
	}
	return nil
}

// ApplyTable does what a table changes, as one step.
func (s *Service) ApplyTable(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	table, err := wordstore.WordsTableOf(ctx, s.DB, v, id)
	if err != nil {
		return store.Done{}, err
	}
	if table.State != wordstore.TableReady {
		return store.Done{}, fault.Invalidf("table", "“%s” is not compared yet. Nothing was changed.", table.Name)
	}
	ids, err := wordstore.ChangingAssets(ctx, s.DB, id)
	if err != nil {
		return store.Done{}, err
	}
	if len(ids) == 0 {
		return store.Done{Said: "Nothing to change"}, nil
	}
	return s.table.DoTo(ctx, v, ids, func(tx *store.Tx) (tabled, error) {
		return tabled{Table: id, Name: table.Name}, wordstore.TableApplied(ctx, tx, id)
	})
}
