package posting

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/poststore"
)

// Bounds of drafts.
const (
	mostDrafts   = 500
	longestDraft = 200 // signs of a name
)

// Drafted is a draft with the dispatch that it is one of.
type Drafted struct {
	poststore.Draft
	Dispatching
}

// Drafts lists the dispatches that nobody has sent yet, the one changed last first.
func (s *Service) Drafts(ctx context.Context, v *access.Viewer) ([]Drafted, error) {
	all, err := poststore.Drafts(ctx, s.DB, v.Brand, mostDrafts)
	if err != nil {
		return nil, err
	}
	out := make([]Drafted, len(all))
	for i, d := range all {
		if out[i], err = drafted(d); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func drafted(d poststore.Draft) (Drafted, error) {
	out := Drafted{Draft: d}
	err := json.Unmarshal(d.Body, &out.Dispatching)
	out.Selection = query.Selection{IDs: d.Assets}
	return out, err
}

// KeepDraft keeps a dispatch to go on with it later, under a name; id is that of the draft that it was, or 0. It need not be right yet.
func (s *Service) KeepDraft(ctx context.Context, v *access.Viewer, id int64, name string, w Dispatching) (store.Done, error) {
	items, err := findstore.Select(ctx, s.DB, v, access.Look, w.Selection)
	if err != nil {
		return store.Done{}, err
	}
	if len(items) > mostDispatched {
		return store.Done{}, fault.Invalidf("selection", "At most %d items go out in one dispatch; these are %d.", mostDispatched, len(items))
	}
	if name = strings.TrimSpace(name); name == "" {
		name = query.Items(len(items)) + " to pages"
	}
	if len([]rune(name)) > longestDraft {
		return store.Done{}, fault.Invalidf("name", "A name has at most %d characters.", longestDraft)
	}
	d, err := draftOf(v, name, w, items)
	if err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "draft", func(tx *store.Tx) (store.Done, error) {
		done := store.Done{Said: fmt.Sprintf("“%s” is kept as a draft", name), Changed: 1, ID: id}
		if d.ID = id; id != 0 {
			return done, poststore.ChangeDraft(ctx, tx, d)
		}
		n, err := poststore.CountDrafts(ctx, tx, v.Brand)
		if err == nil && n >= mostDrafts {
			err = fault.Invalidf("name", "There are %d drafts already. Send or remove some first.", n)
		}
		if err == nil {
			done.ID, err = poststore.AddDraft(ctx, tx, d)
		}
		return done, err
	})
}

func draftOf(v *access.Viewer, name string, w Dispatching, items []int64) (poststore.Draft, error) {
	w.Selection = query.Selection{} // kept beside, where the database sees it
	body, err := json.Marshal(w)
	d := poststore.Draft{Brand: v.Brand, Person: sql.NullInt64{Int64: v.Person, Valid: v.Person != 0}, Name: name, Assets: items,
		Pages: []int64{}, Body: body}
	for _, p := range w.Pages {
		d.Pages = append(d.Pages, p.Page)
	}
	return d, err
}

// RemoveDraft removes a draft. Nothing of it was sent.
func (s *Service) RemoveDraft(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "draft", func(tx *store.Tx) (store.Done, error) {
		name, err := poststore.RemoveDraft(ctx, tx, v.Brand, id)
		return store.Done{Said: fmt.Sprintf("The draft “%s” is removed", name), Changed: 1}, err
	})
}

// GoDraft sends a dispatch that was a draft, which is one no more in the same moment: of two people who send it one does.
func (s *Service) GoDraft(ctx context.Context, v *access.Viewer, draft int64, w Dispatching) (store.Done, error) {
	return s.goWith(ctx, v, w, func(tx *store.Tx) error {
		_, err := poststore.RemoveDraft(ctx, tx, v.Brand, draft)
		return err
	})
}
