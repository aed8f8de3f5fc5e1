package bench

import (
	"fmt"
	"math/rand/v2"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store/storetest"
)

// TestAssociates asks for every view as somebody of another organisation, who was granted one folder in ten and an album, and sees no more.
func TestAssociates(t *testing.T) {
	measured(t)
	took := map[int]map[string][]float64{}
	for _, items := range []int{smallLibrary, largeLibrary} {
		d := deskOf(t, fmt.Sprint("bench_associate_", items), items, access.Associate)
		folders := d.items / 200
		_, err := storetest.SQL(d.h.DB).
			Exec(`insert into access_grant (brand_id, person_id, folder_id, level) select f.brand_id, $1, f.id, 'contribute'
			from folder f where f.id % 10 = 1`, d.person)
		require.NoError(t, err)
		_, err = storetest.SQL(d.h.DB).
			Exec(`insert into access_grant (brand_id, person_id, album_id, level) select brand_id, $1, id, 'look' from album
			order by id limit 1`, d.person)
		require.NoError(t, err)
		d.signIn(d.person)
		d.openDrive()
		for i := range repeated + warm {
			d.associate(warmed(i), 1+10*rand.IntN(max(1, folders/10)))
		}
		took[items] = d.took
	}
	compared(t, took[smallLibrary], took[largeLibrary])
}

// associate asks for each view once.
func (d *desk) associate(name func(string) string, folder int) {
	const brand = "/api/brands/bench"
	everything := map[string]any{"place": "everything"}
	var page sheetPage
	d.ask(name("associate: a folder"), http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "folder", "id": folder}, nil)
	d.ask(name("associate: Everything"), http.MethodPost, brand+"/sheet?most=2000", everything, &page)
	require.NotEmpty(d.t, page.IDs)
	ids := page.IDs[:min(60, len(page.IDs))]
	d.ask(name("associate: rows of a screen"), http.MethodPost, brand+"/rows", map[string]any{"ids": ids}, nil)
	d.ask(name("associate: one item"), http.MethodGet, fmt.Sprintf("%s/assets/%d", brand, ids[0]), nil, nil)
	d.ask(name("associate: a search"), http.MethodPost, brand+"/sheet?most=2000", map[string]any{"place": "everything",
		"filter": map[string]any{"field": "words", "names": []string{"kite"}}}, nil)
	d.ask(name("associate: facets"), http.MethodPost, brand+"/facets", everything, nil)
	d.ask(name("associate: days"), http.MethodPost, brand+"/days", everything, nil)
	for _, view := range []string{"overview", "folders", "albums", "tags", "trail", "placements", "intakes", "limits", "intake-targets"} {
		d.ask(name("associate: "+view), http.MethodGet, brand+"/"+view, nil, nil)
	}
	d.drive(name("associate: the drive"), "/Library/")
}
