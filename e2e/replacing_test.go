package e2e

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

// inAGallery is a picture that an open gallery shows.
const inAGallery = `select a.id from asset a join album_item i on i.asset_id = a.id
	join gallery_chapter c on c.album_id = i.album_id join gallery g on g.id = c.gallery_id
	where a.kind = 'picture' and g.open order by a.id limit 1`

// TestAFileIsReplacedEverywhere puts new files in the place of old ones, sees beforehand what changes, and brings the old one back.
func TestAFileIsReplacedEverywhere(t *testing.T) {
	p := signIn(t, coordinator)
	id := int64(p.number(inAGallery))
	was := p.name(id)
	p.open("/b/tansyloft/prepare?place=everything&sort=name" + filter(fmt.Sprintf(`{"field":"item","ids":[%d]}`, id)))
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(id)))
	p.click("Replace its file…")
	p.seeText("You will see where it is shown before anything changes")
	p.accessible("choosing a new file")
	p.choose("The new file", files(t, []namedFile{{"damaged.jpg", mediatest.Truncated(t)[:60]}})...)
	p.seeText("Nothing was replaced.")
	p.choose("The new file", files(t, []namedFile{{"fresh.jpg", mediatest.JPEG(t, 900, 900, 77)}})...)
	p.seeText("Other proportions:")
	p.until(`/people outside will see it at once in \d+ open galler/.test(document.body.innerText)`)
	p.until(`/Shown in \d+ albums?: /.test(document.body.innerText)`)
	assert.Equal(t, was, p.name(id), "nothing is changed before it is said")
	p.accessible("what a new file changes")
	p.click("Replace 1 item")
	p.seeText("Replaced 1 item")
	assert.Equal(t, "fresh.jpg", p.name(id))
	inBin := `select count(*) from asset where file_name = 'fresh.jpg' and binned_at is not null`
	assert.Equal(t, 1, p.number(inBin))
	p.press("z", ctrl)
	p.seeText("Undone: replaced 1 item")
	assert.Equal(t, was, p.name(id))
	assert.Equal(t, 1, p.number(inBin), "the new file is not left over")
	p.press("y", ctrl)
	p.seeText("Done again: replaced 1 item")
	assert.Equal(t, "fresh.jpg", p.name(id))

	// Escape leaves nothing behind
	p.click("Replace its file…")
	p.choose("The new file", files(t, []namedFile{{"not wanted.jpg", mediatest.JPEG(t, 910, 900, 78)}})...)
	p.seeText("Leave it, and keep the new file as an item")
	p.press("Escape")
	p.gone("[role=dialog]")
	p.seeText("Nothing was replaced, and the new file is not kept")
	p.becomes(`select count(*) from asset where file_name = 'not wanted.jpg' and binned_at is null`, 0)

	// dropping on the picture as it is seen big is the same, and leaving it changes nothing
	p.press("Enter")
	p.see("[data-preparing]")
	p.dropFiles(css("[data-preparing]"), files(t, []namedFile{{"fresher.jpg", mediatest.JPEG(t, 600, 900, 99)}})...)
	p.seeText("Other proportions: 1 : 1 becomes 2 : 3")
	p.click("Leave it, and keep the new file as an item")
	p.gone("[role=dialog]")
	assert.Equal(t, "fresh.jpg", p.name(id))
	assert.Equal(t, 1, p.number(`select count(*) from asset where file_name = 'fresher.jpg' and binned_at is null`))

	p.click("Back to the sheet")
	p.click("File")
	p.clickAt(p.middle(item(id)))
	p.press("Enter")
	p.click("Bring " + was + " back")
	p.seeText("Brought “" + was + "” back")
	assert.Equal(t, was, p.name(id))
	p.press("z", ctrl)
	p.seeText("Undone: brought “")
	assert.Equal(t, "fresh.jpg", p.name(id))
}

// TestManyAreReplacedByName brings back files under the names that they have here.
func TestManyAreReplacedByName(t *testing.T) {
	p := signIn(t, coordinator)
	logo := int64(p.number(inAGallery))
	was := p.name(logo)
	p.open("/b/tansyloft/bring-in?place=unfiled")
	p.dropFiles(css("[data-sheet]"), files(t, []namedFile{{was, mediatest.JPEG(t, 500, 400, 12)},
		{"alone.jpg", mediatest.JPEG(t, 500, 401, 13)}})...)
	p.strap("2 files, all added")
	p.until(`document.querySelectorAll("[data-sheet] [data-id]").length >= 2`)
	p.press("a", ctrl)
	p.click("More")
	p.click("Replace items of the same name…")
	p.seeText("1 item will show another file")
	p.seeText("of your selection")
	p.accessible("replacing by name")
	p.press("Escape")
	p.gone("[role=dialog]")
	p.click("More")
	p.click("Replace items of the same name…")
	p.click("Replace 1 item")
	p.seeText("Replaced 1 item")
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from version where asset_id = %d and width = 500`, logo)))
}

// name is the name of the file that an item shows.
func (p *page) name(id int64) (name string) {
	p.t.Helper()
	assert.NoError(p.t, storetest.SQL(p.database).Get(&name, `select file_name from asset where id = $1`, id))
	return name
}
