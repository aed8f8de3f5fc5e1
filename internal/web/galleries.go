package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/gallerystore"
)

func (h *handler) ListGalleries(ctx context.Context, _ api.ListGalleriesRequestObject) (api.ListGalleriesResponseObject, error) {
	all, err := h.house.Hosting.Galleries(ctx, viewerOf(ctx))
	return api.ListGalleries200JSONResponse(each(all, gallery)), err
}

func (h *handler) CreateGallery(ctx context.Context, r api.CreateGalleryRequestObject) (api.CreateGalleryResponseObject, error) {
	d, err := h.house.Hosting.CreateGallery(ctx, viewerOf(ctx), string(r.Body.Kind), hosting.GalleryChange{Title: r.Body.Title,
		Password: r.Body.Password, Address: r.Body.Address, Chapters: chapters(r.Body.Chapters)})
	return api.CreateGallery200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeGallery(ctx context.Context, r api.ChangeGalleryRequestObject) (api.ChangeGalleryResponseObject, error) {
	b := r.Body
	c := hosting.GalleryChange{Title: b.Title, Message: b.Message, Password: b.Password, Ends: b.Ends, Address: b.Address, Cover: b.Cover,
		TakesInto: b.TakesInto, Open: b.Open, Audience: (*string)(b.Audience)}
	if b.Chapters != nil {
		c.Chapters = chapters(*b.Chapters)
	}
	if s := b.Settings; s != nil {
		c.Settings = &galleries.Settings{Accent: string(s.Accent), Lettering: string(s.Lettering), Sizes: s.Sizes, Original: s.Original,
			Downloads: s.Downloads, SeeEachOther: s.SeeEachOther, Remarks: s.Remarks,
			Mark: outputs.Mark{Words: s.MarkWords, Place: string(s.MarkPlace), Strength: s.MarkStrength, Item: value(s.MarkItem)}}
	}
	d, err := h.house.Hosting.ChangeGallery(ctx, viewerOf(ctx), r.ID, c)
	return api.ChangeGallery200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveGallery(ctx context.Context, r api.RemoveGalleryRequestObject) (api.RemoveGalleryResponseObject, error) {
	d, err := h.house.Hosting.RemoveGallery(ctx, viewerOf(ctx), r.ID)
	return api.RemoveGallery200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) MergeGalleries(ctx context.Context, r api.MergeGalleriesRequestObject) (api.MergeGalleriesResponseObject, error) {
	d, err := h.house.Hosting.MergeGalleries(ctx, viewerOf(ctx), r.ID, r.Body.From)
	return api.MergeGalleries200JSONResponse{DoneJSONResponse: done(d)}, err
}

func chapters(in []api.GalleryChapter) []gallerystore.Chapter {
	return each(in, func(c api.GalleryChapter) gallerystore.Chapter {
		return gallerystore.Chapter{ID: value(c.ID), Title: value(c.Title), Words: value(c.Words),
			Place: assetstore.Place{Folder: value(c.Folder), Album: value(c.Album), Below: c.Below}}
	})
}

func gallery(g gallerystore.Gallery) api.Gallery {
	s := g.Settings.Settings
	return api.Gallery{
		ID: g.ID, Code: g.Code, Kind: api.GalleryKind(g.Kind), Title: g.Title, Message: g.Message, Open: g.Open && !g.Ended(),
		HasPassword: g.PasswordHash != "", Audience: api.GalleryAudience(g.Audience), Address: some(g.Address), Path: g.At(),
		Ends: nullString(g.Ends), Items: g.Items, Cover: cover(g.Cover), CoverChosen: g.Chosen.Valid, TakesInto: nullInt(g.TakesInto),
		Settings: api.GallerySettings{Accent: api.GalleryAccent(s.Accent), Lettering: api.GalleryLettering(s.Lettering), Sizes: s.Sizes,
			Original: s.Original, Downloads: s.Downloads, SeeEachOther: s.SeeEachOther, Remarks: s.Remarks, MarkWords: s.Mark.Words,
			MarkPlace: api.GallerySettingsMarkPlace(s.Mark.Place), MarkStrength: s.Mark.Strength,
			MarkItem: some(s.Mark.Item)},
		Chapters: each(g.Chapters, func(c gallerystore.Chapter) api.GalleryChapter {
			return api.GalleryChapter{ID: &c.ID, Title: &c.Title, Words: &c.Words, Name: &c.Name, Folder: some(c.Folder), Album: some(c.Album),
				Below: c.Below, ByRule: &c.ByRule}
		}),
	}
}
