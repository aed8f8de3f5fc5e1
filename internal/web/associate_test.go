package web

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store/storetest"
)

// TestAnAssociateLearnsOfNothingElse walks through every answer of the contract as somebody who was granted a folder and an
// album: no id, code, name or count of anything else stands in any of them.
func TestAnAssociateLearnsOfNothingElse(t *testing.T) {
	ctx := context.Background()
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "walled")
	boss, guest := people[access.Steward], people[access.Associate]
	exec := func(statement string, args ...any) {
		t.Helper()
		_, err := storetest.SQL(h.DB).Exec(statement, args...)
		require.NoError(t, err, statement)
	}
	restart := func(from int) { // so that ids tell to whom they belong
		for _, table := range []string{"asset", "folder", "album", "tag", "version", "gallery", "intake", "intake_file", "stack",
			"output_size", "outlet", "page", "thing_folder", "server_folder", "rehearsal"} {
			exec(fmt.Sprintf(`select setval(pg_get_serial_sequence('%s', 'id'), %d)`, table, from))
		}
	}
	insert := func(statement string, args ...any) (id int64) {
		t.Helper()
		require.NoError(t, storetest.SQL(h.DB).Get(&id, statement+` returning id`, args...), statement)
		return id
	}
	// what nobody but the house may know of: 731 items, a folder above the granted one, albums, tags, a gallery, an intake
	restart(990_000)
	hidden := insert(`insert into folder (brand_id, name, description) values ($1, 'Wolfram merger', 'wolfram')`, boss.Brand)
	secrets := storetest.Items(t, h.DB, boss, hidden, manyNames(731)...)
	exec(`update asset set title = 'Wolfram ' || id, description = 'wolfram', alt = 'wolfram', credit = 'Wolfram', place = 'Wolfram'
		where brand_id = $1`, boss.Brand)
	tag := insert(`insert into tag (brand_id, name) values ($1, 'wolfram tag')`, boss.Brand)
	exec(`insert into asset_tag (brand_id, asset_id, tag_id) select brand_id, id, $2 from asset where brand_id = $1`, boss.Brand, tag)
	size := insert(`insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern) values ($1, 'Web',
		100, 100, 'inside', 'jpeg', 80, 'keep', '{name}')`, boss.Brand)
	album := insert(`insert into album (brand_id, name) values ($1, 'Wolfram album')`, boss.Brand)
	exec(`insert into album_item (brand_id, album_id, asset_id, position) select brand_id, $2, id, lpad(id::text, 9, '0') || 'V'
		from asset where brand_id = $1`, boss.Brand, album)
	shown := insert(`insert into gallery (brand_id, title, open, opened_at, settings) values ($1, 'Wolfram gallery', true, now(),
		jsonb_build_object('sizes', jsonb_build_array($2::bigint)))`, boss.Brand, size)
	insert(`insert into gallery_chapter (brand_id, gallery_id, position, album_id, title) values ($1, $2, 0, $3, 'Wolfram chapter')`,
		boss.Brand, shown, album)
	stack := insert(`insert into stack (brand_id) values ($1)`, boss.Brand)
	hiddenIntake := insert(`insert into intake (brand_id, person_id, folder_id, source_name) values ($1, $2, $3, 'Wolfram disk')`,
		boss.Brand, boss.Person, hidden)
	// what the house knows of the world outside, and how it keeps its things
	outlet := insert(`insert into outlet (brand_id, kind, name, address) values ($1, 'windward', 'Wolfram account', 'http://wolfram')`,
		boss.Brand)
	page := insert(`insert into page (brand_id, outlet_id, remote_id, name) values ($1, $2, 'wolfram', 'Wolfram page')`, boss.Brand, outlet)
	sent := insert(`insert into dispatch (brand_id, person_id, items, due_at) values ($1, $2, 1, now())`, boss.Brand, boss.Person)
	post := func(page int64) int64 {
		return insert(`insert into dispatch_post (brand_id, dispatch_id, page_id, page_name, caption, due_at, post) values ($1, $2, $3,
			'Wolfram page', 'wolfram', now(), '{"Phase": "out"}')`, boss.Brand, sent, page)
	}
	place := func(page int64, ids ...int64) {
		exec(`insert into placement (brand_id, asset_id, page_id, post_id) select $1, id, $2, $3 from unnest($4::bigint[]) id`, boss.Brand, page,
			post(page), ids)
	}
	place(page, secrets...)
	exec(`insert into asset_origin (brand_id, outlet_id, remote_id, asset_id, album) select brand_id, $2, id::text, id, 'Wolfram origin'
		from asset where brand_id = $1`, boss.Brand, outlet)
	for _, kind := range []string{"rehearsal", "draft", "gallery", "embed", "screen"} {
		shelf := insert(`insert into thing_folder (brand_id, kind, name) values ($1, $2, 'Wolfram shelf')`, boss.Brand, kind)
		exec(`insert into thing_place (brand_id, kind, thing_id, folder_id) values ($1, $2, $3, $4)`, boss.Brand, kind, shown, shelf)
	}
	disk := insert(`insert into server_folder (brand_id, name, path) values ($1, 'Wolfram disk', '/wolfram')`, boss.Brand)
	exec(`insert into watched_folder (brand_id, server_folder_id, path, folder_id, person_id) values ($1, $2, 'wolfram', $3, $4)`, boss.Brand,
		disk, hidden, boss.Person)
	rehearsal := insert(`insert into rehearsal (brand_id, person_id, name, places) values ($1, $2, 'Wolfram rehearsal', '{}')`, boss.Brand,
		boss.Person)
	exec(`insert into rehearsal_variant (brand_id, rehearsal_id, position, name, assets, caption)
		values ($1, $2, 0, 'Wolfram', $3, 'wolfram')`,
		boss.Brand, rehearsal, secrets[:3])
	look0 := insert(`insert into look (brand_id, name, adjustments, groups)
		values ($1, 'House look', '{"exposure": 0.5}', '{light}')`, boss.Brand)
	// what the associate was given
	restart(550_000)
	mine := insert(`insert into folder (brand_id, parent_id, name) values ($1, $2, 'For Wren')`, boss.Brand, hidden)
	given := storetest.Items(t, h.DB, boss, mine, "one.jpg", "two.jpg")
	place(insert(`insert into page (brand_id, outlet_id, remote_id, name) values ($1, $2, 'theirs', 'Their page')`, boss.Brand, outlet),
		given[0])
	shared := insert(`insert into album (brand_id, parent_id, name) values ($1, $2, 'Press kit')`, boss.Brand, album)
	exec(`insert into album_item (brand_id, album_id, asset_id, position) values ($1, $2, $3, 'V')`, boss.Brand, shared, given[0])
	exec(`insert into album_item (brand_id, album_id, asset_id, position) values ($1, $2, $3, 'X')`, boss.Brand, album,
		given[0]) // also in a hidden one
	exec(`update asset set stack_id = $1, stack_front = (id = $2) where id = any($3)`, stack, given[1], append(secrets[:5:5], given[1]))
	exec(`insert into access_grant (brand_id, person_id, folder_id, level) values ($1, $2, $3, 'manage')`, boss.Brand, guest.Person, mine)
	exec(`insert into access_grant (brand_id, person_id, album_id, level) values ($1, $2, $3, 'look')`, boss.Brand, guest.Person, shared)
	boss = storetest.See(t, h.DB, boss.Person, "walled")
	_, err := h.Filing.Move(ctx, boss, selectIDs(secrets[5]), mine) // its history tells of where it was
	require.NoError(t, err)
	_, err = h.Filing.Move(ctx, boss, selectIDs(secrets[5]), hidden)
	require.NoError(t, err)
	_, err = h.Describing.Tag(ctx, boss, selectIDs(given[0]), "open, shared", nil)
	require.NoError(t, err)
	_, err = h.Gathering.Add(ctx, boss, []int64{album}, selectIDs(given[1]))
	require.NoError(t, err)

	server := httptest.NewServer(s.Handler())
	defer server.Close()
	client := clientOf(t, h, server, guest.Person, "associate@walled.example")
	var codes []string
	require.NoError(t, storetest.SQL(h.DB).Select(&codes, `select code from asset where folder_id = $1 union select code from folder
		where id = $1 union select code from album where id = $2
		union select v.code from version v join asset a on a.id = v.asset_id where a.folder_id = $1 union select code from gallery`,
		hidden, album))
	// ids of the house, counts of it, alone and with what was given
	forbidden := regexp.MustCompile(`(?i)wolfram|\b99\d{4}\b|\b7(29|3[0-4])\b`)
	asked := 0
	look := func(c call) {
		status, text := c.send(t, client, server.URL)
		asked++
		assert.Less(t, status, 500, "%s: %s", c.operation, text)
		assert.NotRegexp(t, missing, text, c.operation)
		text = timestamps.ReplaceAllString(text, "")
		for _, id := range []int64{hidden, album, secrets[0], secrets[5], hiddenIntake, tag, size} { // what was asked for may be named
			if strings.Contains(c.path, fmt.Sprint(id)) || strings.Contains(fmt.Sprint(c.body), fmt.Sprint(id)) {
				text = strings.ReplaceAll(text, fmt.Sprint(id), "")
			}
		}
		assert.NotRegexp(t, forbidden, text, "%s %s", c.operation, c.path)
		for _, code := range codes {
			assert.NotContains(t, text, code, c.operation)
		}
	}
	for _, ids := range []map[string]int64{
		{"folder": mine, "parent": mine, "album": shared, "asset": given[0], "id": given[0], "intake": 1, "outputSize": size},
		{"folder": hidden, "parent": hidden, "album": album, "asset": secrets[0], "id": hidden, "intake": hiddenIntake, "outputSize": size},
		{"folder": hidden, "album": album, "asset": secrets[5], "id": album},
		{"folder": mine, "album": album, "asset": secrets[5], "id": secrets[5], "tag": tag},
		{"id": given[1], "asset": given[1], "folder": mine, "album": shared},
		{"id": mine, "asset": given[1], "folder": mine, "album": shared},
		{"id": shared, "asset": given[1], "folder": mine, "album": shared},
		{"id": hiddenIntake, "asset": given[1]},
	} {
		for _, c := range everyCall(t, "walled", func(field string) int64 {
			if id, known := ids[field]; known {
				return id
			}
			return ids["asset"]
		}) {
			if slices.Contains([]string{"binAssets", "removeFolder", "moveAssets"}, c.operation) && ids["asset"] != secrets[0] {
				continue // it stays where it can be seen
			}
			look(c)
		}
	}
	ask := func(q map[string]any) {
		q["place"] = orElse(q["place"], "everything")
		look(call{"listSheet", "POST", "/api/brands/walled/sheet", q})
		look(call{"getFacets", "POST", "/api/brands/walled/facets", q})
		look(call{"listDays", "POST", "/api/brands/walled/days", q})
		look(call{"sizeUp", "POST", "/api/brands/walled/selection", map[string]any{"everything": q}})
	}
	ask(map[string]any{})
	ask(map[string]any{"filter": map[string]any{"field": "words", "names": []any{"wolfram"}}})
	ask(map[string]any{"place": "folder", "id": hidden, "below": true})
	ask(map[string]any{"place": "album", "id": album})
	everything := map[string]any{"place": "everything"}
	for _, typed := range []string{"wolfram", "tag: wolfram", "not wolfram", "in wolfram", "album wolfram"} {
		look(call{"readRules", "POST", "/api/brands/walled/rules/read", map[string]any{"query": everything, "typed": typed}})
	}
	for field, id := range map[string]int64{"tag": tag, "folder": hidden, "album": album} {
		rule := map[string]any{"field": field, "ids": []any{id}}
		look(call{"countRules", "POST", "/api/brands/walled/rules/count", map[string]any{"query": everything, "rules": []any{rule}}})
	}
	level := map[string]any{"version": 1, "name": "Theirs", "groups": []any{"brightness"}, "values": map[string]any{"exposure": 1}}
	for method, at := range map[string]string{"POST": "", "PUT": fmt.Sprint("/", look0), "DELETE": fmt.Sprint("/", look0)} {
		status, text := call{"look", method, "/api/brands/walled/looks" + at, level}.send(t, client, server.URL)
		assert.Equal(t, http.StatusForbidden, status, "%s: %s", method, text)
	}
	assert.Greater(t, asked, 700)
	var looks int
	require.NoError(t, storetest.SQL(h.DB).Get(&looks, `select count(*) from look where id = $1 and name = 'House look'`, look0))
	assert.Equal(t, 1, looks, "it was neither renamed nor removed")
	require.NoError(t, storetest.SQL(h.DB).Get(&looks, `select count(*) from look`))
	assert.Equal(t, 1, looks, "nor was one saved beside it")
}

var timestamps = regexp.MustCompile(`\d{4}-\d\d-\d\dT[\d:.]+(Z|[+-]\d\d:\d\d)?`)
