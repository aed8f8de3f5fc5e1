package hosting_test

import (
	"database/sql"
	"fmt"
	"net"
	"strings"
	"sync"
	"testing"
	"time"

	"brightsatchel/internal/house/sendouttest"
	"brightsatchel/internal/sendout/hosting"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
	"brightsatchel/standins/postbox"
)

// hosted is a house with an open gallery of all its items, and a mail server.
func hosted(t *testing.T, name string) (h *house.House, v *access.Viewer, ids []int64, gallery int64, box *postbox.Box) {
	t.Helper()
	h, people, ids, _ := sendouttest.Stocked(t, name)
	v = people[access.Coordinator]
	box = postbox.New()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	server := box.Server("")
	go func() { _ = server.Serve(listener) }()
	t.Cleanup(func() { _ = server.Close() })
	h.Mail.Config.Server, h.Mail.From, h.Hosting.Origin = listener.Addr().String(), "satchel@house.example", "https://satchel.example"
	album, err := h.Gathering.Create(ctx, v, 0, "For the client", &query.Selection{IDs: ids}, nil)
	require.NoError(t, err)
	made, err := h.Hosting.CreateGallery(ctx, v, galleries.Client, hosting.GalleryChange{Chapters: of(album.ID)})
	require.NoError(t, err)
	yes := true
	_, err = h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Open: &yes})
	require.NoError(t, err)
	return h, v, ids, made.ID, box
}

func viewed(t *testing.T, h *house.House, v *access.Viewer, gallery int64) *hosting.GuestView {
	t.Helper()
	g, err := gallerystore.GalleryByID(ctx, h.DB, v, gallery)
	require.NoError(t, err)
	view, err := h.Hosting.Visit(ctx, g.Code, func(gallerystore.Gallery) galleries.Caller { return galleries.Caller{} })
	require.NoError(t, err)
	return &view
}

// TestFiveHundredAreInvitedOnce by somebody who presses 16 times, with wrong addresses among them.
func TestFiveHundredAreInvitedOnce(t *testing.T) {
	h, v, _, gallery, box := hosted(t, "invited")
	var typed strings.Builder
	for n := range 500 {
		fmt.Fprintf(&typed, "Guest %d\t<guest%d@example.org>\r\n", n, n)
	}
	typed.WriteString("wrong one\n\"A\nB\" <c@example.org>\nGUEST7@example.org")
	mailing := hosting.Mailing{Kind: letters.Invitation, To: typed.String(), Words: "Look at <b>page 3</b>"}
	p, err := h.Hosting.PlanMailing(ctx, v, gallery, mailing)
	require.NoError(t, err)
	assert.Len(t, p.To, 501)
	assert.Equal(t, []string{"wrong one", `"A`}, p.Wrong)
	assert.Contains(t, p.Letter.Text, "Look at <b>page 3</b>")
	_, err = h.Hosting.Mail(ctx, v, gallery, mailing)
	require.ErrorContains(t, err, "2 parts are no e-mail address")
	mailing.LeaveOut = true
	var group sync.WaitGroup
	sent := make(chan int, 16)
	for range 16 {
		group.Go(func() {
			n, err := h.Hosting.Mail(ctx, v, gallery, mailing)
			assert.NoError(t, err)
			sent <- n
		})
	}
	group.Wait()
	close(sent)
	total := 0
	for n := range sent {
		total += n
	}
	assert.Equal(t, 501, total)
	require.Eventually(t, func() bool { return len(box.Letters()) == 501 }, time.Minute, 50*time.Millisecond)
	there, own := map[string]bool{}, map[string]bool{}
	for _, l := range box.Letters() {
		there[l.To] = true
		at := strings.Index(l.Text, "?as=")
		own[l.Text[at:at+20]] = true
	}
	assert.Len(t, there, 501, "each one letter")
	assert.Len(t, own, 501, "each with a link of their own")

	in, err := h.Hosting.LookInside(ctx, v, gallery)
	require.NoError(t, err)
	require.Len(t, in.Guests, 501)
	first := in.Guests[0]
	assert.True(t, own["?as="+first.Own[:16]], "the team sees the link that is in the letter")
	var kept int
	require.NoError(t, storetest.SQL(h.DB).Get(&kept, `select count(*) from guest u where
		strpos(to_jsonb(u)::text, $1) > 0 or strpos(encode(u.link_sealed, 'escape'), $1) > 0`, first.Own))
	assert.Zero(t, kept, "and nobody sees it who reads the database")
	_, err = h.Hosting.Withdraw(ctx, v, gallery, first.ID)
	require.NoError(t, err)
	_, err = gallerystore.GuestByLink(ctx, h.DB, gallery, hosting.LinkSum(first.Own))
	require.Error(t, err, "a link that was taken back")
	stopped, err := gallerystore.StopLetters(ctx, h.DB, hosting.LinkSum(in.Guests[1].Own))
	require.NoError(t, err)
	assert.True(t, stopped.Silent)
	p, err = h.Hosting.PlanMailing(ctx, v, gallery, hosting.Mailing{Kind: letters.NewPictures})
	require.NoError(t, err)
	assert.Len(t, p.To, 499)
	assert.Len(t, p.Silent, 1)
	n, err := h.Hosting.Mail(ctx, v, gallery, hosting.Mailing{Kind: letters.Invitation, To: first.Email})
	require.NoError(t, err)
	assert.Equal(t, 1, n, "whoever is invited again after that")
	_, err = gallerystore.GuestByLink(ctx, h.DB, gallery, hosting.LinkSum(first.Own))
	require.Error(t, err, "gets another link")

	no := false
	_, err = h.Hosting.ChangeGallery(ctx, v, gallery, hosting.GalleryChange{Open: &no})
	require.NoError(t, err)
	_, err = h.Hosting.Mail(ctx, v, gallery, hosting.Mailing{Kind: letters.Reminder})
	require.ErrorContains(t, err, "is closed")
	_, err = h.Hosting.Mail(ctx, v, gallery, hosting.Mailing{Kind: "gossip"})
	require.Error(t, err)
}

func TestCoordinatorsAreRemindedOnce(t *testing.T) {
	h, v, _, gallery, box := hosted(t, "reminded")
	for _, days := range []int{3, 30, 3} { // thought better of it twice
		day := time.Now().AddDate(0, 0, days).Format(time.DateOnly)
		_, err := h.Hosting.ChangeGallery(ctx, v, gallery, hosting.GalleryChange{Ends: &day})
		require.NoError(t, err)
		require.NoError(t, h.Hosting.RemindEndings(ctx))
		require.NoError(t, h.Hosting.RemindEndings(ctx))
	}
	require.Eventually(t, func() bool { return len(box.Letters()) > 0 }, time.Minute, 20*time.Millisecond)
	var n int
	require.NoError(t, storetest.SQL(h.DB).Get(&n, `select count(*) from letter where kind = 'ends_soon'`))
	assert.Equal(t, 1, n)
	assert.Equal(t, "coordinator@reminded.example", box.Letters()[0].To)
}

func TestWhatGuestsSeeOfEachOther(t *testing.T) {
	h, v, ids, gallery, _ := hosted(t, "talk")
	view := viewed(t, h, v, gallery)
	maren, err := h.Hosting.Introduce(ctx, view, " Maren\nHolt ")
	require.NoError(t, err)
	assert.Equal(t, "Maren Holt", maren.Name)
	tove, err := h.Hosting.Introduce(ctx, view, "Tove")
	require.NoError(t, err)
	in, err := h.Hosting.LookInside(ctx, v, gallery)
	require.NoError(t, err)
	list := in.Lists[0].ID
	require.NoError(t, h.Hosting.Mark(ctx, view, maren.ID, list, ids[0], true))
	require.NoError(t, h.Hosting.Mark(ctx, view, maren.ID, list, ids[0], true))
	of := func(g gallerystore.Guest) sql.NullInt64 { return sql.NullInt64{Int64: g.ID, Valid: true} }
	asked, err := h.Hosting.Say(ctx, view, gallerystore.Remark{Asset: ids[0], Guest: of(maren), Words: "Warmer?"})
	require.NoError(t, err)
	_, err = h.Hosting.Say(ctx, view, gallerystore.Remark{Asset: ids[1], Guest: of(tove), Words: "Colder?"})
	require.NoError(t, err)
	_, err = h.Hosting.Answer(ctx, v, gallery, gallerystore.Remark{Answers: sql.NullInt64{Int64: asked, Valid: true}, Words: "Done"})
	require.NoError(t, err)
	said := func(g int64) (out []string) {
		t.Helper()
		talk, err := h.Hosting.TalkFor(ctx, viewed(t, h, v, gallery), g)
		require.NoError(t, err)
		for _, r := range talk.Remarks {
			out = append(out, r.Words)
		}
		return append(out, fmt.Sprint(len(talk.Marks), " marked"))
	}
	assert.Equal(t, []string{"Warmer?", "Done", "1 marked"}, said(maren.ID))
	assert.Equal(t, []string{"Colder?", "0 marked"}, said(tove.ID), "not what the team answers others")
	assert.Equal(t, []string{"0 marked"}, said(0))
	settings := view.Settings.Settings
	settings.SeeEachOther = true
	_, err = h.Hosting.ChangeGallery(ctx, v, gallery, hosting.GalleryChange{Settings: &settings})
	require.NoError(t, err)
	assert.Equal(t, []string{"Warmer?", "Colder?", "Done", "1 marked"}, said(tove.ID))

	require.Error(t, h.Hosting.Unsay(ctx, view, tove.ID, asked), "what is not theirs")
	require.NoError(t, h.Hosting.Unsay(ctx, view, maren.ID, asked))
	assert.Equal(t, []string{"Colder?", "1 marked"}, said(tove.ID), "with its answers")
	for _, wrong := range []gallerystore.Remark{{Words: " \n"}, {Words: strings.Repeat("x", 2001)},
		{Words: "x", X: sql.NullFloat64{Float64: 1.5, Valid: true}, Y: sql.NullFloat64{Float64: 0, Valid: true}},
		{Words: "x", X: sql.NullFloat64{Float64: 0.5, Valid: true}},
		{Words: "x", Answers: sql.NullInt64{Int64: 4711, Valid: true}}} {
		wrong.Asset, wrong.Guest = ids[0], of(tove)
		_, err := h.Hosting.Say(ctx, view, wrong)
		require.Error(t, err, wrong.Words)
	}
	settings.Remarks = false
	_, err = h.Hosting.ChangeGallery(ctx, v, gallery, hosting.GalleryChange{Settings: &settings})
	require.NoError(t, err)
	_, err = h.Hosting.Say(ctx, viewed(t, h, v, gallery), gallerystore.Remark{Asset: ids[0], Guest: of(tove), Words: "Still?"})
	require.ErrorContains(t, err, "takes no remarks")
}

// TestListsHoldNoMoreThanTheyTake, also when everything is pressed at once, and a flood of remarks ends.
func TestListsHoldNoMoreThanTheyTake(t *testing.T) {
	h, v, ids, gallery, _ := hosted(t, "limits")
	view := viewed(t, h, v, gallery)
	guest, err := h.Hosting.Introduce(ctx, view, "Maren")
	require.NoError(t, err)
	in, err := h.Hosting.LookInside(ctx, v, gallery)
	require.NoError(t, err)
	done, err := h.Hosting.SetLists(ctx, v, gallery, []gallerystore.GuestList{{ID: in.Lists[0].ID, Name: "For the cover", Most: 2},
		{Name: "Print"}})
	require.NoError(t, err)
	var group sync.WaitGroup
	for _, id := range ids {
		group.Go(func() { _ = h.Hosting.Mark(ctx, view, guest.ID, in.Lists[0].ID, id, true) })
	}
	group.Wait()
	in, err = h.Hosting.LookInside(ctx, v, gallery)
	require.NoError(t, err)
	assert.Len(t, in.Chosen, 2)
	other, err := h.Hosting.Introduce(ctx, view, "Tove")
	require.NoError(t, err)
	twice := in.Chosen[1].Asset
	require.NoError(t, h.Hosting.Mark(ctx, view, other.ID, in.Lists[0].ID, twice, true))
	in, err = h.Hosting.LookInside(ctx, v, gallery)
	require.NoError(t, err)
	require.Len(t, in.Chosen, 2, "each picture of a list once")
	assert.Equal(t, twice, in.Chosen[1].Asset)
	assert.Equal(t, []int64{guest.ID, other.ID}, []int64(in.Chosen[1].Guests))
	assert.Equal(t, []string{"For the cover", "Print"}, []string{in.Lists[0].Name, in.Lists[1].Name})
	_, err = h.Hosting.SetLists(ctx, v, gallery, nil)
	require.NoError(t, err)
	_, err = undostore.Undo(ctx, h.DB, v, done.Trail)
	require.Error(t, err, "the lists are gone since")

	var tooMany *fault.TooMany
	refused := 0
	for n := range 60 {
		_, err := h.Hosting.Say(ctx, view, gallerystore.Remark{Asset: ids[0], Guest: sql.NullInt64{Int64: guest.ID, Valid: true},
			Words: fmt.Sprint("Remark ", n)})
		if err != nil {
			require.ErrorAs(t, err, &tooMany)
			refused++
		}
	}
	assert.Equal(t, 40, refused, "20 in a minute")
	_, err = storetest.SQL(h.DB).Exec(`insert into remark (brand_id, gallery_id, asset_id, guest_id, words, at) select $1, $2, $3, $4, 'x',
		now() - interval '1 hour' from generate_series(1, 500)`, v.Brand, gallery, ids[0], guest.ID)
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).Exec(`update remark set at = now() - interval '1 hour'`)
	require.NoError(t, err)
	_, err = h.Hosting.Say(ctx, view, gallerystore.Remark{Asset: ids[0], Guest: sql.NullInt64{Int64: guest.ID, Valid: true},
		Words: "One more"})
	require.ErrorContains(t, err, "takes no more remarks")
	for _, lists := range [][]gallerystore.GuestList{make([]gallerystore.GuestList, 21), {{Name: " "}}, {{Name: "x", Most: -1}},
		{{Name: "x", Most: 10_001}}} {
		_, err := h.Hosting.SetLists(ctx, v, gallery, lists)
		require.Error(t, err)
	}
}
