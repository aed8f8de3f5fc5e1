package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/store/tagstore"
	"brightsatchel/internal/store/wordstore"
)

func (h *handler) DescribeAsset(ctx context.Context, r api.DescribeAssetRequestObject) (api.DescribeAssetResponseObject, error) {
	words := map[string]string{}
	for name, text := range map[string]*string{"title": r.Body.Title, "description": r.Body.Description, "alt": r.Body.Alt,
		"credit": r.Body.Credit, "copyright": r.Body.Copyright, "usageTerms": r.Body.UsageTerms, "rightsUntil": r.Body.RightsUntil,
		"place": r.Body.Place, "coordinates": r.Body.Coordinates, "taken": r.Body.Taken, "takenZone": r.Body.TakenZone} {
		if text != nil {
			words[name] = *text
		}
	}
	d, err := h.house.Describing.Describe(ctx, viewerOf(ctx), r.ID, wordstore.Description{Revision: r.Body.Revision, Words: words})
	return api.DescribeAsset200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListTags(ctx context.Context, _ api.ListTagsRequestObject) (api.ListTagsResponseObject, error) {
	tags, err := h.house.Describing.Tags(ctx, viewerOf(ctx))
	return api.ListTags200JSONResponse(each(tags, tag)), err
}

func (h *handler) TagAssets(ctx context.Context, r api.TagAssetsRequestObject) (api.TagAssetsResponseObject, error) {
	d, err := h.house.Describing.Tag(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), value(r.Body.Add), value(r.Body.Remove))
	return api.TagAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) TagsOfSelection(ctx context.Context, r api.TagsOfSelectionRequestObject) (api.TagsOfSelectionResponseObject, error) {
	tags, items, err := h.house.Describing.TagsOf(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.TagsOfSelection200JSONResponse{Items: items, Tags: each(tags, tag)}, err
}

func tag(t tagstore.Tag) api.Tag {
	return api.Tag{ID: t.ID, Name: t.Name, Group: t.Group, Uses: t.Uses, FromFiles: t.Files}
}
