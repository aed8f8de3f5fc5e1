package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// inGroup is the button of a group of the builder that says some words.
func inGroup(way, words string) string {
	return fmt.Sprintf(`[...document.querySelector('[data-group=%q]').querySelectorAll(":scope > div button")]
		.find(b => b.innerText.includes(%q))`, way, words)
}

// add adds a condition to a group of the builder, by keys.
func (p *page) add(way, condition string) {
	p.t.Helper()
	p.do(chromedp.Evaluate[chromedp.Void](inGroup(way, "Add a condition") + `.focus()`))
	p.press("Enter")
	p.click(condition)
}

// TestAMixedFilterIsBuiltAndKept puts groups together, sees what each finds, keeps it as an album that fills itself, changes the rule,
// and gathers what it shows.
func TestAMixedFilterIsBuiltAndKept(t *testing.T) {
	p := signIn(t, coordinator)
	p.clickOn("[data-filter]")
	p.click("Build a filter…")
	p.see("[data-builder]")
	p.add("", "Stars")
	p.seeText("Shows: at least 4 stars")
	p.clickAt(p.middle(inGroup("", "Add a group")))
	p.see(`[data-group="1"]`)
	p.add("1", "My keepers")
	p.add("1", "Tags")
	p.clickOn(`[data-condition=tag] input`)
	p.typeSlowly("dalta") // forgives a slip
	p.until(`document.querySelector('[data-condition=tag] [role=option]')?.innerText.startsWith("Delta")`)
	p.press("Enter")
	p.seeText("at least 4 stars and either my keepers or tagged Delta")
	both := p.number(`select count(*) from asset a where stars >= 4 and binned_at is null and (stack_id is null or stack_front)
		and exists (select from asset_tag x join tag t on t.id = x.tag_id where x.asset_id = a.id and t.name = 'Delta')`)
	p.until(fmt.Sprintf(`document.querySelector('[data-group=""] [data-count]').dataset.count === "%d"`, both))
	p.accessible("building a filter")
	p.clickOn(`[data-condition=keeper] [aria-label^="Take"]`)
	p.seeText("at least 4 stars and tagged Delta")

	p.click("Keep as a rule album…")
	p.typeSlowly("Deltas, best of")
	p.press("Enter")
	p.seeText("Made the rule album “Deltas, best of”")
	p.until(fmt.Sprintf(`document.querySelectorAll("[data-sheet] [data-id]").length === %d`, both))
	shown := p.shown()
	p.clickAt(p.middle(item(shown[0])))
	p.click("Choose")
	p.press("2") // it leaves as soon as it is what the rule asks for no more
	p.until(fmt.Sprintf(`document.querySelectorAll("[data-sheet] [data-id]").length === %d`, both-1))
	p.click("File")
	p.until(fmt.Sprintf(`document.querySelector('[data-album="Deltas, best of"]').innerText.includes("%d")`, both-1))
	p.press("z", ctrl)
	p.until(fmt.Sprintf(`document.querySelectorAll("[data-sheet] [data-id]").length === %d`, both))

	p.click("More about Deltas, best of")
	p.click("Change the rule…")
	p.see("[data-builder]")
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('[data-builder] input[aria-label="How many at random"]')
		.closest("label").querySelector("input[type=checkbox]").click()`))
	p.fill(`input[aria-label="How many at random"]`, "3")
	p.click("Use this rule")
	p.seeText("Changed the album “Deltas, best of”")
	p.until(`document.querySelectorAll("[data-sheet] [data-id]").length === 3`)
	three := p.shown()
	p.do(chromedp.Reload())
	p.until(`document.querySelectorAll("[data-sheet] [data-id]").length === 3`)
	assert.Equal(t, three, p.shown(), "the same all day")
	p.click("More about Deltas, best of")
	p.click("Gather what it shows…")
	p.fill(`[role=dialog] input`, "Three deltas")
	p.press("Enter")
	p.seeText("Made the album “Three deltas” with 3 items")
	p.see(`[data-album="Three deltas"]`)

	// a search of one's own
	p.open("/b/tansyloft/file?place=everything" + filter(`{"match":"none","rules":[{"field":"stars","from":3,"to":5},{"field":"keeper"}]}`))
	p.seeText("neither at least 3 stars nor my keepers")
	p.clickOn("[data-filter]")
	p.click("Mix it further…")
	p.click("Keep for myself…")
	p.typeSlowly("Leftovers")
	p.press("Enter")
	p.seeText("Kept the search “Leftovers”")
	p.open("/b/tansyloft/file?place=everything")
	p.click("My searches")
	p.click("Leftovers")
	p.seeText("neither at least 3 stars nor my keepers")
}
