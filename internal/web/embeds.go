package web

import (
	"context"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/sendout/embedding"
	"brightsatchel/internal/sendout/showing"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/embedstore"
)

func (h *handler) ListEmbeds(ctx context.Context, _ api.ListEmbedsRequestObject) (api.ListEmbedsResponseObject, error) {
	all, err := h.house.Embedding.Embeds(ctx, viewerOf(ctx))
	origin := h.originOf(ctx.(*gin.Context))
	return api.ListEmbeds200JSONResponse(each(all, func(e embedstore.Embed) api.Embed {
		return api.Embed{ID: e.ID, Code: e.Code, Name: e.Name, Live: e.Live, Settings: embedSettings(e.Settings.Settings), Pages: e.Pages,
			Address: origin + "/e/" + e.Code, Snippet: embeds.Snippet(origin, e.Code, e.Name), Frame: embeds.Frame(origin, e.Code, e.Name),
			Sources: each(e.Sources, func(s assetstore.Place) api.NamedEmbedSource {
				return api.NamedEmbedSource{Folder: some(s.Folder), Album: some(s.Album), Below: s.Below, Name: s.Name, ByRule: s.ByRule}
			})}
	})), err
}

func (h *handler) CreateEmbed(ctx context.Context, r api.CreateEmbedRequestObject) (api.CreateEmbedResponseObject, error) {
	d, err := h.house.Embedding.CreateEmbed(ctx, viewerOf(ctx), embedding.EmbedChange{Name: r.Body.Name,
		Sources: embedSources(r.Body.Sources)})
	return api.CreateEmbed200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeEmbed(ctx context.Context, r api.ChangeEmbedRequestObject) (api.ChangeEmbedResponseObject, error) {
	c := embedding.EmbedChange{Name: r.Body.Name, Live: r.Body.Live}
	if r.Body.Sources != nil {
		c.Sources = embedSources(*r.Body.Sources)
	}
	if s := r.Body.Settings; s != nil {
		c.Settings = &embeds.Settings{Layout: string(s.Layout), Sort: string(s.Sort), Descending: s.Descending, Most: s.Most,
			Columns: s.Columns, Height: s.Height, Gap: s.Gap, Corner: s.Corner, Caption: string(s.Caption), Click: string(s.Click),
			Link: s.Link, Background: s.Background, Text: s.Text}
	}
	d, err := h.house.Embedding.ChangeEmbed(ctx, viewerOf(ctx), r.ID, c)
	return api.ChangeEmbed200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveEmbed(ctx context.Context, r api.RemoveEmbedRequestObject) (api.RemoveEmbedResponseObject, error) {
	d, err := h.house.Embedding.RemoveEmbed(ctx, viewerOf(ctx), r.ID)
	return api.RemoveEmbed200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) CheckEmbed(ctx context.Context, r api.CheckEmbedRequestObject) (api.CheckEmbedResponseObject, error) {
	c, err := h.house.Embedding.CheckEmbed(ctx, viewerOf(ctx), r.ID)
	return api.CheckEmbed200JSONResponse(sendingCheck(c)), err
}

// ShowEmbed shows an embed before it is live: its pictures are for those who may look at them here.
func (h *handler) ShowEmbed(ctx context.Context, r api.ShowEmbedRequestObject) (api.ShowEmbedResponseObject, error) {
	v := viewerOf(ctx)
	e, err := h.house.Embedding.SeenEmbed(ctx, v, r.ID)
	if err != nil {
		return nil, err
	}
	return api.ShowEmbed200JSONResponse(embedded(&e, h.originOf(ctx.(*gin.Context)), "/embedded/"+v.BrandCode+"/")), nil
}

func (h *handler) ListEmbedSightings(ctx context.Context, r api.ListEmbedSightingsRequestObject,
) (api.ListEmbedSightingsResponseObject, error) {
	seen, err := h.house.Embedding.EmbedSeen(ctx, viewerOf(ctx), r.ID)
	return api.ListEmbedSightings200JSONResponse(each(seen, sighting)), err
}

// ViewEmbed shows a live embed to any page that asks.
func (h *handler) ViewEmbed(ctx context.Context, r api.ViewEmbedRequestObject) (api.ViewEmbedResponseObject, error) {
	c := ctx.(*gin.Context)
	forAnyPage(c.Writer.Header())
	e, err := h.liveEmbed(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	c.Header("Cache-Control", keepList)
	if page := pageOf(value(r.Params.At), c.GetHeader("Origin")); page != "" {
		h.sightings.saw(e.Code+" "+page, func() error { return assetstore.SawEmbed(ctx, h.house.DB, e.Brand, e.ID, page) })
	}
	return api.ViewEmbed200JSONResponse(embedded(e, h.originOf(c), "/e/"+e.Code+"/")), nil
}

// embedded is what an embed shows, its pictures under a path.
func embedded(e *showing.Embedded, origin, under string) api.Embedded {
	caption := e.Settings.Caption
	return api.Embedded{Name: e.Name, BrandName: e.BrandName, Page: origin + "/e/" + e.Code, Settings: embedSettings(e.Settings.Settings),
		Total: e.Total,
		Pictures: each(e.Pictures, func(a assetstore.Asset) api.EmbeddedPicture {
			return onPage(a, origin+under+a.Code+"/"+a.Version+"/", caption)
		})}
}

// altOf is the alternative text of an item: its title where nobody wrote one.
func altOf(a assetstore.Asset) string {
	if a.Alt != "" {
		return a.Alt
	}
	return a.Title
}

func captionOf(a assetstore.Asset, field string) string {
	switch field {
	case "title":
		return a.Title
	case "description":
		return a.Description
	case "credit":
		return a.Credit
	}
	return ""
}

func embedSettings(s embeds.Settings) api.EmbedSettings {
	return api.EmbedSettings{Layout: api.EmbedSettingsLayout(s.Layout), Sort: api.EmbedSettingsSort(s.Sort), Descending: s.Descending,
		Most: s.Most, Columns: s.Columns, Height: s.Height, Gap: s.Gap, Corner: s.Corner, Caption: api.EmbedSettingsCaption(s.Caption),
		Click: api.EmbedSettingsClick(s.Click), Link: s.Link, Background: s.Background, Text: s.Text}
}

func embedSources(in []api.EmbedSource) []assetstore.Place {
	return each(in, func(s api.EmbedSource) assetstore.Place {
		return assetstore.Place{Folder: value(s.Folder), Album: value(s.Album), Below: s.Below}
	})
}
