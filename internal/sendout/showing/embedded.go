package showing

import (
	"context"
	"slices"
	"time"

	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/facestore"
)

// Embedded is an embed with what it shows now. Total is how many there are without its bound.
type Embedded struct {
	embedstore.Embed
	Total    int
	Pictures []assetstore.Asset
	byCode   map[string]int
}

// OfEmbed finds what an embed shows. What should not go out is left out by itself: an item whose rights ended yesterday is gone today.
func OfEmbed(ctx context.Context, db *store.DB, e embedstore.Embed) (Embedded, error) {
	out := Embedded{Embed: e, byCode: map[string]int{}}
	most := e.Settings.Most
	if e.Settings.Layout == embeds.Single {
		most = 1
	}
	var ids []int64
	now := time.Now()
	for from := 0; len(ids) < most; from += embeds.MostPictures {
		some, total, err := EmbedIDs(ctx, db, &e, from, embeds.MostPictures)
		if err != nil {
			return out, err
		}
		known, err := facestore.Leaving(ctx, db, e.Brand, some)
		if err != nil {
			return out, err
		}
		for _, id := range some {
			l, there := known[id]
			hinders := !there || l.SetAside || slices.ContainsFunc(sending.Check(l, now), sending.Hinders)
			if !hinders && len(ids) < most {
				ids = append(ids, id)
			}
		}
		if out.Total = total; len(some) < embeds.MostPictures || from >= lookedThrough {
			break
		}
	}
	var err error
	if out.Pictures, err = assetstore.AssetsIn(ctx, db, e.Brand, ids); err != nil {
		return out, err
	}
	out.Pictures = slices.DeleteFunc(out.Pictures, func(a assetstore.Asset) bool { return a.Kind == "file" || a.Width == 0 || a.Height == 0 })
	for i, a := range out.Pictures {
		out.byCode[a.Code] = i
	}
	return out, nil
}

// lookedThrough is how many items are looked through for some that may go out.
const lookedThrough = 20_000

// EmbedIDs lists a part of what the places of an embed hold, each item once, and how many there are in all.
func EmbedIDs(ctx context.Context, db *store.DB, e *embedstore.Embed, from, most int) ([]int64, int, error) {
	sources := slices.DeleteFunc(slices.Clone(e.Sources), func(s assetstore.Place) bool { return s.Folder == 0 && s.Album == 0 })
	switch {
	case len(sources) == 0:
		return nil, 0, nil
	case len(sources) == 1:
		return Page(ctx, db, e.Brand, SourceQuery(sources[0], &e.Settings.Settings), from, most)
	case e.Settings.Sort != "hand":
		return Page(ctx, db, e.Brand, together(sources, &e.Settings.Settings), from, most)
	}
	// by hand: one place after the other, each in its own order
	var all []int64
	there := map[int64]bool{}
	for _, source := range sources {
		ids, _, err := Page(ctx, db, e.Brand, SourceQuery(source, &e.Settings.Settings), 0, from+most)
		if err != nil {
			return nil, 0, err
		}
		for _, id := range ids {
			if !there[id] {
				there[id] = true
				all = append(all, id)
			}
		}
	}
	total, err := CountPlaces(ctx, db, e.Brand, sources)
	return all[min(from, len(all)):min(from+most, len(all))], total, err
}

// SourceQuery asks for what is in one place of an embed.
func SourceQuery(s assetstore.Place, by *embeds.Settings) query.Query {
	q := query.Query{Place: "folder", ID: s.Folder, Below: s.Below, Sort: by.Sort, Descending: by.Descending}
	if s.Album != 0 {
		q.Place, q.ID = "album", s.Album
	}
	if by.Sort == "hand" && (s.Below || s.ByRule) { // which have no order by hand
		q.Sort, q.Descending = "taken", true
	}
	return q
}

// together asks for what is in any place of an embed.
func together(sources []assetstore.Place, by *embeds.Settings) query.Query {
	rule := assetstore.RuleOfPlaces(sources)
	return query.Query{Place: "everything", Filter: &rule, Sort: by.Sort, Descending: by.Descending}
}

// Shows says whether the embed shows an item, by its code, as it is in a version.
func (e *Embedded) Shows(code, version string) bool {
	i, shown := e.byCode[code]
	return shown && e.Pictures[i].Version == version
}

// Picture is an item that the embed shows, by its code.
func (e *Embedded) Picture(code string) (assetstore.Asset, bool) {
	i, shown := e.byCode[code]
	if !shown {
		return assetstore.Asset{}, false
	}
	return e.Pictures[i], true
}
