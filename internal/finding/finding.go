// Package finding answers what is in a sheet and in which order, and reads what a sheet and a card show.
package finding

import (
	"context"
	"encoding/json"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/tagstore"
)

// Service finds items and reads them.
type Service struct {
	findstore.Finder
	DB *store.DB
}

// Rows reads what tiles show.
func (s *Service) Rows(ctx context.Context, v *access.Viewer, ids []int64) ([]assetstore.AssetRow, error) {
	return findstore.Rows(ctx, s.DB, v, ids)
}

// Card is one item with all that its card shows.
type Card struct {
	assetstore.Asset
	FolderPath string
	Tags       []tagstore.Tag
	Albums     []albumstore.Album
	Shown      []poststore.ShownAt // outside; to those who may show things there
	Faces      []facestore.Face
	Origins    []assetstore.Origin
	Stack      []assetstore.AssetRow
	Beside     []assetstore.BesideStars
	Against    []string // what is against sending it out, by those who are shown
	May        []access.Action
}

// Card reads one item.
func (s *Service) Card(ctx context.Context, v *access.Viewer, id int64) (Card, error) {
	asset, err := assetstore.AssetByID(ctx, s.DB, v, id)
	if err != nil {
		return Card{}, err
	}
	row := []assetstore.AssetRow{asset.AssetRow}
	if err := s.NameTags(ctx, v.Brand, row); err != nil {
		return Card{}, err
	}
	asset.AssetRow = row[0]
	card := Card{Asset: asset, May: v.In(asset.Folder.Int64)}
	if asset.Folder.Valid && !v.May(access.Look).Folder(asset.Folder.Int64) {
		card.Folder.Valid = false // it is seen in an album; where it lives is not theirs to know
	}
	if card.Folder.Valid {
		if card.FolderPath, err = folderstore.FolderPath(ctx, s.DB, v, asset.Folder.Int64); err != nil {
			return Card{}, err
		}
	}
	if card.Tags, err = tagstore.TagsOf(ctx, s.DB, []int64{id}); err != nil {
		return Card{}, err
	}
	if card.Albums, err = albumstore.AlbumsOf(ctx, s.DB, v, id); err != nil {
		return Card{}, err
	}
	if v.Can(access.Galleries) {
		if card.Shown, err = s.shownAt(ctx, v, id); err != nil {
			return Card{}, err
		}
	}
	if card.Faces, err = facestore.FacesOf(ctx, s.DB, id, asset.Frame()); err != nil {
		return Card{}, err
	}
	shown, err := facestore.PeopleOn(ctx, s.DB, id)
	if err != nil {
		return Card{}, err
	}
	card.Against = sending.Against(shown, findstore.Today())
	if v.May(access.Look).All {
		if card.Origins, err = assetstore.OriginsOf(ctx, s.DB, id); err != nil {
			return Card{}, err
		}
	}
	if card.Beside, err = assetstore.BesideStarsOf(ctx, s.DB, id); err != nil {
		return Card{}, err
	}
	if asset.Stack.Valid {
		card.Stack, err = findstore.StackRows(ctx, s.DB, v, asset.Stack.Int64)
	}
	return card, err
}

// SizeUp says how many items a selection has, and how many bytes their present versions take.
func (s *Service) SizeUp(ctx context.Context, v *access.Viewer, sel query.Selection) (items int, bytes int64, err error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return 0, 0, err
	}
	bytes, err = assetstore.BytesOf(ctx, s.DB, ids)
	return len(ids), bytes, err
}

// Names are what tags, stages and the people of the brand are called.
type Names struct{ Tags, Stages, People map[int64]string }

// Names reads what these are called in the brand.
func (s *Service) Names(ctx context.Context, v *access.Viewer) (n Names, err error) {
	if n.Tags, err = tagstore.TagNames(ctx, s.DB, v.Brand); err == nil {
		n.Stages, err = assetstore.StageNames(ctx, s.DB, v.Brand)
	}
	if err == nil {
		n.People, err = peoplestore.Colleagues(ctx, s.DB, v.Brand)
	}
	return n, err
}

// History is what an item had and what was done to it.
type History struct {
	Versions []assetstore.Version
	Trail    []store.TrailEntry
	Sent     []downloadstore.SentOut // of those who look everywhere only: it names who took it along
}

// History reads the versions of an item, what was done to it and when it was sent out, the newest first.
func (s *Service) History(ctx context.Context, v *access.Viewer, id int64) (History, error) {
	var h History
	if _, err := assetstore.AssetByID(ctx, s.DB, v, id); err != nil {
		return h, err
	}
	var err error
	if h.Versions, err = assetstore.VersionsOf(ctx, s.DB, v.Brand, id); err != nil {
		return h, err
	}
	if h.Trail, err = store.TrailOf(ctx, s.DB, v.Brand, id); err != nil {
		return h, err
	}
	if v.May(access.Look).All {
		h.Sent, err = downloadstore.SentOuts(ctx, s.DB, id)
	} else {
		for i := range h.Trail {
			if h.Trail[i].Person != v.Person { // its words may name what they may not see
				h.Trail[i].Said, h.Trail[i].Can = "Changed this item", false
			}
		}
	}
	return h, err
}

// Metadata is everything that the file of an item says, as JSON by group and name.
func (s *Service) Metadata(ctx context.Context, v *access.Viewer, id int64) (json.RawMessage, error) {
	if _, err := assetstore.AssetByID(ctx, s.DB, v, id); err != nil {
		return nil, err
	}
	return assetstore.MetadataOf(ctx, s.DB, v.Brand, id)
}
