package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestByColourAndAlike finds what a colour of the brand dominates, most of it first, and what looks like one picture.
func TestByColourAndAlike(t *testing.T) {
	p := signIn(t, coordinator)
	all := read[int](p, count)
	p.clickOn("[data-filter]")
	p.see(`[aria-label="Filter"] [aria-pressed]`)
	p.click("Sky")
	p.until(fmt.Sprintf(`%[1]s > 3 && %[1]s < %[2]d`, count, all))
	p.accessible("filtering by colour")
	p.press("Escape")
	p.until(`document.querySelector("[data-sheet]").closest("main, body").querySelector("select").value === "fit"`)
	p.seeText("with the colour #8ab4dc")

	ids := p.burst()
	p.open("/b/tansyloft/file?place=everything&sort=name" + filter(words("OST_0453")))
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(ids[1])))
	p.click("More")
	p.click("Show more like this")
	p.seeText("like one picture")
	p.until(fmt.Sprintf(`document.querySelector("[data-sheet] [data-id]")?.dataset.id === "%d"`, ids[1])) // itself first
	first := p.shown()[:4]
	assert.Subset(t, ids, first[1:3], "then the other frames of its burst that are not set aside")
}

// TestTheColoursOfTheBrand adds one, names it anew as one types, and takes it away.
func TestTheColoursOfTheBrand(t *testing.T) {
	p := signIn(t, steward)
	p.open("/b/tansyloft/settings")
	p.see(`[data-colour="Sky"]`)
	p.accessible("the colours of the brand")
	p.fill(`[data-new-colour] input:not([type=color])`, "Tar")
	p.press("Enter")
	p.see(`[data-colour="Tar"]`)
	p.fill(`[data-colour="Tar"] input:not([type=color])`, "Sky")
	p.press("Enter")
	p.seeText("Somebody has just used the name")
	p.fill(`[data-colour="Tar"] input:not([type=color])`, "Pitch")
	p.press("Enter")
	p.see(`[data-colour="Pitch"]`)
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('[data-colour="Pitch"] button').focus()`))
	p.press("Enter")
	p.gone(`[data-colour="Pitch"]`)
	require.Equal(t, 4, p.number(`select count(*) from brand_colour`))
}
