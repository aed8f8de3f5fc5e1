package outlets

import (
	"context"
	"encoding/json"
	"io"
	"net/http"
	"net/url"
	"strings"
	"time"

	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
)

// windward is a service for short posts: pictures are brought one by one, then the post with a key. It lists things in pages of JSON, each
// naming the next one, and says itself what its pages take.
type windward struct{ link }

var windwardService = service{kind: "windward", name: "Windward", authorize: "authorize", token: "token",
	connect: func(l link) Outlet { return windward{l} }}

// postsOf begins the id of what we take for an album: the posts of a page.
const postsOf = "posts:"

func (w windward) Who(ctx context.Context) (a Account, err error) {
	return a, w.read(ctx, w.to("me"), &a)
}

func (w windward) Albums(ctx context.Context) ([]Album, error) {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	type album struct {
		ID    string `json:"id"`
		Title string `json:"title"`
		Count int    `json:"count"`
	}
	found, err := listed[album](ctx, w, "", "albums")
	if err != nil {
		return nil, err
	}
	pages, err := w.Pages(ctx)
	if err != nil {
		return nil, err
	}
	var out []Album
	for i, p := range pages {
		if i == 0 { // albums are on the first page of an account
			for _, a := range found {
				out = append(out, Album{a.ID, p.ID, a.Title, a.Count})
			}
		}
		posts, err := listed[windwardPost](ctx, w, p.ID, "posts")
		if err != nil {
			return nil, err
		}
		n := 0
		for _, post := range posts {
			n += len(post.Pictures)
		}
		if n > 0 {
			out = append(out, Album{postsOf + p.ID, p.ID, "Posts", n})
		}
	}
	return out, nil
}

// windwardPost is a post as the service tells it.
type windwardPost struct {
	ID       string    `json:"id"`
	Key      string    `json:"key"`
	Text     string    `json:"text"`
	Posted   time.Time `json:"posted"`
	Pictures []struct {
		ID  string `json:"id"`
		Alt string `json:"alt"`
	} `json:"pictures"`
}

func (w windward) Media(ctx context.Context, id string) ([]Media, error) {
	if page, posts := strings.CutPrefix(id, postsOf); posts {
		found, err := listed[windwardPost](ctx, w, page, "posts")
		var out []Media
		for _, p := range found {
			for _, one := range p.Pictures {
				out = append(out, Media{ID: one.ID, Album: "Posts", FileName: one.ID + ".jpg", Caption: p.Text, MediaType: "image/jpeg",
					Posted: p.Posted, Own: true})
			}
		}
		return out, err
	}
	type media struct {
		ID        string    `json:"id"`
		Album     string    `json:"album"`
		FileName  string    `json:"fileName"`
		Caption   string    `json:"caption"`
		MediaType string    `json:"mediaType"`
		Bytes     int64     `json:"bytes"`
		Posted    time.Time `json:"posted"`
		PostedBy  string    `json:"postedBy"`
		Own       bool      `json:"own"`
	}
	found, err := listed[media](ctx, w, "", "albums", id, "media")
	out := make([]Media, len(found))
	for i, m := range found {
		out[i] = Media(m)
	}
	return out, err
}

func (w windward) Fetch(ctx context.Context, id string) (io.ReadCloser, error) {
	answer, err := w.get(ctx, w.to("media", id, "content"))
	if err != nil {
		return nil, err
	}
	return answer.Body, nil
}

// listed asks for a list page by page; of the posts only those of a page, where one is named.
func listed[T any](ctx context.Context, w windward, page string, path ...string) ([]T, error) {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	at := w.to(path...)
	out := []T{}
	after := ""
	for range pageLimit {
		var some struct {
			Items []T    `json:"items"`
			Next  string `json:"next"`
		}
		query := url.Values{}
		if page != "" {
			query.Set("page", page)
		}
		if after != "" {
			query.Set("after", after)
		}
		at.RawQuery = query.Encode()
		if err := w.read(ctx, at, &some); err != nil {
			return nil, err
		}
		out = append(out, some.Items...)
		if some.Next == "" || some.Next == after {
			return out, nil
		}
		after = some.Next
	}
	return out, nil
}

func (w windward) Pages(ctx context.Context) ([]Page, error) {
	type page struct {
		ID        string         `json:"id"`
		Name      string         `json:"name"`
		URL       string         `json:"url"`
		Picture   string         `json:"picture"`
		Zone      string         `json:"zone"`
		Public    bool           `json:"public"`
		Followers int            `json:"followers"`
		Limits    sending.Limits `json:"limits"`
		Keys      int            `json:"keysLiveSeconds"`
		Lag       int            `json:"listLagSeconds"`
	}
	found, err := listed[page](ctx, w, "", "pages")
	out := make([]Page, len(found))
	for i, p := range found {
		out[i] = Page{ID: p.ID, Name: shortened(p.Name), Address: p.URL, Picture: p.Picture, Zone: p.Zone, Reach: ForMembers,
			People: p.Followers, Limits: p.Limits,
			Ways: once.Ways{Keys: time.Duration(p.Keys) * time.Second, LooksUp: true, Lag: time.Duration(p.Lag) * time.Second,
				Timeout: 20 * time.Second, Late: time.Minute}}
		if p.Public {
			out[i].Reach = ForEveryone
		}
	}
	return out, err
}

func (w windward) Address(page, remote string) string { return page + "#" + remote }

// windwardForm is how the service words its answers.
var windwardForm = form{
	id: func(body []byte) string {
		var made struct {
			ID string `json:"id"`
		}
		_ = json.Unmarshal(body, &made)
		return made.ID
	},
	signedOut: signedOut,
	unknown:   func(status int, _ []byte) bool { return status == http.StatusNotFound || status == http.StatusGone },
	refusal: func(status int, body []byte) (string, bool) {
		var problem struct {
			Error string `json:"error"`
		}
		return problem.Error, status >= 400 && status < 500 && json.Unmarshal(body, &problem) == nil && problem.Error != ""
	},
}

func (w windward) Do(ctx context.Context, step once.Step, p once.Post, key string, c Content) once.Outcome {
	switch step.Do {
	case once.Upload:
		file, err := c.Open(ctx, step.Item)
		if err != nil {
			return once.Outcome{Kind: once.No, Why: err.Error()}
		}
		defer func() { _ = file.Body.Close() }()
		return w.make(ctx, call{http.MethodPost, w.to("uploads"), file.Body, file.Bytes, map[string]string{"Content-Type": file.MediaType}},
			windwardForm)
	case once.Place, once.PlaceAgain:
		type picture struct {
			Upload string `json:"upload"`
			Alt    string `json:"alt"`
		}
		post := struct {
			Page     string    `json:"page"`
			Text     string    `json:"text"`
			Pictures []picture `json:"pictures"`
		}{Page: c.Page, Text: c.Caption}
		for i, id := range p.Media {
			post.Pictures = append(post.Pictures, picture{id, c.Alts[i]})
		}
		made, err := w.inJSON(http.MethodPost, w.to("posts"), post)
		if err != nil {
			return once.Outcome{Kind: once.No, Why: err.Error()}
		}
		made.headers["Idempotency-Key"] = key
		return w.make(ctx, made, windwardForm)
	case once.LookUp:
		found, err := listed[windwardPost](ctx, w, c.Page, "posts")
		if err != nil {
			return once.Outcome{Kind: once.Lost, Why: "It does not say what is on its page."}
		}
		for _, p := range found {
			if p.Key == key {
				return once.Outcome{Kind: once.Done, ID: p.ID}
			}
		}
		return once.Outcome{Kind: once.Absent}
	}
	return once.Outcome{Kind: once.Lost}
}

func (w windward) See(ctx context.Context, _, remote string) (Seen, error) {
	var post windwardPost
	if err := w.read(ctx, w.to("posts", remote), &post); err != nil {
		return Seen{}, err
	}
	out := Seen{Caption: post.Text}
	for _, p := range post.Pictures {
		out.Pictures = append(out.Pictures, p.ID)
	}
	return out, nil
}

func (w windward) Withdraw(ctx context.Context, remote string) error {
	return withdrawn(w.make(ctx, call{method: http.MethodDelete, at: w.to("posts", remote)}, windwardForm))
}
