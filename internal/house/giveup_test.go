package house_test

import (
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/filing"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/storetest"
)

var ctx = context.Background()

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(m.Run())
}

// killed is what a kind of job was for, and what must have become of it when the process was killed in the last try.
type killed struct {
	args  any
	ended func() (state string)
	want  string
}

// TestEveryKindOfJobGivesUpInWords kills a job of every kind while it is tried for the last time: nothing waits for it for
// ever, and what a person started says what became of it.
func TestEveryKindOfJobGivesUpInWords(t *testing.T) {
	h := housetest.New(t, "give_up")
	v := storetest.Brand(t, h.DB, "giveup")[access.Coordinator]
	ids := storetest.Items(t, h.DB, v, 0, "a.jpg", "b.jpg")
	scenarios := map[string]killed{}
	text := func(query string, args ...any) func() string {
		return func() (s string) {
			require.NoError(t, storetest.SQL(h.DB).Get(&s, query, args...), query)
			return s
		}
	}
	insert := func(query string, args ...any) (id int64) {
		require.NoError(t, storetest.SQL(h.DB).Get(&id, query+` returning id`, args...), query)
		return id
	}
	none := func() string { return "" }
	for _, kind := range []string{"watch_folders", "take_from_drive", "plan_from_drive", "clear_leftovers", "check_left_files", "clear_away",
		"look_again",
		"turn",
		"make_on_arrival", "remind_endings", "tell_people", "send_post", "wake_posts",
		"see_post", "feed_pages", "copy_outlets", "end_move"} {
		scenarios[kind] = killed{args: map[string]any{"brand": v.Brand, "asset": ids[0]},
			ended: none} // they come round again, or leave things as they are
	}
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{}, []bringin.Dropped{{Name: "c.jpg", Bytes: 10}, {Name: "d.jpg", Bytes: 10}}, 0)
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).Exec(`update intake_file set state = 'arrived' where id = $1`, batch.Files[0].ID)
	require.NoError(t, err)
	file := `select state from intake_file where id = $1`
	scenarios["bring_in_file"] = killed{map[string]any{"file": batch.Files[0].ID}, text(file, batch.Files[0].ID), "refused"}
	scenarios["fetch_file"] = killed{map[string]any{"file": batch.Files[1].ID}, text(file, batch.Files[1].ID), "refused"}
	scenarios["look_into"] = killed{map[string]any{"brand": v.Brand, "asset": ids[1]},
		text(`select case when looked_into is null then 'waiting' else 'looked' end from asset where id = $1`, ids[1]), "looked"}
	size := insert(`insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern) values ($1, 'Web',
		100, 100, 'inside', 'jpeg', 80, 'keep', '{name}')`, v.Brand)
	download := insert(`insert into download (brand_id, person_id, sizes, size_names, name, pattern, total) values ($1, $2, array[$3::bigint],
		'{Web}', 'x.zip', '{name}', 1)`, v.Brand, v.Person, size)
	_, err = storetest.SQL(h.DB).Exec(`insert into download_item (brand_id, download_id, number, asset_id, output_size_id, name, width, height)
		values ($1, $2, 1, $3, $4, 'a.jpg', 1, 1)`, v.Brand, download, ids[0], size)
	require.NoError(t, err)
	scenarios["make_download"] = killed{map[string]any{"download": download}, text(`select d.state || ', ' || i.state || ': ' || i.why
		from download d join download_item i on i.download_id = d.id where d.id = $1`, download),
		"failed, failed: Something went wrong on the server. Try again."}
	bulk := func(action string, argument any) int64 {
		trail := insert(`insert into trail (brand_id, person_id, action, said) values ($1, $2, $3, 'Doing')`, v.Brand, v.Person, action)
		words, err := json.Marshal(argument)
		require.NoError(t, err)
		return insert(`insert into bulk (brand_id, person_id, trail_id, action, argument, rest, total) values ($1, $2, $3, $4, $5, $6,
			2)`, v.Brand, v.Person, trail, action, string(words), ids)
	}
	ended := `select coalesce(finished_at::date::text, 'open') || ' ' || failed from bulk where id = $1`
	today := time.Now().UTC().Format(time.DateOnly)
	many := bulk("bin", nil)
	scenarios["change_many"] = killed{map[string]any{"bulk": many}, text(ended, many), today +
		" Something went wrong on the server. 2 items stayed as they were."}
	undo := bulk("undo", map[string]any{"entry": 1})
	scenarios["change_many, as a whole"] = killed{map[string]any{"bulk": undo}, text(ended, undo), today +
		" Something went wrong on the server. Nothing was undone; try again."}
	var version int64
	require.NoError(t, storetest.SQL(h.DB).Get(&version, `select version_id from asset where id = $1`, ids[0]))
	_, err = storetest.SQL(h.DB).Exec(`insert into film_wanted (version_id, recipe) values ($1, 'key')`, version)
	require.NoError(t, err)
	scenarios["make_film"] = killed{map[string]any{"brand": v.Brand, "asset": ids[0], "version": version, "key": "key"},
		text(`select failed from film_wanted where version_id = $1`, version),
		"The film could not be made. Try again later."}

	letter := insert(`insert into letter (brand_id, kind, to_email, subject, body_text, body_html) values ($1, 'join', 'a@b.example', 'x', 'x',
		'x')`, v.Brand)
	scenarios["send_letter"] = killed{map[string]any{"letter": letter}, text(`select state || ': ' || why from letter where id = $1`, letter),
		"refused: Something went wrong on the server, and it was not sent."}

	table := insert(`insert into words_table (brand_id, person_id, name, warnings, new_tags, state, data)
		values ($1, $2, 'words.csv', '{}', '{}', 'reading', 'code')`, v.Brand, v.Person)
	scenarios["read_table"] = killed{map[string]any{"table": table}, text(`select state || ': ' || why from words_table where id = $1`, table),
		"refused: The table could not be read. Nothing was changed; choose the file once more."}

	kinds := h.Queue.Kinds()
	slices.Sort(kinds)
	_, err = storetest.SQL(h.DB).Exec(`delete from river_job`)
	require.NoError(t, err)
	dir := filepath.Join(h.Config.Data, "processes")
	host, err := os.Hostname()
	require.NoError(t, err)
	require.NoError(t, os.MkdirAll(dir, 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(dir, host+".gone"), nil, 0o600))
	kinds = append(slices.Clone(kinds), "change_many, as a whole")
	for _, name := range kinds {
		kind, _, _ := strings.Cut(name, ",")
		scenario, known := scenarios[name]
		require.True(t, known, "nobody has said what becomes of a job of the kind %s", kind)
		args, err := json.Marshal(scenario.args)
		require.NoError(t, err)
		_, err = storetest.SQL(h.DB).Exec(`insert into river_job (kind, args, state, attempt, max_attempts, attempted_at, attempted_by, queue,
			priority) values ($1, $2, 'running', 900, 1000, now(), array[$3], 'default', 1)`,
			kind, string(args), host+".gone")
		require.NoError(t, err)
	}
	require.NoError(t, h.Work(ctx))
	for _, name := range kinds {
		kind, _, _ := strings.Cut(name, ",")
		assert.Eventually(t, func() bool { return scenarios[name].ended() == scenarios[name].want }, time.Minute, 20*time.Millisecond, name)
		assert.Equal(t, scenarios[name].want, scenarios[name].ended(), name)
		assert.Eventually(t, func() bool {
			var left int
			require.NoError(t, storetest.SQL(h.DB).Get(&left, `select count(*) from river_job where kind = $1 and attempt >= 900
				and state in ('running', 'retryable', 'available')`, kind))
			return left == 0
		}, time.Minute, 20*time.Millisecond, "%s is not tried once more", kind)
	}
	_, err = h.TakeAlong.Retry(ctx, v, download)
	require.NoError(t, err, "what gave up can be tried again")
	var anew int
	require.NoError(t, storetest.SQL(h.DB).Get(&anew, `select count(*) from river_job where kind = 'make_download' and attempt < 900`))
	assert.Positive(t, anew, "by a job of its own, which may have begun already")
}

// TestEveryActOnManyGoesOnBehindItsAnswer does each kind of act on more items than are changed while one waits, and takes it
// back as one step.
func TestEveryActOnManyGoesOnBehindItsAnswer(t *testing.T) {
	h := housetest.New(t, "every_act")
	v := storetest.Brand(t, h.DB, "acts")[access.Coordinator]
	storetest.Library(t, h.DB, v.Brand, v.Person, 1600)
	require.NoError(t, h.Index.Load(ctx, v.Brand))
	_, err := storetest.SQL(h.DB).Exec(`delete from keeper`)
	require.NoError(t, err)
	v = storetest.See(t, h.DB, v.Person, "acts")
	require.NoError(t, h.Work(ctx))
	everything := query.Selection{Everything: &query.Query{Place: "everything", Filter: query.Both(query.WithAside)}}
	all, err := findstore.Find(h.DB).IDs(ctx, v, *everything.Everything)
	require.NoError(t, err)
	require.Greater(t, len(all), 1400)
	folder, err := h.Filing.Create(ctx, v, 0, "Into")
	require.NoError(t, err)
	album, err := h.Gathering.Create(ctx, v, 0, "Many", nil, nil)
	require.NoError(t, err)
	v = storetest.See(t, h.DB, v.Person, "acts")
	count := func(statement string) func() int {
		return func() (n int) {
			require.NoError(t, storetest.SQL(h.DB).Get(&n, statement), statement)
			return n
		}
	}
	byDate := func() (store.Done, error) {
		proposed, err := h.Filing.ByDate(ctx, v, everything, 8*time.Hour)
		require.NoError(t, err)
		return h.Filing.FileByDate(ctx, v, everything, 8*time.Hour, folder.ID, namedAll(proposed))
	}
	for _, act := range []struct {
		name string
		do   func() (store.Done, error)
		n    func() int
		want func(n int) bool
	}{
		{"stars", func() (store.Done, error) { return h.Choosing.Rate(ctx, v, everything, 5) }, count(`select count(*) from asset
			where stars = 5 and binned_at is null`), func(n int) bool { return n >= len(all) }},
		{"keepers", func() (store.Done, error) { return h.Choosing.Keep(ctx, v, everything, true) }, count(`select count(*)
			from keeper`), func(n int) bool { return n == len(all) }},
		{"tags", func() (store.Done, error) { return h.Describing.Tag(ctx, v, everything, "thistledown", nil) }, count(`select count(*)
			from asset_tag x join tag t on t.id = x.tag_id where t.name = 'thistledown'`), func(n int) bool { return n == len(all) }},
		{"titles", func() (store.Done, error) {
			return h.Describing.Name(ctx, v, everything, describing.Pattern{Text: "Kite", Start: 1, Distinct: true})
		}, count(`select count(distinct title) from asset where title ~ '^Kite [0-9]{4}$'`), func(n int) bool { return n == len(all) }},
		{"words", func() (store.Done, error) {
			return h.Describing.Write(ctx, v, everything, describing.Change{Field: "credit", How: describing.After, Text: "Zoë"})
		}, count(`select count(*) from asset where credit = 'Zoë'`), func(n int) bool { return n == len(all) }},
		{"clock", func() (store.Done, error) {
			return h.Describing.SetClock(ctx, v, everything, calendar.Clock{Zone: "+05:45"})
		},
			count(`select count(*) from asset where captured_zone = '+05:45'`), func(n int) bool { return n > 1000 }},
		{"album", func() (store.Done, error) { return h.Gathering.Add(ctx, v, []int64{album.ID}, everything) }, count(`select count(*)
			from album_item x join album a on a.id = x.album_id where a.name = 'Many'`), func(n int) bool { return n == len(all) }},
		{"new album", func() (store.Done, error) { return h.Gathering.Create(ctx, v, 0, "More", &everything, nil) }, count(`select count(*)
			from album_item x join album a on a.id = x.album_id where a.name = 'More'`), func(n int) bool { return n == len(all) }},
		{"satchel", func() (store.Done, error) { return h.Gathering.Carry(ctx, v, everything) }, count(`select count(*)
			from satchel_item`), func(n int) bool { return n == len(all) }},
		{"by date", byDate, count(`select count(*) from asset a join folder f on f.id = a.folder_id where f.name like 'Shoot %'`),
			func(n int) bool { return n > 1000 }},
		{"bin", func() (store.Done, error) { return h.Filing.Bin(ctx, v, everything) }, count(`select count(*) from asset
			where binned_at is not null`), func(n int) bool { return n >= len(all) }},
	} {
		t.Run(act.name, func(t *testing.T) {
			before := act.n()
			done, err := act.do()
			require.NoError(t, err)
			assert.True(t, done.GoesOn, "it answers at once")
			finished(t, h, v)
			assert.True(t, act.want(act.n()), "%d", act.n())
			undone, err := h.Upkeep.Undo(ctx, v, done.Trail)
			require.NoError(t, err)
			assert.True(t, undone.GoesOn)
			finished(t, h, v)
			assert.Equal(t, before, act.n(), "taken back as one step")
			if act.name != "words" {
				return
			}
			again, err := h.Upkeep.Undo(ctx, v, undone.Trail)
			require.NoError(t, err)
			assert.True(t, again.GoesOn)
			assert.Contains(t, again.Said, "Doing again: ")
			finished(t, h, v)
			assert.True(t, act.want(act.n()), "done again: %d", act.n())
		})
	}
}

// finished waits until nothing goes on, and fails for what did not end well.
func finished(t *testing.T, h *house.House, v *access.Viewer) {
	t.Helper()
	require.Eventually(t, func() bool {
		open, err := h.Pieces.Open(ctx, v)
		require.NoError(t, err)
		for _, b := range open {
			require.Empty(t, b.Failed, b.Said)
			if b.Finished == nil {
				return false
			}
		}
		return true
	}, 2*time.Minute, 10*time.Millisecond)
}

func namedAll(proposed filing.Shoots) []filing.NamedShoot {
	out := make([]filing.NamedShoot, len(proposed.Shoots))
	for i, s := range proposed.Shoots {
		out[i] = filing.NamedShoot{First: s.First, Items: len(s.IDs), Name: "Shoot " + s.First.Format(time.DateOnly)}
	}
	return out
}
