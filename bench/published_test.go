package bench

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/stretchr/testify/require"
)

// publishing is a live embed of an album by a rule that everything but the stars that were set aside matches, and an item with an address.
type publishing struct {
	id   int64
	code string
	item int64
}

// embedEverything makes a live embed of a rule album of the whole library, and public addresses for 200 items.
func (d *desk) embedEverything(items []int64) publishing {
	const brand = "/api/brands/bench"
	var album, embed struct{ ID int64 }
	all := map[string]any{"field": "stars", "from": 0}
	d.ask("", http.MethodPost, brand+"/albums", map[string]any{"name": "All by rule", "rule": all}, &album)
	for range 20 { // others that are looked through for where an item is shown
		d.ask("", http.MethodPost, brand+"/embeds", map[string]any{"sources": []any{map[string]any{"album": album.ID, "below": false}}}, &embed)
		d.ask("", http.MethodPatch, fmt.Sprintf("%s/embeds/%d", brand, embed.ID), map[string]any{"live": true}, nil)
	}
	var check struct {
		Against []struct {
			Hinders bool
			IDs     []int64
		}
	}
	d.ask("", http.MethodPost, brand+"/check", map[string]any{"ids": items}, &check)
	for _, a := range check.Against {
		if a.Hinders {
			items = slices.DeleteFunc(slices.Clone(items), func(id int64) bool { return slices.Contains(a.IDs, id) })
		}
	}
	d.ask("", http.MethodPost, brand+"/public-addresses", map[string]any{"ids": items}, nil)
	var made []struct {
		ID   int64
		Code string
	}
	d.ask("", http.MethodGet, brand+"/embeds", nil, &made)
	return publishing{id: embed.ID, code: made[0].Code, item: items[0]}
}

// publish asks for what embeds and public addresses ask for.
func (d *desk) publish(name func(string) string, i int, p publishing) {
	const brand = "/api/brands/bench"
	d.ask("", http.MethodPatch, fmt.Sprintf("%s/embeds/%d", brand, p.id), map[string]any{"name": fmt.Sprintf("Round %d", i)}, nil)
	time.Sleep(1100 * time.Millisecond) // what is remembered for a second is gone
	d.ask(name("what an embed of a rule album of everything shows, 60 pictures"), http.MethodGet, "/api/public/embeds/"+p.code, nil, nil)
	d.ask(name("the same again"), http.MethodGet, "/api/public/embeds/"+p.code, nil, nil)
	for what, path := range map[string]string{"embeds": "/embeds", "what is against an embed": fmt.Sprintf("/embeds/%d/check", p.id),
		"pages that show an embed": fmt.Sprintf("/embeds/%d/seen", p.id), "public addresses": "/public-addresses",
		"an item that 20 embeds show": fmt.Sprintf("/assets/%d", p.item)} {
		d.ask(name(what), http.MethodGet, brand+path, nil, nil)
	}
}

// seePages fills in 10,000 pages that were seen to show embeds.
func (d *desk) seePages() {
	_, err := d.h.DB.ExecContext(context.Background(), `insert into sighting (brand_id, embed_id, page)
		select e.brand_id, e.id, 'https://www.example.org/page/' || n from embed e, generate_series(1, 500) n`)
	require.NoError(d.t, err)
}

// embedPictures makes a live embed of items, and lists the addresses of its pictures.
func (d *desk) embedPictures(ids []int64) []string {
	const brand = "/api/brands/bench"
	var album, embed struct{ ID int64 }
	d.ask("", http.MethodPost, brand+"/albums", map[string]any{"name": "On pages", "selection": map[string]any{"ids": ids}}, &album)
	d.ask("", http.MethodPost, brand+"/embeds", map[string]any{"sources": []any{map[string]any{"album": album.ID, "below": false}}}, &embed)
	d.ask("", http.MethodPatch, fmt.Sprintf("%s/embeds/%d", brand, embed.ID), map[string]any{"live": true}, nil)
	var all []struct{ Code string }
	d.ask("", http.MethodGet, brand+"/embeds", nil, &all)
	var shown struct{ Pictures []struct{ Picture string } }
	d.ask("", http.MethodGet, "/api/public/embeds/"+all[0].Code, nil, &shown)
	require.Len(d.t, shown.Pictures, len(ids))
	var out []string
	for _, p := range shown.Pictures {
		out = append(out, strings.NewReplacer("{width}", "960", "{format}", "webp", d.address, "").Replace(p.Picture))
	}
	return out
}
