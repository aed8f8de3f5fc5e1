package mail_test

import (
	"context"
	"io"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/postbox"
)

var ctx = context.Background()

// post is a mail service with a made-up mail server.
type post struct {
	*mail.Service
	t     *testing.T
	box   *postbox.Box
	brand int64
}

func opened(t *testing.T) post {
	t.Helper()
	db := storetest.New(t)
	v := storetest.Brand(t, db, "letters")[access.Coordinator]
	box := postbox.New()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	server := box.Server("")
	go func() { _ = server.Serve(listener) }()
	t.Cleanup(func() { _ = server.Close() })
	jobs, err := queue.New(db)
	require.NoError(t, err)
	blobs, err := blob.Open(t.TempDir())
	require.NoError(t, err)
	s := &mail.Service{Config: mail.Config{Server: listener.Addr().String(), From: "Satchel <satchel@house.example>"}, DB: db, Blobs: blobs,
		Queue: jobs}
	s.AddJobs()
	return post{s, t, box, v.Brand}
}

// to keeps a letter to somebody, and returns its id. Nothing sends it yet.
func (p post) to(email string, change ...func(*peoplestore.Letter)) (id int64) {
	p.t.Helper()
	l := peoplestore.Letter{
		Brand:   p.brand,
		Kind:    "invitation",
		Name:    "Maren",
		Email:   email,
		Subject: "Grüße",
		Text:    "Hello\n",
		HTML:    "<p>Hello</p>",
	}
	for _, c := range change {
		c(&l)
	}
	require.NoError(p.t, p.DB.InTx(ctx, func(tx *store.Tx) error {
		var err error
		id, err = peoplestore.AddLetter(ctx, tx, l)
		return err
	}))
	return id
}

func (p post) state(id int64) (state, why string) {
	p.t.Helper()
	l, err := peoplestore.LetterByID(ctx, p.DB, p.brand, id)
	require.NoError(p.t, err)
	return l.State, l.Why
}

func TestWhatComesOfALetter(t *testing.T) {
	p := opened(t)
	for _, c := range []struct {
		to, state, why string
		again          bool // the job fails, so that it is tried again
	}{
		{"maren@example.org", "sent", "", false},
		{"nobody@example.org", "refused", "the mail server says 550 5.1.1 Nobody of that name lives here", false},
		{"full@example.org", "waiting", "the mail server says 452 4.2.2 The letter box is full", true},
		{"gone@example.org", "unsure", "took it and did not say", false},
	} {
		id := p.to(c.to)
		err := p.Send(ctx, id)
		assert.Equal(t, c.again, err != nil, "%s: %v", c.to, err)
		state, why := p.state(id)
		assert.Equal(t, c.state, state, c.to)
		assert.Contains(t, why, c.why, c.to)
	}
	p.box.SetAway(true)
	id := p.to("late@example.org")
	require.Error(t, p.Send(ctx, id))
	state, _ := p.state(id)
	assert.Equal(t, "waiting", state, "a server that is away has taken nothing")
	p.box.SetAway(false)
	require.NoError(t, p.Send(ctx, id))
	state, why := p.state(id)
	assert.Equal(t, [2]string{"sent", ""}, [2]string{state, why})
	require.NoError(t, p.Send(ctx, id), "and is not sent again")
	n := 0
	for _, l := range p.box.Letters() {
		if l.To == "late@example.org" {
			n++
		}
	}
	assert.Equal(t, 1, n)
}

func TestALetterAsItArrives(t *testing.T) {
	p := opened(t)
	require.NoError(t, p.Blobs.Put(ctx, "cover", func(w io.Writer) error {
		_, err := w.Write([]byte("\xff\xd8 a picture"))
		return err
	}))
	id := p.to("maren@example.org", func(l *peoplestore.Letter) {
		l.Name, l.Cover, l.Stop = "Maren\r\nBcc: evil@example.org", "cover", "https://satchel.example/u/1"
		l.HTML = `<img src="cid:cover"><p>Hello</p>`
	})
	require.NoError(t, p.Send(ctx, id))
	all := p.box.Letters()
	require.Len(t, all, 1, "to nobody else")
	l := all[0]
	assert.Equal(t, "Grüße", l.Subject)
	assert.Equal(t, "Hello", strings.TrimSpace(l.Text))
	assert.Contains(t, l.HTML, "data:image/jpeg;base64,")
	assert.Equal(t, "<https://satchel.example/u/1>", l.Headers["List-Unsubscribe"])
	assert.Equal(t, "List-Unsubscribe=One-Click", l.Headers["List-Unsubscribe-Post"])
	assert.Empty(t, l.Headers["Bcc"])
	assert.Contains(t, l.Headers["Message-Id"], "@house.example>")
	text := string(l.Raw)
	assert.Less(t, strings.Index(text, "text/plain"), strings.Index(text, "text/html"), "plain text first (RFC 2046, section 5.1.4)")
	missing := p.to("bo@example.org", func(l *peoplestore.Letter) { l.Cover = "lost" })
	require.NoError(t, p.Send(ctx, missing), "a letter without its picture is better than none")
}

// TestAKilledServerSendsNothingTwice: whatever was being sent when a process ended is unsure, until a person decides.
func TestAKilledServerSendsNothingTwice(t *testing.T) {
	p := opened(t)
	id := p.to("maren@example.org")
	_, taken, err := peoplestore.TakeLetter(ctx, p.DB, id) // and the process is gone
	require.NoError(t, err)
	require.True(t, taken)
	require.NoError(t, p.Send(ctx, id))
	state, why := p.state(id)
	assert.Equal(t, "unsure", state)
	assert.Contains(t, why, "may have arrived")
	assert.Empty(t, p.box.Letters())
	require.NoError(t, p.Send(ctx, id))
	assert.Empty(t, p.box.Letters())

	require.NoError(t, p.DB.InTx(ctx, func(tx *store.Tx) error { return p.Again(ctx, tx, p.brand, id) }))
	require.NoError(t, p.Send(ctx, id))
	assert.Len(t, p.box.Letters(), 1)
	err = p.DB.InTx(ctx, func(tx *store.Tx) error { return p.Again(ctx, tx, p.brand, id) })
	require.ErrorContains(t, err, "has arrived")
}

func TestASlowServerIsWaitedFor(t *testing.T) {
	p := opened(t)
	began := time.Now()
	id := p.to("slow@example.org")
	require.NoError(t, p.Send(ctx, id))
	assert.Greater(t, time.Since(began), time.Second)
	state, _ := p.state(id)
	assert.Equal(t, "sent", state)
	var none *mail.Service
	require.ErrorContains(t, none.Ready(), "No mail server is set")
	require.ErrorContains(t, (&mail.Service{}).Ready(), "No mail server is set")
}
