package e2e

import (
	"context"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/demo"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
)

// TestDraggingThousands drags 3,000 of 100,000 items onto a folder, and takes them back.
func TestDraggingThousands(t *testing.T) {
	ctx, database := context.Background(), at(t).database
	var person int64
	require.NoError(t, storetest.SQL(database).Get(&person, `select id from person where email = $1`, steward))
	var brand int64
	require.NoError(t, database.InTx(ctx, func(tx *store.Tx) (err error) {
		if brand, err = peoplestore.AddBrand(ctx, tx, "crowd", "Crowd"); err != nil {
			return err
		}
		return peoplestore.AddMembership(ctx, tx, brand, person, access.Steward)
	}))
	storetest.Library(t, database, brand, person, 100_000)
	p := newVisitor(t)
	signInByHand(p, steward, demo.Password)
	p.open("/b/crowd/file?place=everything")
	p.until(count + ` > 80000`)
	p.clickAt(p.middle(item(p.shown()[0])))
	p.until(`(s => { s.scrollTop = 3000 / 4 * 184; return s.scrollTop > 100000
		&& s.querySelector("[data-id]") })(document.querySelector("[data-sheet]"))`)
	middle := `[...document.querySelectorAll("[data-sheet] [data-id]")].find(e => e.getBoundingClientRect().top > 300
		&& e.getBoundingClientRect().top < 600)`
	p.until(middle)
	last := read[int64](p, `Number(`+middle+`.dataset.id)`)
	p.clickAt(p.middle(item(last)), chromedp.ModifierShift)
	p.until(`Number(document.querySelector("[data-selected]")?.dataset.selected) > 2000`)
	n := read[int](p, `Number(document.querySelector("[data-selected]").dataset.selected)`)
	somebodyElseChanges(p, brand)
	assert.Equal(t, n, read[int](p, `Number(document.querySelector("[data-selected]").dataset.selected)`), "what others do selects nothing")
	target := read[string](p, `document.querySelector('[role=tree] [data-place]').dataset.place`)
	before := read[int](p, own(target))
	p.drag(item(last), css(`[data-place="`+target+`"]`), 0.4)
	p.until(`document.querySelector("[data-pieces]") || ` + own(target) + fmt.Sprintf(` > %d`, before))
	began := time.Now()
	p.until(fmt.Sprintf(`%s >= %d - 600 && !document.querySelector("[data-pieces]")`, own(target),
		before+n)) // some of them lay there already
	t.Logf("%d items were moved in %s", n, time.Since(began).Round(time.Millisecond))
	p.until(`document.querySelector("[aria-label^='Undo: Moved']")`)
	p.press("z", chromedp.ModifierCtrl)
	p.until(fmt.Sprintf(`%s === %d`, own(target), before))

	var full int64
	require.NoError(t, storetest.SQL(database).Get(&full, `select folder_id from asset where brand_id = $1 and binned_at is null
		and folder_id is not null group by 1 order by count(*) desc limit 1`, brand))
	p.open(fmt.Sprintf("/b/crowd/file?place=folder&id=%d", full))
	p.until(count + ` > 1000`)
	p.clickAt(p.middle(item(p.shown()[0])))
	p.press("a", chromedp.ModifierCtrl)
	others := read[[]string](p, `[...document.querySelectorAll('[role=tree] [data-place]:not([aria-selected=true])')].map(e =>
		e.dataset.place)`)
	p.see("[data-sheet] [data-id]")
	p.drag(item(p.shown()[0]), css(`[data-place="`+others[len(others)/2]+`"]`), 0.4)
	p.until(count + ` === 0`)
	read[bool](p, `(window.seen = 0, (function look() { window.seen = Math.max(window.seen,
		`+count+`); requestAnimationFrame(look) })(), true)`)
	p.until(`document.querySelector("[aria-label^='Undo: Moved']") && !document.querySelector("[data-pieces]")`)
	assert.Zero(t, read[int](p, `window.seen`), "what is on its way out does not come back into sight")
}

// somebodyElseChanges changes some items behind the back of the page, and waits until it has loaded them again: place and scroll
// position stay.
func somebodyElseChanges(p *page, brand int64) {
	p.t.Helper()
	const asked = `performance.getEntriesByType("resource").filter(e => e.name.includes("/sheet")).length`
	const top = `document.querySelector("[data-sheet]").scrollTop`
	read[any](p, `performance.clearResourceTimings(); null`)
	before := read[float64](p, top)
	_, err := storetest.SQL(p.database).Exec(`update asset set title = title || ' (seen)' where id in (select id from asset where brand_id = $1
		and binned_at is null order by id desc limit 3)`, brand)
	require.NoError(p.t, err)
	p.until(asked + ` > 0`)
	p.until(`document.querySelectorAll("[data-sheet] [data-id]").length > 0`)
	assert.InDelta(p.t, before, read[float64](p, top), 2)
	assert.Positive(p.t, before)
}

// TestThousandsOfFolders draws only what is unfolded, and finds one of 5,000 by its name.
func TestThousandsOfFolders(t *testing.T) {
	ctx, database := context.Background(), at(t).database
	var person, brand int64
	require.NoError(t, storetest.SQL(database).Get(&person, `select id from person where email = $1`, steward))
	require.NoError(t, database.InTx(ctx, func(tx *store.Tx) (err error) {
		if brand, err = peoplestore.AddBrand(ctx, tx, "cupboard", "Cupboard"); err != nil {
			return err
		}
		return peoplestore.AddMembership(ctx, tx, brand, person, access.Steward)
	}))
	_, err := storetest.SQL(database).Exec(`insert into folder (brand_id, name) select $1, 'Year ' || n from generate_series(1, 50) n`, brand)
	require.NoError(t, err)
	_, err = storetest.SQL(database).
		Exec(`insert into folder (brand_id, parent_id, name) select $1, f.id, f.name || ' day ' || n from folder f,
		generate_series(1, 99) n where f.brand_id = $1`, brand)
	require.NoError(t, err)
	p := signIn(t, steward)
	p.open("/b/cupboard/file?place=everything")
	p.see(`[data-place="Year 50"]`)
	const rows = `document.querySelectorAll("[role=tree] [data-place]").length`
	assert.Equal(t, 50, read[int](p, rows))
	assert.Equal(t, []string{"Year 9", "Year 10"}, read[[]string](p,
		`[...document.querySelectorAll("[role=tree] [data-place]")].slice(8, 10).map(e => e.dataset.place)`))
	p.click("Unfold Year 7")
	p.until(rows + ` === 149`)
	p.fill(`[aria-label="Find a folder"]`, "year 33 day 77")
	p.see(`[data-place="Year 33 day 77"]`)
	p.fill(`[aria-label="Find a folder"]`, "")
	busy := p.busyPerKey(func() { p.typeText("day 4") })
	p.see(`[data-place="Year 1 day 4"]`)
	t.Logf("a key in the search of the cabinet keeps the page busy for %.1f ms", busy)
	p.press("k", chromedp.ModifierCtrl)
	p.seeText("Folder, album, tag or step")
	busy = p.busyPerKey(func() { p.typeText("year 33 day 77") })
	p.seeText("Year 33 / Year 33 day 77")
	t.Logf("a key in “Go to…” keeps the page busy for %.1f ms", busy)
	p.press("Escape")
	p.clickOn(`[data-place="Year 1 day 4"] button[title]`)
	p.until(`document.querySelector("nav[aria-label=Place]").innerText.replace(/\s+/g, " ") === "Library / Year 1 / Year 1 day 4"`)
}

// busyPerKey is for how many milliseconds the page was busy with one key of what is typed, the median of the keys.
func (p *page) busyPerKey(typing func()) float64 {
	read[any](p, `(() => { const heard = window.keyTimes; window.keyTimes = []; if (heard) return; let began;
		addEventListener("input", () => { began = performance.now() }, true);
		addEventListener("input", () => { keyTimes.push(performance.now() - began) }) })(); null`)
	typing()
	times := read[[]float64](p, `keyTimes`)
	require.NotEmpty(p.t, times)
	slices.Sort(times)
	p.t.Logf("milliseconds a key: %.1f", times)
	return times[len(times)/2]
}
