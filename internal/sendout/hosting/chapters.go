package hosting

import (
	"context"
	"slices"
	"time"

	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/sendout/showing"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/gallerystore"
)

// ShownChapter is a chapter with how many pictures of a gallery it has, which follow those of the chapter before.
type ShownChapter struct {
	Title, Words string
	Pictures     int
}

// Shown is what a gallery shows now: chapter after chapter, each item once, where it comes first.
type Shown struct {
	Chapters []ShownChapter
	Pictures []assetstore.Asset
	byCode   map[string]int
}

// Picture is an item that the gallery shows, by its code.
func (s *Shown) Picture(code string) (assetstore.Asset, bool) {
	i, shown := s.byCode[code]
	if !shown {
		return assetstore.Asset{}, false
	}
	return s.Pictures[i], true
}

// Of are the pictures of one chapter, by its number from 1; 0 is all.
func (s *Shown) Of(chapter int) []assetstore.Asset {
	from := 0
	for i, c := range s.Chapters {
		if i+1 == chapter {
			return s.Pictures[from : from+c.Pictures]
		}
		from += c.Pictures
	}
	if chapter != 0 {
		return nil
	}
	return s.Pictures
}

// shown finds what a gallery shows.
func (s *Service) shown(ctx context.Context, g *gallerystore.Gallery) (*Shown, error) {
	chapters, all, err := s.galleryIDs(ctx, g)
	if err != nil {
		return nil, err
	}
	pictures, err := assetstore.AssetsIn(ctx, s.DB, g.Brand, all)
	if err != nil {
		return nil, err
	}
	byID := make(map[int64]int, len(pictures))
	for i, a := range pictures {
		byID[a.ID] = i
	}
	out := &Shown{byCode: make(map[string]int, len(pictures))}
	for i, c := range g.Chapters {
		n := 0
		for _, id := range chapters[i] {
			at, there := byID[id]
			if !there || pictures[at].Kind == "file" || pictures[at].Width == 0 || pictures[at].Height == 0 {
				continue
			}
			out.byCode[pictures[at].Code] = len(out.Pictures)
			out.Pictures = append(out.Pictures, pictures[at])
			n++
		}
		title := c.Title
		if title == "" && len(g.Chapters) > 1 {
			title = c.Name
		}
		out.Chapters = append(out.Chapters, ShownChapter{title, c.Words, n})
	}
	return out, nil
}

// galleryIDs lists the items of each chapter of a gallery, each item once, and all of them.
func (s *Service) galleryIDs(ctx context.Context, g *gallerystore.Gallery) (chapters [][]int64, all []int64, err error) {
	there := map[int64]bool{}
	for _, c := range g.Chapters {
		ids, err := s.chapterIDs(ctx, g.Brand, c, galleries.MostShown-len(all))
		if err != nil {
			return nil, nil, err
		}
		ids = slices.DeleteFunc(ids, func(id int64) bool {
			was := there[id]
			there[id] = true
			return was
		})
		chapters, all = append(chapters, ids), append(all, ids...)
	}
	return chapters, all, nil
}

// chapterIDs lists what a chapter shows, in its order. What comes into an album by hand was put there for it; of folders, and of albums
// that a rule keeps filled, what should not go out is left out by itself.
func (s *Service) chapterIDs(ctx context.Context, brand int64, c gallerystore.Chapter, most int) ([]int64, error) {
	if c.Folder == 0 && c.Album == 0 {
		return nil, nil
	}
	ids, _, err := showing.Page(ctx, s.DB, brand, showing.SourceQuery(c.Place, &embeds.Settings{Sort: "hand"}), 0, most)
	if err != nil || c.Album != 0 && !c.ByRule {
		return ids, err
	}
	known, err := facestore.Leaving(ctx, s.DB, brand, ids)
	now := time.Now()
	return slices.DeleteFunc(ids, func(id int64) bool {
		l, there := known[id]
		return !there || l.SetAside || slices.ContainsFunc(sending.Check(l, now), sending.Hinders)
	}), err
}
