package web

import (
	"cmp"
	"context"
	"slices"
	"strconv"

	"brightsatchel/api"
	"brightsatchel/internal/store"
)

// The operations of finding beside the sheet itself: facets, days, the history of an item.

func (h *handler) GetFacets(ctx context.Context, r api.GetFacetsRequestObject) (api.GetFacetsResponseObject, error) {
	v := viewerOf(ctx)
	f, err := h.house.Finding.Facets(ctx, v, *queryOf(r.Body))
	if err != nil {
		return nil, err
	}
	names, err := h.house.Finding.Names(ctx, v)
	if err != nil {
		return nil, err
	}
	years := map[string]int{}
	for year, n := range f.Years {
		years[strconv.Itoa(year)] = n
	}
	stars := map[int64]int{}
	for value, n := range f.Stars {
		stars[int64(value)] = n
	}
	return api.GetFacets200JSONResponse{Total: f.Total, Tags: facetIDs(f.Tags, names.Tags), Stages: facetIDs(f.Stages, names.Stages), Stars: facetIDs(stars, nil),
		Kinds: facetNames(f.Kinds), Cameras: facetNames(f.Cameras), Sources: facetNames(f.Sources), Years: facetNames(years)}, nil
}

// facetIDs lists values with how many have each, the most frequent first.
func facetIDs(counts map[int64]int, names map[int64]string) []api.FacetID {
	out := []api.FacetID{}
	for id, n := range counts {
		out = append(out, api.FacetID{ID: id, Name: some(names[id]), Items: n})
	}
	slices.SortFunc(out, func(a, b api.FacetID) int { return cmp.Or(cmp.Compare(b.Items, a.Items), cmp.Compare(a.ID, b.ID)) })
	return out
}

func facetNames(counts map[string]int) []api.FacetName {
	out := []api.FacetName{}
	for name, n := range counts {
		out = append(out, api.FacetName{Name: name, Items: n})
	}
	slices.SortFunc(out, func(a, b api.FacetName) int {
		return cmp.Or(cmp.Compare(b.Items, a.Items), cmp.Compare(a.Name, b.Name))
	})
	return out
}

func (h *handler) ListDays(ctx context.Context, r api.ListDaysRequestObject) (api.ListDaysResponseObject, error) {
	days, err := h.house.Finding.Days(ctx, viewerOf(ctx), *queryOf(r.Body))
	return api.ListDays200JSONResponse(each(days, func(d store.Day) api.Day { return api.Day{Date: d.Date, Items: d.Items} })), err
}

func (h *handler) GetHistory(ctx context.Context, r api.GetHistoryRequestObject) (api.GetHistoryResponseObject, error) {
	v := viewerOf(ctx)
	found, err := h.house.Finding.History(ctx, v, r.ID)
	return api.GetHistory200JSONResponse{
		Versions: each(found.Versions, func(x store.Version) api.Version {
			return api.Version{ID: x.ID, FileName: x.FileName, Bytes: x.Bytes, MediaType: x.MediaType, Width: x.Width, Height: x.Height, Created: x.Created, Current: x.Current}
		}),
		Trail: each(found.Trail, trailEntry(v)),
	}, err
}

func (h *handler) SizeUp(ctx context.Context, r api.SizeUpRequestObject) (api.SizeUpResponseObject, error) {
	items, bytes, err := h.house.Finding.SizeUp(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.SizeUp200JSONResponse{Items: items, Bytes: bytes}, err
}
