package web

import (
	"context"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/sendout/embedding"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/embedstore"
)

func (h *handler) ListSites(ctx context.Context, _ api.ListSitesRequestObject) (api.ListSitesResponseObject, error) {
	sites, err := h.house.Embedding.Sites(ctx, viewerOf(ctx))
	origin := h.originOf(ctx.(*gin.Context))
	return api.ListSites200JSONResponse(each(sites, func(s embedstore.Site) api.Site {
		return api.Site{ID: s.ID, Name: s.Name, Origin: s.Origin, Picker: origin + "/pick/" + s.Code}
	})), err
}

func (h *handler) AddSite(ctx context.Context, r api.AddSiteRequestObject) (api.AddSiteResponseObject, error) {
	d, err := h.house.Embedding.AddSite(ctx, viewerOf(ctx), r.Body.Name, r.Body.Origin)
	return api.AddSite200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveSite(ctx context.Context, r api.RemoveSiteRequestObject) (api.RemoveSiteResponseObject, error) {
	d, err := h.house.Embedding.RemoveSite(ctx, viewerOf(ctx), r.ID)
	return api.RemoveSite200JSONResponse{DoneJSONResponse: done(d)}, err
}

// OpenPicker tells somebody for which website they pick. Whoever may not make things public in its brand is told nothing.
func (h *handler) OpenPicker(ctx context.Context, r api.OpenPickerRequestObject) (api.OpenPickerResponseObject, error) {
	site, err := embedstore.SiteByCode(ctx, h.house.DB, r.Code)
	if err != nil {
		return nil, err
	}
	v, err := h.house.People.Viewer(ctx, h.sessions.GetInt64(ctx, "person"), site.BrandCode)
	if err != nil || !v.Can(access.Galleries) {
		return nil, fault.Forbiddenf("You may not pick items for this website. Ask a steward if you need to.")
	}
	return api.OpenPicker200JSONResponse{Brand: site.BrandCode, BrandName: v.BrandName, Name: site.Name, Origin: site.Origin}, nil
}

func (h *handler) ListPublicAddresses(ctx context.Context, r api.ListPublicAddressesRequestObject,
) (api.ListPublicAddressesResponseObject, error) {
	v := viewerOf(ctx)
	all, err := h.house.Embedding.PublicAddresses(ctx, v, value(r.Params.Before))
	if err != nil {
		return nil, err
	}
	out, err := h.publicAddresses(ctx, v.Brand, all)
	return api.ListPublicAddresses200JSONResponse(out), err
}

func (h *handler) MakePublic(ctx context.Context, r api.MakePublicRequestObject) (api.MakePublicResponseObject, error) {
	v := viewerOf(ctx)
	all, d, err := h.house.Embedding.MakePublic(ctx, v, selectionOf(*r.Body))
	if err != nil {
		return nil, err
	}
	out, err := h.publicAddresses(ctx, v.Brand, all)
	return api.MakePublic200JSONResponse{Done: api.Done(done(d)), Addresses: out}, err
}

func (h *handler) EndPublic(ctx context.Context, r api.EndPublicRequestObject) (api.EndPublicResponseObject, error) {
	d, err := h.house.Embedding.EndPublic(ctx, viewerOf(ctx), r.Body.Ids)
	return api.EndPublic200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListAddressSightings(ctx context.Context, r api.ListAddressSightingsRequestObject,
) (api.ListAddressSightingsResponseObject, error) {
	seen, err := h.house.Embedding.AddressSeen(ctx, viewerOf(ctx), r.ID)
	return api.ListAddressSightings200JSONResponse(each(seen, sighting)), err
}

func sighting(s assetstore.Sighting) api.Sighting {
	return api.Sighting{Page: s.Page, First: s.First, Last: s.Last}
}

// publicAddresses are public addresses with the pictures that they lead to.
func (h *handler) publicAddresses(ctx context.Context, brand int64, all []embedstore.PublicAddress) ([]api.PublicAddress, error) {
	assets, err := assetstore.AssetsIn(ctx, h.house.DB, brand, each(all, func(p embedstore.PublicAddress) int64 { return p.Asset }))
	byID := make(map[int64]assetstore.Asset, len(assets))
	for _, a := range assets {
		byID[a.ID] = a
	}
	origin := h.originOf(ctx.(*gin.Context))
	return each(all, func(p embedstore.PublicAddress) api.PublicAddress {
		at := origin + "/p/" + p.Code
		return api.PublicAddress{ID: p.ID, Item: p.Asset, Address: at, Since: p.Since, Pages: p.Pages,
			Picture: onPage(byID[p.Asset], at+"/", "credit")}
	}), err
}

// onPage is an item as a page shows it, its picture under a path.
func onPage(a assetstore.Asset, at, caption string) api.EmbeddedPicture {
	p := api.EmbeddedPicture{Kind: api.Kind(a.Kind), Title: a.Title, Alt: altOf(a), Caption: captionOf(a, caption), Width: a.Width,
		Height: a.Height, FocalX: a.FocalX, FocalY: a.FocalY, Tint: a.Tint, Picture: at + "{width}.{format}",
		Widths: embeds.WidthsOf(a.Width), Formats: embedding.EmbedFormats(a)}
	if a.Kind == "clip" {
		p.Film = some(at + "film.mp4")
	}
	return p
}
