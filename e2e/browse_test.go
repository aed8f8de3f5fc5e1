package e2e

import (
	"fmt"
	"testing"

	"brightsatchel/internal/store/storetest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestOneNarrowsByTagPersonAndPlace goes from a tag to those that occur with it, to who is shown and to where, and back, with the counts
// that each would show.
func TestOneNarrowsByTagPersonAndPlace(t *testing.T) {
	p := signIn(t, coordinator)
	const shown = `a.binned_at is null and a.stars >= 0 and (a.stack_id is null or a.stack_front)`
	// counted is how many items have tags and a place.
	counted := func(place string, tags ...string) int {
		question := `select count(*) from asset a where ` + shown
		if place != "" {
			question += fmt.Sprintf(` and a.place = '%s'`, place)
		}
		for _, tag := range tags {
			question += fmt.Sprintf(` and exists (select from asset_tag x join tag t on t.id = x.tag_id
				where x.asset_id = a.id and t.name = '%s')`, tag)
		}
		return p.number(question)
	}
	row := func(name string) string { return fmt.Sprintf(`[data-place=%q]`, name) }
	shows := func(n int) {
		t.Helper()
		p.until(fmt.Sprintf(`parseInt(document.querySelector("[data-count]").innerText) === %d`, n))
	}
	says := func(name string, n int) {
		t.Helper()
		p.until(fmt.Sprintf(`document.querySelector('%s [data-own]')?.dataset.own === "%d"`, row(name), n))
	}
	var first, second, place string
	require.NoError(
		t,
		storetest.SQL(p.database).QueryRow(`select t.name, u.name, min(a.place) from asset a join asset_tag x on x.asset_id = a.id
		join tag t on t.id = x.tag_id join asset_tag y on y.asset_id = a.id join tag u on u.id = y.tag_id
		left join tag_group g on g.id = t.group_id left join tag_group h on h.id = u.group_id
		where `+shown+` and t.id <> u.id and coalesce(g.name, '') <> 'People' and coalesce(h.name, '') <> 'People' and a.place <> ''
		group by 1, 2 order by count(*) desc, 1, 2 limit 1`).Scan(&first, &second, &place),
	)

	p.click("Unfold By tag")
	p.see(row(first))
	says(first, counted("", first))
	p.clickOn(row(first) + ` button[data-row]`)
	shows(counted("", first))
	says(second, counted("", first, second))
	p.clickOn(row(second) + ` button[data-row]`)
	shows(counted("", first, second))
	p.accessible("narrowing by tag")
	p.click("Unfold By place")
	says(place, counted(place, first, second))
	p.clickOn(row(place) + ` button[data-row]`)
	shows(counted(place, first, second))
	assert.Equal(t, 3, read[int](p, `document.querySelectorAll("[data-chips] button svg").length`))
	p.click("No longer only " + first)
	shows(counted(place, second))
	p.click("Clear filters")

	var person string
	require.NoError(t, storetest.SQL(p.database).Get(&person, `select t.name from tag t join tag_group g on g.id = t.group_id
		join asset_tag x on x.tag_id = t.id
		where g.name = 'People' group by 1 order by count(*) desc, 1 limit 1`))
	p.click("Unfold By person")
	says(person, counted("", person))
	p.clickOn(row(person) + ` button[data-row]`)
	shows(counted("", person))
	p.until(fmt.Sprintf(`!document.querySelector('%s')`, row(first)) + ` || ` +
		fmt.Sprintf(`document.querySelector('%s [data-own]').dataset.own === "%d"`, row(first), counted("", first, person)))
}

// TestBrowsingByUse opens what a gallery shows from the cabinet, and sees from an album where it is shown.
func TestBrowsingByUse(t *testing.T) {
	p := signIn(t, coordinator)
	p.click("Unfold By use")
	row := css(`[data-place="Press kit, spring 2026"]`)
	shows := p.number(`select count(*) from album_item i join gallery_chapter c on c.album_id = i.album_id
		join asset a on a.id = i.asset_id where a.binned_at is null`)
	p.until(fmt.Sprintf(`%s?.querySelector("[data-own]")?.dataset.own === "%d"`, row, shows))
	p.see(`[data-place="Covers of albums and galleries"]`)
	p.until(`document.querySelector('[data-place="Logos"] [data-own]')?.dataset.own === "1"`)
	p.accessible("the cabinet by use")
	p.clickAt(p.atRest(row + `.querySelector("button, a")`))
	p.count(shows)
	p.open(fmt.Sprintf("/b/tansyloft/gather?place=album&id=%d", p.number(`select album_id from gallery_chapter`)))
	p.seeText("Shown in the gallery “Press kit, spring 2026”")

	// before something is removed, or prepared, one is told who sees it
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	p.open("/b/tansyloft/file?place=everything&sort=name" + filter(fmt.Sprintf(`{"field":"item","ids":[%d,%d]}`, ids[0], ids[1])))
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.atRest(item(ids[0])))
	p.press("Delete")
	p.seeText("People outside see it now, and no longer after this:")
	p.accessible("what a removal takes away outside")
	p.press("Escape")
	p.gone("[role=dialog]")
	p.press("a", ctrl)
	p.see(`[data-selected="2"]`)
	p.press("Delete")
	p.seeText("2 items in the gallery “Press kit, spring 2026”")
	p.press("Escape")
	p.gone("[role=dialog]")
	p.work(ids[0])
	p.see(`[data-changes-outside]`)
}
