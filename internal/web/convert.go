package web

import (
	"database/sql"
	"time"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/keeping"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/filing"
	"brightsatchel/internal/finding"
	"brightsatchel/internal/sendout"
	"brightsatchel/internal/store"
)

// each converts a slice; of nothing it makes an empty one, since the contract knows no null lists.
func each[A, B any](in []A, f func(A) B) []B {
	out := make([]B, len(in))
	for i, a := range in {
		out[i] = f(a)
	}
	return out
}

// value is what a pointer points to, or the zero value.
func value[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}

func nullInt(n sql.NullInt64) *int64 {
	if !n.Valid {
		return nil
	}
	return &n.Int64
}

func nullString(s sql.NullString) *string {
	if !s.Valid {
		return nil
	}
	return &s.String
}

func nullFloat(f sql.NullFloat64) *float64 {
	if !f.Valid {
		return nil
	}
	return &f.Float64
}

func queryOf(q *api.SheetQuery) *query.Query {
	return &query.Query{
		Place: string(q.Place), ID: value(q.ID), Below: value(q.Below), Words: value(q.Words), Stars: value(q.Stars), Tag: value(q.Tag),
		Kinds:  each(value(q.Kinds), func(k api.Kind) string { return string(k) }),
		Filter: ruleOf(q.Filter), Source: string(value(q.Source)), Outlet: value(q.Outlet), SetAside: value(q.SetAside), Sort: string(value(q.Sort)), Descending: value(q.Descending),
	}
}

func ruleOf(r *api.Rule) *query.Rule {
	if r == nil {
		return nil
	}
	out := query.Rule{Match: string(value(r.Match)), Field: value(r.Field), IDs: value(r.Ids), Names: value(r.Names), Below: value(r.Below), Missing: value(r.Missing),
		From: r.From, To: r.To, Since: value(r.Since), Until: value(r.Until)}
	for _, x := range value(r.Rules) {
		out.Rules = append(out.Rules, *ruleOf(&x))
	}
	return &out
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

func actions(list []access.Action) []api.Action {
	return each(list, func(a access.Action) api.Action { return api.Action(a) })
}

func done(d store.Done) api.DoneJSONResponse {
	out := api.DoneJSONResponse{Said: d.Said, Changed: d.Changed}
	if d.Trail != 0 {
		out.Trail = &d.Trail
	}
	if d.ID != 0 {
		out.ID = &d.ID
	}
	if d.GoesOn {
		out.GoesOn = &d.GoesOn
	}
	return out
}

// localTime is a time without a zone, as cameras write it.
const localTime = "2006-01-02T15:04:05"

func assetRow(a store.AssetRow) api.AssetRow {
	out := api.AssetRow{
		ID: a.ID, Code: a.Code, Version: a.Version, Kind: api.Kind(a.Kind), Title: a.Title, Alt: a.Alt, FileName: a.FileName,
		Width: a.Width, Height: a.Height, Seconds: nullFloat(a.Seconds), Stars: a.Stars, Keeper: a.Keeper, Tint: a.Tint, Live: a.Live,
	}
	out.Bytes, out.Added, out.AddedBy, out.Changed = a.Bytes, a.Added, nullString(a.AddedBy), a.Changed
	out.Folder, out.Stage, out.TagNames = nullInt(a.Folder), nullString(a.Stage), each(a.Tags, func(t string) string { return t })
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
	}
	if a.LeftOver != "" {
		left := api.AssetRowLeft(a.LeftOver)
		out.Left = &left
	}
	return out
}

func assetCard(c finding.Card) api.Asset {
	row := assetRow(c.AssetRow)
	out := api.Asset{
		ID: row.ID, Code: row.Code, Version: row.Version, Kind: row.Kind, Title: row.Title, Alt: row.Alt, FileName: row.FileName,
		Width: row.Width, Height: row.Height, Seconds: row.Seconds, Pages: row.Pages, Stars: row.Stars, Keeper: row.Keeper, Tint: row.Tint, Live: row.Live,
		Revision: c.Revision, Description: c.Description, Credit: c.Credit, Copyright: c.Copyright,
		Camera: some(c.Camera), Lens: some(c.Lens), Place: some(c.Place), MediaType: c.MediaType,
		Bytes: row.Bytes, Taken: row.Taken, Added: row.Added, AddedBy: row.AddedBy, Changed: row.Changed, Folder: row.Folder, Stage: row.Stage, TagNames: row.TagNames, DaysLeft: row.DaysLeft, FolderPath: some(c.FolderPath),
		TakenZone: some(c.TakenZone), Tags: each(c.Tags, tag), People: []string{}, Galleries: c.Galleries, May: actions(c.May),
		Albums: each(c.Albums, func(a store.Album) api.AlbumName { return api.AlbumName{ID: a.ID, Name: a.Name} }),
	}
	out.Source, out.Exposure, out.Codec = api.Source(c.Source), some(c.Exposure), some(c.Codec)
	out.Latitude, out.Longitude, out.Sharpness = nullFloat(c.Latitude), nullFloat(c.Longitude), nullFloat(c.Sharpness)
	out.FocalX, out.FocalY = c.FocalX, c.FocalY
	out.Stacked = row.Stacked
	if row.Left != nil {
		left := api.AssetLeft(*row.Left)
		out.Left = &left
	}
	if c.LeftAt.Valid {
		at := c.LeftIn.String + "/" + c.LeftAt.String // where that is on the server is for stewards
		out.LeftAt = &at
	}
	out.Stack = each(c.Stack, assetRow)
	out.Faces = each(c.Faces, func(f store.Region) api.Face {
		return api.Face{ID: f.ID, X: f.X, Y: f.Y, Width: f.Width, Height: f.Height, Name: f.Name}
	})
	out.Origins = each(c.Origins, func(o store.Origin) api.Origin {
		return api.Origin{Outlet: o.OutletName, Album: o.Album, PostedBy: o.PostedBy, Own: o.Own}
	})
	if c.Binned.Valid {
		out.Binned = &c.Binned.Time
	}
	for _, t := range c.Tags {
		if t.Group == "People" {
			out.People = append(out.People, t.Name)
		}
	}
	return out
}

func folder(f filing.Folder) api.Folder {
	out := api.Folder{ID: f.ID, Code: f.Code, Parent: nullInt(f.Parent), Name: f.Name, Description: f.Description, Own: f.Own, Below: f.Below, All: f.All, Parked: f.Parked,
		Placed: f.Position.Valid, Date: some(f.Date)}
	if f.May != nil {
		may := actions(f.May)
		out.May = &may
	}
	if len(f.Tags) > 0 {
		ids := []int64(f.Tags)
		out.Tags = &ids
	}
	return out
}

func tag(t store.Tag) api.Tag {
	return api.Tag{ID: t.ID, Name: t.Name, Group: t.Group, Uses: t.Uses, FromFiles: t.Files}
}

func cover(c store.Cover) *api.Cover {
	if !c.CoverID.Valid {
		return nil
	}
	return &api.Cover{ID: c.CoverID.Int64, Code: c.CoverCode.String, Version: c.CoverVersion.String, Alt: c.CoverAlt.String}
}

func album(a store.Album) api.Album {
	return api.Album{ID: a.ID, Code: a.Code, Parent: nullInt(a.Parent), Name: a.Name, Description: a.Description, Items: a.Items, Cover: cover(a.Cover)}
}

func outputSize(s store.OutputSize) api.OutputSize {
	return api.OutputSize{
		ID: s.ID, Name: s.Name, Width: s.Width, Height: s.Height, Fit: api.OutputSizeFit(s.Fit), Format: api.OutputSizeFormat(s.Format),
		Quality: s.Quality, Metadata: api.OutputSizeMetadata(s.Metadata), Pattern: s.Pattern,
	}
}

func downloadFile(i store.DownloadItem) api.DownloadFile {
	return api.DownloadFile{ID: i.Asset, Item: i.Item, Name: i.Name, Width: i.Width, Height: i.Height, State: api.DownloadFileState(i.State), Why: some(i.Why)}
}

func download(t sendout.Taken) api.Download {
	out := api.Download{
		ID: t.ID, Code: t.Code, Name: t.Name, OutputSize: t.SizeName, State: api.DownloadState(t.State), Total: len(t.Items),
		Bytes: nullInt(t.Bytes), Started: t.Started, Files: each(t.Items, downloadFile),
	}
	for _, i := range t.Items {
		switch i.State {
		case "made":
			out.Made++
		case "failed":
			out.Failed++
		}
	}
	return out
}

func gallery(g store.Gallery) api.Gallery {
	return api.Gallery{
		ID: g.ID, Code: g.Code, Title: g.Title, Message: g.Message, Open: g.Open && !g.Ended, HasPassword: g.PasswordHash != "", Downloads: g.Downloads,
		OutputSize: &g.SizeID, Ends: nullString(g.Ends), Album: g.Album, AlbumName: g.AlbumName, Items: g.Items, Cover: cover(g.Cover),
	}
}
