package bench

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/storetest"
)

// gather asks for what gathering and taking along ask for: an album with all that are in it, how one stands to its choice, what is against
// sending out 2,000, what was taken along, and what sizes cost; and it orders files of everything that one shows.
func (d *desk) gather(name func(string) string, i int, many []int64) {
	const brand = "/api/brands/bench"
	outer := int64(10 + i%20)
	d.ask(name("an album with all that are in it"), http.MethodPost, brand+"/sheet?most=2000",
		map[string]any{"place": "album", "id": outer, "below": true}, nil)
	stars := map[string]any{"place": "everything", "filter": map[string]any{"match": "all", "rules": []any{
		map[string]any{"field": "stars", "from": 4}, map[string]any{"field": "place", "names": []string{fmt.Sprintf("Place %d", 1+i)}}}}}
	var made struct {
		ID int64 `json:"id"`
	}
	d.ask("", http.MethodPost, brand+"/albums", map[string]any{"name": fmt.Sprintf("Chosen %d", i), "selection": map[string]any{"ids": many},
		"choice": map[string]any{"query": stars, "whole": true}}, &made)
	d.ask(name("how an album stands to its choice"), http.MethodGet, fmt.Sprintf("%s/albums/%d/choice", brand, made.ID), nil, nil)
	d.ask(name("what is against sending out 200"), http.MethodPost, brand+"/check", map[string]any{"ids": many}, nil)
	var size int64
	require.NoError(d.t, storetest.SQL(d.h.DB).Get(&size, `select min(id) from output_size`))
	wanted := map[string]any{"selection": map[string]any{"ids": many}, "outputSizes": []int64{size}, "keepFolders": true}
	d.ask(name("files of 200 shown beforehand"), http.MethodPost, brand+"/downloads/preview", wanted, nil)
	var download struct {
		ID int64 `json:"id"`
	}
	d.ask(name("an order of 200 files"), http.MethodPost, brand+"/downloads", wanted, &download)
	d.ask("", http.MethodPost, fmt.Sprintf("%s/downloads/%d/stop", brand, download.ID), nil, nil)
	for what, path := range map[string]string{"my downloads": "/downloads", "what was taken along": "/taken-along",
		"output sizes": "/output-sizes"} {
		d.ask(name(what), http.MethodGet, brand+path, nil, nil)
	}
	var id int64
	require.NoError(d.t, storetest.SQL(d.h.DB).Get(&id, `select id from brand where code = 'bench'`))
	began := time.Now() // only stewards ask for it
	_, err := downloadstore.SizeCosts(context.Background(), d.h.DB, id)
	require.NoError(d.t, err)
	if what := name("what output sizes cost"); what != "" {
		d.took[what] = append(d.took[what], time.Since(began).Seconds()*1000)
	}
}

// nestAlbums puts every tenth album into another one, and fills 100,000 renditions in for what sizes cost.
func (d *desk) nestAlbums() {
	var brand int64
	require.NoError(d.t, storetest.SQL(d.h.DB).Get(&brand, `select id from brand where code = 'bench'`))
	require.NoError(d.t, d.h.DB.InTx(context.Background(), func(tx *store.Tx) error {
		for _, size := range outputs.Defaults {
			if _, err := downloadstore.AddOutputSize(context.Background(), tx, brand, size); err != nil {
				return err
			}
		}
		return nil
	}))
	for _, statement := range []string{
		`update album set parent_id = 10 + id % 20 where id > 30 and id % 10 = 0 and rule is null and exists (select from album p where
			p.id = 10 + album.id % 20)`,
		`insert into rendition (brand_id, version_id, recipe, blob, width, height, bytes, output_size_id, seconds)
			select a.brand_id, a.version_id, 'bench', 'renditions/none', 1200, 800, 200000, (select min(id) from output_size), 0.3 from asset a
			where a.id % 10 = 1 limit 100000`,
		`analyze rendition`, `analyze album`,
	} {
		_, err := storetest.SQL(d.h.DB).Exec(statement)
		require.NoError(d.t, err, statement)
	}
}
