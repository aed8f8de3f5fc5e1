package web

import (
	"cmp"
	"context"
	"encoding/json"
	"slices"
	"strconv"
	"time"

	"brightsatchel/api"
	"brightsatchel/internal/core/keeping"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/finding"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/poststore"
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
	return api.GetFacets200JSONResponse{Total: f.Total, Tags: facetIDs(f.Tags, names.Tags), Stages: facetIDs(f.Stages, names.Stages),
		Stars: facetIDs(stars, nil),
		Kinds: facetNames(f.Kinds), Cameras: facetNames(f.Cameras), Places: mostNamed(facetNames(f.Places)), Sources: facetNames(f.Sources),
		By: facetIDs(f.By, names.People), Formats: facetNames(f.Formats),
		Lacks: facetNames(f.Lacks), States: facetNames(f.States), Years: facetNames(years)}, nil
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

// mostNamed are the first of many values that people have typed.
func mostNamed(all []api.FacetName) []api.FacetName { return all[:min(len(all), 1000)] }

func (h *handler) ListDays(ctx context.Context, r api.ListDaysRequestObject) (api.ListDaysResponseObject, error) {
	days, err := h.house.Finding.Days(ctx, viewerOf(ctx), *queryOf(r.Body))
	return api.ListDays200JSONResponse(each(days, func(d findstore.Day) api.Day { return api.Day{Date: d.Date, Items: d.Items} })), err
}

func (h *handler) GetHistory(ctx context.Context, r api.GetHistoryRequestObject) (api.GetHistoryResponseObject, error) {
	v := viewerOf(ctx)
	found, err := h.house.Finding.History(ctx, v, r.ID)
	return api.GetHistory200JSONResponse{
		Versions: each(found.Versions, func(x assetstore.Version) api.Version {
			return api.Version{ID: x.ID, FileName: x.FileName, Bytes: x.Bytes, MediaType: x.MediaType, Width: x.Width, Height: x.Height,
				Created: x.Created, Current: x.Current}
		}),
		Trail: each(found.Trail, trailEntry(v)),
		Sent: each(found.Sent, func(s downloadstore.SentOut) api.SentOut {
			return api.SentOut{At: s.At, By: s.By, Size: s.Size, Place: s.Place, Name: s.Name, Width: s.Width, Height: s.Height, Older: s.Older}
		}),
	}, err
}

func (h *handler) SizeUp(ctx context.Context, r api.SizeUpRequestObject) (api.SizeUpResponseObject, error) {
	items, bytes, err := h.house.Finding.SizeUp(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.SizeUp200JSONResponse{Items: items, Bytes: bytes}, err
}

func (h *handler) GetOverview(ctx context.Context, _ api.GetOverviewRequestObject) (api.GetOverviewResponseObject, error) {
	c, err := h.house.Finding.Counts(ctx, viewerOf(ctx))
	return api.GetOverview200JSONResponse{Everything: c.Everything, Unfiled: c.Unfiled, Undescribed: c.Undescribed,
		Unchosen: c.Unchosen, Bin: c.Bin}, err
}

// mostOfSheet is how many items of a sheet travel at once.
const mostOfSheet = 20_000

func (h *handler) ListSheet(ctx context.Context, r api.ListSheetRequestObject) (api.ListSheetResponseObject, error) {
	page, err := h.house.Finding.Sheet(ctx, viewerOf(ctx), *queryOf(r.Body), value(r.Params.From),
		cmp.Or(value(r.Params.Most), mostOfSheet))
	if err != nil {
		return nil, err
	}
	rows := page.Rows
	out := api.ListSheet200JSONResponse{Total: page.Total, Items: page.Items, Aside: page.Aside, Ids: make([]int64, len(rows)),
		Ratios: make([]int, len(rows)), Tints: make([]int, len(rows)),
		Piles: each(page.Piles, func(p findstore.SheetPile) api.SheetPile {
			return api.SheetPile{Ids: p.IDs, Front: p.Front, Why: some(p.Why), Unfolded: p.Unfolded}
		})}
	for i, row := range rows {
		out.Ids[i], out.Tints[i] = row.ID, row.Tint
		out.Ratios[i] = max(1, row.Width*1000/max(1, row.Height))
	}
	return out, nil
}

func (h *handler) LoadRows(ctx context.Context, r api.LoadRowsRequestObject) (api.LoadRowsResponseObject, error) {
	rows, err := h.house.Finding.Rows(ctx, viewerOf(ctx), r.Body.Ids)
	return api.LoadRows200JSONResponse(each(rows, assetRow)), err
}

func (h *handler) GetAsset(ctx context.Context, r api.GetAssetRequestObject) (api.GetAssetResponseObject, error) {
	card, err := h.house.Finding.Card(ctx, viewerOf(ctx), r.ID)
	if err != nil {
		return nil, err
	}
	out, err := assetCard(card, viewerOf(ctx).Person)
	return api.GetAsset200JSONResponse(out), err
}

func (h *handler) GetMetadata(ctx context.Context, r api.GetMetadataRequestObject) (api.GetMetadataResponseObject, error) {
	raw, err := h.house.Finding.Metadata(ctx, viewerOf(ctx), r.ID)
	if err != nil {
		return nil, err
	}
	out := map[string]any{}
	return api.GetMetadata200JSONResponse(out), json.Unmarshal(raw, &out)
}

func queryOf(q *api.SheetQuery) *query.Query {
	return &query.Query{
		Place: string(q.Place), ID: value(q.ID), Below: value(q.Below), Filter: ruleOf(q.Filter), Sort: string(value(q.Sort)),
		Descending: value(q.Descending), Piled: value(q.Piled), Unfolded: value(q.Unfolded),
	}
}

func ruleOf(r *api.Rule) *query.Rule {
	if r == nil {
		return nil
	}
	out := query.Rule{Match: string(value(r.Match)), Field: string(value(r.Field)), IDs: value(r.Ids), Names: value(r.Names),
		Below: value(r.Below), Missing: value(r.Missing),
		From: r.From, To: r.To, Since: value(r.Since), Until: value(r.Until), Last: value(r.Last),
		Next: value(r.Next)}
	for _, x := range value(r.Rules) {
		out.Rules = append(out.Rules, *ruleOf(&x))
	}
	return &out
}

// ruleTold is a rule as the contract has it, which is as core/query writes it.
func ruleTold(r query.Rule) (out api.Rule) {
	text, err := json.Marshal(r)
	if err == nil {
		err = json.Unmarshal(text, &out)
	}
	if err != nil {
		panic(err) // a rule can be written
	}
	return out
}

func (h *handler) CountRules(ctx context.Context, r api.CountRulesRequestObject) (api.CountRulesResponseObject, error) {
	rules := each(r.Body.Rules, func(x api.Rule) query.Rule { return *ruleOf(&x) })
	counted, err := h.house.Finding.CountRules(ctx, viewerOf(ctx), *queryOf(&r.Body.Query), rules)
	return api.CountRules200JSONResponse{Items: counted.Items, Said: counted.Said}, err
}

func (h *handler) ReadRules(ctx context.Context, r api.ReadRulesRequestObject) (api.ReadRulesResponseObject, error) {
	offers, err := h.house.Finding.Offers(ctx, viewerOf(ctx), *queryOf(&r.Body.Query), r.Body.Typed)
	return api.ReadRules200JSONResponse(each(offers, func(o finding.Offered) api.RuleOffer {
		return api.RuleOffer{Rule: ruleTold(o.Rule), Said: o.Said, Rest: o.Rest, Items: o.Items, Sure: o.Sure}
	})), err
}

func selectionOf(s api.Selection) query.Selection {
	out := query.Selection{IDs: value(s.Ids), Except: value(s.Except)}
	if s.Everything != nil {
		out.Everything = queryOf(s.Everything)
	}
	return out
}

func maybeSelection(s *api.Selection) *query.Selection {
	if s == nil {
		return nil
	}
	out := selectionOf(*s)
	return &out
}

func assetRow(a assetstore.AssetRow) api.AssetRow {
	out := api.AssetRow{
		ID: a.ID, Code: a.Code, Version: a.Version, Kind: api.Kind(a.Kind), Title: a.Title, Alt: a.Alt, FileName: a.FileName,
		Width: a.Width, Height: a.Height, Seconds: nullFloat(a.Seconds), Stars: a.Stars, Keeper: a.Keeper, Tint: a.Tint, Live: a.Live,
	}
	out.Bytes, out.Added, out.AddedBy, out.Changed = a.Bytes, a.Added, nullString(a.AddedBy), a.Changed
	out.Folder, out.Stage, out.TagNames = nullInt(a.Folder), nullString(a.Stage), append([]string{}, a.Tags...)
	if a.Taken.Valid {
		taken := a.Taken.Time.Format(localTime)
		out.Taken = &taken
	}
	if a.Binned.Valid {
		left := keeping.DaysLeft(a.Binned.Time, time.Now())
		out.DaysLeft = &left
	}
	if a.Pages.Valid {
		pages := int(a.Pages.Int64)
		out.Pages = &pages
	}
	if a.Stacked > 1 {
		out.Stacked = &a.Stacked
		if a.Behind {
			out.Behind = &a.Behind
		}
	}
	if !a.Recipe.Neutral() {
		out.Prepared = new(true)
	}
	if a.Sent != "" {
		out.Sent = new(api.AssetRowSent(a.Sent))
	}
	if a.LeftOver != "" {
		left := api.AssetRowLeft(a.LeftOver)
		out.Left = &left
	}
	return out
}

// assetCard is a card as a person sees it.
func assetCard(c finding.Card, viewer int64) (api.Asset, error) {
	row := assetRow(c.AssetRow)
	out := api.Asset{
		ID: row.ID, Code: row.Code, Version: row.Version, Kind: row.Kind, Title: row.Title, Alt: row.Alt, FileName: row.FileName,
		Width: row.Width, Height: row.Height, Seconds: row.Seconds, Pages: row.Pages, Stars: row.Stars, Keeper: row.Keeper,
		Tint: row.Tint, Live: row.Live,
		Revision: c.Revision, Description: c.Description, Credit: c.Credit, Copyright: c.Copyright,
		Camera: some(c.Camera), Lens: some(c.Lens), Place: some(c.Place), MediaType: c.MediaType,
		Bytes: row.Bytes, Taken: row.Taken, Added: row.Added, AddedBy: row.AddedBy, Changed: row.Changed, Folder: row.Folder,
		Stage: row.Stage, TagNames: row.TagNames, DaysLeft: row.DaysLeft, FolderPath: some(c.FolderPath),
		CameAs:     some(c.CameAs),
		UsageTerms: c.UsageTerms, RightsUntil: c.RightsUntil, FileTakenZone: some(c.FileZone), TakenZone: some(c.TakenZone),
		Tags: each(c.Tags, tag), People: []string{}, Shown: each(c.Shown, shownAt), May: actions(c.May),
		Albums: each(c.Albums, func(a albumstore.Album) api.AlbumName { return api.AlbumName{ID: a.ID, Name: a.Name} }),
	}
	out.Source, out.Exposure, out.Codec = api.Source(c.Source), some(c.Exposure), some(c.Codec)
	out.Latitude, out.Longitude, out.Sharpness = nullFloat(c.Latitude), nullFloat(c.Longitude), nullFloat(c.Sharpness)
	if c.Sharpness.Valid && c.Kind == "picture" {
		focus := api.Focus(likeness.FocusOf(c.Sharpness.Float64))
		out.Focus = &focus
	}
	out.FocalFor = map[string]api.FocalPoint{}
	for proportion, at := range c.Focals {
		out.FocalFor[proportion] = api.FocalPoint{X: new(at.X), Y: new(at.Y)}
	}
	out.FocalX, out.FocalY, out.Label = c.FocalX, c.FocalY, some(c.Label)
	out.Stacked, out.Prepared = row.Stacked, row.Prepared
	if c.Sent != "" {
		out.Sent = new(api.AssetSent(c.Sent))
	}
	out.Raw, out.FocalByHand = media.Raw(c.MediaType), c.FocalBy == "person"
	out.FileSeconds = nullFloat(c.FileSeconds)
	out.RecipeHash, out.FileWidth, out.FileHeight = c.Recipe.Hash(), c.FileWidth, c.FileHeight
	if row.Left != nil {
		left := api.AssetLeft(*row.Left)
		out.Left = &left
	}
	if c.LeftAt.Valid {
		at := c.LeftIn.String + "/" + c.LeftAt.String // where that is on the server is for stewards
		out.LeftAt = &at
	}
	out.Stack = each(c.Stack, assetRow)
	out.Beside = each(c.Beside, func(b assetstore.BesideStars) api.BesideStars {
		return api.BesideStars{Name: b.Name, Stars: b.Stars, Mine: b.Person == viewer}
	})
	out.Faces = each(c.Faces, faceOf)
	out.Against = append([]string{}, c.Against...)
	out.Origins = each(c.Origins, func(o assetstore.Origin) api.Origin {
		return api.Origin{Outlet: o.OutletName, Album: o.Album, PostedBy: o.PostedBy, Own: o.Own}
	})
	rights, days := keeping.RightsOn(c.RightsUntil, time.Now().UTC())
	out.Rights, out.RightsDays = api.RightsState(rights), days
	if c.FileTaken.Valid {
		taken := c.FileTaken.Time.Format(localTime)
		out.FileTaken = &taken
	}
	if c.Binned.Valid {
		out.Binned = &c.Binned.Time
	}
	for _, t := range c.Tags {
		if t.Group == "People" {
			out.People = append(out.People, t.Name)
		}
	}
	var err error
	out.Recipe, err = recipeOf(c.Recipe.Recipe)
	return out, err
}

// localTime is a time without a zone, as cameras write it.
const localTime = "2006-01-02T15:04:05"

func shownAt(s poststore.ShownAt) api.ShownAt {
	return api.ShownAt{Kind: api.ShownAtKind(s.Kind), Name: s.Name, Path: s.Path, Since: moment(s.Since), Pages: s.Pages,
		Size: some(s.Size), Older: some(s.Older)}
}
