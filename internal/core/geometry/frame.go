package geometry

import "math"

// Frame is what is seen of a picture: it is turned, mirrored, straightened about its middle, and cut. It carries places between the
// upright file and what is shown. Make one with NewFrame.
type Frame struct {
	file    Size        // of the upright file, in pixels
	turned  Size        // of the file after the turn
	turn    Orientation // the turn and the mirroring in one
	sin     float64     // of the angle by which it is straightened, clockwise
	cos     float64
	cut     Region // in fractions of the turned picture
	cutSide Size   // of what is shown, in pixels of the file
}

// Cut is a framing in words of numbers: Turn in degrees clockwise (a multiple of 90), then mirrored left to right with Flip, then turned
// by Straighten degrees clockwise about the middle. Region is what remains, in fractions of the turned picture before it was
// straightened; nil is as much as can be.
type Cut struct {
	Turn       int
	Flip       bool
	Straighten float64
	Region     *Region
}

// Orientation is the turn and the mirroring of a cut as one of the eight orientations of EXIF (tag 0x0112).
func (c Cut) Orientation() Orientation {
	turned := map[int][2]Orientation{0: {1, 2}, 90: {6, 5}, 180: {3, 4}, 270: {8, 7}}[((c.Turn%360)+360)%360]
	if c.Flip {
		return turned[1]
	}
	return turned[0]
}

// smallestCut is the part of both sides that a cut leaves at least where a straightened picture has no room for it.
const smallestCut = 0.2

// NewFrame applies a cut to an upright file of a size in pixels. A region that reaches over an edge of the straightened picture is made
// smaller about its middle until it does not, so that no empty corner is ever shown.
func NewFrame(file Size, c Cut) Frame {
	f := Frame{file: file, turn: c.Orientation(), cos: 1, cut: Region{Width: 1, Height: 1}}
	f.turned = f.turn.Size(file)
	if c.Straighten != 0 {
		f.sin, f.cos = math.Sincos(c.Straighten * math.Pi / 180)
	}
	if c.Region != nil {
		if inside, ok := c.Region.Bounded(); ok {
			f.cut = inside
		}
	}
	if f.sin != 0 && !file.Empty() {
		f.cut = f.roomFor(f.cut)
	}
	side := func(part float64, whole int) int { return max(1, min(whole, int(math.Round(part*float64(whole))))) }
	f.cutSide = Size{Width: side(f.cut.Width, f.turned.Width), Height: side(f.cut.Height, f.turned.Height)}
	if file.Empty() {
		f.cutSide = Size{}
	}
	return f
}

// roomFor shrinks a region about its middle until its corners lie on the straightened picture. A middle that lies outside of it, or so
// near to its edge that next to nothing remained, is moved inward first.
func (f Frame) roomFor(r Region) Region {
	middle := Point{r.X + r.Width/2, r.Y + r.Height/2}
	for step := 0; ; step++ {
		inward := float64(step) / 10
		at := Point{middle.X + (0.5-middle.X)*inward, middle.Y + (0.5-middle.Y)*inward}
		if k := min(1, f.room(at, r)); k >= smallestCut || step == 10 {
			return Region{X: at.X - k*r.Width/2, Y: at.Y - k*r.Height/2, Width: k * r.Width, Height: k * r.Height}
		}
	}
}

// room is by how much both sides of a region can be multiplied, at most, about a middle. In the picture's own axes each corner is
// linear in that factor.
func (f Frame) room(middle Point, r Region) float64 {
	w, h := float64(f.turned.Width), float64(f.turned.Height)
	own := func(x, y float64) (float64, float64) { return x*f.cos + y*f.sin, y*f.cos - x*f.sin }
	cx, cy := own((middle.X-0.5)*w, (middle.Y-0.5)*h)
	k := math.Inf(1)
	for _, corner := range [4][2]float64{{-1, -1}, {1, -1}, {-1, 1}, {1, 1}} {
		dx, dy := own(corner[0]*r.Width*w/2, corner[1]*r.Height*h/2)
		for _, side := range [2][3]float64{{cx, dx, w / 2}, {cy, dy, h / 2}} {
			if d := math.Abs(side[1]); d > 1e-9 {
				k = min(k, (side[2]-side[0]*math.Copysign(1, side[1]))/d)
			}
		}
	}
	return k
}

// Size is the size in pixels of what is shown, at the scale of the file.
func (f Frame) Size() Size { return f.cutSide }

// Cut is the part of the turned picture, before it was straightened, that is shown.
func (f Frame) Cut() Region { return f.cut }

// Rect is what remains of the turned picture in pixels, as Cut is in fractions.
func (f Frame) Rect() Rect {
	at := func(part float64, side, whole int) int {
		return max(0, min(whole-side, int(math.Round(part*float64(whole)))))
	}
	return Rect{X: at(f.cut.X, f.cutSide.Width, f.turned.Width), Y: at(f.cut.Y, f.cutSide.Height, f.turned.Height),
		Width: f.cutSide.Width, Height: f.cutSide.Height}
}

// Places says where the middles of pixels lie in the file, for a part of the turned picture that is drawn at a size in pixels: the pixel
// (x, y) at the fraction p[0] + p[1]·x + p[2]·y of its width, and p[3] + p[4]·x + p[5]·y of its height.
func (f Frame) Places(part Region, size Size) [6]float64 {
	at := func(x, y float64) Point {
		turned := Point{X: part.X + (x+0.5)/float64(size.Width)*part.Width, Y: part.Y + (y+0.5)/float64(size.Height)*part.Height}
		return f.File(Point{X: (turned.X - f.cut.X) / f.cut.Width, Y: (turned.Y - f.cut.Y) / f.cut.Height})
	}
	p, right, below := at(0, 0), at(1, 0), at(0, 1)
	return [6]float64{p.X, right.X - p.X, below.X - p.X, p.Y, right.Y - p.Y, below.Y - p.Y}
}

// Straightened says whether the picture is turned by an angle that is not a multiple of 90 degrees.
func (f Frame) Straightened() bool { return f.sin != 0 }

// Turned is the size in pixels of the picture after its turn.
func (f Frame) Turned() Size { return f.turned }

// Shown carries a place in the upright file to what is shown. It lies outside of 0 to 1 when it was cut off.
func (f Frame) Shown(p Point) Point {
	p = f.turn.Point(p)
	if f.sin != 0 {
		w, h := float64(f.turned.Width), float64(f.turned.Height)
		x, y := (p.X-0.5)*w, (p.Y-0.5)*h
		p = Point{(x*f.cos-y*f.sin)/w + 0.5, (x*f.sin+y*f.cos)/h + 0.5}
	}
	return Point{(p.X - f.cut.X) / f.cut.Width, (p.Y - f.cut.Y) / f.cut.Height}
}

// File carries a place in what is shown to the upright file.
func (f Frame) File(p Point) Point {
	p = Point{f.cut.X + p.X*f.cut.Width, f.cut.Y + p.Y*f.cut.Height}
	if f.sin != 0 {
		w, h := float64(f.turned.Width), float64(f.turned.Height)
		x, y := (p.X-0.5)*w, (p.Y-0.5)*h
		p = Point{(x*f.cos+y*f.sin)/w + 0.5, (y*f.cos-x*f.sin)/h + 0.5}
	}
	return f.turn.Inverse().Point(p)
}

// ShownRegion carries a region of the upright file to what is shown. It keeps its size in pixels, about its middle: a face does not
// become larger when the picture is straightened. It says false when its middle was cut off.
func (f Frame) ShownRegion(r Region) (Region, bool) {
	middle := f.Shown(Point{r.X + r.Width/2, r.Y + r.Height/2})
	if f.turn.Turns() {
		r.Width, r.Height = r.Height, r.Width
	}
	r.Width, r.Height = r.Width/f.cut.Width, r.Height/f.cut.Height
	left, top := max(0, middle.X-r.Width/2), max(0, middle.Y-r.Height/2)
	right, bottom := min(1, middle.X+r.Width/2), min(1, middle.Y+r.Height/2)
	seen := middle.X >= 0 && middle.X <= 1 && middle.Y >= 0 && middle.Y <= 1
	return Region{X: left, Y: top, Width: right - left, Height: bottom - top}, seen
}

// FileRegion carries a region of what is shown to the upright file, keeping its size about its middle.
func (f Frame) FileRegion(r Region) Region {
	middle := f.File(Point{r.X + r.Width/2, r.Y + r.Height/2})
	width, height := r.Width*f.cut.Width, r.Height*f.cut.Height
	if f.turn.Turns() {
		width, height = height, width
	}
	return Region{X: middle.X - width/2, Y: middle.Y - height/2, Width: width, Height: height}
}

// Inside brings a point onto the picture.
func (p Point) Inside() Point {
	return Point{max(0, min(p.X, 1)), max(0, min(p.Y, 1))}
}
