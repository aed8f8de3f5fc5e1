package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/describing"
	"brightsatchel/internal/store/tagstore"
)

func (h *handler) GetTag(ctx context.Context, r api.GetTagRequestObject) (api.GetTagResponseObject, error) {
	t, err := h.house.Describing.KeptTag(ctx, viewerOf(ctx), r.ID)
	return api.GetTag200JSONResponse{ID: t.ID, Name: t.Name, Group: t.Group, Items: t.Items, FromFiles: t.Files,
		Folders: t.Folders}, err
}

func (h *handler) SuggestTags(ctx context.Context, r api.SuggestTagsRequestObject) (api.SuggestTagsResponseObject, error) {
	suggested, err := h.house.Describing.Suggest(ctx, viewerOf(ctx), r.ID)
	return api.SuggestTags200JSONResponse(each(suggested, func(s describing.Suggested) api.SuggestedTag {
		return api.SuggestedTag{ID: s.ID, Name: s.Name, Why: s.Why}
	})), err
}

func (h *handler) RenameTag(ctx context.Context, r api.RenameTagRequestObject) (api.RenameTagResponseObject, error) {
	d, err := h.house.Describing.Rename(ctx, viewerOf(ctx), r.ID, r.Body.Name, value(r.Body.Merge))
	return api.RenameTag200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) SpellTag(ctx context.Context, r api.SpellTagRequestObject) (api.SpellTagResponseObject, error) {
	d, err := h.house.Describing.Spell(ctx, viewerOf(ctx), r.ID, r.Body.Name)
	return api.SpellTag200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) UnspellTag(ctx context.Context, r api.UnspellTagRequestObject) (api.UnspellTagResponseObject, error) {
	d, err := h.house.Describing.Unspell(ctx, viewerOf(ctx), r.ID)
	return api.UnspellTag200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) MergeTags(ctx context.Context, r api.MergeTagsRequestObject) (api.MergeTagsResponseObject, error) {
	d, err := h.house.Describing.Merge(ctx, viewerOf(ctx), r.Body.Into, r.Body.From)
	return api.MergeTags200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveTags(ctx context.Context, r api.RemoveTagsRequestObject) (api.RemoveTagsResponseObject, error) {
	d, err := h.house.Describing.Remove(ctx, viewerOf(ctx), r.Body.Ids)
	return api.RemoveTags200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) GroupTags(ctx context.Context, r api.GroupTagsRequestObject) (api.GroupTagsResponseObject, error) {
	d, err := h.house.Describing.Group(ctx, viewerOf(ctx), r.Body.Ids, value(r.Body.Group))
	return api.GroupTags200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) TidyTags(ctx context.Context, _ api.TidyTagsRequestObject) (api.TidyTagsResponseObject, error) {
	d, err := h.house.Describing.Tidy(ctx, viewerOf(ctx))
	return api.TidyTags200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListSpellings(ctx context.Context, _ api.ListSpellingsRequestObject) (api.ListSpellingsResponseObject, error) {
	spellings, err := h.house.Describing.Spellings(ctx, viewerOf(ctx))
	return api.ListSpellings200JSONResponse(each(spellings, func(s tagstore.Spelling) api.Spelling {
		return api.Spelling{ID: s.ID, Tag: s.Tag, Name: s.Name}
	})), err
}

func (h *handler) ListTagGroups(ctx context.Context, _ api.ListTagGroupsRequestObject) (api.ListTagGroupsResponseObject, error) {
	groups, err := h.house.Describing.Groups(ctx, viewerOf(ctx))
	return api.ListTagGroups200JSONResponse(each(groups, func(g tagstore.TagGroup) api.TagGroup {
		return api.TagGroup{ID: g.ID, Name: g.Name, Closed: g.Closed, Tags: g.Tags}
	})), err
}

func (h *handler) MakeTagGroup(ctx context.Context, r api.MakeTagGroupRequestObject) (api.MakeTagGroupResponseObject, error) {
	d, err := h.house.Describing.MakeGroup(ctx, viewerOf(ctx), r.Body.Name)
	return api.MakeTagGroup200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeTagGroup(ctx context.Context, r api.ChangeTagGroupRequestObject) (api.ChangeTagGroupResponseObject, error) {
	d, err := h.house.Describing.ChangeGroup(ctx, viewerOf(ctx), r.ID, r.Body.Name, r.Body.Closed)
	return api.ChangeTagGroup200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveTagGroup(ctx context.Context, r api.RemoveTagGroupRequestObject) (api.RemoveTagGroupResponseObject, error) {
	d, err := h.house.Describing.RemoveGroup(ctx, viewerOf(ctx), r.ID)
	return api.RemoveTagGroup200JSONResponse{DoneJSONResponse: done(d)}, err
}
