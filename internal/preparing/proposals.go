package preparing

import (
	"context"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/recipestore"
)

// Item reads an item that the viewer may look at and that can be prepared.
func (s *Service) Item(ctx context.Context, v *access.Viewer, asset int64) (assetstore.Asset, error) {
	a, err := assetstore.AssetByID(ctx, s.DB, v, asset)
	if err == nil && !prepared(a.Kind) {
		err = fault.Invalidf("asset", "Only pictures and clips can be prepared; this is a %s.", a.Kind)
	}
	return a, err
}

// framing is what turns and mirrors what is seen.
var framing = map[string]recipe.Change{"right": {Turn: 90}, "left": {Turn: -90}, "mirror": {Flip: true}}

// Propose works out what a recipe should become by itself: "enhance" sets sliders, "horizon" straightens, "noise" takes out what noise
// there is, "grey" makes the colour at a place of what is shown grey, "right", "left" and "mirror" turn and mirror what is seen, and
// "proportion" crops to one, of which the place is width and height. Nothing is changed. It says in words where it knows nothing.
func (s *Service) Propose(ctx context.Context, v *access.Viewer, asset int64, what string, now recipe.Recipe,
	at geometry.Point) (recipe.Recipe, string, error) {
	if err := now.Check(); err != nil {
		return now, "", err
	}
	a, err := s.Item(ctx, v, asset)
	if err != nil {
		return now, "", err
	}
	if a.Kind == "clip" && slices.Contains([]string{"eye", "eyes", "noise", "horizon"}, what) {
		return now, "That can only be done to pictures.", nil
	}
	to, note, err := s.proposed(ctx, a, what, now, at)
	return to.For(a.Kind), note, err
}

func (s *Service) proposed(ctx context.Context, a assetstore.Asset, what string, now recipe.Recipe, at geometry.Point) (recipe.Recipe,
	string,
	error) {
	if c, is := framing[what]; is || what == "proportion" {
		if what == "proportion" {
			if c = (recipe.Change{Width: at.X, Height: at.Y}); at.X == 0 && at.Y == 0 {
				return now, "", fault.Invalidf("x", "A proportion is two numbers above 0.")
			}
		}
		if err := c.Check(); err != nil {
			return now, "", err
		}
		focal := now.Frame(a.FileSize()).Shown(a.Frame().File(geometry.Point{X: a.FocalX, Y: a.FocalY})).Inside()
		return c.Apply(now, a.FileSize(), focal), "", nil
	}
	if what == "eye" || what == "eyes" {
		return s.eyes(ctx, a, what == "eyes", now, at)
	}
	sample, err := s.Renditions.Sample(ctx, a, now, 0)
	if err != nil {
		return now, "", err
	}
	switch what {
	case "enhance":
		e := recipe.Enhance(sample)
		to := now
		to.Exposure, to.Warmth, to.Tint, to.Shadows, to.Black, to.Vibrance = e.Exposure, e.Warmth, e.Tint, e.Shadows, e.Black, e.Vibrance
		return to.Normal(), "", nil
	case "noise":
		to := now
		if to.Noise, to.ColourNoise = recipe.Denoise(sample); to.Noise == 0 && to.ColourNoise == 0 {
			return now, "There is next to no noise in it.", nil
		}
		return to.Normal(), "", nil
	case "horizon":
		degrees, sure := recipe.Level(sample)
		if !sure {
			return now, "Nothing in it says clearly what is level. Draw a line along what should be.", nil
		}
		if now.Flip {
			degrees = -degrees
		}
		to := now
		to.Straighten = degrees
		return to.Normal(), "", nil
	case "grey":
		return s.grey(sample, now, now.Frame(a.FileSize()).File(at.Inside()).Inside())
	}
	return now, "", fault.Invalidf("what", "“%s” is nothing that can be proposed.", what)
}

// eyeSide is the longer side of the copy in which red eyes are looked for, in pixels.
const eyeSide = 1600

// eyes adds a red eye at a place of what is shown, or takes away the one that is there; or finds them in the faces.
func (s *Service) eyes(ctx context.Context, a assetstore.Asset, find bool, now recipe.Recipe, at geometry.Point) (recipe.Recipe, string,
	error) {
	faces, err := facestore.FacesOf(ctx, s.DB, a.ID, recipe.Recipe{}.Frame(a.FileSize()))
	if err != nil {
		return now, "", err
	}
	regions := make([]geometry.Region, len(faces))
	for i := range faces {
		regions[i] = faces[i].Region()
	}
	if !find {
		place := now.Frame(a.FileSize()).File(at.Inside()).Inside()
		return recipe.WithEye(now, place, a.FileSize(), regions), "", nil
	}
	if len(regions) == 0 {
		return now, "No face was found in it. Click on a red eye instead.", nil
	}
	sample, err := s.Renditions.Sample(ctx, a, now, eyeSide)
	if err != nil {
		return now, "", err
	}
	found := recipe.FindEyes(sample, regions)
	if len(found) == 0 {
		return now, "No red eye was found in its faces. Click on one instead.", nil
	}
	to := now
	to.RedEyes = found
	return to.Normal(), "", nil
}

// grey takes the mean of a few pixels around a place of the file.
func (s *Service) grey(sample recipe.Sample, now recipe.Recipe, at geometry.Point) (recipe.Recipe, string, error) {
	w, h := sample.Size.Width, sample.Size.Height
	x, y := min(w-1, int(at.X*float64(w))), min(h-1, int(at.Y*float64(h)))
	var sum [3]float64
	n := 0.0
	for j := max(0, y-2); j <= min(h-1, y+2); j++ {
		for i := max(0, x-2); i <= min(w-1, x+2); i++ {
			for c := range sum {
				sum[c] += float64(sample.RGB[3*(j*w+i)+c])
			}
			n++
		}
	}
	warmth, tint, ok := recipe.Grey(sum[0]/n, sum[1]/n, sum[2]/n)
	if !ok {
		return now, "That place is too dark or too bright to tell. Choose something grey of middle brightness.", nil
	}
	to := now
	to.Warmth, to.Tint = warmth, tint
	if now.Look != nil { // what the look adds is part of what is seen
		to.Warmth -= now.Look.Values.Times(now.Look.Strength / 100).Warmth
		to.Tint -= now.Look.Values.Times(now.Look.Strength / 100).Tint
		to.Warmth, to.Tint = max(-100, min(100, to.Warmth)), max(-100, min(100, to.Tint))
	}
	return to.Normal(), "", nil
}

// alike is the exposure and white balance that items of a burst get, by item.
type alike struct {
	Of map[int64]Likened `json:"of"`
}

// Likened is how an item becomes like the one that it was compared with.
type Likened struct {
	ID       int64   `json:"id"`
	Exposure float64 `json:"exposure"`
	Warmth   float64 `json:"warmth"`
	Tint     float64 `json:"tint"`
}

// mostAlike is how many items are compared at once: a burst, not a library.
const mostAlike = 60

// Alike works out by how much exposure and white of a selection differ from those of one item, which stays as it is.
func (s *Service) Alike(ctx context.Context, v *access.Viewer, sel query.Selection, model int64) ([]Likened, error) {
	m, err := s.Item(ctx, v, model)
	if err != nil {
		return nil, err
	}
	ids, err := findstore.Select(ctx, s.DB, v, access.Prepare, sel)
	if err != nil {
		return nil, err
	}
	if len(ids) > mostAlike {
		return nil, fault.Invalidf("selection", "Up to %d pictures are made alike at once; these are %d.", mostAlike, len(ids))
	}
	items, err := assetstore.AssetsIn(ctx, s.DB, v.Brand, ids)
	if err != nil {
		return nil, err
	}
	like, err := s.Renditions.Sample(ctx, m, m.Recipe.Recipe, 0)
	if err != nil {
		return nil, err
	}
	var out []Likened
	for _, a := range items {
		if a.ID == model || !prepared(a.Kind) {
			continue
		}
		sample, err := s.Renditions.Sample(ctx, a, a.Recipe.Recipe, 0)
		if err != nil {
			return nil, err
		}
		e, w, t := recipe.Alike(sample, like)
		own := m.Recipe
		out = append(out, Likened{ID: a.ID, Exposure: own.Exposure + e, Warmth: own.Warmth + w, Tint: own.Tint + t})
	}
	return out, nil
}

func (s *Service) alikeAct() pieces.Act[alike] {
	return pieces.Act[alike]{
		Name: "prepare_alike", Needs: access.Prepare,
		Doing: func(n int, _ alike) string { return "Giving " + wording.Items(n) + " the same exposure and white" },
		Done:  func(n, _ int, _ alike) string { return "Gave " + wording.Items(n) + " the same exposure and white" },
		Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, a alike) (int, error) {
			return s.set(ctx, tx, p.Viewer.Brand, p.IDs, func(item recipestore.Prepared) recipe.Recipe {
				r := item.Recipe.Recipe
				if l, is := a.Of[item.ID]; is && prepared(item.Kind) {
					limited := func(name string, n float64) { r.Adjustments = r.Adjustments.SetWithin(name, n) }
					limited("exposure", l.Exposure)
					limited("warmth", l.Warmth)
					limited("tint", l.Tint)
				}
				return r.Normal()
			})
		},
	}
}

// MakeAlike gives a selection the exposure and white of one item.
func (s *Service) MakeAlike(ctx context.Context, v *access.Viewer, sel query.Selection, model int64) (store.Done, error) {
	found, err := s.Alike(ctx, v, sel, model)
	if err != nil {
		return store.Done{}, err
	}
	of := map[int64]Likened{}
	ids := make([]int64, len(found))
	for i, l := range found {
		of[l.ID], ids[i] = l, l.ID
	}
	return s.alike.DoTo(ctx, v, ids, pieces.Just(alike{Of: of}))
}
