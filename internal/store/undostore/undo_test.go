package undostore_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/tagstore"
	"brightsatchel/internal/store/undostore"
)

var ctx = context.Background()

// furnished makes a brand in which something hangs on everything.
func furnished(t *testing.T, db *store.DB) (v *access.Viewer, ids map[string]int64) {
	t.Helper()
	people := storetest.Brand(t, db, "house")
	v = people[access.Steward]
	ids = map[string]int64{"brand": v.Brand, "person": v.Person, "associate": people[access.Associate].Person}
	one := func(name, statement string) {
		for key, id := range ids {
			statement = strings.ReplaceAll(statement, "{"+key+"}", fmt.Sprint(id))
		}
		var id int64
		require.NoError(t, storetest.SQL(db).Get(&id, statement), statement)
		ids[name] = id
	}
	one("shoots", `insert into folder (brand_id, name, description, happened_on, position) values ({brand}, 'Shoots', 'All of them',
		'2026-05-17', 'V') returning id`)
	one("meet", `insert into folder (brand_id, parent_id, name) values ({brand}, {shoots}, 'Spring meet') returning id`)
	one("day", `insert into folder (brand_id, parent_id, name, parked) values ({brand}, {meet}, 'Day 1', true) returning id`)
	a := storetest.Items(t, db, v, ids["meet"], "a.jpg", "b.jpg", "c.jpg")
	ids["a"], ids["b"], ids["c"] = a[0], a[1], a[2]
	one("people", `insert into tag_group (brand_id, name) values ({brand}, 'People') returning id`)
	one("tag", `insert into tag (brand_id, group_id, name) values ({brand}, {people}, 'Chioma') returning id`)
	one("word", `insert into tag (brand_id, name) values ({brand}, 'Kyte') returning id`)
	one("look", `insert into look (brand_id, name, adjustments, groups) values ({brand}, 'Late sun', '{"warmth": 10}',
		'{colour}') returning id`)
	one("stage", `insert into stage (brand_id, name, number) values ({brand}, 'Cleared', 1) returning id`)
	one("stack", `insert into stack (brand_id) values ({brand}) returning id`)
	one("outer", `insert into album (brand_id, name) values ({brand}, 'Press') returning id`)
	one("album", `insert into album (brand_id, parent_id, name, cover_id) values ({brand}, {outer}, 'Kit', {a}) returning id`)
	one("inner", `insert into album (brand_id, parent_id, name) values ({brand}, {album}, 'Old') returning id`)
	one("size", `insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern) values ({brand},
		'Web', 100, 100, 'inside', 'jpeg', 80, 'keep', '{name}') returning id`)
	one("gallery", `insert into gallery (brand_id, title) values ({brand}, 'For a client') returning id`)
	one("guest", `insert into guest (brand_id, gallery_id, name, email) values ({brand}, {gallery}, 'Maren', 'maren@house.example')
		returning id`)
	one("favourites", `insert into guest_list (brand_id, gallery_id, position, name, most) values ({brand}, {gallery}, 0, 'For the cover',
		12) returning id`)
	one("remark", `insert into remark (brand_id, gallery_id, asset_id, guest_id, words, x, y) values ({brand}, {gallery}, {a}, {guest},
		'This one', 0.5, 0.25) returning id`)
	one("embed", `insert into embed (brand_id, name, settings) values ({brand}, 'Kites', '{}') returning id`)
	one("disk", `insert into server_folder (brand_id, name, path) values ({brand}, 'Disk', '/disk') returning id`)
	one("watched", `insert into watched_folder (brand_id, server_folder_id, path, folder_id, person_id) values ({brand}, {disk}, 'x',
		{meet}, {person}) returning id`)
	one("intake", `insert into intake (brand_id, person_id, folder_id, album_id) values ({brand}, {person}, {meet}, {album}) returning id`)
	one("face", `insert into face (brand_id, asset_id, x, y, width, height, tag_id, state) values ({brand}, {a}, 0.1, 0.1, 0.2, 0.2,
		{tag}, 'named') returning id`)
	one("grant", `insert into access_grant (brand_id, person_id, folder_id, level) values ({brand}, {associate}, {meet}, 'manage')
		returning id`)
	one("albumgrant", `insert into access_grant (brand_id, person_id, album_id, level) values ({brand}, {associate}, {album}, 'look')
		returning id`)
	one("rehearsal", `insert into rehearsal (brand_id, person_id, name, places) values ({brand}, {person}, 'Spring', '{feed,card}') returning
		id`)
	one("variant", `insert into rehearsal_variant (brand_id, rehearsal_id, position, name, assets, caption) values ({brand}, {rehearsal}, 0,
		'A', array[{a}, {b}]::bigint[], 'Words') returning id`)
	one("thingfolder", `insert into thing_folder (brand_id, kind, name) values ({brand}, 'rehearsal', 'Later') returning id`)
	for _, statement := range []string{
		`insert into screen (brand_id, person_id, token_sum, name, album_id, settings) values ({brand}, {person}, '\\x01', 'Window', {album},
			'{}')`,
		`insert into rehearsal_remark (brand_id, rehearsal_id, variant_id, person_id, words) values ({brand}, {rehearsal}, {variant},
			{person}, 'This one')`,
		`insert into thing_place (brand_id, kind, thing_id, folder_id, parked) values ({brand}, 'rehearsal', {rehearsal}, {thingfolder}, true)`,
		`insert into dispatch_draft (brand_id, person_id, name, assets, pages, body) values ({brand}, {person}, 'For later', array[{a}]::bigint[],
			'{}', '{"Caption": "Words"}')`,
		`insert into folder_tag (brand_id, folder_id, tag_id) values ({brand}, {meet}, {tag})`,
		`insert into asset_tag (brand_id, asset_id, tag_id) values ({brand}, {a}, {tag}), ({brand}, {b}, {tag})`,
		`insert into album_item (brand_id, album_id, asset_id, position) values ({brand}, {album}, {a}, 'F'), ({brand}, {album}, {b}, 'V')`,
		`insert into keeper (brand_id, person_id, asset_id) values ({brand}, {person}, {a})`,
		`insert into beside_stars (brand_id, person_id, asset_id, stars) values ({brand}, {person}, {a}, 4)`,
		`insert into satchel_item (brand_id, person_id, asset_id, position) values ({brand}, {person}, {b}, 'V')`,
		`insert into widening_told (brand_id, folder_id, audience) values ({brand}, {meet}, 'Wren (associate)')`,
		`insert into brand_colour (brand_id, name, colour, place) values ({brand}, 'Saffron', '#eba200', 1)`,
		`insert into person_shown (brand_id, tag_id, consent, consent_until) values ({brand}, {tag}, 'given', '2027-05-17')`,
		`insert into embed_source (brand_id, embed_id, position, album_id) values ({brand}, {embed}, 1, {album})`,
		`insert into embed_source (brand_id, embed_id, position, folder_id) values ({brand}, {embed}, 0, {meet})`,
		`insert into gallery_chapter (brand_id, gallery_id, position, album_id) values ({brand}, {gallery}, 1, {outer})`,
		`insert into gallery_chapter (brand_id, gallery_id, position, folder_id) values ({brand}, {gallery}, 0, {meet})`,
		`insert into guest_mark (brand_id, list_id, guest_id, asset_id) values ({brand}, {favourites}, {guest}, {a})`,
		`insert into remark (brand_id, gallery_id, asset_id, person_id, answers, words) values ({brand}, {gallery}, {a}, {person}, {remark},
			'Gladly')`,
		`insert into letter (brand_id, kind, guest_id, to_email, subject, body_text, body_html) values ({brand}, 'invitation', {guest},
			'maren@house.example', 'Pictures', 'See', '<p>See')`,
		`insert into gallery_event (brand_id, gallery_id, guest_id, what) values ({brand}, {gallery}, {guest}, 'opened')`,
		`insert into logo (brand_id, asset_id) values ({brand}, {c})`,
		`insert into public_address (brand_id, asset_id) values ({brand}, {b})`,
		`insert into site (brand_id, name, origin) values ({brand}, 'Ours', 'https://www.house.example')`,
		`insert into twin (brand_id, asset_id, other_id, distance) values ({brand}, {b}, {a}, 3)`,
		`update asset set stage_id = {stage}, stack_id = {stack}, stack_front = (id = {a}),
			position = case id when {a} then 'F' else 'V' end where id in ({a}, {b})`,
	} {
		for key, id := range ids {
			statement = strings.ReplaceAll(statement, "{"+key+"}", fmt.Sprint(id))
		}
		_, err := storetest.SQL(db).Exec(statement)
		require.NoError(t, err, statement)
	}
	return storetest.See(t, db, v.Person, "house"), ids
}

// everything is what stands in all tables, but for what is only noted about changes.
func everything(t require.TestingT, db *store.DB) map[string]string {
	var tables []string
	require.NoError(
		t,
		storetest.SQL(db).Select(&tables, `select tablename from pg_tables where schemaname = 'public' and tablename not like 'river%'
		and tablename not in ('trail', 'trail_change', 'trail_folder', 'feed', 'goose_db_version', 'sessions', 'bulk')`),
	)
	out := map[string]string{}
	for _, table := range tables {
		var rows string
		require.NoError(t, storetest.SQL(db).Get(&rows, `select coalesce(string_agg(r::text, E'\n' order by r::text), '')
			from (select to_jsonb(t) - 'revision' - 'changed_at' as r from `+table+` t) x`))
		out[table] = rows
	}
	return out
}

// TestUndoBringsBackEverything removes things of every kind that the trail follows, with all that hangs on them.
func TestUndoBringsBackEverything(t *testing.T) {
	db := storetest.New(t)
	v, ids := furnished(t, db)
	removals := map[string]func(tx *store.Tx) error{
		"a folder with grants and tags": func(tx *store.Tx) error {
			_, _, err := folderstore.RemoveFolder(ctx, tx, ids["meet"], ids["shoots"])
			return err
		},
		"a group of tags": func(tx *store.Tx) error {
			_, err := tagstore.RemoveTagGroup(ctx, tx, v.Brand, ids["people"])
			return err
		},
		"an album with grants": func(tx *store.Tx) error { return albumstore.RemoveAlbums(ctx, tx, []int64{ids["album"]}) },
	}
	var tracked []string
	require.NoError(t, storetest.SQL(db).Select(&tracked, `select distinct c.relname from pg_trigger t join pg_class c on c.oid = t.tgrelid
		join pg_proc p on p.oid = t.tgfoid
		where p.proname = 'record_change' and c.relname not in ('asset', 'version', 'folder', 'album', 'intake', 'twin', 'tag_group',
			'output_size')
		order by 1`)) // those have no removal of one row
	require.Contains(t, tracked, "access_grant")
	for _, table := range tracked {
		removals["rows of "+table] = func(tx *store.Tx) error {
			_, err := tx.ExecContext(ctx, `delete from `+table+` where brand_id = $1`, v.Brand)
			return err
		}
	}
	before := everything(t, db)
	try := func(t require.TestingT, names []string) {
		done, err := db.Act(ctx, v, "test", func(tx *store.Tx) (store.Done, error) {
			for _, name := range names {
				if err := removals[name](tx); err != nil {
					return store.Done{}, err
				}
			}
			return store.Done{Said: "Removed things", Changed: 1}, nil
		})
		require.NoError(t, err, names)
		require.NotEqual(t, before, everything(t, db), names)
		_, err = undostore.Undo(ctx, db, v, done.Trail)
		require.NoError(t, err, names)
		assert.Equal(t, before, everything(t, db), names)
	}
	all := []string{}
	for name := range removals {
		t.Run(name, func(t *testing.T) { try(t, []string{name}) })
		all = append(all, name)
	}
	rapid.Check(t, func(t *rapid.T) { // several in one step, in any order
		try(t, rapid.SliceOfNDistinct(rapid.SampledFrom(all), 2, 4, rapid.ID).Draw(t, "removals"))
	})
}

func TestUndoNeedsTheRightNow(t *testing.T) {
	db := storetest.New(t)
	v, ids := furnished(t, db)
	as := func(role access.Role) *access.Viewer {
		var person int64
		require.NoError(t, storetest.SQL(db).Get(&person, `select person_id from membership where brand_id = $1 and role = $2`, v.Brand,
			string(role)))
		return storetest.See(t, db, person, "house")
	}
	coordinator, associate := as(access.Coordinator), as(access.Associate)
	refused := func(who *access.Viewer, done store.Done) {
		t.Helper()
		_, err := undostore.Undo(ctx, db, who, done.Trail)
		var forbidden *fault.Forbidden
		require.ErrorAs(t, err, &forbidden)
	}
	given := storetest.Act(t, db, v, func(tx *store.Tx) (int, error) {
		return 1, peoplestore.SetGrant(ctx, tx, v.Brand, associate.Person, "", access.Grant{Folder: ids["shoots"], Level: access.LevelManage})
	})
	refused(coordinator, given) // a steward's grants are not a coordinator's to take
	own := storetest.Act(t, db, associate, func(tx *store.Tx) (int, error) {
		return assetstore.MoveAssets(ctx, tx, []int64{ids["a"]},
			ids["day"])
	})
	_, err := storetest.SQL(db).Exec(`delete from access_grant where person_id = $1`, associate.Person)
	require.NoError(t, err)
	associate = as(access.Associate)
	refused(associate, own) // the grant has gone, and with it the right
	kept := storetest.Act(t, db, associate, func(tx *store.Tx) (int, error) {
		return assetstore.KeepAssets(ctx, tx, v.Brand, associate.Person, []int64{ids["b"]}, true)
	})
	refused(v, kept) // a keeper is one's own mark, whoever asks
	_, err = storetest.SQL(db).Exec(`update membership set role = 'reviewer' where person_id = $1`, v.Person)
	require.NoError(t, err)
	refused(storetest.See(t, db, v.Person, "house"), given) // a steward no more
	_, err = undostore.Undo(ctx, db, coordinator, own.Trail)
	require.NoError(t, err, "who may do the opposite may undo it")
}

func TestWhatTheMachineFoundOutIsNoReasonAgainstUndoing(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "looked")[access.Coordinator]
	id := storetest.Items(t, db, v, 0, "a.jpg")[0]
	var version int64
	done := storetest.Act(t, db, v, func(tx *store.Tx) (n int, err error) {
		version, err = assetstore.AddVersion(ctx, tx, v.Brand, id, assetstore.File{Kind: "picture", FileName: "b.jpg", MediaType: "image/jpeg",
			SHA256: []byte("b"), Width: 10, Height: 20, Metadata: []byte("{}")})
		return 1, err
	})
	sharpness, tint := 12.5, 0x336699
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
		_, err := assetstore.SaveLooked(ctx, tx, v.Brand, id, version, assetstore.Looked{Sharpness: &sharpness, Tint: &tint})
		return err
	}))
	_, err := undostore.Undo(ctx, db, v, done.Trail)
	require.NoError(t, err)
	a, err := assetstore.AssetByID(ctx, db, v, id)
	require.NoError(t, err)
	assert.Equal(t, "a.jpg", a.FileName)
}

// TestUndoOfOneItemLeavesTheOthers takes back what an act did to one of three items, does that again, and takes back the rest.
func TestUndoOfOneItemLeavesTheOthers(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "house")[access.Steward]
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "c.jpg")
	done, err := db.Act(ctx, v, "rate", func(tx *store.Tx) (store.Done, error) {
		n, err := assetstore.RateAssets(ctx, tx, v, ids, 4)
		return store.Done{Said: "Gave 3 items 4 ★", Changed: n}, err
	})
	require.NoError(t, err)
	stars := func() (now []int) {
		require.NoError(t, storetest.SQL(db).Select(&now, `select stars from asset order by id`))
		return now
	}
	extent, err := store.ExtentOf(ctx, db, v, done.Trail, ids[1])
	require.NoError(t, err)
	assert.Equal(t, store.Extent{Items: 3, Alone: true}, extent)
	one, err := undostore.UndoOf(ctx, db, v, done.Trail, ids[1])
	require.NoError(t, err)
	assert.Equal(t, "Undone: gave 3 items 4 ★, only for “b.jpg”", one.Said)
	assert.Equal(t, []int{4, 0, 4}, stars())
	_, err = undostore.UndoOf(ctx, db, v, done.Trail, ids[1])
	require.Error(t, err, "twice is once too often")
	of, err := store.TrailOf(ctx, db, v.Brand, ids[1])
	require.NoError(t, err)
	require.Len(t, of, 2)
	assert.Equal(t, []bool{false, true}, []bool{of[0].Undone, of[1].Undone})
	_, err = undostore.Undo(ctx, db, v, one.Trail)
	require.NoError(t, err)
	assert.Equal(t, []int{4, 4, 4}, stars())
	_, err = undostore.Undo(ctx, db, v, done.Trail)
	require.NoError(t, err)
	assert.Equal(t, []int{0, 4, 0}, stars(), "what was taken out of it is a step of its own")
	all, err := store.Trail(ctx, db, v.Brand, store.TrailFilter{Limit: 10})
	require.NoError(t, err)
	assert.Len(t, all, 4, "the part is not listed beside the whole")
}

// TestTheTrailIsFiltered looks for what was done by whom, to what and where.
func TestTheTrailIsFiltered(t *testing.T) {
	db := storetest.New(t)
	team := storetest.Brand(t, db, "house")
	v, other := team[access.Steward], team[access.Coordinator]
	var folders [2]int64
	for i := range folders {
		require.NoError(t, storetest.SQL(db).Get(&folders[i], `insert into folder (brand_id, name) values ($1, $2) returning id`, v.Brand,
			fmt.Sprint(i)))
	}
	ids := storetest.Items(t, db, v, folders[0], "a.jpg", "b.jpg")
	act := func(by *access.Viewer, name string, f func(tx *store.Tx) (int, error)) int64 {
		done, err := db.Act(ctx, by, name, func(tx *store.Tx) (store.Done, error) {
			n, err := f(tx)
			return store.Done{Said: name, Changed: n}, err
		})
		require.NoError(t, err)
		return done.Trail
	}
	rated := act(v, "rate", func(tx *store.Tx) (int, error) { return assetstore.RateAssets(ctx, tx, v, ids[:1], 3) })
	moved := act(other, "move", func(tx *store.Tx) (int, error) { return assetstore.MoveAssets(ctx, tx, ids[1:], folders[1]) })
	kept := act(other, "keep", func(tx *store.Tx) (int, error) {
		return assetstore.KeepAssets(ctx, tx, v.Brand, other.Person, ids[1:], true)
	})
	for name, c := range map[string]struct {
		f    store.TrailFilter
		want []int64
	}{
		"all":                   {store.TrailFilter{}, []int64{kept, moved, rated}},
		"older":                 {store.TrailFilter{Before: kept}, []int64{moved, rated}},
		"by one":                {store.TrailFilter{Person: other.Person}, []int64{kept, moved}},
		"of a kind":             {store.TrailFilter{Actions: []string{"rate", "keep"}}, []int64{kept, rated}},
		"to an item":            {store.TrailFilter{Asset: ids[1]}, []int64{kept, moved}},
		"where it was and went": {store.TrailFilter{Folders: folders[:1]}, []int64{moved, rated}},
		"where it is":           {store.TrailFilter{Folders: folders[1:]}, []int64{kept, moved}},
		"in no folder":          {store.TrailFilter{Folders: []int64{}}, nil},
		"that can be undone":    {store.TrailFilter{Can: true, Person: v.Person}, []int64{rated}},
	} {
		c.f.Limit = 10
		entries, err := store.Trail(ctx, db, v.Brand, c.f)
		require.NoError(t, err, name)
		var got []int64
		for _, e := range entries {
			got = append(got, e.ID)
		}
		assert.Equal(t, c.want, got, name)
	}
}

// TestEachTableSaysWhetherThePublicSeesIt: a key takes back nothing that the public sees without asking. A tracked table that is new
// has to be put among those that ask first (asksFirst in trail.go), or among those of which nothing is seen by itself.
func TestEachTableSaysWhetherThePublicSeesIt(t *testing.T) {
	db := storetest.New(t)
	known := []string{"gallery", "gallery_chapter", "embed", "embed_source", "public_address", "screen"}
	for _, tables := range map[string]string{
		"items, and what is said of them":       "asset version asset_tag face person_shown stack twin",
		"their places and words":                "folder folder_tag album album_item tag tag_group stage thing_folder thing_place",
		"what is one person's, or about rights": "keeper satchel_item beside_stars access_grant widening_told",
		"what guests wrote in a gallery":        "guest guest_list guest_mark gallery_event remark letter",
		"what goes out only when it is told to": "dispatch_draft rehearsal rehearsal_remark rehearsal_variant output_size",
		"what others are made with":             "brand_colour intake logo look site watched_folder",
	} {
		known = append(known, strings.Fields(tables)...)
	}
	var tracked []string
	require.NoError(t, storetest.SQL(db).Select(&tracked,
		`select distinct tgrelid::regclass::text from pg_trigger where tgname = 'record' order by 1`))
	assert.ElementsMatch(t, tracked, known, "say whether the public sees what a change in it does")
}

// TestEachTableIsKnown: a table that is made has to be among those of which it is said what is told, recorded and fed of them.
func TestEachTableIsKnown(t *testing.T) {
	db := storetest.New(t)
	var there []string
	require.NoError(
		t,
		storetest.SQL(db).Select(&there, `select relname from pg_class where relkind = 'r' and relnamespace = 'public'::regnamespace
		and relname not like 'river%' and relname <> 'goose_db_version' order by 1`),
	)
	assert.ElementsMatch(t, store.TableNames(), there)
}

// TestTriggersAreMadeFromTheTables: once, and anew where the tables are followed by something else.
func TestTriggersAreMadeFromTheTables(t *testing.T) {
	db := storetest.New(t)
	triggers := func() (all []string) {
		require.NoError(t, storetest.SQL(db).Select(&all, `select pg_get_triggerdef(oid) from pg_trigger where not tgisinternal order by 1`))
		return all
	}
	before := triggers()
	_, err := storetest.SQL(db).Exec(`drop trigger tell_insert on folder; create trigger tell_update after update on drive_lock for each row
		execute function touch(); comment on table trail is 'followed by something older'`)
	require.NoError(t, err)
	require.NoError(t, db.Migrate(t.Context()))
	assert.Equal(t, before, triggers())
}
