package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/store"
)

func (h *handler) DescribeAsset(ctx context.Context, r api.DescribeAssetRequestObject) (api.DescribeAssetResponseObject, error) {
	d, err := h.house.Describing.Describe(ctx, viewerOf(ctx), r.ID, store.Description{Revision: r.Body.Revision,
		Title: r.Body.Title, Description: r.Body.Description, Alt: r.Body.Alt, Credit: r.Body.Credit, Copyright: r.Body.Copyright})
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

func tag(t store.Tag) api.Tag {
	return api.Tag{ID: t.ID, Name: t.Name, Group: t.Group, Uses: t.Uses, FromFiles: t.Files}
}
