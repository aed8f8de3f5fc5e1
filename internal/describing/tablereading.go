package describing

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/wordstore"
)

// readTable is the job that reads a table which came back.
type readTable struct {
	Table int64 `json:"table"`
}

// Kind names the job in the queue.
func (readTable) Kind() string { return "read_table" }

func (s *Service) addTables(jobs *queue.Queue) {
	// beside large acts, of which few run at a time: a table is in memory as a whole
	queue.Add(jobs, queue.Kind[readTable]{Do: func(ctx context.Context, job readTable) error { return s.ReadTable(ctx, job.Table) },
		GaveUp: func(ctx context.Context, job readTable, _ error) error {
			return wordstore.RefuseTable(ctx, s.DB, job.Table, "The table could not be read. Nothing was changed; choose the file once more.")
		}, Tries: queue.Soon, Queue: queue.LargeActs})
}

// ReadTable reads a table that came back, compares it with what the items say now, and keeps what it would change. It begins anew where
// it was stopped.
func (s *Service) ReadTable(ctx context.Context, id int64) error {
	err := s.compareTable(ctx, id)
	var invalid *fault.Invalid
	var missing *fault.NotFound
	switch {
	case errors.As(err, &invalid):
		return wordstore.RefuseTable(ctx, s.DB, id, invalid.Error())
	case errors.As(err, &missing): // another one was brought back meanwhile
		return nil
	}
	return err
}

func (s *Service) compareTable(ctx context.Context, id int64) error {
	unread, err := wordstore.TableToRead(ctx, s.DB, id)
	if err != nil {
		return err
	}
	v, err := peoplestore.ViewerIn(ctx, s.DB, unread.Person, unread.Brand)
	if err != nil {
		return err
	}
	table, err := describing.ReadTable(unread.Data)
	if err != nil {
		return err
	}
	spellings, err := wordstore.TagSpellings(ctx, s.DB, v.Brand)
	if err != nil {
		return err
	}
	if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return wordstore.ReadTableAnew(ctx, tx, id, len(table.Rows)) }); err != nil {
		return err
	}
	c := comparison{spellings: spellings, lines: map[string]int{}}
	for some := range slices.Chunk(table.Rows, readAtOnce) {
		codes := make([]string, len(some))
		for i, row := range some {
			codes[i] = row.Code
		}
		items, err := wordstore.TableItems(ctx, s.DB, v, codes)
		if err != nil {
			return err
		}
		rows := make([]wordstore.WordsRow, len(some))
		for i, row := range some {
			rows[i] = c.compare(row, items)
		}
		if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return wordstore.AddRowsOfTable(ctx, tx, id, rows) }); err != nil {
			return err
		}
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return wordstore.TableIsRead(ctx, tx, id, table.Warnings, c.newTags) })
}

// comparison collects what the rows of a table change.
type comparison struct {
	spellings map[string]string // of tags, those that are new too
	newTags   []string
	lines     map[string]int // of codes, where they were first
}

// mostNewTags is how many new tags are named.
const mostNewTags = 200

// spelled is the tag that a name leads to. One that is not known is new from now on.
func (c *comparison) spelled(name string) string {
	small := strings.ToLower(name)
	if tag, known := c.spellings[small]; known || name == "" {
		return tag
	}
	c.spellings[small] = name
	if len(c.newTags) < mostNewTags {
		c.newTags = append(c.newTags, name)
	}
	return name
}

// compare says what comes of a row.
func (c *comparison) compare(row describing.Row, items map[string]wordstore.TableItem) wordstore.WordsRow {
	out := wordstore.WordsRow{Number: row.Number, Code: firstSigns(row.Code), FileName: firstSigns(row.FileName)}
	item, known := items[row.Code]
	before, twice := c.lines[row.Code]
	switch {
	case !known:
		out.State = wordstore.RowUnknown
	case twice:
		out.State, out.Problems = wordstore.RowWrong, []describing.CellProblem{{Field: describing.CodeColumn,
			Text: fmt.Sprintf("This item is in line %d too.", before)}}
	default:
		c.lines[row.Code] = row.Number
		out.Asset, out.FileName = item.ID, item.FileName
		out.Changes, out.Problems = row.Compare(item.Row, c.spelled)
		switch {
		case len(out.Problems) > 0:
			out.State = wordstore.RowWrong
		case len(out.Changes) == 0:
			out.State = wordstore.RowSame
		case !item.May:
			out.State = wordstore.RowForbidden
		default:
			out.State = wordstore.RowChanges
		}
	}
	return out
}

// firstSigns is as much of a text as is worth showing of a row that means nothing.
func firstSigns(text string) string {
	signs := []rune(text)
	return string(signs[:min(len(signs), 300)])
}
