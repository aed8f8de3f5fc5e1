package outlets

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"net/url"
	"strings"
	"time"

	"brightsatchel/internal/core/sending/once"
)

// beanpole is a service for upright clips and pictures: a file is announced, put and finished; a draft is processed for a while, and
// published then. It calls us when a draft is ready. Its advertising accounts are pages as well: what goes there nobody sees.
type beanpole struct{ link }

var beanpoleService = service{kind: "beanpole", name: "Beanpole", authorize: "oauth/authorize", token: "oauth/token",
	connect: func(l link) Outlet { return beanpole{l} }}

var beanpoleTerms = termsOf("beanpole")

func (b beanpole) v2(path ...string) *url.URL { return b.to(append([]string{"v2"}, path...)...) }

// told reads what an answer tells.
func told[T any](ctx context.Context, b beanpole, at *url.URL) (T, error) {
	var answer struct {
		Data T `json:"data"`
	}
	err := b.read(ctx, at, &answer)
	return answer.Data, err
}

func (b beanpole) Who(ctx context.Context) (Account, error) {
	return told[Account](ctx, b, b.v2("account"))
}

type beanpoleChannel struct {
	ID          string `json:"id"`
	Title       string `json:"title"`
	Web         string `json:"web"`
	Picture     string `json:"picture"`
	Zone        string `json:"time_zone"`
	Advertising bool   `json:"advertising"`
	Subscribers int    `json:"subscribers"`
}

func (b beanpole) Pages(ctx context.Context) ([]Page, error) {
	found, err := told[[]beanpoleChannel](ctx, b, b.v2("channels"))
	out := make([]Page, len(found))
	for i, c := range found {
		out[i] = Page{ID: c.ID, Name: shortened(c.Title), Address: c.Web, Picture: c.Picture, Zone: c.Zone, Reach: ForEveryone,
			People: c.Subscribers,
			Limits: beanpoleTerms.Limits, Ways: beanpoleTerms.ways()}
		if c.Advertising {
			out[i].Reach = ForNobody
		}
	}
	return out, err
}

type beanpolePost struct {
	ID        string    `json:"id"`
	Post      string    `json:"post"`
	State     string    `json:"state"`
	Reason    string    `json:"reason"`
	Text      string    `json:"text"`
	Published time.Time `json:"published"`
	Media     []struct {
		ID   string `json:"id"`
		Type string `json:"type"`
	} `json:"media"`
}

// posts lists what was published on a channel, the newest first.
func (b beanpole) posts(ctx context.Context, channel string) (out []beanpolePost, err error) {
	type some struct {
		Posts []beanpolePost `json:"posts"`
		Next  string         `json:"next"`
	}
	at := b.v2("channels", channel, "posts")
	for range pageLimit {
		page, err := told[some](ctx, b, at)
		if err != nil {
			return nil, err
		}
		out = append(out, page.Posts...)
		if page.Next == "" {
			break
		}
		at.RawQuery = url.Values{"cursor": {page.Next}}.Encode()
	}
	return out, nil
}

// Albums are the channels: each is one.
func (b beanpole) Albums(ctx context.Context) ([]Album, error) {
	channels, err := told[[]beanpoleChannel](ctx, b, b.v2("channels"))
	var out []Album
	for _, c := range channels {
		posts, err := b.posts(ctx, c.ID)
		if err != nil {
			return nil, err
		}
		n := 0
		for _, p := range posts {
			n += len(p.Media)
		}
		title := "On the channel"
		if c.Advertising {
			title = "Media for advertisements"
		}
		out = append(out, Album{c.ID, c.ID, title, n})
	}
	return out, err
}

func (b beanpole) Media(ctx context.Context, album string) (out []Media, err error) {
	posts, err := b.posts(ctx, album)
	for _, p := range posts {
		for _, m := range p.Media {
			name := m.ID + ".jpg"
			if strings.HasPrefix(m.Type, "video/") {
				name = m.ID + ".mp4"
			}
			out = append(out, Media{ID: m.ID, Album: "On the channel", FileName: name, Caption: p.Text, MediaType: m.Type, Posted: p.Published,
				Own: true})
		}
	}
	return out, err
}

func (b beanpole) Fetch(ctx context.Context, id string) (io.ReadCloser, error) {
	answer, err := b.get(ctx, b.to("file", id))
	if err != nil {
		return nil, err
	}
	return answer.Body, nil
}

func (b beanpole) Address(page, remote string) string { return page + "#" + remote }

type beanpoleAnswer struct {
	Data struct {
		ID   string `json:"id"`
		Put  string `json:"put"`
		Post string `json:"post"`
	} `json:"data"`
	Error struct {
		Code   string `json:"code"`
		Detail string `json:"detail"`
	} `json:"error"`
}

// beanpoleForm is how the service words its answers.
func beanpoleForm(id func(a beanpoleAnswer) string) form {
	read := func(body []byte) (a beanpoleAnswer) {
		_ = json.Unmarshal(body, &a)
		return a
	}
	return form{
		id:        func(body []byte) string { return id(read(body)) },
		signedOut: signedOut,
		unknown: func(_ int, body []byte) bool {
			code := read(body).Error.Code
			return code == "gone" || code == "no_upload" || code == "incomplete"
		},
		refusal: func(status int, body []byte) (string, bool) {
			problem := read(body).Error
			// "Not ready" and "already" say something about the draft, which is asked then.
			clearly := status >= 400 && status < 500 && problem.Detail != "" && problem.Code != "not_ready" && problem.Code != "already"
			return problem.Detail, clearly
		},
	}
}

func madeID(a beanpoleAnswer) string { return a.Data.ID }

func (b beanpole) Do(ctx context.Context, step once.Step, p once.Post, _ string, c Content) once.Outcome {
	switch step.Do {
	case once.Upload:
		return b.bring(ctx, step.Item, c)
	case once.Contain:
		type media struct {
			Upload string `json:"upload"`
			Alt    string `json:"alt"`
		}
		draft := struct {
			Text  string  `json:"text"`
			Media []media `json:"media"`
		}{Text: c.Caption}
		for i, id := range p.Media {
			draft.Media = append(draft.Media, media{id, c.Alts[i]})
		}
		made, err := b.inJSON(http.MethodPost, b.v2("channels", c.Page, "drafts"), draft)
		if err != nil {
			return once.Outcome{Kind: once.No, Why: err.Error()}
		}
		return b.make(ctx, made, beanpoleForm(madeID))
	case once.Poll, once.AskContainer:
		return b.look(ctx, step, p)
	case once.Place:
		return b.make(ctx, call{method: http.MethodPost, at: b.v2("drafts", p.Container, "publish")},
			beanpoleForm(func(a beanpoleAnswer) string { return a.Data.Post }))
	}
	return once.Outcome{Kind: once.Lost}
}

// look asks how far a draft is, or whether it was published.
func (b beanpole) look(ctx context.Context, step once.Step, p once.Post) once.Outcome {
	draft, err := told[beanpolePost](ctx, b, b.v2("drafts", p.Container))
	switch {
	case errors.Is(err, ErrGone):
		return once.Outcome{Kind: once.Unknown}
	case errors.Is(err, ErrRefused):
		return notCalled(ErrRefused)
	case err != nil:
		return once.Outcome{Kind: once.Lost, Why: "It does not say how far it is."}
	case draft.State == "failed":
		return once.Outcome{Kind: once.No, Why: "It says: " + shortened(draft.Reason)}
	case step.Do == once.Poll && draft.State == "processing":
		return once.Outcome{Kind: once.Pending, After: 2 * time.Second}
	case step.Do == once.Poll:
		return once.Outcome{Kind: once.Done, ID: p.Container}
	case draft.State == "published" && draft.Post != "":
		return once.Outcome{Kind: once.Done, ID: draft.Post}
	}
	return once.Outcome{Kind: once.Absent}
}

// bring brings a file in three steps. It is put where the service says, as long as that is at the service itself: the token goes nowhere
// else.
func (b beanpole) bring(ctx context.Context, picture int, c Content) once.Outcome {
	file, err := c.Open(ctx, picture)
	if err != nil {
		return once.Outcome{Kind: once.No, Why: err.Error()}
	}
	defer func() { _ = file.Body.Close() }()
	announced, err := b.inJSON(http.MethodPost, b.v2("uploads"), map[string]any{"bytes": file.Bytes, "type": file.MediaType})
	if err != nil {
		return once.Outcome{Kind: once.No, Why: err.Error()}
	}
	put := ""
	o := b.make(ctx, announced, beanpoleForm(func(a beanpoleAnswer) string {
		put = a.Data.Put
		return a.Data.ID
	}))
	if o.Kind != once.Done {
		return o
	}
	at, err := url.Parse(put)
	if err != nil || at.Scheme != b.address.Scheme || at.Host != b.address.Host {
		return once.Outcome{Kind: once.No, Why: "It wants the file at another address than its own."}
	}
	id := o.ID
	done := beanpoleForm(func(beanpoleAnswer) string { return id })
	o = b.make(ctx, call{http.MethodPut, at, file.Body, file.Bytes, map[string]string{"Content-Type": file.MediaType}}, done)
	if o.Kind != once.Done {
		return o
	}
	return b.make(ctx, call{method: http.MethodPost, at: b.v2("uploads", id, "finish")}, beanpoleForm(madeID))
}

func (b beanpole) See(ctx context.Context, _, remote string) (Seen, error) {
	post, err := told[beanpolePost](ctx, b, b.v2("posts", remote))
	if err != nil {
		return Seen{}, err
	}
	out := Seen{Caption: post.Text}
	for _, m := range post.Media {
		out.Pictures = append(out.Pictures, m.ID)
	}
	return out, nil
}

// Withdraw is nothing that the service has.
func (b beanpole) Withdraw(context.Context, string) error { return ErrRefused }

// CallAt implements Caller.
func (b beanpole) CallAt(ctx context.Context, address string) (string, error) {
	asked, err := b.inJSON(http.MethodPost, b.v2("hooks"), map[string]string{"url": address})
	if err != nil {
		return "", err
	}
	o := b.make(ctx, asked, form{id: func(body []byte) string {
		var made struct {
			Data struct {
				Secret string `json:"secret"`
			} `json:"data"`
		}
		_ = json.Unmarshal(body, &made)
		return made.Data.Secret
	}, signedOut: signedOut, unknown: func(int, []byte) bool { return false }, refusal: beanpoleForm(madeID).refusal})
	return o.ID, withdrawn(o)
}

// Heard implements Caller.
func (b beanpole) Heard(secret string, h http.Header, body []byte) (string, bool) {
	given, err := hex.DecodeString(h.Get("Beanpole-Signature"))
	sum := hmac.New(sha256.New, []byte(secret))
	sum.Write(body)
	if err != nil || secret == "" || !hmac.Equal(given, sum.Sum(nil)) {
		return "", false
	}
	var call struct {
		Draft string `json:"draft"`
	}
	err = json.Unmarshal(body, &call)
	return call.Draft, err == nil && call.Draft != ""
}
