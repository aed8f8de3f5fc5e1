package outlets

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/sending/once"
)

// longtable is a service for albums of many pictures. It is called by forms under names, and says in an answer of status 200 whether it
// went well. Nothing can be sent twice with one key, but a post tells which of our pictures it shows, so it is found again.
type longtable struct{ link }

var longtableService = service{kind: "longtable", name: "Longtable", authorize: "authorize", token: "token",
	connect: func(l link) Outlet { return longtable{l} }}

var longtableTerms = termsOf("longtable")

// longtableAnswer is the envelope of all answers.
type longtableAnswer struct {
	OK      bool    `json:"ok"`
	Code    string  `json:"code"`
	Message string  `json:"message"`
	Account Account `json:"account"`
	Places  []struct {
		ID       string `json:"id"`
		Name     string `json:"name"`
		See      string `json:"see"`
		Picture  string `json:"picture"`
		Everyone bool   `json:"everyone"`
		Members  int    `json:"members"`
		Zone     string `json:"zone"`
	} `json:"places"`
	Albums []struct {
		ID       string `json:"id"`
		Place    string `json:"place"`
		Title    string `json:"title"`
		Pictures int    `json:"pictures"`
	} `json:"albums"`
	Posts   []longtablePost `json:"posts"`
	Post    longtablePost   `json:"post"`
	Album   struct{ ID string }
	Picture struct{ ID string }
}

type longtablePost struct {
	ID       string `json:"id"`
	Words    string `json:"words"`
	By       string `json:"by"`
	Mine     bool   `json:"mine"`
	At       int64  `json:"at"`
	Pictures []struct {
		ID   string `json:"id"`
		Name string `json:"name"`
	} `json:"pictures"`
}

// asked calls something that changes nothing.
func (l longtable) asked(ctx context.Context, name string, values url.Values) (a longtableAnswer, err error) {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	for tries := range 2 {
		var used string
		answer, err := l.ask(ctx, func(token string) (*http.Request, error) {
			used = token
			request, err := http.NewRequestWithContext(ctx, http.MethodPost, l.to("call", name).String(), strings.NewReader(values.Encode()))
			if err == nil {
				request.Header.Set("Authorization", "Bearer "+token)
				request.Header.Set("Content-Type", "application/x-www-form-urlencoded")
			}
			return request, err
		})
		if err != nil {
			return a, err
		}
		if err := decode(answer, &a); err != nil {
			return a, err
		}
		switch {
		case a.OK:
			return a, nil
		case a.Code == "gone":
			return a, ErrGone
		case a.Code != "sign_in":
			return a, fmt.Errorf("%w: %s", ErrAway, shortened(a.Message))
		case tries > 0:
			return a, ErrRefused
		}
		if _, err := l.tokens.token(ctx, used); err != nil { // it says that it does not know the token, in an answer of status 200
			return a, err
		}
	}
	return a, ErrRefused
}

func (l longtable) Who(ctx context.Context) (Account, error) {
	a, err := l.asked(ctx, "account.read", nil)
	return a.Account, err
}

func (l longtable) Pages(ctx context.Context) ([]Page, error) {
	a, err := l.asked(ctx, "places.list", nil)
	out := make([]Page, len(a.Places))
	for i, p := range a.Places {
		out[i] = Page{ID: p.ID, Name: shortened(p.Name), Address: p.See, Picture: p.Picture, Zone: p.Zone, Reach: ForMembers, People: p.Members,
			Albums: true,
			Limits: longtableTerms.Limits, Ways: longtableTerms.ways()}
		if p.Everyone {
			out[i].Reach = ForEveryone
		}
	}
	return out, err
}

func (l longtable) Albums(ctx context.Context) ([]Album, error) {
	a, err := l.asked(ctx, "albums.list", nil)
	out := make([]Album, len(a.Albums))
	for i, one := range a.Albums {
		out[i] = Album{one.ID, one.Place, shortened(one.Title), one.Pictures}
	}
	return out, err
}

// posts lists posts of a place or an album, the newest first.
func (l longtable) posts(ctx context.Context, of url.Values) (out []longtablePost, err error) {
	for range pageLimit {
		a, err := l.asked(ctx, "posts.list", of)
		if err != nil {
			return nil, err
		}
		out = append(out, a.Posts...)
		if len(a.Posts) == 0 {
			break
		}
		of.Set("before", a.Posts[len(a.Posts)-1].ID)
	}
	return out, nil
}

func (l longtable) Media(ctx context.Context, album string) (out []Media, err error) {
	title := ""
	albums, err := l.Albums(ctx)
	if err != nil {
		return nil, err
	}
	if at := slices.IndexFunc(albums, func(a Album) bool { return a.ID == album }); at >= 0 {
		title = albums[at].Title
	}
	found, err := l.posts(ctx, url.Values{"album": {album}})
	for _, p := range slices.Backward(found) { // an album grows at its end
		for _, one := range p.Pictures {
			out = append(out, Media{ID: one.ID, Album: title, FileName: one.Name, Caption: p.Words, MediaType: "image/jpeg",
				Posted: time.Unix(p.At, 0), PostedBy: p.By, Own: p.Mine})
		}
	}
	return out, err
}

func (l longtable) Fetch(ctx context.Context, id string) (io.ReadCloser, error) {
	answer, err := l.get(ctx, l.to("picture", id))
	if err != nil {
		return nil, err
	}
	return answer.Body, nil
}

func (l longtable) Address(page, remote string) string { return page + "#" + remote }

func readLongtable(body []byte) (a longtableAnswer, well bool) {
	err := json.Unmarshal(body, &a)
	return a, err == nil
}

// longtableForm is how the service words its answers, by the name of what it tells.
func longtableForm(id func(a longtableAnswer) string) form {
	return form{
		id: func(body []byte) string {
			if a, well := readLongtable(body); well && a.OK {
				return id(a)
			}
			return ""
		},
		signedOut: func(status int, body []byte) bool {
			a, well := readLongtable(body)
			return well && a.Code == "sign_in" || signedOut(status, body)
		},
		unknown: func(_ int, body []byte) bool {
			a, well := readLongtable(body)
			return well && (a.Code == "gone" || a.Code == "no_picture" && strings.HasPrefix(a.Message, "There is no"))
		},
		refusal: func(_ int, body []byte) (string, bool) {
			a, well := readLongtable(body)
			return a.Message, well && !a.OK && a.Code != ""
		},
	}
}

func (l longtable) inForm(name string, values url.Values) call {
	body := values.Encode()
	return call{http.MethodPost, l.to("call", name), strings.NewReader(body), int64(len(body)),
		map[string]string{"Content-Type": "application/x-www-form-urlencoded"}}
}

func (l longtable) Do(ctx context.Context, step once.Step, p once.Post, _ string, c Content) once.Outcome {
	switch step.Do {
	case once.Upload:
		file, err := c.Open(ctx, step.Item)
		if err != nil {
			return once.Outcome{Kind: once.No, Why: err.Error()}
		}
		defer func() { _ = file.Body.Close() }()
		return l.bring(ctx, file)
	case once.Place:
		return l.make(ctx, l.inForm("posts.make", url.Values{"place": {c.Page}, "album": {c.Album}, "words": {c.Caption},
			"pictures": {strings.Join(p.Media, ",")}}), longtableForm(func(a longtableAnswer) string { return a.Post.ID }))
	case once.LookUp:
		found, err := l.posts(ctx, url.Values{"place": {c.Page}})
		if err != nil {
			return once.Outcome{Kind: once.Lost, Why: "It does not say what is on its page."}
		}
		for _, post := range found {
			for _, one := range post.Pictures {
				if slices.Contains(p.Media, one.ID) { // which were brought for this post only
					return once.Outcome{Kind: once.Done, ID: post.ID}
				}
			}
		}
		return once.Outcome{Kind: once.Absent}
	}
	return once.Outcome{Kind: once.Lost}
}

// bring brings a picture as one part of a form, without holding it in memory.
func (l longtable) bring(ctx context.Context, file File) once.Outcome {
	var head bytes.Buffer
	parts := multipart.NewWriter(&head)
	if _, err := parts.CreateFormFile("picture", file.Name); err != nil {
		return once.Outcome{Kind: once.No, Why: err.Error()}
	}
	kind := parts.FormDataContentType()
	before := head.Len()
	if err := parts.Close(); err != nil {
		return once.Outcome{Kind: once.No, Why: err.Error()}
	}
	all := head.Bytes()
	body := io.MultiReader(bytes.NewReader(all[:before]), io.LimitReader(file.Body, file.Bytes), bytes.NewReader(all[before:]))
	return l.make(ctx, call{http.MethodPost, l.to("call", "pictures.put"), body, int64(len(all)) + file.Bytes,
		map[string]string{"Content-Type": kind}}, longtableForm(func(a longtableAnswer) string { return a.Picture.ID }))
}

func (l longtable) See(ctx context.Context, _, remote string) (Seen, error) {
	a, err := l.asked(ctx, "posts.read", url.Values{"post": {remote}})
	if err != nil {
		return Seen{}, err
	}
	out := Seen{Caption: a.Post.Words}
	for _, p := range a.Post.Pictures {
		out.Pictures = append(out.Pictures, p.ID)
	}
	return out, nil
}

func (l longtable) Withdraw(ctx context.Context, remote string) error {
	return withdrawn(l.make(ctx, l.inForm("posts.drop", url.Values{"post": {remote}}),
		longtableForm(func(a longtableAnswer) string { return a.Post.ID })))
}

// MakeAlbum implements Shelver.
func (l longtable) MakeAlbum(ctx context.Context, page, title string) (string, error) {
	o := l.make(ctx, l.inForm("albums.make", url.Values{"place": {page}, "title": {title}}),
		longtableForm(func(a longtableAnswer) string { return a.Album.ID }))
	return o.ID, withdrawn(o)
}
