package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
)

// facet is the line of a value among those that one filters by.
func facet(about, value string) string {
	return fmt.Sprintf(`([...document.querySelectorAll('[aria-label="Filter"] fieldset')]
		.filter(f => f.querySelector("legend span")?.innerText === %q)
		.flatMap(f => [...f.querySelectorAll("label")]).find(l => l.innerText.startsWith(%q)))`, about, value)
}

// TestWhoBroughtItInAndTheKindOfFile filters by both, in the panel, in the cabinet and in words.
func TestWhoBroughtItInAndTheKindOfFile(t *testing.T) {
	p := signIn(t, coordinator)
	const there = `binned_at is null and stars >= 0 and (stack_id is null or stack_front)`
	mine := p.number(`select count(*) from asset where added_by = (select id from person where email = '` + coordinator + `') and ` + there)
	vectors := p.number(`select count(*) from asset where media_type = 'image/svg+xml' and ` + there)
	p.clickOn("[data-filter]")
	p.until(fmt.Sprintf(`(%s)?.innerText.replace(/\D/g, "") === "%d"`, facet("Brought in by", "me"), mine))
	p.until(fmt.Sprintf(`(%s)?.innerText.replace(/\D/g, "") === "%d"`, facet("Kind of file", "SVG"), vectors))
	p.accessible("what one filters by")
	p.do(chromedp.Evaluate[chromedp.Void](`(` + facet("Kind of file", "SVG") + `).querySelector("input").click()`))
	p.until(fmt.Sprintf(`document.querySelectorAll("[data-sheet] [data-id]").length === %d`, vectors))
	p.do(chromedp.Evaluate[chromedp.Void](`(` + facet("Brought in by", "me") + `).querySelector("input").click()`))
	p.press("Escape")
	p.seeText("SVG")
	p.seeText("brought in by me")
	p.click("Clear filters")
	p.click("By source")
	p.click("Mine")
	p.seeText("brought in by me")
	p.click("brought in by me") // the chip, which takes it away
	p.until(`!document.querySelector("[data-chips]")`)
	p.press("/")
	p.typeSlowly("mine")
	p.seeText("brought in by")
}
