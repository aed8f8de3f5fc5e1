package e2e

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/demo"
	"brightsatchel/internal/media/mediatest"
)

// dav asks the drive of the lane for something.
func (p *page) dav(email, password, method, path string, body []byte) (int, string) {
	p.t.Helper()
	request, err := http.NewRequest(method, p.site+"/dav"+path, bytes.NewReader(body))
	require.NoError(p.t, err)
	request.SetBasicAuth(email, password)
	request.Header.Set("Depth", "1")
	answer, err := http.DefaultClient.Do(request)
	require.NoError(p.t, err)
	defer func() { _ = answer.Body.Close() }()
	text, err := io.ReadAll(answer.Body)
	require.NoError(p.t, err)
	return answer.StatusCode, string(text)
}

// TestTheDriveIsOpened with a password that is made for it and taken back; what is copied there is brought in, and what is copied to a page
// becomes a draft, which is gone on with in the browser and sent.
func TestTheDriveIsOpened(t *testing.T) {
	p := signIn(t, steward)
	posting.Lock()
	defer posting.Unlock()
	p.open("/b/tansyloft/account")
	p.seeText("No device opens the drive yet.")
	p.fill(`[data-drive] input`, "Studio laptop")
	p.fill(`[data-drive] input[type=password]`, "not mine")
	p.press("Enter")
	p.seeText("That is not your present password.")
	p.fill(`[data-drive] input[type=password]`, demo.Password)
	p.press("Enter")
	p.see("[data-made]")
	p.accessible("a password for the drive")
	password := read[string](p, `document.querySelector("[data-made]").innerText`)
	status, _ := p.dav(steward, password, "PROPFIND", "/Library/", nil)
	assert.Equal(t, 207, status)
	p.click("Done")
	p.gone("[data-made]")

	q := p.alongside()
	q.open("/b/tansyloft/outlets") // which asks the outlets for their pages
	q.see("[data-of=windward]")
	q.open("/b/tansyloft/dispatches")
	q.see("[data-page=dispatches]")
	status, text := p.dav(steward, password, "PUT", "/Library/from%20the%20laptop.jpg", mediatest.JPEG(t, 640, 480, 7))
	require.Equal(t, 201, status, text)
	require.Eventually(t, func() bool { return p.number(`select count(*) from asset where source = 'drive'`) == 1 }, patience,
		100*time.Millisecond)
	page := p.text(`select name from page where remote_id = 'windward'`)
	outlet := p.text(`select o.name from outlet o join page g on g.outlet_id = o.id where g.remote_id = 'windward'`)
	at := "/Outlets/" + url.PathEscape(outlet) + "/" + url.PathEscape(page) + "/"
	status, text = p.dav(steward, password, "PUT", at+"for%20the%20page.jpg", mediatest.JPEG(t, 800, 800, 9))
	require.Equal(t, 201, status, text)
	q.see("[data-draft]") // without asking again
	q.accessible("drafts")
	q.click("Go on with it…")
	q.see(`[data-dispatch] [data-page-choice=windward]`)
	words := fmt.Sprint("Straight from the laptop ", time.Now().UnixNano())
	q.fill(`[data-dispatch] textarea`, words)
	q.click("Keep as a draft")
	q.gone("[data-dispatch] [data-page-choice]")
	assert.Equal(t, 0, posted(words), "nothing leaves")
	q.click("Go on with it…")
	q.until(`document.querySelector("[data-dispatch] textarea")?.value === ` + quote(words))
	q.click("Send 1 to 1 page")
	q.gone("[data-draft]")
	q.see(`[data-dispatch]:first-of-type [data-post=out]`)
	assert.Equal(t, 1, posted(words))

	p.open("/b/tansyloft/account")
	p.click("Take it back")
	p.seeText("No device opens the drive yet.")
	status, _ = p.dav(steward, password, "PROPFIND", "/Library/", nil)
	assert.Equal(t, 401, status)
}
