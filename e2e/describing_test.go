package e2e

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// field is one of the words on the card of a selection.
func field(name string) string {
	return fmt.Sprintf(`[data-field="%s"] input, [data-field="%s"] textarea`, name, name)
}

// TestSixtyAreDescribedInOneGo selects more than sixty items: a credit where they differ asks in numbers and is added, an empty
// field is filled for all, titles come from a pattern. Each is one step that is taken back.
func TestSixtyAreDescribedInOneGo(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	p.clickAt(p.middle(item(ids[0])))
	p.press("a", ctrl)
	total := read[int](p, count)
	require.Greater(t, total, 60)
	p.until(fmt.Sprintf(`document.querySelector("[data-selected]")?.dataset.selected === "%d"`, total))
	p.until(`document.querySelector('[data-field="credit"] input')?.placeholder === "Different"`)
	p.accessible("the card of many")

	p.fill(field("credit"), "Press desk")
	p.seeText("different credits")
	p.press("Enter") // to the first answer
	p.until(`document.activeElement.tagName === "BUTTON" && document.activeElement.closest('[data-field="credit"]')`)
	p.click("Put it after")
	p.seeText(fmt.Sprintf("Added to the credit of %d items", total))
	assert.Equal(t, total, p.number(`select count(*) from asset where credit like '%Press desk'`))
	p.press("z", ctrl)
	p.seeText("Undone: added to the credit")

	p.fill(field("usageTerms"), "Not for resale")
	p.press("Enter", ctrl) // Enter alone begins a new line here
	p.until(`document.activeElement.innerText?.startsWith("Fill in the")`)
	without := read[int](p, `Number(document.activeElement.innerText.match(/[0-9]+/)[0])`)
	p.press("Enter")
	p.seeText(fmt.Sprintf("Filled in the usage terms of %d items", without))
	p.press("z", ctrl)
	p.seeText("Undone: filled in the usage terms")

	p.fill(field("place"), "Nowhere")
	p.press("Escape")
	p.until(`document.querySelector('[data-field="place"] input').value === ""`)
	assert.Zero(t, p.number(`select count(*) from asset where place = 'Nowhere'`), "Escape takes back what was not written")

	p.open("/b/tansyloft/describe?place=everything" + filter(`{"match":"any","rules":[{"field":"lacks","names":["usageTerms"]}]}`))
	p.see("[data-sheet] [data-id] img")
	p.clickOn("[data-sheet] [data-id]")
	p.press("a", ctrl)
	p.until(`document.querySelector('[data-field="usageTerms"] textarea')?.placeholder === ""`)
	p.fill(field("usageTerms"), "Not for resale")
	p.clickOn(field("credit")) // where all say nothing it saves itself when one leaves it
	p.seeText(fmt.Sprintf("Set the usage terms of %d items", without))
	p.clickOn(`[aria-label^="Undo: Set the usage terms"]`)
	p.seeText("Undone: set the usage terms")

	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	p.clickOn("[data-sheet] [data-id]")
	p.press("a", ctrl)
	p.click("Titles by a pattern")
	p.see("[role=dialog] tbody tr")
	p.fill(`[role=dialog] input`, "Day out {n}")
	p.until(fmt.Sprintf(`document.querySelector("[role=dialog] tbody td:nth-child(2)")?.innerText === "Day out %0*d"`, digits(total), 1))
	p.accessible("titles by a pattern")
	p.click(fmt.Sprintf("Give %d titles", total))
	p.seeText(fmt.Sprintf("Gave %d items a title by a pattern", total))
	assert.Equal(t, total, p.number(`select count(distinct title) from asset where title like 'Day out %'`))
	p.clickOn(`[aria-label^="Undo: Gave"]`)
	p.seeText("Undone: gave")
	assert.Zero(t, p.number(`select count(*) from asset where title like 'Day out %'`))
}

func digits(n int) int { return len(fmt.Sprint(n)) }

// number asks the database for one.
func (p *page) number(question string) (n int) {
	p.t.Helper()
	require.NoError(p.t, p.database.Get(&n, question))
	return n
}

// TestAClockIsPutRight says when one picture really was; the other follows, and the card shows what the file says.
func TestAClockIsPutRight(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	was := p.number(fmt.Sprintf(`select extract(epoch from captured_at)::int from asset where id = %d`, ids[3]))
	p.clickAt(p.middle(item(ids[2])))
	p.clickAt(p.middle(item(ids[3])), ctrl)
	p.click("Clock…")
	p.see("[role=dialog] img")
	var really string
	require.NoError(t, p.database.Get(&really, `select to_char(captured_at + interval '65 minutes', 'YYYY-MM-DD HH24:MI') from asset
		where id = $1`, ids[2]))
	p.fill(`[role=dialog] input`, really)
	p.seeText("and the others move as far")
	p.accessible("the clock")
	p.click("Move 2 items")
	p.seeText("Moved the moment of 2 items by 1 hour 5 minutes forwards")
	assert.Equal(t, was+65*60, p.number(fmt.Sprintf(`select extract(epoch from captured_at)::int from asset where id = %d`, ids[3])))
	p.open(fmt.Sprintf("/b/tansyloft/describe?place=everything&item=%d", ids[3]))
	p.click("Bring that back")
	p.seeText("Set 1 item back to the moment in the file")
	assert.Equal(t, was, p.number(fmt.Sprintf(`select extract(epoch from captured_at)::int from asset where id = %d`, ids[3])))
	p.clickOn(`[aria-label^="Undo: Set 1 item back"]`)
	p.seeText("Undone: set 1 item back")
	p.clickOn(`[aria-label^="Undo: Moved"]`)
	p.seeText("Undone: moved the moment")
}

// TestTagsAreKeptInOrder renames a tag into one that there is, which asks in numbers, and gives it another spelling; a group
// is made and closed.
func TestTagsAreKeptInOrder(t *testing.T) {
	p := signIn(t, coordinator)
	tags := `select count(*) from tag where merged_into is null and removed_at is null`
	before := p.number(tags)
	p.open("/b/tansyloft/tags")
	p.clickOn(`[data-tag="Tetra"]`)
	p.accessible("tags")
	p.fill(`aside input`, "diamond")
	p.press("Enter")
	p.seeText("There is a tag “Diamond” already, on")
	p.click("Merge “Tetra” into “diamond”")
	p.seeText("Merged “Tetra” into “Diamond”")
	p.gone(`[data-tag="Tetra"]`)
	assert.Equal(t, before-1, p.number(tags))
	p.clickOn(`[data-tag="Diamond"]`)
	p.see(`[aria-label="Remove the spelling Tetra"]`)
	p.fill(`[data-spelling]`, "Lozenge")
	p.press("Enter")
	p.seeText("“Lozenge” leads to “Diamond” now")
	p.clickOn(`[aria-label^="Undo: “Lozenge”"]`)
	p.seeText("Undone: “Lozenge” leads")
	p.clickOn(`[aria-label^="Undo: Merged"]`)
	p.see(`[data-tag="Tetra"]`)
	assert.Equal(t, before, p.number(tags))

	p.click("New group")
	p.fill(`[role=dialog] input`, "Weather")
	p.press("Enter")
	p.seeText("Made the group “Weather”")
	p.clickOn(`section[aria-label="Weather"] h2 button`)
	p.click("Closed: only stewards")
	p.seeText("Closed the group “Weather”")
	p.click("Remove the group; its tags stay")
	p.seeText("Removed the group “Weather”")
}

// TestTheBrandSaysWhatADescribedItemHas has the steward ask for usage terms, goes through what lacks something by key, and
// filters by what is not there and by rights that end soon.
func TestTheBrandSaysWhatADescribedItemHas(t *testing.T) {
	p := signIn(t, steward)
	p.open("/b/tansyloft/settings")
	p.click("Usage terms")
	p.seeText("Saved")
	p.accessible("settings of a brand")
	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	waiting := `Number(document.querySelector("[data-waiting=describe]").title.replace(/,/g, ""))`
	p.until(waiting + ` > 60`)
	ids := p.shown()
	p.clickAt(p.middle(item(ids[0])))
	p.seeText("Lacks")
	p.press("n")
	p.until(fmt.Sprintf(`document.querySelector("[aria-label='What is selected'], [data-selected]")?.dataset.selected === "1"
		&& !document.querySelector('[data-id="%d"][aria-selected=true]')`, ids[0]))
	p.open("/b/tansyloft/describe?place=everything" + filter(`{"match":"any","rules":[{"field":"lacks","names":["usageTerms"]}]}`))
	p.seeText("without usage terms")
	p.until(count + " > 0")
	p.clickOn("[data-filter]")
	p.click("end within 30 days")
	p.seeText("rights: end within 30 days")
	p.open("/b/tansyloft/settings")
	p.click("Usage terms")
	p.seeText("Saved")
	p.until(`!document.querySelector("[data-waiting=describe]") || ` + waiting + ` < 60`)
}

// TestTheNextOneIsDescribedLikeTheFirst takes a tag off that all of a folder have: it is suggested, and one press puts it back.
// Then it carries the credit of one item to another.
func TestTheNextOneIsDescribedLikeTheFirst(t *testing.T) {
	p := signIn(t, coordinator)
	var one struct {
		Asset, Items int64
		Tag          string
	}
	require.NoError(t, p.database.Get(&one, `select min(a.id) as asset, count(*) as items, t.name as tag from asset a
		join asset_tag x on x.asset_id = a.id join tag t on t.id = x.tag_id where a.binned_at is null and a.folder_id is not null
		group by a.folder_id, t.id having count(*) >= 5
			and count(*) = (select count(*) from asset b where b.folder_id = a.folder_id and b.binned_at is null) order by 2, 3 limit 1`))
	p.open(fmt.Sprintf("/b/tansyloft/describe?place=everything&item=%d", one.Asset))
	p.clickOn(fmt.Sprintf(`[aria-label="Take %s off"]`, one.Tag))
	suggested := fmt.Sprintf(`[...document.querySelectorAll("[aria-label='Suggested tags'] button")]
		.find(b => b.innerText.includes(%q))`, one.Tag)
	p.until(suggested)
	assert.Regexp(t, `^on \d+ of the \d+ `, read[string](p, suggested+`.title`))
	p.accessible("a card with suggested tags")
	p.clickAt(p.middle(suggested))
	p.seeText("Tagged 1 item with " + one.Tag)
	p.see(fmt.Sprintf(`[aria-label="Take %s off"]`, one.Tag))
	p.until("!" + suggested)

	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	credit := func(id int64) (text string) {
		require.NoError(t, p.database.Get(&text, `select credit from asset where id = $1`, id))
		return text
	}
	ids := p.shown()
	other := slices.IndexFunc(ids, func(id int64) bool { return credit(id) != credit(ids[0]) })
	require.Positive(t, other)
	p.clickAt(p.middle(item(ids[other])))
	p.clickAt(p.middle(item(ids[0])), ctrl)
	p.click("Describe them like one")
	p.see("[role=dialog] li input")
	p.accessible("taking over")
	p.click("Credit")
	p.click("Take it over to 1 item")
	p.seeText("Described 1 item like")
	assert.Equal(t, credit(ids[0]), credit(ids[other]))
	p.clickOn(`[aria-label^="Undo: Described"]`)
	p.seeText("Undone: described")
}
