package bench

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// carried is how many items are in the satchel.
const carried = 1000

// TestOtherPages asks for what pages and boards ask for that the other tests do not, as a steward, who may see all of it.
func TestOtherPages(t *testing.T) {
	measured(t)
	took := map[int]map[string][]float64{}
	for _, items := range []int{smallLibrary, largeLibrary} {
		d := deskOf(t, fmt.Sprint("bench_others_", items), items, access.Steward)
		d.broughtIn()
		d.openDrive()
		for i := range 20 + warm {
			d.others(warmed(i), i)
		}
		took[items] = d.took
	}
	compared(t, took[smallLibrary], took[largeLibrary])
}

// broughtIn fills in what came in, alike or not: an intake of 5,000 files for each 5,000 items, a pair of near-copies for every
// hundredth item; a full
// satchel; and an embed that 1,000 pages show.
func (d *desk) broughtIn() {
	for _, statement := range []string{
		`insert into intake (brand_id, person_id, folder_id, started_at, finished_at) select 1, $1, 1 + n % 40, now() - n * interval '1 hour',
			now() - n * interval '1 hour' from generate_series(0, (select count(*) / 5000 from asset)) n`,
		`insert into intake_file (brand_id, intake_id, name, bytes, state, asset_id, number) select 1, i.id, a.file_name, a.bytes, 'added', a.id,
			a.id % 5000 from asset a join (select id, row_number() over (order by id) - 1 as n from intake) i on i.n = a.id / 5000
			where a.id < 200000 and $1 > 0`,
		`insert into twin (brand_id, asset_id, other_id, distance) select 1, id, id + 1, 5 from asset where id % 100 = 1 and binned_at is null
			and exists (select from asset o where o.id = asset.id + 1 and o.binned_at is null) and $1 > 0`,
		fmt.Sprintf(`insert into satchel_item (brand_id, person_id, asset_id, position) select 1, $1, id, to_char(id, 'FM0000000') from asset
			where binned_at is null and id %% 7 = 1 order by id limit %d`, carried),
		`with made as (insert into embed (brand_id, name, settings) select 1, 'On a page', '{}' where $1 > 0 returning id)
			insert into sighting (brand_id, embed_id, page) select 1, made.id, 'https://x.example/' || n from made, generate_series(1, 1000) n`,
		`analyze intake`, `analyze intake_file`, `analyze twin`, `analyze satchel_item`, `analyze sighting`,
	} {
		args := []any{d.person}
		if statement[:7] == "analyze" {
			args = nil
		}
		require.NoError(d.t, d.h.DB.InTx(context.Background(), func(tx *store.Tx) error {
			_, err := tx.ExecContext(context.Background(), `set local statement_timeout = 0`)
			if err == nil {
				_, err = tx.ExecContext(context.Background(), statement, args...)
			}
			return err
		}), statement)
	}
}

// others asks for each of the pages once.
func (d *desk) others(name func(string) string, i int) {
	const brand = "/api/brands/bench"
	var page sheetPage
	d.ask("", http.MethodPost, fmt.Sprintf("%s/sheet?most=60&from=%d", brand, 100*i), object{"place": "everything"}, &page)
	var intakes []struct{ ID int64 }
	d.ask(name("the last intakes"), http.MethodGet, brand+"/intakes", nil, &intakes)
	var rights struct{ People []struct{ ID int64 } }
	d.ask(name("who may do what, and what the public can reach"), http.MethodGet, brand+"/rights", nil, &rights)
	require.NotEmpty(d.t, rights.People)
	item := fmt.Sprintf("/assets/%d", page.IDs[i%len(page.IDs)])
	for what, path := range map[string]string{
		"a satchel of 1,000":                   "/satchel",
		"an intake of 5,000 files":             fmt.Sprintf("/intakes/%d", intakes[0].ID),
		"what is alike and open":               "/twins",
		"what of an intake is alike":           fmt.Sprintf("/twins?intake=%d", intakes[0].ID),
		"how far looking into items is":        "/looking",
		"changes of many that go on":           "/pieces",
		"where one brought into last":          "/intake-targets",
		"what somebody sees":                   fmt.Sprintf("/people/%d/sees", rights.People[len(rights.People)-1].ID),
		"people of other brands":               "/people/known",
		"settings":                             "/settings",
		"stages":                               "/stages",
		"colours":                              "/colours",
		"preferences":                          "/preferences",
		"sites":                                "/sites",
		"what output sizes cost, to a steward": "/output-sizes/costs",
		"server folders":                       "/server-folders",
		"watched folders":                      "/watched-folders",
		"services for outlets":                 "/outlet-services",
		"the versions of an item":              item + "/history",
		"all that the file of an item says":    item + "/metadata",
		"what pages take of an item":           item + "/page-crops",
		"what can be set in a recipe":          "/controls",
		"embeds, one on 1,000 pages":           "/embeds",
	} {
		d.ask(name(what), http.MethodGet, brand+path, nil, nil)
	}
	var at struct{ Folder, Name string }
	require.NoError(
		d.t,
		storetest.SQL(d.h.DB).Get(&at, `select f.name as folder, a.file_name as name from asset a join folder f on f.id = a.folder_id
		where f.parent_id is null and a.binned_at is null and a.id > $1 order by a.id limit 1`, 1+i*97),
	)
	d.drive(name("a file of the drive by its name"), "/Library/"+url.PathEscape(at.Folder)+"/"+url.PathEscape(at.Name))
	d.drive(name("a folder at the top of the drive"), "/Library/"+url.PathEscape(at.Folder))
}
