package facestore

import (
	"context"

	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// Says reads everything that the library says of an item, as it goes into files that are handed out. Tags and faces come in an order
// that stays the same, so that the same words are the same file.
func Says(ctx context.Context, r store.Reader, a assetstore.Asset) (outputs.Says, error) {
	says := outputs.Says{Title: a.Title, Description: a.Description, Alt: a.Alt, Credit: a.Credit, Copyright: a.Copyright,
		UsageTerms: a.UsageTerms, Place: a.Place, Stage: a.Stage.String, Stars: a.Stars}
	if a.Taken.Valid {
		says.Taken = &calendar.Capture{Local: a.Taken.Time, Zone: a.TakenZone}
	}
	var err error
	if says.Tags, err = store.List[string](ctx, r, `select t.name from asset_tag x join tag t on t.id = x.tag_id where x.asset_id = $1
		order by lower(t.name), t.id`, a.ID); err != nil {
		return says, err
	}
	faces, err := FacesOf(ctx, r, a.ID, a.Frame())
	for _, f := range faces {
		says.Faces = append(says.Faces, outputs.Face{Region: f.Region(), Name: f.Name})
	}
	return says, err
}
