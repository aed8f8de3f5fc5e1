package index_test

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/query/querytest"
	"brightsatchel/internal/finding/index"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/tagstore"
)

var ctx = context.Background()

// TestIndexSQLAndPlainEvaluationAgree asks random queries of random libraries that change, in three ways.
func TestIndexSQLAndPlainEvaluationAgree(t *testing.T) {
	index.ShareFrom(t, 40)
	db := storetest.New(t)
	people := storetest.Brand(t, db, "equal")
	v := people[access.Coordinator]
	storetest.Library(t, db, v.Brand, v.Person, 600)
	x := index.New(db)
	require.NoError(t, x.Load(ctx, v.Brand))
	colourAll(t, db)
	require.NoError(t, x.Load(ctx, v.Brand))
	ids := everyID(t, db)
	folders, albums, tags := idsOf(t, db, "folder"), idsOf(t, db, "album"), idsOf(t, db, "tag")
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
		if err := assetstore.Stack(ctx, tx, v.Brand, ids[:4], ids[1]); err != nil {
			return err
		}
		for i, until := range []string{"", "2020-05-17"} {
			person := facestore.PersonShown{ID: tags[i], Consent: []string{"refused", "given"}[i], ConsentUntil: until}
			if err := facestore.SavePersonShown(ctx, tx, v.Brand, person); err != nil {
				return err
			}
		}
		_ = peoplestore.AddGrant(ctx, tx, v.Brand, people[access.Associate].Person, access.Grant{Album: albums[0], Level: access.LevelLook})
		return peoplestore.AddGrant(ctx, tx, v.Brand, people[access.Associate].Person, access.Grant{Folder: folders[1],
			Level: access.LevelContribute})
	}))
	byRule := append(ruleAlbums(t, db, v, tags, albums), albums...)
	viewers := []*access.Viewer{storetest.See(t, db, v.Person, "equal"), storetest.See(t, db, people[access.Associate].Person, "equal")}
	laid, err := x.Sheet(ctx, viewers[0], query.Query{Place: "everything", Piled: true}, 0, 600)
	require.NoError(t, err)
	require.Greater(t, len(laid.Piles), 20, "there is something to lay together")
	rapid.Check(t, func(rt *rapid.T) {
		change(rt, db, v, ids, folders, albums, tags)
		viewer := rapid.SampledFrom(viewers).Draw(rt, "viewer")
		q := anyQuery(rt, folders, byRule, tags)
		want, err := findstore.SQL{DB: db}.IDs(ctx, viewer, q)
		require.NoError(rt, err)
		got, err := x.IDs(ctx, viewer, q)
		require.NoError(rt, err)
		require.Equal(rt, want, got, "the index and SQL show the same in the same order")
		plain := plainly(rt, db, viewer, q)
		sorted := slices.Sorted(slices.Values(got))
		require.Equal(rt, plain, sorted, "and it is what the rule says")
		sameLists(rt, db, x, viewer)
		samePiles(rt, db, x, viewer, q, ids)
	})
	for _, viewer := range viewers {
		sameCounts(t, db, x, viewer)
	}
}

// colourAll gives items colours and likenesses, some of them none.
func colourAll(t *testing.T, db *store.DB) {
	t.Helper()
	for id := range int64(600) {
		hash, shades := likeness.Hash(0xcf0f_3c3c_55aa_1188>>(id%9)), []int32{}
		for k := range id % 4 {
			c := likeness.LabOf(byte(40+id*7%200), byte(30+k*70), byte(id*13%220))
			shades = append(shades, int32(likeness.NewShade(c, int32(10+k*15))))
		}
		if id%7 == 0 {
			hash = 0
		}
		_, err := storetest.SQL(db).Exec(`update asset set likeness = $2, colours = $3, sharpness = nullif($1 * 37 % 100, 5) / 100.0
			where id = (select id from asset order by id offset $1 limit 1)`, id, int64(hash), shades)
		require.NoError(t, err)
	}
	_, err := storetest.SQL(db).Exec(`update asset set captured_at = timestamp '2019-03-04' + (id / 6) * interval '1 minute'
			+ (id % 6) * interval '1.3 seconds',
		camera = 'Tarn K2', likeness = 998877665544 + id % 3 where id % 4 > 0`)
	require.NoError(t, err)
	_, err = storetest.SQL(db).Exec(`update asset set added_by = (select id from person order by id offset asset.id % 4 limit 1),
		media_type = (array['image/jpeg', 'image/png', 'image/x-sony-arw', 'image/heif', 'application/zip'])[1 + id % 5]`)
	require.NoError(t, err)
}

// samePiles compares a page of what lies together.
func samePiles(rt *rapid.T, db *store.DB, x *index.Index, v *access.Viewer, q query.Query, ids []int64) {
	q.Piled, q.Unfolded = true, rapid.SliceOfN(rapid.SampledFrom(ids), 0, 5).Draw(rt, "unfolded")
	from := rapid.IntRange(0, 300).Draw(rt, "from")
	want, err := findstore.SQL{DB: db}.Sheet(ctx, v, q, from, 60)
	require.NoError(rt, err)
	got, err := x.Sheet(ctx, v, q, from, 60)
	require.NoError(rt, err)
	require.Equal(rt, want, got, "the index and SQL lay the same together")
	of, next := rapid.SampledFrom(ids).Draw(rt, "of"), rapid.Bool().Draw(rt, "next")
	pile, err := findstore.SQL{DB: db}.Together(ctx, v, q, of, next)
	require.NoError(rt, err)
	found, err := x.Together(ctx, v, q, of, next)
	require.NoError(rt, err)
	require.Equal(rt, pile, found, "and find the same around an item, and after it")
}

// ruleAlbums makes albums that rules keep filled: by one another, and with some at random.
func ruleAlbums(t *testing.T, db *store.DB, v *access.Viewer, tags, albums []int64) []int64 {
	three := int64(3)
	var made []int64
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
		for i, by := range []query.RuleAlbum{
			{Rule: query.Rule{Match: query.Any, Rules: []query.Rule{{Field: "stars", From: &three}, {Field: "tag", IDs: tags[:1]}}}},
			{Rule: query.Rule{Field: "stars", From: new(int64)}, Pick: 40},
			{Rule: query.Rule{Match: query.All, Rules: []query.Rule{{Field: "words", Names: []string{"KITE"}}, {Field: "keeper"}}}},
			{},
		} {
			id, err := albumstore.AddAlbum(ctx, tx, v.Brand, 0, fmt.Sprintf("By rule %d", i))
			if err != nil {
				return err
			}
			if i == 3 {
				by.Rule = query.Rule{Field: "album", IDs: []int64{made[0], made[1], albums[0]}}
			}
			if err := albumstore.SetAlbumRule(ctx, tx, v.Brand, id, by); err != nil {
				return err
			}
			made = append(made, id)
		}
		return nil
	}))
	return made
}

func sameCounts(t *testing.T, db *store.DB, x *index.Index, v *access.Viewer) {
	t.Helper()
	sql := findstore.SQL{DB: db}
	all := query.Query{Place: "everything", Filter: query.Both(query.WithAside)}
	wantCounts, err := sql.Counts(ctx, v)
	require.NoError(t, err)
	counts, err := x.Counts(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, wantCounts, counts)
	wantFolders, err := sql.FolderCounts(ctx, v)
	require.NoError(t, err)
	folders, err := x.FolderCounts(ctx, v)
	require.NoError(t, err)
	for id, n := range wantFolders {
		assert.Equal(t, n, folders[id])
	}
	wantFacets, err := sql.Facets(ctx, v, all)
	require.NoError(t, err)
	facets, err := x.Facets(ctx, v, all)
	require.NoError(t, err)
	assert.Equal(t, wantFacets, facets)
	wantDays, err := sql.Days(ctx, v, all)
	require.NoError(t, err)
	days, err := x.Days(ctx, v, all)
	require.NoError(t, err)
	assert.Equal(t, wantDays, days)
	page, err := x.Sheet(ctx, v, all, 3, 2)
	require.NoError(t, err)
	wantPage, err := sql.Sheet(ctx, v, all, 3, 2)
	require.NoError(t, err)
	assert.Equal(t, wantPage, page)
	sameLists(t, db, x, v)
}

// sameLists compares the lists of albums and tags, with their counts and covers.
func sameLists(t require.TestingT, db *store.DB, x *index.Index, v *access.Viewer) {
	sql := findstore.SQL{DB: db}
	wantAlbums, err := sql.Albums(ctx, v)
	require.NoError(t, err)
	albums, err := x.Albums(ctx, v)
	require.NoError(t, err)
	require.Equal(t, wantAlbums, albums)
	wantTags, err := sql.Tags(ctx, v)
	require.NoError(t, err)
	tags, err := x.Tags(ctx, v)
	require.NoError(t, err)
	require.Equal(t, wantTags, tags)
	ids, err := sql.IDs(ctx, v, query.Query{Place: "everything"})
	require.NoError(t, err)
	rows, err := findstore.Rows(ctx, db, v, ids[:20])
	require.NoError(t, err)
	named := slices.Clone(rows)
	require.NoError(t, x.NameTags(ctx, v.Brand, named))
	require.Equal(t, rows, named)
	require.True(t, slices.ContainsFunc(named, func(r assetstore.AssetRow) bool { return len(r.Tags) > 0 }), "some have tags")
}

// change does one of the things that people do to a library.
func change(rt *rapid.T, db *store.DB, v *access.Viewer, ids, folders, albums, tags []int64) {
	one := func(of []int64) int64 { return rapid.SampledFrom(of).Draw(rt, "one") }
	if rapid.Bool().Draw(rt, "first") { // the item that stands for an album, or may soon
		var err error
		ids, err = albumstore.AlbumOrder(ctx, db, v.Brand, one(albums)) // with what is in the bin
		require.NoError(rt, err)
		ids = ids[:min(2, len(ids))]
	}
	some := rapid.SliceOfNDistinct(rapid.SampledFrom(ids), 1, 5, rapid.ID[int64]).Draw(rt, "some")
	what := rapid.IntRange(0, 23).Draw(rt, "what")
	require.NoError(rt, db.InTx(ctx, func(tx *store.Tx) (err error) {
		switch what {
		case 0:
			_, err = assetstore.MoveAssets(ctx, tx, some, one(append(folders, 0)))
		case 1:
			_, err = assetstore.RateAssets(ctx, tx, v, some, rapid.IntRange(-1, 5).Draw(rt, "stars"))
		case 2:
			_, err = tagstore.ChangeTags(ctx, tx, v.Brand, some, []int64{one(tags)}, nil)
		case 3:
			_, err = tagstore.ChangeTags(ctx, tx, v.Brand, some, nil, []int64{one(tags)})
		case 4, 15, 16, 17, 18, 19: // more often, since covers and counts hang on it
			_, err = assetstore.BinAssets(ctx, tx, some, rapid.Bool().Draw(rt, "binned"))
		case 5:
			_, err = albumstore.AddToAlbum(ctx, tx, v.Brand, one(albums), some)
		case 6:
			_, err = assetstore.KeepAssets(ctx, tx, v.Brand, v.Person, some, rapid.Bool().Draw(rt, "keep"))
		case 7:
			_, err = tx.ExecContext(ctx, `update asset set title = $2, position = $3 where id = $1`, some[0],
				rapid.SampledFrom([]string{"", "Ærø 10", "two kites", "a boat", "shot 9", "Shot 10", "shot 010"}).Draw(rt, "title"),
				rapid.SampledFrom([]string{"B", "V"}).Draw(rt, "position"))
		case 8:
			_, err = tx.ExecContext(ctx, `update folder set name = 'Kite ' || id, happened_on = $2 where id = $1`, one(folders), "2019-03-04")
		case 9:
			_, err = tx.ExecContext(ctx, `update asset set captured_at = $2 where id = any($1)`, some,
				rapid.SampledFrom([]any{nil, "2012-02-29 23:59:59", "2012-03-01"}).Draw(rt, "taken"))
		case 10:
			_, err = albumstore.TakeOutOfAlbum(ctx, tx, one(albums), some)
		case 11:
			album := one(albums)
			var inside []int64
			if inside, err = albumstore.AlbumItemIDs(ctx, tx, album); err == nil && len(inside) > 1 {
				_, err = albumstore.OrderAlbum(ctx, tx, album, inside[len(inside)-1:], inside[0])
			}
		case 12:
			album := one(albums)
			err = albumstore.ChangeAlbum(ctx, tx, album, "Album "+rapid.StringMatching(`[0-9]{3,5}x?`).Draw(rt, "name"), "")
			if err == nil {
				err = albumstore.SetAlbumCover(ctx, tx, album, some[0], 0)
			}
		case 13:
			_, err = tx.ExecContext(ctx, `update asset set alt = alt || '!', recipe_hash = $2 where id = any($1)`, some,
				rapid.SampledFrom([]string{"", "aaa"}).Draw(rt, "hash"))
		case 20:
			_, err = tx.ExecContext(ctx, `update asset set usage_terms = $2, rights_until = nullif($3, '')::date where id = any($1)`, some,
				rapid.SampledFrom([]string{"", "press"}).Draw(rt, "terms"), rapid.SampledFrom([]string{"", "2012-02-29", "2019-03-04"}).Draw(rt, "end"))
		case 21:
			needs := rapid.SliceOfDistinct(rapid.SampledFrom(describing.Needs), rapid.ID).Draw(rt, "needs")
			err = peoplestore.ChangeBrand(ctx, tx, peoplestore.Brand{ID: v.Brand, Name: "Index", Needs: needs})
		case 23: // one in another, never in a ring
			inner, outer := one(albums), one(albums)
			_, err = tx.ExecContext(ctx, `update album set parent_id = $2 where id = $1 and $1 > $2`, inner, outer)
		case 22: // sent out as they are, or were
			_, err = tx.ExecContext(ctx, `update asset set sent_at = now(), sent_version = version_id, sent_recipe = $2 where id = any($1)`, some,
				rapid.SampledFrom([]string{"", "aaa"}).Draw(rt, "sent"))
		case 14:
			_, err = tx.ExecContext(ctx, `update tag set name = $2 || id where id = $1`,
				one(tags),
				rapid.SampledFrom([]string{"buoy", "Été"}).Draw(rt, "name"),
			)
		}
		return err
	}))
}

func anyQuery(rt *rapid.T, folders, albums, tags []int64) query.Query {
	q := query.Query{Place: rapid.SampledFrom([]string{"everything", "everything", "unfiled", "folder", "album", "bin", "undescribed",
		"unchosen"}).Draw(rt, "place")}
	switch q.Place {
	case "folder":
		q.ID, q.Below = rapid.SampledFrom(folders).Draw(rt, "folder"), rapid.Bool().Draw(rt, "below")
	case "album":
		q.ID, q.Below = rapid.SampledFrom(albums).Draw(rt, "album"), rapid.Bool().Draw(rt, "below")
	}
	q.Sort = rapid.SampledFrom([]string{"", "taken", "added", "changed", "name", "size", "stars", "kind", "fit"}).Draw(rt, "sort")
	if q.Sort == "fit" { // by one of what items fit
		q.Filter = query.Both(rapid.SampledFrom([]query.Rule{query.Words("kite 1"), {Field: "like", IDs: []int64{1}},
			{Field: "colour", Names: []string{"#cc2222", "#3060c0"}, From: new(int64(rapid.IntRange(1, 40).Draw(rt, "share")))}}).Draw(rt, "fits"))
	}
	if q.Sort == "" && q.Place == "folder" && !q.Below {
		q.Sort = "hand"
	} else {
		q.Descending = rapid.Bool().Draw(rt, "descending") && q.Sort != ""
	}
	if q.Filter == nil && rapid.Bool().Draw(rt, "filtered") {
		q.Filter = query.Both(anyRule(rt, 2, folders, albums, tags))
		some := rapid.SampledFrom([]string{"", "", "k", "kite", "kites", "ete mer", "OST_1", "Kite 3", "boat", "%"})
		if words := some.Draw(rt, "words"); words != "" {
			q.Filter.Rules = append(q.Filter.Rules, query.Words(words))
		}
	}
	require.NoError(rt, q.Check())
	return q
}

func anyRule(rt *rapid.T, depth int, folders, albums, tags []int64) query.Rule {
	if depth > 0 && rapid.Bool().Draw(rt, "group") {
		r := query.Rule{Match: rapid.SampledFrom([]string{query.All, query.Any, query.None}).Draw(rt, "match")}
		for range rapid.IntRange(0, 3).Draw(rt, "rules") {
			r.Rules = append(r.Rules, anyRule(rt, depth-1, folders, albums, tags))
		}
		return r
	}
	r := query.Rule{Field: rapid.SampledFrom(slices.Sorted(maps.Keys(query.Fields))).Draw(rt, "field")}
	f := query.Fields[r.Field]
	if r.Field == "colour" {
		r.Names = rapid.SliceOfN(rapid.SampledFrom([]string{"#cc2222", "#3060c0", "#209030"}), 0, 2).Draw(rt, "colours")
		r.From = rapid.Ptr(rapid.Int64Range(-1, 120), true).Draw(rt, "share")
		return r
	}
	if r.Field == "like" {
		r.IDs = []int64{rapid.Int64Range(1, 300).Draw(rt, "model")}
		return r
	}
	from := map[string][]int64{"folder": folders, "album": albums, "tag": tags, "by": {1, 2, 3, 4, 5, 99}}[r.Field]
	if f.IDs && from != nil {
		r.IDs = rapid.SliceOfN(rapid.SampledFrom(from), 0, 3).Draw(rt, "ids")
	}
	r.Below = (r.Field == "folder" || r.Field == "album") && rapid.Bool().Draw(rt, "below")
	r.Missing = f.Missing && rapid.Bool().Draw(rt, "missing")
	if f.Names {
		r.Names = rapid.SliceOfN(rapid.SampledFrom([]string{"picture", "clip", "Tarn K2", "Ostler 40", "server", "upload", "rope",
			"ÉTÉ", "field", "Place 3", "Place 28", "alt", "tags", "usageTerms", "open", "ended", "refused",
			"prepared", "sent", "older", "jpeg", "raw", "png", "other"}), 0, 2).Draw(rt, "names")
	}
	bound := func(values ...int64) *int64 {
		return rapid.Ptr(rapid.SampledFrom(values), true).Draw(rt, "bound")
	}
	if f.Range {
		r.From, r.To = bound(-1, 0, 3, 1600, 1_000_000), bound(2, 4, 4000, 6000, 5_000_000)
	}
	if f.Days {
		days := rapid.SampledFrom([]string{"", "2012-02-29", "2012-03-01", "2015-06-01", "2019-03-04", "2020-01-02"})
		r.Since, r.Until = days.Draw(rt, "since"), days.Draw(rt, "until")
	}
	return r
}

// plainly asks the rule of each item by itself.
func plainly(rt *rapid.T, db *store.DB, v *access.Viewer, q query.Query) []int64 {
	rule, err := findstore.Resolved(ctx, db, v, q.Rule())
	require.NoError(rt, err)
	reach := v.May(access.Look)
	var out []int64
	for _, it := range everyItem(rt, db, v.Person) {
		visible := reach.All || reach.Folders[it.Folder] || slices.ContainsFunc(it.Albums, func(a int64) bool { return reach.Albums[a] })
		if visible && querytest.Matches(&rule, &it) {
			out = append(out, it.ID)
		}
	}
	return out
}

func everyItem(rt require.TestingT, db *store.DB, person int64) []querytest.Item {
	var rows []struct {
		ID, Folder, Stage, Stack, Bytes, Width, Height int64
		Albums, Tags, Outlets, Intakes                 store.Array[int64]
		Kind, Camera, Place, Source, Text              string
		Media                                          string
		By                                             int64
		Stars                                          int
		Taken                                          *time.Time
		Added                                          time.Time
		Keeper, Binned, Front                          bool
		RightsUntil                                    string `db:"rights_until"`
		Lacks, States                                  store.Array[string]
		Likeness                                       int64
		Colours                                        store.Array[int64]
	}
	require.NoError(rt, storetest.SQL(db).Select(&rows, `select a.id, coalesce(folder_id, 0) as folder, coalesce(stage_id, 0) as stage,
		coalesce(stack_id, 0) as stack, bytes, width, height,
		array(select album_id from album_item x where x.asset_id = a.id) as albums, array(select tag_id from asset_tag x
		where x.asset_id = a.id) as tags,
		array(select outlet_id from asset_origin x where x.asset_id = a.id) as outlets, array(select intake_id from intake_file x
		where x.asset_id = a.id) as intakes,
		media_type as media, coalesce(added_by, 0) as by, kind, camera, place, source, search as text, stars, captured_at as taken,
			added_at as added, exists (select from keeper k
		where k.asset_id = a.id and k.person_id = $1) as keeper,
		coalesce(a.likeness, 0) as likeness, a.colours,
		coalesce(rights_until::text, '') as rights_until, array_remove(array[case when title = '' then 'title' end,
		case when alt = '' then 'alt' end, case when description = '' then 'description' end, case when credit = '' then 'credit' end,
		case when copyright = '' then 'copyright' end, case when usage_terms = '' then 'usageTerms' end, case when place = '' then 'place' end,
		case when captured_at is null then 'taken' end, case when not exists (select from asset_tag x where x.asset_id = a.id)
		then 'tags' end], null) as lacks, array_remove(array[case when recipe_hash <> '' then 'prepared' end, case when sent_at is not null
		then 'sent' end, case when sent_version <> version_id or sent_recipe <> recipe_hash then 'older' end], null) as states,
		binned_at is not null as binned, stack_front as front from asset a order by a.id`, person))
	out := make([]querytest.Item, len(rows))
	for i, r := range rows {
		out[i] = querytest.Item{ID: r.ID, Folder: r.Folder, Stage: r.Stage, Albums: r.Albums, Tags: r.Tags, Outlets: r.Outlets,
			Intakes: r.Intakes, Kind: r.Kind, Camera: r.Camera, Place: r.Place, Source: r.Source,
			By: r.By, Format: query.FormatOf(r.Media), Text: r.Text, Stars: r.Stars, Bytes: r.Bytes, Width: r.Width, Height: r.Height,
			Taken: r.Taken, Added: r.Added,
			Keeper: r.Keeper, RightsUntil: r.RightsUntil, Lacks: r.Lacks, States: r.States, Binned: r.Binned, Likeness: likeness.Hash(r.Likeness)}
		for _, s := range r.Colours {
			out[i].Shades = append(out[i].Shades, likeness.Shade(s))
		}
		for _, p := range rows {
			out[i].Behind = out[i].Behind || r.Stack != 0 && !r.Front && p.Stack == r.Stack && p.Front && !p.Binned && p.Folder == r.Folder
		}
	}
	return out
}

func everyID(t *testing.T, db *store.DB) []int64 { return idsOf(t, db, "asset") }

func idsOf(t *testing.T, db *store.DB, table string) []int64 {
	var out []int64
	require.NoError(t, storetest.SQL(db).Select(&out, `select id from `+table+` order by id`))
	return out
}

func TestAnIndexFollowsOtherProcesses(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "follow")[access.Coordinator]
	x, y := index.New(db), index.New(db)
	everything := query.Query{Place: "everything"}
	storetest.Items(t, db, v, 0, "a.jpg")
	ids, err := x.IDs(ctx, v, everything)
	require.NoError(t, err)
	assert.Len(t, ids, 1, "before it is loaded SQL answers")
	require.NoError(t, x.Load(ctx, v.Brand))
	require.NoError(t, y.Load(ctx, v.Brand))
	// A transaction that was begun before others and ends after them is not missed.
	slow, err := storetest.SQL(db).Beginx()
	require.NoError(t, err)
	_, err = slow.Exec(`update asset set stars = 4`)
	require.NoError(t, err)
	storetest.Items(t, db, v, 0, "b.jpg")
	for _, one := range []*index.Index{x, y} {
		ids, err = one.IDs(ctx, v, everything)
		require.NoError(t, err)
		assert.Len(t, ids, 2)
	}
	require.NoError(t, slow.Commit())
	for _, one := range []*index.Index{x, y} {
		starred, err := one.IDs(ctx, v, query.Query{Place: "everything", Filter: query.Both(query.AtLeast(4))})
		require.NoError(t, err)
		assert.Len(t, starred, 1, "what was committed late is there")
	}
	_, err = storetest.SQL(db).Exec(`delete from asset where stars = 4`)
	require.NoError(t, err)
	ids, err = x.IDs(ctx, v, everything)
	require.NoError(t, err)
	assert.Len(t, ids, 1, "what is deleted is gone")
	_, err = y.IDs(ctx, v, query.Query{Place: "everything", Filter: query.Both(query.Words(strings.Repeat("x ", 30)))})
	require.NoError(t, err)
}
