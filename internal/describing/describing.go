// Package describing gives items their words: titles, descriptions, alt text and tags.
package describing

import (
	"context"
	"fmt"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/tags"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/tagstore"
)

// Service describes items.
type Service struct {
	DB    *store.DB
	Mail  *mail.Service
	tag   *pieces.Registered[tagging]
	write *pieces.Registered[describing.Change]
	name  *pieces.Registered[describing.Pattern]
	clock *pieces.Registered[calendar.Clock]
	retag *pieces.Registered[retagging]

	takeOver *pieces.Registered[takingOver]
	table    *pieces.Registered[tabled]
	jobs     *queue.Queue
}

// New returns the service, with its acts made known.
func New(db *store.DB, many *pieces.Service, letters *mail.Service, jobs *queue.Queue) *Service {
	s := &Service{DB: db, Mail: letters, tag: pieces.Register(many, tagAct), write: pieces.Register(many, writeAct),
		name: pieces.Register(many, nameAct), clock: pieces.Register(many, clockAct),
		retag: pieces.Register(many, retagAct), takeOver: pieces.Register(many, takeOverAct), table: pieces.Register(many, tableAct),
		jobs: jobs}
	s.addTelling(jobs)
	s.addTables(jobs)
	return s
}

// tagging is which tags items get and lose.
type tagging struct {
	Names  []string `json:"names"` // of those to add, as they were typed
	Add    []int64  `json:"add"`
	Remove []int64  `json:"remove"`
	Gone   []string `json:"gone"` // what those to remove are called
}

var tagAct = pieces.Act[tagging]{
	Name: "tag", Needs: access.Describe,
	Doing: func(n int, t tagging) string {
		if len(t.Add) > 0 {
			return fmt.Sprintf("Tagging %s with %s", wording.Items(n), strings.Join(t.Names, ", "))
		}
		return fmt.Sprintf("Taking tags off %s", wording.Items(n))
	},
	Done: func(n, _ int, t tagging) string {
		switch {
		case n == 0:
			return "Those tags are there already"
		case len(t.Add) > 0 && len(t.Remove) > 0:
			return fmt.Sprintf("Changed the tags of %s", wording.Items(n))
		case len(t.Add) > 0:
			return fmt.Sprintf("Tagged %s with %s", wording.Items(n), strings.Join(t.Names, ", "))
		}
		return fmt.Sprintf("Removed “%s” from %s", strings.Join(t.Gone, "”, “"), wording.Items(n))
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, t tagging) (int, error) {
		return tagstore.ChangeTags(ctx, tx, p.Viewer.Brand, p.IDs, t.Add, t.Remove)
	},
}

// Tag puts tags on a selection, making those that are new, and takes others off.
func (s *Service) Tag(ctx context.Context, v *access.Viewer, sel query.Selection, add string, remove []int64) (store.Done, error) {
	names, err := tags.Split(add)
	if err != nil {
		return store.Done{}, err
	}
	return s.tag.Do(ctx, v, sel, func(tx *store.Tx) (tagging, error) {
		put, err := tagstore.EnsureTags(ctx, tx, v, names)
		if err != nil {
			return tagging{}, err
		}
		gone, err := tagstore.NamesOfTags(ctx, tx, v.Brand, remove)
		return tagging{Names: names, Add: put, Remove: remove, Gone: gone}, err
	})
}

// Tags lists the tags of the brand with how often they are used. Whoever may not look everywhere sees those that are on
// something they see.
func (s *Service) Tags(ctx context.Context, v *access.Viewer) ([]tagstore.Tag, error) {
	return findstore.Find(s.DB).Tags(ctx, v)
}

// Suggested is a tag that is suggested for an item, with the reason in words.
type Suggested struct {
	ID        int64
	Name, Why string
}

// mostSuggested is how many tags are suggested at a time.
const mostSuggested = 6

// Suggest proposes tags for an item by what its neighbours have: those of the same moment, place, folder or look. None is ever set by
// itself.
func (s *Service) Suggest(ctx context.Context, v *access.Viewer, id int64) ([]Suggested, error) {
	asset, err := assetstore.AssetByID(ctx, s.DB, v, id)
	if err != nil {
		return nil, err
	}
	near, err := assetstore.NeighboursOf(ctx, s.DB, v, asset)
	if err != nil {
		return nil, err
	}
	names, err := tagstore.TagNames(ctx, s.DB, v.Brand)
	suggested := tags.Suggest(near, asset.TagIDs, mostSuggested)
	out := make([]Suggested, len(suggested))
	for i, one := range suggested {
		out[i] = Suggested{ID: one.Tag, Name: names[one.Tag], Why: one.Why}
	}
	return out, err
}

// TagsOf lists the tags on a selection, each with on how many items it is, and the number of items.
func (s *Service) TagsOf(ctx context.Context, v *access.Viewer, sel query.Selection) ([]tagstore.Tag, int, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return nil, 0, err
	}
	on, err := tagstore.TagsOf(ctx, s.DB, ids)
	return on, len(ids), err
}
