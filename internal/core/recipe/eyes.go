package recipe

import (
	"math"
	"slices"

	"brightsatchel/internal/core/geometry"
)

// usualEye is the radius of a red eye where nothing tells it, as a fraction of the longer side; of a face, it is a part of its width.
const (
	usualEye  = 0.008
	eyeOfFace = 0.06
)

// WithEye adds a red eye at a place of the upright file, as large as those of the face that it is in; where there is one already, that is
// taken away.
func WithEye(r Recipe, at geometry.Point, file geometry.Size, faces []geometry.Region) Recipe {
	longer := float64(max(file.Width, file.Height, 1))
	far := func(e RedEye) float64 {
		return math.Hypot((e.X-at.X)*float64(file.Width), (e.Y-at.Y)*float64(file.Height)) / longer
	}
	for i, e := range r.RedEyes {
		if far(e) <= e.Radius {
			r.RedEyes = slices.Delete(slices.Clone(r.RedEyes), i, i+1)
			return r.Normal()
		}
	}
	radius := usualEye
	for _, f := range faces {
		if at.X >= f.X && at.X <= f.X+f.Width && at.Y >= f.Y && at.Y <= f.Y+f.Height {
			radius = eyeOfFace * f.Width * float64(file.Width) / longer
		}
	}
	r.RedEyes = append(slices.Clone(r.RedEyes), RedEye{X: at.X, Y: at.Y, Radius: max(0.001, min(largestEye, radius))})
	return r.Normal()
}

// FindEyes looks for red eyes in faces, of which it takes the upper two thirds: what is much redder than it is green or blue, lies
// together, is about as wide as it is high, and as large as a pupil. At most two of a face, the largest.
func FindEyes(s Sample, faces []geometry.Region) (out []RedEye) {
	w, h := s.Size.Width, s.Size.Height
	if s.pixels() != w*h {
		return nil
	}
	longer := float64(max(w, h))
	for _, f := range faces {
		left, right := int(f.X*float64(w)), min(w, int((f.X+f.Width)*float64(w)))
		top, bottom := int(f.Y*float64(h)), min(h, int((f.Y+f.Height*2/3)*float64(h)))
		var found []RedEye
		seen := map[int]bool{}
		for y := max(0, top); y < bottom; y++ {
			for x := max(0, left); x < right; x++ {
				if seen[y*w+x] || !s.glowing(y*w+x) {
					continue
				}
				if e, ok := s.eyeFrom(x, y, seen, float64(right-left)); ok {
					e.Radius /= longer
					found = append(found, e)
				}
			}
		}
		slices.SortFunc(found, func(a, b RedEye) int {
			if a.Radius > b.Radius {
				return -1
			}
			return 1
		})
		out = append(out, found[:min(2, len(found))]...)
	}
	return out[:min(len(out), mostEyes)]
}

// glowing says whether a pixel is red as no skin is.
func (s Sample) glowing(i int) bool {
	r, g, b := s.at(i)
	return r > 70 && r > 1.9*max(g, b)
}

// eyeFrom gathers what lies together with a pixel, and says whether that can be an eye of a face of a width in pixels. The radius is in
// pixels.
func (s Sample) eyeFrom(x, y int, seen map[int]bool, face float64) (RedEye, bool) {
	w, h := s.Size.Width, s.Size.Height
	open := [][2]int{{x, y}}
	seen[y*w+x] = true
	var sumX, sumY float64
	n, x0, x1, y0, y1 := 0, x, x, y, y
	for len(open) > 0 {
		p := open[len(open)-1]
		open = open[:len(open)-1]
		n++
		sumX, sumY = sumX+float64(p[0])+0.5, sumY+float64(p[1])+0.5
		x0, x1, y0, y1 = min(x0, p[0]), max(x1, p[0]), min(y0, p[1]), max(y1, p[1])
		for _, d := range [4][2]int{{1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
			q := [2]int{p[0] + d[0], p[1] + d[1]}
			if q[0] < 0 || q[1] < 0 || q[0] >= w || q[1] >= h || seen[q[1]*w+q[0]] || !s.glowing(q[1]*w+q[0]) {
				continue
			}
			seen[q[1]*w+q[0]] = true
			open = append(open, q)
		}
	}
	wide, high := float64(x1-x0+1), float64(y1-y0+1)
	round := wide < 2*high && high < 2*wide && float64(n) > 0.45*wide*high
	if n < 3 || !round || max(wide, high) > face/4 {
		return RedEye{}, false
	}
	return RedEye{X: sumX / float64(n) / float64(w), Y: sumY / float64(n) / float64(h), Radius: 0.5*max(wide, high) + 1.5}, true
}
