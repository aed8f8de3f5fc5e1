package drive_test

import (
	"bytes"
	"context"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
	"brightsatchel/internal/web/drive"
)

var ctx = context.Background()

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(m.Run())
}

// disk is the drive of a brand as one person has it.
type disk struct {
	t               *testing.T
	h               *house.House
	v               *access.Viewer
	site            string
	email, password string
}

// drives serves a house with people, and gives what each role opens it with.
func drives(t *testing.T, name string) (*house.House, map[access.Role]*access.Viewer, func(access.Role) *disk) {
	t.Helper()
	h := housetest.New(t, name)
	require.NoError(t, h.Work(ctx))
	people := storetest.Brand(t, h.DB, name)
	site := httptest.NewServer(&drive.Handler{House: h})
	t.Cleanup(site.Close)
	return h, people, func(role access.Role) *disk {
		v, err := h.People.Viewer(ctx, people[role].Person, people[role].BrandCode)
		require.NoError(t, err)
		password, err := h.People.MakeDrivePassword(ctx, v, "a test", 0)
		require.NoError(t, err)
		return &disk{t, h, v, site.URL, v.Email, password}
	}
}

// ask makes a request; headers are names and values in turn.
func (d *disk) ask(method, path string, body []byte, headers ...string) (int, string, http.Header) {
	d.t.Helper()
	request, err := http.NewRequest(method, d.site+"/dav"+path, bytes.NewReader(body))
	require.NoError(d.t, err)
	request.SetBasicAuth(d.email, d.password)
	for i := 0; i+1 < len(headers); i += 2 {
		request.Header.Set(headers[i], headers[i+1])
	}
	answer, err := http.DefaultClient.Do(request)
	require.NoError(d.t, err)
	defer func() { _ = answer.Body.Close() }()
	text, err := io.ReadAll(answer.Body)
	require.NoError(d.t, err)
	return answer.StatusCode, string(text), answer.Header
}

// put copies a file onto the drive.
func (d *disk) put(path string, data []byte, headers ...string) int {
	d.t.Helper()
	status, _, _ := d.ask("PUT", path, data, headers...)
	return status
}

// does asks and expects a status and, where given, words.
func (d *disk) does(want int, words, method, path string, headers ...string) {
	d.t.Helper()
	status, text, _ := d.ask(method, path, nil, headers...)
	assert.Equal(d.t, want, status, "%s %s: %s", method, path, text)
	assert.Contains(d.t, text, words)
}

// names lists what is in a folder.
func (d *disk) names(path string) (out []string) {
	d.t.Helper()
	status, text, _ := d.ask("PROPFIND", path, nil, "Depth", "1")
	require.Equal(d.t, 207, status, text)
	for _, part := range strings.Split(text, "<D:displayname>")[1:] {
		name, _, _ := strings.Cut(part, "<")
		out = append(out, name)
	}
	return out[1:]
}

// taken waits until all that was copied is brought in, and returns the last intake.
func (d *disk) taken() intakestore.Intake {
	d.t.Helper()
	require.NoError(d.t, d.h.BringIn.TakeFromDrive(ctx, 0))
	var last intakestore.Intake
	require.Eventually(d.t, func() bool {
		all, err := d.h.BringIn.List(ctx, d.v)
		require.NoError(d.t, err)
		for _, one := range all {
			if !one.Finished.Valid {
				return false
			}
		}
		if len(all) > 0 {
			last = all[0].Intake
		}
		return true
	}, 60*time.Second, 20*time.Millisecond)
	return last
}

func (d *disk) count(sql string, args ...any) (n int) {
	d.t.Helper()
	require.NoError(d.t, d.h.DB.GetContext(ctx, &n, sql, args...))
	return n
}

func jpeg(t *testing.T, n int) []byte { return mediatest.JPEG(t, 300+n, 200, uint8(n)) }

// TestAFileIsCopiedOntoTheDrive is an intake, and the file is there all the time, unchanged.
func TestAFileIsCopiedOntoTheDrive(t *testing.T) {
	_, _, of := drives(t, "drive_copy")
	d := of(access.Coordinator)
	data := jpeg(t, 1)
	d.does(201, "", "MKCOL", "/Library/Spring")
	require.Equal(t, 201, d.put("/Library/Spring/one.jpg", data))
	same := func() {
		status, text, headers := d.ask("GET", "/Library/Spring/one.jpg", nil)
		assert.Equal(t, 200, status)
		assert.Equal(t, string(data), text)
		assert.Equal(t, "attachment", headers.Get("Content-Disposition"))
		assert.Equal(t, []string{"one.jpg"}, d.names("/Library/Spring"))
	}
	same()
	_, _, early := d.ask("HEAD", "/Library/Spring/one.jpg", nil)
	in := d.taken()
	assert.Equal(t, "drive", in.Source)
	assert.Equal(t, "the drive", in.SourceName)
	same()
	_, _, before := d.ask("HEAD", "/Library/Spring/one.jpg", nil)
	assert.NotEmpty(t, early.Get("ETag"))
	assert.Equal(t, early.Get("ETag"), before.Get("ETag"), "what a program has opened does not change under it")
	assert.Equal(t, 1, d.count(`select count(*) from asset where source = 'drive' and file_name = 'one.jpg'`))
	assert.Zero(t, d.count(`select count(*) from drive_file`))

	// The same bytes at another path are a second item on them, and stay there.
	require.Equal(t, 201, d.put("/Library/again.jpg", data))
	d.taken()
	assert.Equal(t, 2, d.count(`select count(*) from asset`))
	assert.Contains(t, d.names("/Library"), "again.jpg")

	// Saved over, it is a version; whoever had opened it before is not written over.
	require.Equal(t, 204, d.put("/Library/Spring/one.jpg", jpeg(t, 2), "If-Match", before.Get("ETag")))
	require.Equal(t, 412, d.put("/Library/Spring/one.jpg", jpeg(t, 3), "If-Match", before.Get("ETag")))
	d.taken()
	assert.Equal(t, 3, d.count(`select count(*) from version`))
	assert.Equal(t, 2, d.count(`select count(*) from asset`))
	assert.Equal(t, []string{"one.jpg"}, d.names("/Library/Spring"))
	done, err := undostore.Undo(ctx, d.h.DB, d.v, latest(d))
	require.NoError(t, err, done.Said)
}

func latest(d *disk) int64 {
	d.t.Helper()
	var id int64
	require.NoError(d.t, d.h.DB.GetContext(ctx, &id, `select max(id) from trail where undone_by is null`))
	return id
}

// TestActsOnTheDrive are those of the browser: moving, renaming, the bin, albums.
func TestActsOnTheDrive(t *testing.T) {
	h, _, of := drives(t, "drive_acts")
	d := of(access.Coordinator)
	for i, name := range []string{"a.jpg", "b.jpg"} {
		require.Equal(t, 201, d.put("/Library/"+name, jpeg(t, i)))
	}
	d.taken()
	d.does(201, "", "MKCOL", "/Library/Far")
	d.does(409, "", "MKCOL", "/Library/Missing/Far")
	d.does(201, "", "MOVE", "/Library/a.jpg", "Destination", "http://elsewhere.example/dav/Library/Far/c.jpg") // a proxy changed the host
	assert.Equal(t, []string{"c.jpg"}, d.names("/Library/Far"))
	assert.Equal(t, 1, d.count(`select count(*) from version where file_name = 'a.jpg'`), "what came stays known")
	d.does(201, "", "COPY", "/Library/Far/c.jpg", "Destination", d.site+"/dav/Library/Far/d.jpg")
	assert.Equal(t, []string{"c.jpg", "d.jpg"}, d.names("/Library/Far"))
	assert.Equal(t, 2, d.count(`select count(distinct sha256) from version`), "no second file is stored")
	d.does(201, "", "COPY", "/Library/Far", "Destination", "/dav/Library/Near")
	assert.Equal(t, []string{"c.jpg", "d.jpg"}, d.names("/Library/Near"))
	d.does(412, "", "COPY", "/Library/Far", "Destination", "/dav/Library/Near", "Overwrite", "F")

	d.does(201, "", "MKCOL", "/Albums/Best of")
	d.does(201, "", "COPY", "/Library/b.jpg", "Destination", "/dav/Albums/Best%20of/b.jpg")
	require.Equal(t, 201, d.put("/Albums/Best%20of/new.jpg", jpeg(t, 9)))
	d.taken()
	assert.ElementsMatch(t, []string{"b.jpg", "new.jpg"}, d.names("/Albums/Best%20of"))
	d.does(403, "stays in its folder", "MOVE", "/Library/b.jpg", "Destination", "/dav/Albums/Best%20of/other.jpg")
	d.does(204, "", "DELETE", "/Albums/Best%20of/b.jpg")
	assert.Zero(t, d.count(`select count(*) from asset where binned_at is not null`), "taken out, and in no bin")
	d.does(204, "", "DELETE", "/Library/b.jpg")
	assert.Equal(t, 1, d.count(`select count(*) from asset where binned_at is not null`))
	d.does(204, "", "DELETE", "/Library/Near")
	assert.Equal(t, 3, d.count(`select count(*) from asset where binned_at is not null`))
	_, err := undostore.Undo(ctx, h.DB, d.v, latest(d))
	require.NoError(t, err)
	assert.Equal(t, []string{"c.jpg", "d.jpg"}, d.names("/Library/Near"))
	for _, part := range []string{"/Library", "/Albums", "/"} {
		d.does(403, "stays", "DELETE", part)
	}
	assert.Equal(t, []string{"Library", "Albums", "Outlets"}, d.names("/"))
}

// TestWhoMayDoWhatOnTheDrive is as everywhere, now.
func TestWhoMayDoWhatOnTheDrive(t *testing.T) {
	h, people, of := drives(t, "drive_rights")
	owner := of(access.Coordinator)
	owner.does(201, "", "MKCOL", "/Library/Granted")
	owner.does(201, "", "MKCOL", "/Library/Granted/Deep")
	owner.does(201, "", "MKCOL", "/Library/Other")
	for i, path := range []string{"/Library/Granted/Deep/in.jpg", "/Library/Other/out.jpg", "/Library/top.jpg"} {
		require.Equal(t, 201, owner.put(path, jpeg(t, i)))
	}
	owner.taken()
	folders, err := folderstore.Folders(ctx, h.DB, owner.v.Brand)
	require.NoError(t, err)
	for _, f := range folders {
		if f.Name == "Deep" {
			require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error {
				_, err := tx.ExecContext(ctx, `insert into access_grant (brand_id, person_id, folder_id, level) values ($1, $2, $3, 'look')`,
					owner.v.Brand,
					people[access.Associate].Person,
					f.ID,
				)
				return err
			}))
		}
	}
	guest := of(access.Associate)
	assert.Equal(t, []string{"Library"}, guest.names("/"))
	assert.Equal(t, []string{"Granted"}, guest.names("/Library"))
	assert.Equal(t, []string{"Deep"}, guest.names("/Library/Granted"))
	guest.does(403, "You may look at “in.jpg” in the browser, and not have its file.", "GET", "/Library/Granted/Deep/in.jpg")
	guest.does(403, "", "HEAD", "/Library/Granted/Deep/in.jpg")
	guest.does(404, "", "GET", "/Library/Other/out.jpg")
	guest.does(404, "", "GET", "/Library/top.jpg")
	of(access.Reviewer).does(403, "", "GET", "/Library/top.jpg")
	status, text, _ := guest.ask("PUT", "/Library/Granted/Deep/new.jpg", jpeg(t, 7))
	assert.Equal(t, 403, status)
	assert.Contains(t, text, "You may not bring anything into “Deep”.")
	for _, act := range [][]string{{"DELETE", "/Library/Granted/Deep/in.jpg"}, {"MKCOL", "/Library/Granted/Deep/More"},
		{"MOVE", "/Library/Granted/Deep/in.jpg", "Destination", "/dav/Library/Granted/Deep/x.jpg"},
		{"COPY", "/Library/Granted/Deep/in.jpg", "Destination", "/dav/Library/Granted/Deep/x.jpg"},
		{"LOCK", "/Library/Granted/Deep/in.jpg"}} {
		var body []byte
		if act[0] == "LOCK" {
			body = []byte(lockBody)
		}
		status, text, _ := guest.ask(act[0], act[1], body, act[2:]...)
		assert.GreaterOrEqual(t, status, 400, "%v: %s", act, text)
	}
	assert.Equal(t, 3, owner.count(`select count(*) from asset where binned_at is null`))

	// A password that is taken back ends in the middle; so does a membership.
	all, err := h.People.DrivePasswords(ctx, guest.v)
	require.NoError(t, err)
	_, err = h.People.EndDrivePassword(ctx, owner.v, all[0].ID)
	require.Error(t, err, "somebody else's")
	_, err = h.People.EndDrivePassword(ctx, guest.v, all[0].ID)
	require.NoError(t, err)
	status, _, headers := guest.ask("PROPFIND", "/", nil, "Depth", "0")
	assert.Equal(t, 401, status)
	assert.Contains(t, headers.Get("WWW-Authenticate"), "Basic")
	guest.password = "windy-day-2026"
	for range 19 {
		guest.does(401, "", "GET", "/")
	}
	guest.does(429, "Too many wrong passwords", "GET", "/")
	owner.does(207, "", "PROPFIND", "/", "Depth", "0") // the right one is asked nothing
}

const lockBody = `<?xml version="1.0"?><D:lockinfo
	xmlns:D="DAV:"><D:lockscope><D:exclusive/></D:lockscope><D:locktype><D:write/></D:locktype>
	<D:owner>somebody</D:owner></D:lockinfo>`

// TestTwoPeopleSaveOneFile at once, and forty at once: one after the other, or not at all while it is locked; nothing is half.
func TestTwoPeopleSaveOneFile(t *testing.T) {
	_, _, of := drives(t, "drive_two")
	one, two := of(access.Coordinator), of(access.Steward)
	status, _, headers := one.ask("LOCK", "/Library/shared.jpg", []byte(lockBody), "Timeout", "Infinite")
	require.Equal(t, 201, status)
	token := headers.Get("Lock-Token")
	assert.Equal(t, 423, two.put("/Library/shared.jpg", jpeg(t, 1)))
	two.does(423, "It is open in another program", "DELETE", "/Library/shared.jpg")
	require.Equal(t, 204, one.put("/Library/shared.jpg", jpeg(t, 2), "If", "("+token+")"))
	one.taken()
	assert.Equal(t, 0, one.count(`select count(*) from asset`), "what is locked is not taken yet")
	one.does(204, "", "UNLOCK", "/Library/shared.jpg", "Lock-Token", token)
	one.taken()
	assert.Equal(t, 1, one.count(`select count(*) from asset`))

	var all sync.WaitGroup
	for i := range 40 {
		who := one
		if i%2 == 1 {
			who = two
		}
		all.Go(func() { who.put("/Library/shared.jpg", jpeg(t, 10+i)) })
	}
	for range 15 { // and they are taken all the while
		require.NoError(t, one.h.BringIn.TakeFromDrive(ctx, 0))
	}
	all.Wait()
	one.taken()
	one.taken()
	assert.Equal(t, 1, one.count(`select count(*) from asset`))
	assert.Zero(t, one.count(`select count(*) from drive_file`))
	_, text, _ := one.ask("GET", "/Library/shared.jpg", nil)
	found := false
	for i := range 40 {
		found = found || text == string(jpeg(t, 10+i))
	}
	assert.True(t, found, "it is one of those that were saved, and whole")
}

// TestWhatIsBroken is told, and nothing of it is kept: half a file, one that is too large, names that not every system takes.
func TestWhatIsBroken(t *testing.T) {
	h, _, of := drives(t, "drive_broken")
	d := of(access.Coordinator)
	data := jpeg(t, 1)
	request, err := http.NewRequest("PUT", d.site+"/dav/Library/half.jpg", io.MultiReader(bytes.NewReader(data[:200]), broken{}))
	require.NoError(t, err)
	request.SetBasicAuth(d.email, d.password)
	request.ContentLength = int64(len(data))
	_, err = http.DefaultClient.Do(request)
	require.Error(t, err)
	status, text, _ := d.ask("PUT", "/Library/half.jpg", data[:100], "X-Expected-Entity-Length", "5000", "Transfer-Encoding", "chunked")
	assert.Contains(t, []int{201, 400}, status, text) // Go's client says how long it is after all
	d.does(204, "", "DELETE", "/Library/half.jpg")
	for path, words := range map[string]string{"/Library/con.jpg": "_con.jpg", "/Library/a%3Fb.jpg": "a-b.jpg",
		"/Library/a%5Cb.jpg":                            "a-b.jpg",
		"/Library/" + strings.Repeat("x", 300) + ".jpg": "", "/x.jpg": "Files go into a folder", "/Outlets/x.jpg": "", "/Library/no/x.jpg": ""} {
		status, text, _ := d.ask("PUT", path, data)
		assert.GreaterOrEqual(t, status, 400, path)
		assert.Contains(t, text, words, path)
	}
	limits, err := h.BringIn.Limits(ctx, of(access.Steward).v)
	require.NoError(t, err)
	limits.LargestFile = 500
	_, err = h.BringIn.SetLimits(ctx, of(access.Steward).v, limits)
	require.NoError(t, err)
	status, text, _ = d.ask("PUT", "/Library/large.jpg", data)
	assert.Equal(t, 413, status)
	assert.Contains(t, text, "up to 500 bytes are taken")
	d.does(403, "One folder is listed at a time", "PROPFIND", "/Library", "Depth", "infinity")
	status, _, _ = d.ask("PROPFIND", "/Library", bytes.Repeat([]byte(" "), 1<<20), "Depth", "0")
	assert.GreaterOrEqual(t, status, 400)
	d.does(404, "", "GET", "/Library/../../etc/passwd")
	assert.Empty(t, d.names("/Library"))
	entries, err := os.ReadDir(h.BringIn.Uploads)
	require.NoError(t, err)
	assert.Empty(t, entries)

	// A name that is taken apart (NFD) is the same as the composed one.
	limits.LargestFile = 1 << 20
	_, err = h.BringIn.SetLimits(ctx, of(access.Steward).v, limits)
	require.NoError(t, err)
	require.Equal(t, 201, d.put("/Library/Zoe%CC%88.jpg", data))
	assert.Equal(t, 200, func() int { s, _, _ := d.ask("GET", "/Library/Zo%C3%AB.jpg", nil); return s }())
}

type broken struct{}

func (broken) Read([]byte) (int, error) { return 0, io.ErrClosedPipe }

// TestWhatSystemsLeaveBehind is taken without a word, and neither brought in nor kept.
func TestWhatSystemsLeaveBehind(t *testing.T) {
	h, _, of := drives(t, "drive_strays")
	d := of(access.Coordinator)
	for _, name := range []string{"._a.jpg", ".DS_Store", "Thumbs.db", "desktop.ini", "~$letter.docx", "save.tmp"} {
		assert.Equal(t, 201, d.put("/Library/"+name, []byte("left behind")), name)
		assert.True(t, arrival.LeftBySystem(name), name)
	}
	assert.Equal(t, 201, d.put("/Library/empty.jpg", nil)) // some make it empty first
	d.taken()
	assert.Zero(t, d.count(`select count(*) from intake`))
	require.Equal(t, 204, d.put("/Library/empty.jpg", jpeg(t, 1)))
	// A program saves beside and moves over: a version.
	d.taken()
	require.Equal(t, 201, d.put("/Library/empty.jpg.tmp", jpeg(t, 2)))
	d.does(204, "", "MOVE", "/Library/empty.jpg.tmp", "Destination", "/dav/Library/empty.jpg")
	d.taken()
	assert.Equal(t, 1, d.count(`select count(*) from asset where binned_at is null`))
	assert.Equal(t, 2, d.count(`select count(*) from version`))
	_, err := storetest.SQL(h.DB).Exec(`update drive_file set written_at = now() - interval '2 days'`)
	require.NoError(t, err)
	require.NoError(t, h.BringIn.TakeFromDrive(ctx, 0))
	assert.Zero(t, d.count(`select count(*) from drive_file`))
	entries, err := os.ReadDir(h.BringIn.Uploads)
	require.NoError(t, err)
	assert.Empty(t, entries)
}

// TestManyOfOneName are told apart by their codes, also in albums.
func TestManyOfOneName(t *testing.T) {
	h, _, of := drives(t, "drive_names")
	d := of(access.Coordinator)
	require.Equal(t, 201, d.put("/Library/same.jpg", jpeg(t, 0)))
	d.taken()
	_, err := h.Filing.Copy(ctx, d.v, query.Selection{IDs: []int64{int64(d.count(`select id from asset`))}}, 0)
	require.NoError(t, err)
	names := d.names("/Library")
	require.Len(t, names, 2)
	assert.Equal(t, "same.jpg", names[0])
	assert.Regexp(t, `^same \([A-Za-z0-9]+\)\.jpg$`, names[1])
	d.does(204, "", "DELETE", "/Library/"+strings.ReplaceAll(names[1], " ", "%20"))
	assert.Equal(t, []string{"same.jpg"}, d.names("/Library"))
	assert.Equal(t, 1, d.count(`select count(*) from asset where binned_at is null and id = (select min(id) from asset)`))
}
