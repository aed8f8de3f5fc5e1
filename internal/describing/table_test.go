package describing_test

import (
	"bytes"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store/wordstore"

	core "brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/describing"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// tabling is a brand with some items, and their words as a table.
type tabling struct {
	t   *testing.T
	db  *store.DB
	v   *access.Viewer
	s   *describing.Service
	ids []int64
}

func newTabling(t *testing.T, brand string, items int) *tabling {
	t.Helper()
	db := storetest.New(t)
	v := storetest.Brand(t, db, brand)[access.Coordinator]
	names := make([]string, items)
	for i := range names {
		names[i] = fmt.Sprintf("=kite %d.jpg", i)
	}
	return &tabling{t, db, v, atWork(t, db), storetest.Items(t, db, v, 0, names...)}
}

// atWork is the service with somebody who works at its jobs.
func atWork(t *testing.T, db *store.DB) *describing.Service {
	t.Helper()
	many, jobs := piecestest.New(t, db)
	s := describing.New(db, many, nil, jobs)
	self, err := queue.Identify(t.TempDir())
	require.NoError(t, err)
	require.NoError(t, jobs.Start(ctx, self, 1))
	t.Cleanup(func() { jobs.Stop(ctx); self.Release(true) })
	return s
}

// compared brings a table back and waits until it is compared or refused.
func compared(t *testing.T, s *describing.Service, v *access.Viewer, name, text string) (table wordstore.WordsTable) {
	t.Helper()
	table, err := s.BringBack(ctx, v, name, []byte(text))
	require.NoError(t, err)
	require.Equal(t, wordstore.TableReading, table.State)
	_, err = s.ApplyTable(ctx, v, table.ID)
	if err != nil {
		require.ErrorContains(t, err, "not compared yet")
	}
	require.Eventually(t, func() bool {
		table, err = s.Table(ctx, v, table.ID)
		return err != nil || table.State != wordstore.TableReading
	}, time.Minute, 10*time.Millisecond)
	require.NoError(t, err)
	return table
}

func (b *tabling) out(asJSON bool) string {
	b.t.Helper()
	write, err := b.s.WriteTable(ctx, b.v, query.Selection{IDs: b.ids}, asJSON)
	require.NoError(b.t, err)
	var out bytes.Buffer
	require.NoError(b.t, write(&out))
	return out.String()
}

func (b *tabling) back(text string) wordstore.WordsTable {
	b.t.Helper()
	table := compared(b.t, b.s, b.v, "words.csv", text)
	require.Equal(b.t, wordstore.TableReady, table.State, table.Why)
	return table
}

func (b *tabling) code(i int) string {
	b.t.Helper()
	var code string
	require.NoError(b.t, storetest.SQL(b.db).Get(&code, `select code from asset where id = $1`, b.ids[i]))
	return code
}

func TestATableGoesOutAndComesBack(t *testing.T) {
	b := newTabling(t, "tabling", 4)
	for field, text := range samples {
		_, err := b.s.Write(ctx, b.v, query.Selection{IDs: b.ids[:2]}, core.Change{Field: field, How: core.Replace, Text: text})
		require.NoError(t, err)
	}
	_, err := b.s.Tag(ctx, b.v, query.Selection{IDs: b.ids[:1]}, "Wind, Sand; dune", nil)
	require.NoError(t, err)
	for _, asJSON := range []bool{false, true} {
		table := b.back(b.out(asJSON))
		assert.Equal(t, map[wordstore.RowState]int{wordstore.RowSame: 4}, table.Counts, "out and in again changes nothing")
		assert.Empty(t, table.Warnings)
		assert.Empty(t, table.NewTags)
		done, err := b.s.ApplyTable(ctx, b.v, table.ID)
		require.NoError(t, err)
		assert.Equal(t, "Nothing to change", done.Said)
	}
	text := fmt.Sprintf("code,title,tags,taken\n%s,Moth,wind; Sea,2026-05-17 14:30\n%s,,,\n%s,Dune,,yesterday\nnobody,x,,\n%s,Again,,\n",
		b.code(0), b.code(1), b.code(2), b.code(0))
	table := b.back(text)
	assert.Equal(t, map[wordstore.RowState]int{wordstore.RowChanges: 2, wordstore.RowWrong: 2, wordstore.RowUnknown: 1}, table.Counts)
	assert.Equal(t, []string{"Sea"}, []string(table.NewTags))
	rows, err := b.s.TableRows(ctx, b.v, table.ID, "", 0)
	require.NoError(t, err)
	require.Len(t, rows, 5)
	assert.Equal(t, []core.CellChange{{Field: "title", Was: "A kite", Becomes: "Moth"},
		{Field: "tags", Was: "Sand;; dune; Wind", Becomes: "Wind; Sea"}}, rows[0].Changes)
	assert.Equal(t, "taken", rows[2].Problems[0].Field)
	assert.Contains(t, rows[4].Problems[0].Text, "line 2")

	// what somebody wrote since is not overwritten
	_, err = b.s.Write(ctx, b.v, query.Selection{IDs: b.ids[1:2]}, core.Change{Field: "title", How: core.Replace, Text: "Mine"})
	require.NoError(t, err)
	done, err := b.s.ApplyTable(ctx, b.v, table.ID)
	require.NoError(t, err)
	assert.Equal(t, "Described 2 items by “words.csv”", done.Said)
	assert.Equal(t, []string{"Moth", "Mine", "", ""}, words(t, b.db, b.ids, "title"))
	assert.Equal(t, "", words(t, b.db, b.ids[1:2], "taken")[0], "an empty cell empties")
	after, err := wordstore.RowsOfTable(ctx, b.db, b.ids)
	require.NoError(t, err)
	assert.Equal(t, []string{"Sea", "Wind"}, after[0].Tags)
}

func TestATableIsOfWhoBroughtIt(t *testing.T) {
	db := storetest.New(t)
	people := storetest.Brand(t, db, "whose")
	s := atWork(t, db)
	v := people[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg")
	var code string
	require.NoError(t, storetest.SQL(db).Get(&code, `select code from asset where id = $1`, ids[0]))
	table := compared(t, s, v, "mine.csv", "code,title\n"+code+",Moth\n")
	_, err := s.ApplyTable(ctx, people[access.Steward], table.ID)
	assert.ErrorContains(t, err, "no such table")
	_, err = s.TableRows(ctx, people[access.Steward], table.ID, "", 0)
	assert.ErrorContains(t, err, "no such table")
	others := storetest.Brand(t, db, "others")[access.Coordinator]
	strange := compared(t, s, others, "theirs.csv", "code,title\n"+code+",Stolen\n")
	assert.Equal(t, map[wordstore.RowState]int{wordstore.RowUnknown: 1}, strange.Counts)
	reviewer := compared(t, s, people[access.Reviewer], "look.csv", "code,title\n"+code+",Moth\n")
	assert.Equal(t, map[wordstore.RowState]int{wordstore.RowForbidden: 1}, reviewer.Counts)
	// a newer one takes the place of the one before
	latest, err := s.Tables(ctx, v)
	require.NoError(t, err)
	require.Len(t, latest, 1)
	assert.Equal(t, table, latest[0])
	compared(t, s, v, "newer.csv", "code\n"+code+"\n")
	_, err = s.TableRows(ctx, v, table.ID, "", 0)
	assert.ErrorContains(t, err, "no such table")
}

// TestALargeTableIsComparedInPieces brings back more rows than are read at once.
func TestALargeTableIsComparedInPieces(t *testing.T) {
	b := newTabling(t, "long", 2500)
	text := b.out(false)
	assert.Equal(t, 2501, strings.Count(text, "\n"))
	assert.Contains(t, text, "'=kite 7.jpg")
	lines := strings.SplitAfter(text, "\n")
	for i := 1; i < len(lines)-1; i += 2 {
		cells := strings.Split(lines[i], ",")
		cells[2] = fmt.Sprintf("Title %d", i)
		lines[i] = strings.Join(cells, ",")
	}
	table := b.back(strings.Join(lines, ""))
	assert.Equal(t, map[wordstore.RowState]int{wordstore.RowChanges: 1250, wordstore.RowSame: 1250}, table.Counts)
	rows, err := b.s.TableRows(ctx, b.v, table.ID, wordstore.RowChanges, 2000)
	require.NoError(t, err)
	assert.Len(t, rows, 100)
	assert.Equal(t, 2002, rows[0].Number)
	done, err := b.s.ApplyTable(ctx, b.v, table.ID)
	require.NoError(t, err)
	assert.True(t, done.GoesOn)
	latest, err := b.s.Tables(ctx, b.v)
	require.NoError(t, err)
	assert.Empty(t, latest, "what was applied is not offered again")
}

// TestAReadingThatWasStoppedBeginsAnew: the process was killed after some rows, or again and again.
func TestAReadingThatWasStoppedBeginsAnew(t *testing.T) {
	b := newTabling(t, "stopped", 3)
	text := b.out(false)
	table := b.back(text)
	_, err := storetest.SQL(b.db).
		Exec(`update words_table set state = 'reading', data = $2, rows_read = 2 where id = $1`, table.ID, []byte(text))
	require.NoError(t, err)
	require.NoError(t, b.s.ReadTable(ctx, table.ID))
	table, err = b.s.Table(ctx, b.v, table.ID)
	require.NoError(t, err)
	assert.Equal(t, []any{wordstore.TableReady, 3, 3}, []any{table.State, table.Read, table.Of})
	assert.Equal(t, map[wordstore.RowState]int{wordstore.RowSame: 3}, table.Counts, "each row once")
	var left int
	require.NoError(t, storetest.SQL(b.db).Get(&left, `select count(*) from words_table where data is not null`))
	assert.Zero(t, left)

	wrong := compared(t, b.s, b.v, "notes.csv", "PK\x00\x01")
	assert.Equal(t, wordstore.TableRefused, wrong.State)
	assert.Contains(t, wrong.Why, "not a table")
	require.NoError(t, b.s.ReadTable(ctx, wrong.ID), "what is refused is not read again")
}
