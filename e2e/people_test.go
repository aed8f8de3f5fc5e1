package e2e

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/demo"
	"brightsatchel/internal/store/storetest"
)

// TestSomebodyIsAdded invites a person, who chooses a password with the link, and takes them out of the brand again.
func TestSomebodyIsAdded(t *testing.T) {
	p := signIn(t, steward)
	p.click("More about the brand")
	p.click("Settings")
	p.seeText("Stars of reviewers")
	p.accessible("the settings of the brand")
	p.click("People and rights")
	p.click("Add somebody")
	p.see("[role=dialog] input")
	p.typeSlowly("Ines Duarte")
	p.fill(`[role=dialog] input[type=email]`, "not an address")
	p.press("Enter")
	p.fill(`[role=dialog] input[type=email]`, strings.ToUpper(coordinator))
	p.press("Enter")
	p.seeText("Chioma Oxendell belongs to the brand already")
	p.fill(`[role=dialog] input[type=email]`, "ines@tansyloft.example")
	p.click("Add Ines Duarte")
	p.see("[data-join-link]")
	p.accessible("a link to be handed over")
	link := read[string](p, `document.querySelector("[data-join-link]").value`)
	p.click("Done")
	p.seeText("Has not signed in yet")

	q := newVisitor(t)
	q.open(strings.TrimPrefix(link, p.site))
	q.seeText("Welcome, Ines Duarte")
	q.accessible("choosing a password")
	q.fill("input[name=password]", "short")
	q.fill("input[name=again]", "short")
	q.press("Enter")
	q.seeText("at least 10 characters")
	q.fill("input[name=password]", "tansy-and-twine")
	q.fill("input[name=again]", "tansy-and-thyme")
	q.press("Enter")
	q.seeText("The two are not the same")
	q.fill("input[name=again]", "tansy-and-twine")
	q.press("Enter")
	q.see("[data-sheet] [data-id] img")
	again := newVisitor(t)
	again.open(strings.TrimPrefix(link, p.site))
	again.seeText("This link does not work")

	q.click("ID: Ines Duarte, contributor")
	q.click("My account")
	q.seeText("Where you are signed in")
	q.accessible("my account")
	q.fill(`[data-page=account] [aria-label="Name"]`, "Ines Duarte-Hall")
	q.press("Tab")
	q.seeText("Name · Saved")
	p.seeText("Ines Duarte-Hall")

	p.click("More about Ines Duarte-Hall")
	p.click("Take out of the brand")
	p.click("Take Ines Duarte-Hall out")
	p.until(`!document.querySelector("[data-page=people]").innerText.includes("Ines")`)
	q.open("/b/tansyloft/file?place=everything")
	q.see("input[name=email]")
	p.click("More about Greta Ollin")
	p.click("Leave the brand…")
	p.click("Leave the brand")
	p.seeText("A brand needs a steward")
	p.press("Escape")
	p.open("/b/tansyloft/trail")
	p.seeText("Took Ines Duarte-Hall out of the brand")
}

// TestOnesOwnSessions signs in twice, changes the password in one browser, and is signed out in the other.
func TestOnesOwnSessions(t *testing.T) {
	p, q := signIn(t, "farid@tansyloft.example"), signIn(t, "farid@tansyloft.example")
	p.open("/b/tansyloft/account")
	p.until(`document.querySelectorAll("[aria-label=Sessions] li").length >= 2`)
	p.fill(`input[autocomplete=current-password]`, "a wrong one here")
	p.fill(`input[autocomplete=new-password]`, "up-in-the-wind")
	p.click("Change the password")
	p.seeText("That is not your present password")
	p.fill(`input[autocomplete=current-password]`, demo.Password)
	p.click("Change the password")
	p.seeText("You were signed out everywhere else")
	p.until(`document.querySelectorAll("[aria-label=Sessions] li").length === 1`)
	q.open("/b/tansyloft/file?place=everything")
	q.see("input[name=email]")
	p.fill(`input[autocomplete=current-password]`, "up-in-the-wind")
	p.fill(`input[autocomplete=new-password]`, demo.Password)
	p.click("Change the password")
	p.until(`document.querySelector("input[autocomplete=new-password]").value === ""`)
}

// TestReviewersStarsAreShownBeside says so in the settings, and sees what a reviewer may and gives.
func TestReviewersStarsAreShownBeside(t *testing.T) {
	p, q := signIn(t, steward), signIn(t, "hugo@tansyloft.example")
	p.open("/b/tansyloft/settings")
	p.click("They count as the team’s stars")
	p.seeText("changes nothing else")
	q.open("/b/tansyloft/choose?place=everything")
	q.see("[data-sheet] [data-id] img")
	id := q.shown()[5]
	var team int
	require.NoError(t, storetest.SQL(p.database).Get(&team, `select stars from asset where id = $1`, id))
	q.clickAt(q.middle(item(id)))
	q.see(`[data-selected="1"]`)
	assert.False(t, read[bool](q, finder+`("Set aside") !== null || `+finder+`("Set 1 aside") !== null`), "the team's verdict")
	q.press("a")
	q.press("2")
	q.seeText("My stars, shown beside the team’s")
	var stars int
	require.NoError(t, storetest.SQL(p.database).Get(&stars, `select stars from asset where id = $1`, id))
	assert.Equal(t, team, stars)
	p.open("/b/tansyloft/choose?place=everything")
	p.clickAt(p.middle(item(id)))
	p.seeText("Hugo Prestwynd, reviewer")
	p.open("/b/tansyloft/settings")
	p.click("They count as the team’s stars")
	p.seeText("replaces what was there")
}

// TestTheTrailSaysWhoDidWhat filters it by kind and folder, and undoes a step for one item of many.
func TestTheTrailSaysWhoDidWhat(t *testing.T) {
	p := signIn(t, coordinator)
	p.click("Cut-outs") // a place with one item
	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()[:3]
	for i, id := range ids {
		if i == 0 {
			p.clickAt(p.middle(item(id)))
		} else {
			p.clickAt(p.middle(item(id)), ctrl)
		}
	}
	p.press("t")
	p.typeSlowly("trailblazer")
	p.press("Enter")
	p.seeText("Tagged 3 items")
	on := func() (n int) {
		require.NoError(t, storetest.SQL(p.database).Get(&n,
			`select count(*) from asset_tag x join tag t on t.id = x.tag_id where t.name = 'trailblazer'`))
		return n
	}
	require.Equal(t, 3, on())
	p.click("File")
	p.clickAt(p.middle(item(ids[1])))
	p.press("Enter")
	p.seeText("What was done to it")
	p.clickAt(p.middle(`[...document.querySelectorAll("[data-item-page] li")].find(l => l.innerText.includes("trailblazer"))
		.querySelector("button")`))
	p.seeText("changed 3 items")
	p.accessible("undo for how many")
	p.click("Only for")
	p.seeText("only for")
	assert.Equal(t, 2, on())
	p.press("Escape")

	p.open("/b/tansyloft/trail")
	p.seeText("Today")
	p.accessible("the trail")
	choose := func(label, option string) {
		read[any](p, `(s => { s.value = [...s.options].find(o => o.text === `+quote(option)+`).value;
			s.dispatchEvent(new Event("change", { bubbles: true })) })([...document.querySelectorAll("label")].find(l => l.innerText === `+
			quote(label)+`).parentElement.querySelector("select"))`)
	}
	choose("What", "Bringing in")
	p.until(`document.querySelector("[data-page=trail]").innerText.includes("Brought in")`)
	choose("What", "Describing")
	p.until(`!document.querySelector("[data-page=trail]").innerText.includes("Brought in")`)
	p.seeText("trailblazer")
	choose("Who", "Greta Ollin")
	p.seeText("Nothing was done that passes these filters")
	p.click("Clear filters")
	p.seeText("trailblazer")
	p.until(`document.querySelector("[data-trail] time").title.includes(String(new Date().getFullYear()))`)
}

// TestEverybodyOpensACard selects an item, and then two, as each of the five who sign in: everybody sees the card, and only who may
// write into it.
func TestEverybodyOpensACard(t *testing.T) {
	for _, email := range []string{"chioma@tansyloft.example", "greta@tansyloft.example", "farid@tansyloft.example",
		"hugo@tansyloft.example", "wren@fieldfare-studio.example"} {
		p := signIn(t, email)
		p.click("Describe")
		p.clickOn("[data-sheet] [data-id]:nth-child(2)")
		p.seeText("Taken")
		p.seeText("Brought in")
		writes := read[bool](p, `document.querySelector("[data-field=title] input, [data-field=title] textarea") !== null`)
		switch { // Farid writes where he was given a folder
		case strings.HasPrefix(email, "chioma"), strings.HasPrefix(email, "greta"):
			assert.True(t, writes, email)
		case !strings.HasPrefix(email, "farid"):
			assert.False(t, writes, email)
		}
		p.clickAt(p.middle(css("[data-sheet] [data-id]:nth-child(3)")), ctrl)
		p.seeText("2 items")
		p.accessible("the card of two for " + email)
	}
}

// TestPagesOfOthersSaySo: whoever comes by address to a page that they may not use is told so, instead of seeing an empty
// one or one that loads for ever.
func TestPagesOfOthersSaySo(t *testing.T) {
	p := signIn(t, "hugo@tansyloft.example")
	for _, page := range []string{"galleries", "embeds", "screens", "dispatches", "calendar", "outlets", "addresses", "sizes", "taken-along",
		"people-shown", "arrivals", "people"} {
		p.open("/b/tansyloft/" + page)
		p.seeText("This page is for others")
	}
	p.accessible("a page of others")
	p.click("To the library")
	p.see("[data-sheet] [data-id] img")
}
