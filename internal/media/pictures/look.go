package pictures

import (
	"cmp"
	_ "embed"
	"slices"
	"sync"

	pigo "github.com/esimov/pigo/core"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
)

// Seen is what looking into a picture found. Places are fractions of its width and height from the upper left corner.
type Seen struct {
	Likeness  uint64
	Sharpness float64
	Focal     geometry.Point
	Faces     []Face
	Shades    []likeness.Shade // the colours that dominate it
}

// Face is a region, as fractions of the picture, where a face seems to be.
type Face struct{ X, Y, Width, Height float64 }

// lookSide is the longer side, in pixels, of the picture that is looked into: large enough for faces in a group, and the
// same for all, so that sharpness compares.
const lookSide = 1200

// shadeSide is both sides, in pixels, of the copy of which the colours are counted: shares stay what they are when it is squeezed.
const shadeSide = 96

// look measures likeness, sharpness and colour, and proposes a focal point and faces.
func look(r Request, facts Facts) (Response, error) {
	upright := geometry.Orientation(facts.Orientation).Size(geometry.Size{Width: facts.Width, Height: facts.Height})
	size := geometry.Fit(upright, geometry.Size{Width: lookSide, Height: lookSide})
	lazy, err := thumbnail(r.Path, r.MediaType, size.Width, size.Height)
	if err != nil {
		return Response{}, err
	}
	defer lazy.free()
	pixels, err := lazy.inMemory()
	if err != nil {
		return Response{}, err
	}
	defer pixels.free()
	response := Response{Facts: facts, Seen: &Seen{Focal: geometry.Centre, Faces: []Face{}}}
	if response.Tint, err = pixels.tint(); err != nil {
		return Response{}, err
	}
	small, err := pixels.grey(9, 8)
	if err != nil {
		return Response{}, err
	}
	grey, err := pixels.grey(size.Width, size.Height)
	if err != nil {
		return Response{}, err
	}
	seen := response.Seen
	colours, err := pixels.rgb(shadeSide, shadeSide)
	if err != nil {
		return Response{}, err
	}
	seen.Shades = likeness.Shades(colours)
	seen.Likeness = uint64(likeness.Of(small))
	if seen.Faces, err = faces(grey, size); err != nil {
		return Response{}, err
	}
	if seen.Focal, err = focal(pixels, size, seen.Faces); err != nil {
		return Response{}, err
	}
	seen.Sharpness = likeness.Sharpness(grey, size.Width, looksAt(size, seen))
	return response, nil
}

// looksAt is where people look whether a picture is sharp: its faces, or without one the part around its focal point.
func looksAt(size geometry.Size, seen *Seen) []geometry.Rect {
	at := func(x, y, width, height float64) geometry.Rect {
		w, h := float64(size.Width), float64(size.Height)
		return geometry.Rect{X: int(x * w), Y: int(y * h), Width: int(width * w), Height: int(height * h)}
	}
	areas := []geometry.Rect{}
	for _, f := range seen.Faces {
		areas = append(areas, at(f.X, f.Y, f.Width, f.Height))
	}
	if len(areas) == 0 {
		const part = 0.5 // of each side
		areas = append(areas, at(min(max(0, seen.Focal.X-part/2), 1-part), min(max(0, seen.Focal.Y-part/2), 1-part), part, part))
	}
	return areas
}

// focal proposes the middle of the largest face or, without one, of the half of the picture that catches the eye.
func focal(pixels image, size geometry.Size, faces []Face) (geometry.Point, error) {
	if len(faces) > 0 {
		f := slices.MaxFunc(faces, func(a, b Face) int { return cmp.Compare(a.Width, b.Width) })
		return geometry.Point{X: f.X + f.Width/2, Y: f.Y + f.Height/2}, nil
	}
	width, height := max(1, size.Width/2), max(1, size.Height/2)
	x, y, err := pixels.attention(width, height)
	if err != nil {
		return geometry.Centre, err
	}
	return geometry.Point{X: (float64(x) + float64(width)/2) / float64(size.Width),
		Y: (float64(y) + float64(height)/2) / float64(size.Height)}, nil
}

//go:embed cascade/facefinder
var cascade []byte

var finder = sync.OnceValues(func() (*pigo.Pigo, error) { return pigo.NewPigo().Unpack(cascade) })

// Faces that score less than certain are as often something else.
const certain = 20

// faces finds faces of at least 60 pixels. A hit whose centre lies inside a stronger one is the same face. What is found
// is a proposal: an emblem can score as high as a head, so a person decides.
func faces(grey []byte, size geometry.Size) ([]Face, error) {
	classifier, err := finder()
	if err != nil {
		return nil, err
	}
	smallest := 60
	if min(size.Width, size.Height) < smallest {
		return []Face{}, nil
	}
	hits := classifier.RunCascade(pigo.CascadeParams{
		MinSize: smallest, MaxSize: min(size.Width, size.Height), ShiftFactor: 0.1, ScaleFactor: 1.1,
		ImageParams: pigo.ImageParams{Pixels: grey, Rows: size.Height, Cols: size.Width, Dim: size.Width},
	}, 0)
	hits = classifier.ClusterDetections(hits, 0.2)
	slices.SortFunc(hits, func(a, b pigo.Detection) int { return cmp.Compare(b.Q, a.Q) })
	out := []Face{}
	w, h := float64(size.Width), float64(size.Height)
	for _, hit := range hits {
		x, y, side := float64(hit.Col)/w, float64(hit.Row)/h, float64(hit.Scale)
		inside := slices.ContainsFunc(out, func(f Face) bool { return x > f.X && x < f.X+f.Width && y > f.Y && y < f.Y+f.Height })
		if hit.Q < certain || inside {
			continue
		}
		left, top := max(0, x-side/2/w), max(0, y-side/2/h)
		out = append(out, Face{X: left, Y: top, Width: min(side/w, 1-left), Height: min(side/h, 1-top)})
	}
	return out, nil
}
