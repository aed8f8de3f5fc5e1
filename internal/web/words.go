package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/store/wordstore"

	step "brightsatchel/internal/describing"
)

func (h *handler) WriteWords(ctx context.Context, r api.WriteWordsRequestObject) (api.WriteWordsResponseObject, error) {
	d, err := h.house.Describing.Write(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), describing.Change{Field: string(r.Body.Field),
		How: describing.How(r.Body.How), Text: r.Body.Text})
	return api.WriteWords200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) CompareWords(ctx context.Context, r api.CompareWordsRequestObject) (api.CompareWordsResponseObject, error) {
	shared, items, err := h.house.Describing.Shared(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.CompareWords200JSONResponse{Items: items, Fields: each(shared, func(s wordstore.Shared) api.SharedWord {
		return api.SharedWord{Field: api.WordField(s.Field), Same: s.Same, Different: s.Different, Empty: s.Empty}
	})}, err
}

func (h *handler) ListTexts(ctx context.Context, r api.ListTextsRequestObject) (api.ListTextsResponseObject, error) {
	texts, err := h.house.Describing.Texts(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), string(r.Body.Field))
	return api.ListTexts200JSONResponse(each(texts, func(s wordstore.Said) api.CountedText {
		return api.CountedText{Text: s.Text, Items: s.Items}
	})), err
}

func pattern(p api.TitlePattern) describing.Pattern {
	return describing.Pattern{Text: p.Pattern, Start: p.Start, Digits: p.Digits, Distinct: value(p.Distinct), Fill: value(p.Fill)}
}

func (h *handler) NameByPattern(ctx context.Context, r api.NameByPatternRequestObject) (api.NameByPatternResponseObject, error) {
	d, err := h.house.Describing.Name(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), pattern(*r.Body))
	return api.NameByPattern200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) PreviewTitles(ctx context.Context, r api.PreviewTitlesRequestObject) (api.PreviewTitlesResponseObject, error) {
	named, items, err := h.house.Describing.PreviewNames(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), pattern(*r.Body))
	return api.PreviewTitles200JSONResponse{Items: items, Titles: each(named, func(n step.Named) api.TitleChange {
		return api.TitleChange{ID: n.ID, Was: n.Was, Becomes: n.Becomes}
	})}, err
}

func (h *handler) TakeOverWords(ctx context.Context, r api.TakeOverWordsRequestObject) (api.TakeOverWordsResponseObject, error) {
	fields := each(r.Body.Fields, func(f api.WordField) string { return string(f) })
	d, err := h.house.Describing.TakeOver(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Asset, fields, value(r.Body.Tags))
	return api.TakeOverWords200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) SetClock(ctx context.Context, r api.SetClockRequestObject) (api.SetClockResponseObject, error) {
	d, err := h.house.Describing.SetClock(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), calendar.Clock{Back: value(r.Body.Back),
		Seconds: value(r.Body.Seconds), Zone: value(r.Body.Zone)})
	return api.SetClock200JSONResponse{DoneJSONResponse: done(d)}, err
}
