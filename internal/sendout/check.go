package sendout

import (
	"context"
	"slices"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/gallerystore"
)

// Against is one thing that is said against sending out some items. Hinders says that they should not go out.
type Against struct {
	Reason  string // of sending.Reasons
	Hinders bool
	IDs     []int64
}

// Checked is what is said against sending out a selection. Fine is how many items nothing is said against.
type Checked struct {
	Items, Fine int
	Against     []Against // the gravest first
}

// Check says what is against sending out a selection today.
func (s *Service) Check(ctx context.Context, v *access.Viewer, sel query.Selection) (Checked, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return Checked{}, err
	}
	return check(ctx, s.DB, v.Brand, ids, false)
}

// CheckGallery says what is against showing what a gallery would show.
func (s *Service) CheckGallery(ctx context.Context, v *access.Viewer, id int64) (Checked, error) {
	g, err := gallerystore.GalleryByID(ctx, s.DB, v, id)
	if err != nil {
		return Checked{}, err
	}
	_, ids, err := s.galleryIDs(ctx, &g)
	if err != nil {
		return Checked{}, err
	}
	whole, err := s.givesAllThatFilesSay(ctx, &g)
	if err != nil {
		return Checked{}, err
	}
	return check(ctx, s.DB, v.Brand, ids, whole)
}

// givesAllThatFilesSay says whether guests of a gallery can take along files with all that is written in them.
func (s *Service) givesAllThatFilesSay(ctx context.Context, g *gallerystore.Gallery) (bool, error) {
	if !g.Settings.Downloads || g.Settings.Original {
		return g.Settings.Downloads, nil
	}
	sizes, err := downloadstore.OutputSizes(ctx, s.DB, g.Brand)
	return slices.ContainsFunc(sizes, func(size downloadstore.OutputSize) bool {
		return size.Metadata == outputs.Keep && slices.Contains(g.Settings.Sizes, size.ID)
	}), err
}

// check says what is against some items; whole says that files go out with all that is written in them.
func check(ctx context.Context, db *store.DB, brand int64, ids []int64, whole bool) (Checked, error) {
	return checkFor(ctx, db, brand, ids, whole, time.Now())
}

// checkFor is check for what goes out at a moment.
func checkFor(ctx context.Context, db *store.DB, brand int64, ids []int64, whole bool, at time.Time) (Checked, error) {
	out := Checked{Items: len(ids)}
	against := map[string][]int64{}
	for some := range slices.Chunk(ids, 5000) {
		known, err := facestore.Leaving(ctx, db, brand, some)
		if err != nil {
			return out, err
		}
		for _, id := range some { // in their order
			leaving := known[id]
			leaving.SaysWhere = leaving.SaysWhere && whole
			reasons := sending.Check(leaving, at)
			if len(reasons) == 0 {
				out.Fine++
			}
			for _, reason := range reasons {
				against[reason] = append(against[reason], id)
			}
		}
	}
	for _, reason := range sending.Reasons {
		if items := against[reason]; len(items) > 0 {
			out.Against = append(out.Against, Against{reason, sending.Hinders(reason), items})
		}
	}
	return out, nil
}

// hindrance are the words for what keeps items from going out.
var hindrance = map[string]string{
	sending.InTheBin: "in the bin", sending.RightsEnded: "their rights have ended",
	sending.NotAgreed: "somebody who is shown does not agree", sending.AgreedOnce: "the consent of somebody who is shown has run out",
}
