package bench

import (
	"context"
	"crypto/rand"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"maps"
	"math"

	"brightsatchel/internal/store/assetstore"

	mathrand "math/rand/v2"
	"net/http"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/store/storetest"
)

// What is measured at both sizes of library, each so often.
const (
	smallLibrary = 10_000
	largeLibrary = 1_000_000
	repeated     = 60
)

// TestLibrary asks what people wait for, over HTTP with everything that belongs to a request, in a library of 10,000 items
// and in one of 1,000,000.
func TestLibrary(t *testing.T) {
	measured(t)
	small, large := ask(t, "bench_small", smallLibrary), ask(t, "bench_large", largeLibrary)
	compared(t, small, large)
}

// compared tells what was asked in a small library and in a large one, in the order of asked, and then whatever else was.
func compared(t *testing.T, small, large map[string][]float64) {
	t.Helper()
	rest := slices.Sorted(maps.Keys(large))
	rest = slices.DeleteFunc(rest, func(what string) bool { return what == "" || slices.Contains(asked, what) })
	for _, what := range slices.Concat(asked, rest) {
		if len(large[what]) == 0 {
			continue
		}
		s, l := small[what], large[what]
		if len(s) == 0 { // moving many is for large libraries
			t.Logf("%-40s %d items: median %6.1f p95 %6.1f ms", what, largeLibrary, median(l), percentile(l, 95))
			continue
		}
		t.Logf("%-40s %6d items: median %6.1f p95 %6.1f ms | %d items: median %6.1f p95 %6.1f ms | grows %.1f times",
			what, smallLibrary, median(s), percentile(s, 95), largeLibrary, median(l), percentile(l, 95),
			median(l)/math.Max(median(s), 0.1))
	}
}

var asked = []string{"open a folder", "open a folder with everything below", "first page of Everything",
	"jump to the middle of Everything", "rows of a screen", "counts of the path", "folders with their counts", "facets of Everything",
	"days of Everything", "albums", "tags", "limits", "galleries",
	"give stars", "counts of the path, after a change", "folders with their counts, after a change",
	"facets of Everything, after a change", "days of Everything, after a change",
	"albums, after a change", "tags, after a change", "tags, after a tag was given", "albums, after ten went into one",
	"albums, after ten went to the bin", "the trail", "the trail of a person", "the trail of a rare kind", "the trail of a folder",
	"the trail of an item", "the last step of a person", "tags of a selection of 2,000", "a search for words",
	"words of a selection of 2,000 compared", "the titles of 2,000", "titles of 2,000 by a pattern, shown first", "what lacks something",
	"groups of tags", "other spellings of tags", "one tag", "tags suggested for an item", "renaming a tag",
	"first page after a tag was renamed",
	"what was meant by a slip", "why 200 were found", "the pile of an item", "the next pile", "words of 2,000 as a table",
	"a table of 2,000 taken to be compared", "how far a table is", "the changes of a table",
	"filter by who brought in", "filter by kind of file",
	"first page by fit of a word", "first page of a colour by fit", "first page of what is like one", "a mixed filter counted in its parts",
	"this day in other years", "a rule album", "ten at random of a rule album", "albums, with three by rule", "albums by rule, after a change",
	"the next face without a name", "who is shown", "whoever does not agree", "conditions offered", "conditions offered beside words",
	"looks", "preparing one item", "the recipes of an item", "first page of what is prepared",
	"namesakes of 100, with where they are shown",
	"an album with all that are in it", "how an album stands to its choice", "what is against sending out 200",
	"files of 200 shown beforehand", "an order of 200 files", "my downloads", "what was taken along", "what output sizes cost",
	"output sizes",
	"facets of one place", "first page of what lies together", "first page of what lies together, after a change",
	"move 1,000 (the answer)", "move 1,000 (until done)", "first sheet after many changed", "move 40,000 (the answer)",
	"move 40,000 (until done)", "undo 40,000 (the answer)", "undo 40,000 (until done)",
	"stars on 40,000 (the answer)", "stars on 40,000 (until done)", "a tag on 40,000 (the answer)", "a tag on 40,000 (until done)",
	"40,000 into an album (the answer)", "40,000 into an album (until done)",
	"credit added to 40,000 (the answer)", "credit added to 40,000 (until done)", "titles for 40,000 (the answer)",
	"titles for 40,000 (until done)", "the clock of 40,000 (the answer)", "the clock of 40,000 (until done)",
	"40,000 cropped alike (the answer)", "40,000 cropped alike (until done)",
	"40,000 like one (the answer)", "40,000 like one (until done)",
	"a tag of 40,000 merged (the answer)", "a tag of 40,000 merged (until done)", "words of 40,000 compared"}

func ask(t *testing.T, name string, items int) map[string][]float64 {
	d := deskIn(t, name, items)
	d.look()
	d.people()
	d.fits()
	if items >= 100_000 {
		d.moveMany()
	}
	return d.took
}

func (d *desk) look() {
	folders := d.items / 200
	const brand = "/api/brands/bench"
	for i := range repeated + warm {
		name := warmed(i)
		folder := 1 + mathrand.IntN(folders)
		var page sheetPage
		d.ask(name("open a folder"), http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "folder", "id": folder}, nil)
		d.ask(name("open a folder with everything below"), http.MethodPost, brand+"/sheet?most=2000",
			map[string]any{"place": "folder", "id": folder, "below": true}, nil)
		sort := []string{"taken", "added", "name", "size", "stars"}[i%5]
		d.ask(name("first page of Everything"), http.MethodPost, brand+"/sheet?most=2000",
			map[string]any{"place": "everything", "sort": sort, "descending": i%2 == 0}, nil)
		d.ask(name("jump to the middle of Everything"), http.MethodPost, fmt.Sprintf("%s/sheet?most=2000&from=%d", brand, d.items/2+i),
			map[string]any{"place": "everything", "filter": map[string]any{"field": "stars", "from": 1 + i%3}}, nil)
		d.ask("", http.MethodPost, fmt.Sprintf("%s/sheet?most=60&from=%d", brand, mathrand.IntN(d.items/2)),
			map[string]any{"place": "everything"}, &page)
		d.ask(name("rows of a screen"), http.MethodPost, brand+"/rows", map[string]any{"ids": page.IDs}, nil)
		d.ask(name("counts of the path"), http.MethodGet, brand+"/overview", nil, nil)
		d.ask(name("folders with their counts"), http.MethodGet, brand+"/folders", nil, nil)
		d.ask(name("facets of Everything"), http.MethodPost, brand+"/facets", map[string]any{"place": "everything"}, nil)
		d.ask(name("days of Everything"), http.MethodPost, brand+"/days", map[string]any{"place": "everything"}, nil)
		for what, path := range map[string]string{"albums": "/albums", "tags": "/tags", "limits": "/limits", "galleries": "/galleries"} {
			d.ask(name(what), http.MethodGet, brand+path, nil, nil)
		}
		for what, filter := range map[string]string{"the trail": "", "the trail of a person": fmt.Sprintf("?person=%d", d.person),
			"the trail of a rare kind": "?step=people", "the trail of a folder": fmt.Sprintf("?folder=%d", folder),
			"the trail of an item":      fmt.Sprintf("?item=%d", page.IDs[0]),
			"the last step of a person": fmt.Sprintf("?person=%d&undoable=true&limit=1", d.person)} {
			d.ask(name(what), http.MethodGet, brand+"/trail"+filter, nil, nil)
		}
		var many sheetPage
		d.ask("", http.MethodPost, fmt.Sprintf("%s/sheet?most=2000&from=%d", brand, mathrand.IntN(d.items/2)),
			map[string]any{"place": "everything"}, &many)
		d.ask(name("tags of a selection of 2,000"), http.MethodPost, brand+"/tags/of-selection", map[string]any{"ids": many.IDs}, nil)
		d.describe(name, i, many.IDs)
		d.find(name, i, many.IDs)
		d.ask(name("a search for words"), http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "everything",
			"filter": map[string]any{"field": "words", "names": []string{fmt.Sprintf("%s %d",
				[]string{"gull", "harbour", "kite"}[i%3], 101+i*7)}}}, nil)
		if i%4 == 0 { // what was counted is counted anew
			d.ask(name("give stars"), http.MethodPost, brand+"/stars",
				map[string]any{"selection": map[string]any{"ids": page.IDs[:1]}, "stars": i / 4 % 6}, nil)
			d.ask(name("counts of the path, after a change"), http.MethodGet, brand+"/overview", nil, nil)
			d.ask(name("folders with their counts, after a change"), http.MethodGet, brand+"/folders", nil, nil)
			d.ask(name("facets of Everything, after a change"), http.MethodPost, brand+"/facets", map[string]any{"place": "everything"},
				nil)
			d.ask(name("days of Everything, after a change"), http.MethodPost, brand+"/days", map[string]any{"place": "everything"}, nil)
			d.ask(name("albums, after a change"), http.MethodGet, brand+"/albums", nil, nil)
			d.ask(name("tags, after a change"), http.MethodGet, brand+"/tags", nil, nil)
			ten := map[string]any{"ids": page.IDs[:10]}
			d.ask("", http.MethodPost, brand+"/tags", map[string]any{"selection": ten, "add": "kite 6"}, nil)
			d.ask(name("tags, after a tag was given"), http.MethodGet, brand+"/tags", nil, nil)
			d.ask("", http.MethodPost, brand+"/albums/3/items", ten, nil)
			d.ask(name("albums, after ten went into one"), http.MethodGet, brand+"/albums", nil, nil)
			d.ask("", http.MethodPost, brand+"/bin", ten, nil)
			d.ask(name("albums, after ten went to the bin"), http.MethodGet, brand+"/albums", nil, nil)
		}
	}
}

type moved struct {
	Trail int64 `json:"trail"`
}

// moveMany moves 1,000 picked items and 40,000 as "everything that this shows", and takes the latter back.
func (d *desk) moveMany() {
	const brand = "/api/brands/bench"
	for i := range 10 {
		var page sheetPage
		d.ask("", http.MethodPost, fmt.Sprintf("%s/sheet?most=1000&from=%d", brand, 5000*(i+1)), map[string]any{"place": "everything"},
			&page)
		began := time.Now()
		d.ask("move 1,000 (the answer)", http.MethodPost, brand+"/move",
			map[string]any{"selection": map[string]any{"ids": page.IDs}, "folder": 1 + i}, nil)
		d.untilDone("move 1,000 (until done)", began)
	}
	everything := map[string]any{"place": "unfiled", "filter": map[string]any{"field": "aside", "missing": true}}
	for i := range 3 {
		d.ask("first sheet after many changed", http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "everything"}, nil)
		var done moved
		began := time.Now()
		d.ask("move 40,000 (the answer)", http.MethodPost, brand+"/move",
			map[string]any{"selection": map[string]any{"everything": everything}, "folder": 20 + i}, &done)
		d.untilDone("move 40,000 (until done)", began)
		began = time.Now()
		d.ask("undo 40,000 (the answer)", http.MethodPost, fmt.Sprintf("%s/trail/%d/undo", brand, done.Trail), nil, nil)
		d.untilDone("undo 40,000 (until done)", began)
	}
	for i := range 3 {
		for what, act := range map[string]struct {
			path string
			body map[string]any
		}{
			"stars on 40,000":        {"/stars", map[string]any{"stars": 1 + i}},
			"a tag on 40,000":        {"/tags", map[string]any{"add": fmt.Sprintf("new %d", i)}},
			"credit added to 40,000": {"/words", map[string]any{"field": "credit", "how": "after", "text": fmt.Sprintf("Zoë %d", i)}},
			"titles for 40,000":      {"/words/titles", map[string]any{"pattern": fmt.Sprintf("Kite %d {n}", i), "start": 1, "digits": 0}},
			"40,000 like one":        {"/words/take-over", map[string]any{"asset": 1 + i, "fields": []string{"credit", "place"}, "tags": true}},
			"40,000 cropped alike":   {"/recipes", map[string]any{"width": 4 + i, "height": 5}},
			"the clock of 40,000":    {"/clock", map[string]any{"seconds": 3600}},
			"40,000 into an album":   {fmt.Sprintf("/albums/%d/items", 1+i), map[string]any{}},
		} {
			act.body["selection"], act.body["everything"] = map[string]any{"everything": everything}, everything // as either says it
			began := time.Now()
			d.ask(what+" (the answer)", http.MethodPost, brand+act.path, act.body, nil)
			d.untilDone(what+" (until done)", began)
		}
	}
	d.ask("words of 40,000 compared", http.MethodPost, brand+"/words/of-selection", map[string]any{"everything": everything}, nil)
	for i := range 3 { // the tags that were given above
		var into, from int64
		require.NoError(d.t, storetest.SQL(d.h.DB).Get(&into, `select id from tag where name = $1`, fmt.Sprintf("kite %d", 600+6*i)))
		require.NoError(d.t, storetest.SQL(d.h.DB).Get(&from, `select id from tag where name = $1`, fmt.Sprintf("new %d", i)))
		began := time.Now()
		d.ask("a tag of 40,000 merged (the answer)", http.MethodPost, brand+"/tags/merge", map[string]any{"into": into, "from": []int64{from}},
			nil)
		d.untilDone("a tag of 40,000 merged (until done)", began)
	}
}

// describe asks what the cards of items and the page of tags ask for.
func (d *desk) describe(name func(string) string, i int, many []int64) {
	const brand = "/api/brands/bench"
	selection := map[string]any{"ids": many}
	d.ask(name("words of a selection of 2,000 compared"), http.MethodPost, brand+"/words/of-selection", selection, nil)
	d.ask(name("the titles of 2,000"), http.MethodPost, brand+"/words/texts", map[string]any{"selection": selection, "field": "title"}, nil)
	d.ask(name("titles of 2,000 by a pattern, shown first"), http.MethodPost, brand+"/words/titles/preview",
		map[string]any{"selection": selection, "pattern": "{folder} {n}", "start": 1, "digits": 0}, nil)
	d.ask(name("what lacks something"), http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "everything",
		"filter": map[string]any{"field": "lacks", "names": []string{[]string{"usageTerms", "alt", "tags"}[i%3]}}}, nil)
	d.ask(name("groups of tags"), http.MethodGet, brand+"/tag-groups", nil, nil)
	d.ask(name("other spellings of tags"), http.MethodGet, brand+"/tag-spellings", nil, nil)
	var tag int64
	require.NoError(d.t, storetest.SQL(d.h.DB).Get(&tag, `select id from tag where merged_into is null and removed_at is null order by id
		offset $1 limit 1`, 1+i%20))
	d.ask(name("one tag"), http.MethodGet, fmt.Sprintf("%s/tags/%d", brand, tag), nil, nil)
	d.ask(name("tags suggested for an item"), http.MethodGet, fmt.Sprintf("%s/assets/%d/suggested-tags", brand, many[i]), nil, nil)
	d.ask(name("renaming a tag"), http.MethodPatch, fmt.Sprintf("%s/tags/%d", brand, tag), map[string]any{"name": fmt.Sprintf("named %d", i)},
		nil)
	d.ask(name("first page after a tag was renamed"), http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "everything"}, nil)
}

// find searches with a slip, asks why something was found and what lies together, and takes words out as a table and back.
func (d *desk) find(name func(string) string, i int, many []int64) {
	const brand = "/api/brands/bench"
	words := []string{"gulll", "habrour", "kyte"}[i%3]
	d.ask(name("what was meant by a slip"), http.MethodPost, brand+"/search/miss", map[string]any{"place": "everything",
		"filter": map[string]any{"match": "all", "rules": []any{map[string]any{"field": "words", "names": []string{words}}}}}, nil)
	d.ask(name("why 200 were found"), http.MethodPost, brand+"/search/reasons", map[string]any{"words": "kite", "ids": many[:200]}, nil)
	for what, rule := range map[string]map[string]any{"filter by who brought in": {"field": "by", "ids": []int64{d.person}},
		"filter by kind of file": {"field": "format", "names": []string{[]string{"jpeg", "raw", "png"}[i%3]}}} {
		d.ask(name(what), http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "everything",
			"filter": map[string]any{"match": "all", "rules": []any{rule, map[string]any{"field": "stars", "from": i % 4}}}}, nil)
	}
	pile := map[string]any{"sheet": map[string]any{"place": "everything"}, "asset": many[i]}
	d.ask(name("the pile of an item"), http.MethodPost, brand+"/piles", pile, nil)
	pile["next"] = true
	d.ask(name("the next pile"), http.MethodPost, brand+"/piles", pile, nil)
	if i%10 == 0 { // it waits for a job
		d.tables(name, i, many)
	}
}

// tables hands words out as a table, and takes it back.
func (d *desk) tables(name func(string) string, i int, many []int64) {
	const brand = "/api/brands/bench"
	var table []byte
	d.ask(name("words of 2,000 as a table"), http.MethodPost, brand+"/words/table",
		map[string]any{"selection": map[string]any{"ids": many}, "form": "json"}, &table)
	var rows []map[string]any
	require.NoError(d.t, json.Unmarshal(table, &rows))
	for _, row := range rows {
		row["title"] = fmt.Sprint(row["title"], " ", i)
	}
	var back struct {
		ID      int64  `json:"id"`
		Changes int    `json:"changes"`
		State   string `json:"state"`
	}
	d.ask(name("a table of 2,000 taken to be compared"), http.MethodPost, brand+"/tables?name=words.json", rows, &back)
	for began := time.Now(); back.State != "ready" && time.Since(began) < time.Minute; time.Sleep(20 * time.Millisecond) {
		d.ask(name("how far a table is"), http.MethodGet, fmt.Sprintf("%s/tables/%d", brand, back.ID), nil, &back)
	}
	require.Equal(d.t, len(rows), back.Changes)
	d.ask(name("the changes of a table"), http.MethodGet, fmt.Sprintf("%s/tables/%d/rows?state=changes", brand, back.ID), nil, nil)
}

// people puts faces on every tenth item, one in five with a name, and says of a hundred people what they agreed to.
func (d *desk) people() {
	for _, statement := range []string{
		`insert into face (brand_id, asset_id, x, y, width, height, state) select brand_id, id, 0.4, 0.3, 0.2, 0.2, 'found' from asset
			where id % 10 = 0`,
		`update face set state = 'named', tag_id = (select min(id) from tag) + id % 100 where id % 5 = 0 and exists (select from tag t
			where t.id = (select min(id) from tag) + face.id % 100)`,
		`insert into person_shown (brand_id, tag_id, consent) select f.brand_id, f.tag_id, (array['open', 'given', 'refused'])[1 + f.tag_id % 3]
			from (select distinct brand_id, tag_id from face where tag_id is not null) f`,
		`analyze face`, `analyze person_shown`,
	} {
		_, err := storetest.SQL(d.h.DB).Exec(statement)
		require.NoError(d.t, err, statement)
	}
	for i, rule := range []map[string]any{mixed(), {"field": "stars", "from": 3}, {"field": "anniversary"}} {
		d.ask("", http.MethodPost, "/api/brands/bench/albums", map[string]any{"name": fmt.Sprintf("By rule %d", i), "rule": rule,
			"pick": []int{0, 10, 0}[i]}, nil)
	}
}

func mixed() map[string]any {
	stars, kept := map[string]any{"field": "stars", "from": 4}, map[string]any{"field": "keeper"}
	wide := map[string]any{"field": "width", "from": 2000}
	return map[string]any{"match": "any", "rules": []any{map[string]any{"match": "all", "rules": []any{stars, wide}}, kept}}
}

// fits asks for what fits best, for what rules find, and for who is shown, in several rounds.
func (d *desk) fits() {
	var many sheetPage
	d.ask("", http.MethodPost, "/api/brands/bench/sheet?most=200", map[string]any{"place": "everything"}, &many)
	for i := range repeated + warm {
		d.fit(warmed(i), i, many.IDs)
		d.prepare(warmed(i), i, many.IDs)
	}
	d.nestAlbums()
	for i := range repeated + warm {
		d.gather(warmed(i), i, many.IDs)
	}
	outside := d.embedEverything(many.IDs)
	d.seePages()
	for i := range repeated + warm {
		d.publish(warmed(i), i, outside)
	}
}

func (d *desk) fit(name func(string) string, i int, many []int64) {
	const brand = "/api/brands/bench"
	sheet := func(what, sort string, rule map[string]any) {
		d.ask(name(what), http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "everything", "sort": sort,
			"filter": map[string]any{"match": "all", "rules": []any{rule}}}, nil)
	}
	sheet("first page by fit of a word", "fit", map[string]any{"field": "words", "names": []string{[]string{"kite", "rope", "gull"}[i%3]}})
	colour := []string{"#cc2222", "#3060c0", "#209030"}[i%3]
	sheet("first page of a colour by fit", "fit", map[string]any{"field": "colour", "names": []string{colour}, "from": 10 + i})
	sheet("first page of what is like one", "fit", map[string]any{"field": "like", "ids": many[i : i+1]})
	sheet("this day in other years", "taken", map[string]any{"field": "anniversary"})
	sheet("whoever does not agree", "taken", map[string]any{"field": "consent", "names": []string{"refused", "ended"}})
	whole := mixed()
	parts := []any{whole, whole["rules"].([]any)[0], whole["rules"].([]any)[1], map[string]any{"field": "stars", "from": i % 6}}
	d.ask(name("a mixed filter counted in its parts"), http.MethodPost, brand+"/rules/count", map[string]any{
		"query": map[string]any{"place": "everything"}, "rules": parts}, nil)
	var albums []int64
	require.NoError(d.t, storetest.SQL(d.h.DB).Select(&albums, `select id from album where rule is not null order by id`))
	for k, what := range []string{"a rule album", "ten at random of a rule album"} {
		d.ask(name(what), http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "album", "id": albums[k]}, nil)
	}
	everything := map[string]any{"place": "everything"}
	typed := []string{"taken in 20", "added this m", "wider than 2000", "tag: kite", "at place 1", "4 stars or more"}[i%6]
	d.ask(name("conditions offered"), http.MethodPost, brand+"/rules/read", map[string]any{"query": everything, "typed": typed}, nil)
	d.ask(name("conditions offered beside words"), http.MethodPost, brand+"/rules/read", map[string]any{"query": everything,
		"typed": fmt.Sprintf("kite %d taken in 201%d", 103+i*7, i%10)}, nil)
	narrowed := map[string]any{"place": "everything", "filter": map[string]any{"match": "all", "rules": []any{
		map[string]any{"field": "place", "names": []string{fmt.Sprintf("Place %d", 1+i)}}}}}
	d.ask(name("facets of one place"), http.MethodPost, brand+"/facets", narrowed, nil)
	piled := map[string]any{"place": "everything", "piled": true, "unfolded": many[i : i+1]}
	d.ask(name("first page of what lies together"), http.MethodPost, brand+"/sheet?most=2000", piled, nil)
	d.ask(name("albums, with three by rule"), http.MethodGet, brand+"/albums", nil, nil)
	d.ask("", http.MethodPost, brand+"/stars", map[string]any{"selection": map[string]any{"ids": many[i : i+1]}, "stars": 1 + i%5}, nil)
	d.ask(name("albums by rule, after a change"), http.MethodGet, brand+"/albums", nil, nil)
	d.ask(name("first page of what lies together, after a change"), http.MethodPost, brand+"/sheet?most=2000", piled, nil)
	d.ask(name("the next face without a name"), http.MethodGet, fmt.Sprintf("%s/faces/next?after=%d", brand, i*100), nil, nil)
	d.ask(name("who is shown"), http.MethodGet, brand+"/people-shown", nil, nil)
}

func (d *desk) untilDone(what string, began time.Time) {
	require.Eventually(d.t, func() bool {
		var open int
		require.NoError(d.t, storetest.SQL(d.h.DB).Get(&open, `select count(*) from bulk where finished_at is null`))
		return open == 0
	}, 5*time.Minute, 20*time.Millisecond)
	var failed []string
	require.NoError(d.t, storetest.SQL(d.h.DB).Select(&failed, `select failed from bulk where failed <> ''`))
	require.Empty(d.t, failed)
	d.took[what] = append(d.took[what], time.Since(began).Seconds()*1000)
}

// TestDuplicatesAmongAMillion asks for duplicates and for likely twins in a brand of a million files.
func TestDuplicatesAmongAMillion(t *testing.T) {
	measured(t)
	ctx := context.Background()
	db := storetest.New(t)
	v := storetest.Brand(t, db, "bench")[access.Coordinator]
	storetest.Library(t, db, v.Brand, v.Person, largeLibrary)
	var exact, alike []float64
	for range 400 {
		sum := make([]byte, 32)
		_, _ = rand.Read(sum)
		began := time.Now()
		same, err := assetstore.SameContent(ctx, db, v.Brand, sum, 0)
		require.NoError(t, err)
		require.Nil(t, same)
		exact = append(exact, time.Since(began).Seconds()*1000)
		began = time.Now()
		_, err = assetstore.Alike(ctx, db, v.Brand, 0, likeness.Hash(binary.BigEndian.Uint64(sum)))
		require.NoError(t, err)
		alike = append(alike, time.Since(began).Seconds()*1000)
	}
	t.Logf("exact duplicate among 1,000,000: median %.2f ms, p95 %.2f ms (wanted under 5 ms)", median(exact), percentile(exact, 95))
	t.Logf("likely twins among 1,000,000: median %.2f ms, p95 %.2f ms", median(alike), percentile(alike, 95))
}
