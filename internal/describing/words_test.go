package describing_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/store/undostore"
	"brightsatchel/internal/store/wordstore"

	core "brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/describing"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// words reads one field of some items.
func words(t *testing.T, db *store.DB, ids []int64, field string) []string {
	t.Helper()
	said, err := wordstore.WordsOf(ctx, db, ids, field)
	require.NoError(t, err)
	out := make([]string, len(said))
	for i, s := range said {
		out[i] = s.Text
	}
	return out
}

// samples are a text for each field, as they are kept.
var samples = map[string]string{"title": "A kite", "alt": "A kite\nin the sky", "description": "Up", "credit": "Zoë", "copyright": "© Zoë",
	"usageTerms": "Press only", "rightsUntil": "2028-02-29", "place": "Fennimoor", "coordinates": "52.3702, -4.8952",
	"taken": "2026-05-17T14:30:00", "takenZone": "+02:00"}

func TestEveryFieldIsWrittenReadComparedAndTakenBack(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "fields")[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s := describing.New(db, many, nil, jobsOf(db))
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "c.jpg")
	for _, f := range core.Fields {
		before := words(t, db, ids, f.Name)
		done, err := s.Write(ctx, v, query.Selection{IDs: ids[:2]}, core.Change{Field: f.Name, How: core.Replace, Text: samples[f.Name]})
		require.NoError(t, err, f.Name)
		assert.Equal(t, 2, done.Changed, f.Name)
		assert.Equal(t, []string{samples[f.Name], samples[f.Name], before[2]}, words(t, db, ids, f.Name), f.Name)

		shared, items, err := s.Shared(ctx, v, query.Selection{IDs: ids})
		require.NoError(t, err)
		assert.Equal(t, 3, items)
		for _, one := range shared {
			if one.Field == f.Name {
				assert.Equal(t, 2, one.Different, f.Name)
				assert.Empty(t, one.Same)
			}
		}
		shared, _, err = s.Shared(ctx, v, query.Selection{IDs: ids[:2]})
		require.NoError(t, err)
		for _, one := range shared {
			if one.Field == f.Name {
				assert.Equal(t, wordstore.Shared{Field: f.Name, Same: samples[f.Name], Different: 1}, one)
			}
		}
		texts, err := s.Texts(ctx, v, query.Selection{IDs: ids}, f.Name)
		require.NoError(t, err)
		assert.Equal(t, wordstore.Said{Text: samples[f.Name], Items: 2}, texts[0])
		again, err := s.Write(ctx, v, query.Selection{IDs: ids[:2]}, core.Change{Field: f.Name, How: core.Replace, Text: samples[f.Name]})
		require.NoError(t, err)
		assert.Zero(t, again.Trail, "twice does nothing: %s", f.Name)
		_, err = undostore.Undo(ctx, db, v, done.Trail)
		require.NoError(t, err)
		assert.Equal(t, before, words(t, db, ids, f.Name), f.Name)
	}
}

func TestTitlesAreShownBeforeTheyAreGiven(t *testing.T) {
	db := storetest.New(t)
	people := storetest.Brand(t, db, "pattern")
	v := people[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s := describing.New(db, many, nil, jobsOf(db))
	ids := storetest.Items(t, db, v, 0, "DSC_1.jpg", "DSC_2.jpg")
	_, err := s.Write(ctx, v, query.Selection{IDs: ids[:1]}, core.Change{Field: "title", How: core.Replace, Text: "Old"})
	require.NoError(t, err)
	p := core.Pattern{Text: "{name} {n}", Start: 5, Digits: 3}
	shown, items, err := s.PreviewNames(ctx, v, query.Selection{IDs: ids}, p)
	require.NoError(t, err)
	assert.Equal(t, 2, items)
	assert.Equal(t, describing.Named{ID: ids[0], Was: "Old", Becomes: "DSC_1 005"}, shown[0])
	_, err = s.Name(ctx, v, query.Selection{IDs: ids}, p)
	require.NoError(t, err)
	assert.Equal(t, []string{shown[0].Becomes, shown[1].Becomes}, words(t, db, ids, "title"))
	_, err = s.Name(ctx, people[access.Reviewer], query.Selection{IDs: ids}, p)
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden)
}

func TestClocksArePutRightAndBack(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "clock")[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s := describing.New(db, many, nil, jobsOf(db))
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "undated.jpg")
	_, err := db.ExecContext(ctx, `update asset set captured_at = '2026-03-29 01:30:00.5', file_captured_at = '2026-03-29 01:30:00.5'
		where id = any($1)`, ids[:2])
	require.NoError(t, err)
	sel := query.Selection{IDs: ids}
	done, err := s.SetClock(ctx, v, sel, calendar.Clock{Seconds: 90 * 60, Zone: "Europe/Amsterdam"})
	require.NoError(t, err)
	assert.Equal(t, "Moved the moment of 2 items by 1 hour 30 minutes forwards", done.Said)
	assert.Equal(t, []string{"2026-03-29T03:00:00", "2026-03-29T03:00:00", ""}, words(t, db, ids, "taken"))
	assert.Equal(t, []string{"+02:00", "+02:00", ""}, words(t, db, ids, "takenZone"))
	_, err = s.SetClock(ctx, v, sel, calendar.Clock{Seconds: -60 * 60, Zone: "Europe/Amsterdam"}) // 02:00 there was not
	require.ErrorContains(t, err, "“a.jpg”: There was no 29 March 2026, 02:00")
	_, err = s.SetClock(ctx, v, sel, calendar.Clock{Back: true})
	require.NoError(t, err)
	stamps, err := wordstore.StampsOf(ctx, db, ids)
	require.NoError(t, err)
	assert.Equal(t, 500*time.Millisecond, time.Duration(stamps[0].Now.At.Nanosecond()), "nothing of it is lost")
	assert.Equal(t, stamps[0].File, stamps[0].Now)
}

func TestFieldsAreTakenOverFromOneItem(t *testing.T) {
	db := storetest.New(t)
	people := storetest.Brand(t, db, "over")
	v := people[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s := describing.New(db, many, nil, jobsOf(db))
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "c.jpg")
	first := query.Selection{IDs: ids[:1]}
	for field, text := range map[string]string{"credit": "Zoë", "coordinates": "52.3702, -4.8952", "title": "A kite"} {
		_, err := s.Write(ctx, v, first, core.Change{Field: field, How: core.Replace, Text: text})
		require.NoError(t, err)
	}
	_, err := s.Tag(ctx, v, first, "Wind", nil)
	require.NoError(t, err)
	sel := query.Selection{IDs: ids}
	done, err := s.TakeOver(ctx, v, sel, ids[0], []string{"coordinates", "credit"}, true)
	require.NoError(t, err)
	assert.Equal(t, "Described 2 items like “A kite”", done.Said)
	assert.Equal(t, []string{"Zoë", "Zoë", "Zoë"}, words(t, db, ids, "credit"))
	assert.Equal(t, "52.3702, -4.8952", words(t, db, ids, "coordinates")[2])
	assert.NotEqual(t, "A kite", words(t, db, ids, "title")[1], "what was not chosen stays")
	tags, _, err := s.TagsOf(ctx, v, sel)
	require.NoError(t, err)
	assert.Equal(t, 3, tags[0].Uses)
	again, err := s.TakeOver(ctx, v, sel, ids[0], []string{"coordinates", "credit"}, true)
	require.NoError(t, err)
	assert.Zero(t, again.Trail, "twice does nothing")
	_, err = undostore.Undo(ctx, db, v, done.Trail)
	require.NoError(t, err)
	assert.Equal(t, []string{"Zoë", "", ""}, words(t, db, ids, "credit"))
	_, err = s.TakeOver(ctx, v, sel, ids[0], nil, false)
	require.ErrorContains(t, err, "Choose what")
	_, err = s.TakeOver(ctx, v, sel, 987654, []string{"credit"}, false)
	require.ErrorAs(t, err, new(*fault.NotFound))
}
