package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

// card is a button on the card of the album that is open.
func card(words string) string {
	return `[...document.querySelectorAll("[data-album-card] button, [data-album-card] label")].find(b => b.innerText.trim().startsWith(` +
		quote(words) + `))`
}

// count waits until the sheet says how many items it shows.
func (p *page) count(n int) {
	words := fmt.Sprintf("%d items", n)
	if n == 1 {
		words = "1 item"
	}
	p.until(`document.querySelector("[data-count]").innerText === ` + quote(words))
}

// inOrder waits until the sheet shows some items and no others, in their order.
func (p *page) inOrder(ids ...int64) {
	p.t.Helper()
	p.until(fmt.Sprintf(`"[" + [...document.querySelectorAll("[data-sheet] [data-id]")].map(e => e.dataset.id).join(" ") + "]" === %q`,
		fmt.Sprint(ids)))
}

// inAlbum lists the items of an album by its name, in their order, as the database has them.
func (p *page) inAlbum(name string) (ids []int64) {
	require.NoError(
		p.t,
		storetest.SQL(p.database).Select(&ids, `select i.asset_id from album_item i join album a on a.id = i.album_id where a.name = $1
		order by i.position`, name),
	)
	return ids
}

// TestAChoiceBecomesAnAlbum that says when it is no longer what was chosen, and follows when one says so.
func TestAChoiceBecomesAnAlbum(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/gather?place=everything&sort=name" + filter(`{"field":"stars","from":5,"to":5}`))
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	p.press("a", ctrl)
	p.press("g")
	p.see("[role=dialog]")
	p.accessible("adding to albums")
	p.fill("[role=dialog] input", "The very best")
	p.press("Enter")
	p.seeText(fmt.Sprintf("Made the album “The very best” with %d items", len(ids)))
	p.click("Open it")
	p.count(len(ids))
	p.see(`[data-choice="0 0"]`)
	p.accessible("the card of an album")
	p.clickAt(p.middle(item(ids[0])))
	p.click("Choose")
	p.press("3") // stars
	p.seeText("3 ★")
	p.click("Gather")
	p.see(`[data-choice="1 0"]`)
	p.seeText("1 item no longer matches since")
	p.clickAt(p.middle(card("Select it")))
	p.see(`[data-selected="1"]`)
	p.clickAt(p.middle(card("Follow the choice")))
	p.seeText("follows its choice again: took out 1 item")
	p.count(len(ids) - 1)
	p.see(`[data-choice="0 0"]`)
	p.clickAt(p.middle(card("Stop comparing")))
	p.gone("[data-choice]")
}

// TestAnAlbumGetsACoverOfItsOwn from a file, which is not brought in; what is no picture is refused by its name, and the cover goes back.
func TestAnAlbumGetsACoverOfItsOwn(t *testing.T) {
	p := signIn(t, coordinator)
	items := p.number(`select count(*) from asset`)
	p.open("/b/tansyloft/gather")
	p.see(`[data-album="Press kit"] img`)
	p.menu("Press kit", "Its cover…")
	p.see("[role=dialog] img")
	p.accessible("the cover of an album")
	words := filepath.Join(t.TempDir(), "notes.jpg")
	require.NoError(t, os.WriteFile(words, []byte("no picture at all"), 0o600))
	sign := filepath.Join(t.TempDir(), "sign.jpg")
	require.NoError(t, os.WriteFile(sign, mediatest.JPEG(t, 640, 480, 9), 0o600))
	p.choose("Picture file for the cover", words)
	p.seeText("“notes.jpg”")
	p.see("[role=dialog] [role=alert]")
	p.choose("Picture file for the cover", sign)
	p.gone("[role=dialog]")
	p.until(`(() => { const i = document.querySelector('[data-album="Press kit"] img');
		return i.src.includes("/own-") && i.naturalWidth > 0 })()`)
	assert.Equal(t, items, p.number(`select count(*) from asset`), "nothing was brought in")
	p.undo("a cover of its own")
	p.until(`!document.querySelector('[data-album="Press kit"] img').src.includes("/own-")`)
}

// TestAlbumsInEachOther are made, filled by dragging, by one key and several at once, moved, parked, duplicated and removed.
func TestAlbumsInEachOther(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/gather?place=everything&sort=name")
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	p.click("New album")
	p.fill("[role=dialog] input", "Autumn")
	p.press("Enter")
	p.see(`[data-album="Autumn"]`)
	p.menu("Autumn", "New album in it")
	p.fill("[role=dialog] input", "Walks")
	p.press("Enter")
	p.clickOn(`[aria-label="Unfold Autumn"]`)
	p.see(`[data-album="Walks"][data-level="1"]`)
	p.menu("Walks", "Make it the quick-add album")
	p.see(`[data-quick-album="Walks"]`)

	p.clickAt(p.middle(item(ids[0])))
	p.drag(item(ids[0]), css(`[data-album="Autumn"]`), 0.4)
	p.seeText("Added 1 item to Autumn")
	p.clickAt(p.middle(item(ids[0])))
	p.clickAt(p.middle(item(ids[3])), chromedp.ModifierShift)
	p.press("w")
	p.seeText("Added 4 items to Walks")
	assert.Equal(t, ids[:4], p.inAlbum("Walks"))

	p.clickOn(`[data-album="Autumn"] button[data-row]`)
	p.count(1)
	p.seeText("1 item, 4 with the albums in it, each once")
	p.clickAt(p.middle(card("Show the albums in it, too")))
	p.count(4)
	p.clickOn(`[data-album="Walks"] button[data-row]`)
	p.inOrder(ids[0], ids[1], ids[2], ids[3])
	p.clickAt(p.middle(item(ids[3])))
	p.press("ArrowLeft", ctrl) // one place forward
	p.inOrder(ids[0], ids[1], ids[3], ids[2])
	p.press("ArrowRight", ctrl)
	p.inOrder(ids[0], ids[1], ids[2], ids[3])
	p.click("More")
	p.click("Move 1 to a place…")
	p.fill("[role=dialog] input", "9")
	p.seeText("A place is a number from 1 to 4.")
	p.fill("[role=dialog] input", "1")
	p.press("Enter")
	p.seeText("Moved 1 item to place 1 in Walks")
	p.inOrder(ids[3], ids[0], ids[1], ids[2])
	p.open(fmt.Sprintf("/b/tansyloft/gather?place=album&id=%d&sort=name", p.number(`select id from album where name = 'Walks'`)))
	p.clickAt(p.middle(card("Keep this order instead")))
	p.seeText("Put 4 items of Walks in order by name")
	p.inOrder(ids[0], ids[1], ids[2], ids[3])
	p.clickAt(p.middle(item(ids[1])))
	p.click("Move 1 to another album…")
	p.fill("[role=dialog] input", "Autumn")
	p.press("Enter")
	p.seeText("Moved 1 item from Walks to Autumn")
	p.count(3)
	p.clickAt(p.middle(item(ids[2])))
	p.press("g")
	for _, name := range []string{"Autumn", "Press kit"} {
		p.clickOn(`[role=dialog] input[aria-label="Also ` + name + `"]`)
	}
	p.click("Add 1 item to 2 albums")
	p.seeText("Added 1 item to Press kit and Autumn")
	assert.Equal(t, []int64{ids[0], ids[1], ids[2]}, p.inAlbum("Autumn"))

	p.menu("Autumn", "Duplicate with the albums in it")
	p.seeText("as “Autumn copy”; no item was copied")
	p.menu("Autumn copy", "Park")
	p.gone(`[data-album="Autumn copy"]`)
	p.click("Parked")
	p.see(`[aria-label="Parked albums"] [data-album="Autumn copy"]`)
	p.menu("Walks", "Put into another album…")
	p.click("to the top")
	p.see(`[data-album="Walks"][data-level="0"]`)
	p.undo("Moved the album “Walks” to the top")
	p.see(`[data-album="Walks"][data-level="1"]`)
	p.menu("Autumn", "Remove")
	p.seeText("Its 3 items stay in the library, where they live. 1 album in it moves up, unless you remove them too.")
	p.click("Remove it with the albums in it")
	p.gone(`[data-album="Walks"][data-level="1"]`)
	p.undo("Removed the album “Autumn” with 1 album in it")
	p.see(`[data-album="Walks"][data-level="1"]`)
	assert.Len(t, p.inAlbum("Autumn"), 3)
}

// TestAFolderBecomesAlbums, one for each folder below it.
func TestAFolderBecomesAlbums(t *testing.T) {
	p := signIn(t, coordinator)
	var folder struct {
		ID   int64
		Name string
	}
	require.NoError(
		t,
		storetest.SQL(p.database).Get(&folder, `select f.id, f.name from folder f where exists (select from folder c where c.parent_id = f.id)
		order by f.id limit 1`),
	)
	p.open(fmt.Sprintf("/b/tansyloft/gather?place=folder&id=%d", folder.ID))
	p.click("One for each folder below, too")
	p.seeText("Made the album “" + folder.Name)
	p.see(`[data-album="` + folder.Name + `"]`)
	inside := p.number(fmt.Sprintf(`with recursive down as (select id from folder where id = %d union all select f.id from folder f
		join down d on f.parent_id = d.id) select count(*) from asset where folder_id in (select id from down) and binned_at is null
		and stars >= 0 and (stack_id is null or stack_front)`, folder.ID))
	assert.Equal(t, inside, p.number(fmt.Sprintf(`with recursive down as (select id from album where name = %s union all select a.id
		from album a join down d on a.parent_id = d.id) select count(*) from album_item where album_id in (select id from down)`,
		"'"+folder.Name+"'")))
}

// TestTakingAlongToTheServer in two sizes, after a look at what is against it; then the items say that they were sent out.
func TestTakingAlongToTheServer(t *testing.T) {
	p := signIn(t, "greta@tansyloft.example")
	folder := t.TempDir()
	_, err := storetest.SQL(p.database).
		Exec(`insert into server_folder (brand_id, name, path, takes) select id, 'The website', $1, true from brand
		where code = 'tansyloft'`, folder)
	require.NoError(t, err)
	p.open("/b/tansyloft/send-out?place=everything&sort=name" + filter(`{"field":"kind","names":["picture"]}`))
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	p.clickAt(p.middle(item(ids[0])))
	p.clickAt(p.middle(item(ids[2])), chromedp.ModifierShift)
	p.see(`[data-check]`)
	p.clickAt(p.middle(`[...document.querySelectorAll("label")].find(l => l.innerText.startsWith("Shop card 480"))`))
	p.clickAt(p.middle(`[...document.querySelectorAll("label")].find(l => l.innerText.startsWith("Number them"))`))
	p.until(`document.querySelector("[aria-label='Files as they will be made']")?.innerText.includes("Shop card 480/01 ")`)
	p.accessible("taking along")
	p.until(`(() => { const s = [...document.querySelectorAll("[data-board] select")].find(s => s.options[0].innerText === "a ZIP");
		if (!s) return false; s.selectedIndex = 1; s.dispatchEvent(new Event("change", { bubbles: true })); return true })()`)
	p.fill(`[placeholder="a new one, with today’s date"]`, "spring")
	p.click("Take 3 items in 2 sizes to the server")
	p.seeText("6 files put into “The website” / spring.")
	for _, size := range []string{"Web 1200", "Shop card 480"} {
		files, err := os.ReadDir(filepath.Join(folder, "spring", size))
		require.NoError(t, err)
		assert.Len(t, files, 3, size)
	}
	p.until(item(ids[0]) + `.innerText.includes("sent out")`)
	p.open("/b/tansyloft/choose?place=everything" + filter(`{"field":"state","names":["sent"]}`))
	p.count(3)
	p.open(fmt.Sprintf("/b/tansyloft/file?place=everything&item=%d", ids[0]))
	p.seeText("Sent out, 2 times")
	p.seeText("to “The website”")
	p.open("/b/tansyloft/taken-along")
	p.see(`[data-taken="ready"]`)
	p.seeText("to “The website” / spring")
	p.accessible("what was taken along")
}
