package pictures

// #include "draw.h"
import "C"

import (
	"sync"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
)

// What the sliders mean to the pass over texture at 100.
const (
	noiseReach   = 2.0 // times the measured noise
	sharpenReach = 1.6 // times what is finer
)

var transfer sync.Once

// fillTransfer gives the passes the sRGB transfer function.
func fillTransfer() {
	for i := range C.bs_linear16 {
		C.bs_linear16[i] = C.float(recipe.Decode(float64(i) / 65535))
	}
	for i := range C.bs_linear8 {
		C.bs_linear8[i] = C.float(recipe.Decode(float64(i) / 255))
	}
}

// mended has red eyes mended, at the size of the whole upright file. It frees the other.
func (p pixels) mended(eyes []recipe.RedEye) (pixels, error) {
	if len(eyes) == 0 {
		return p, nil
	}
	out, err := p.wide()
	if err != nil {
		return out, err
	}
	where := make([]C.BsEye, len(eyes))
	for i, e := range eyes {
		where[i] = C.BsEye{x: C.float(e.X * float64(p.raw.width)), y: C.float(e.Y * float64(p.raw.height)),
			radius: C.float(e.Radius * float64(max(p.raw.width, p.raw.height)))}
	}
	C.bs_mend_eyes(&out.raw, &where[0], C.int(len(where)))
	return out, nil
}

// denoised has noise taken out, at a strength of 0 to 100 for luma and for colour. It frees the other.
func (p pixels) denoised(luma, colour float64) (pixels, error) {
	if luma == 0 && colour == 0 || min(p.raw.width, p.raw.height) < 8 {
		return p, nil
	}
	defer p.free()
	out, err := blank(int(p.raw.width), int(p.raw.height), int(p.raw.bands), 16)
	if err != nil {
		return out, err
	}
	if C.bs_denoise(&p.raw, &out.raw, C.float(noiseReach*luma/100), C.float(noiseReach*colour/100)) != 0 {
		out.free()
		return pixels{}, errMemory
	}
	return out, nil
}

// noise is the standard deviation of the noise of its luma, as a fraction of full brightness.
func (p pixels) noise() float64 { return float64(C.bs_noise_of(&p.raw)) }

// baseOf is the base map of a picture that was decoded upright. See place for where the pixels of a part lie in it.
func (p pixels) baseOf() (C.BsBase, error) {
	var base C.BsBase
	if C.bs_base_map(&p.raw, &base) != 0 {
		return base, errMemory
	}
	return base, nil
}

// place tells the base map where the pixels of a part lie: their middles are carried back through the frame.
func place(base *C.BsBase, frame geometry.Frame, to part) {
	cut := frame.Cut()
	at := func(x, y float64) (float64, float64) { // from a pixel of the part to a place of the map
		turned := geometry.Point{X: to.region.X + (x+0.5)/float64(to.width)*to.region.Width,
			Y: to.region.Y + (y+0.5)/float64(to.height)*to.region.Height}
		file := frame.File(geometry.Point{X: (turned.X - cut.X) / cut.Width, Y: (turned.Y - cut.Y) / cut.Height})
		return file.X*float64(base.width) - 0.5, file.Y*float64(base.height) - 0.5
	}
	x0, y0 := at(0, 0)
	x1, y1 := at(1, 0)
	x2, y2 := at(0, 1)
	base.x0, base.x_by_x, base.x_by_y = C.float(x0), C.float(x1-x0), C.float(x2-x0)
	base.y0, base.y_by_x, base.y_by_y = C.float(y0), C.float(y1-y0), C.float(y2-y0)
}

// finished draws tone and sharpening, and rounds to 8 bits. It frees the other.
func (p pixels) finished(a recipe.Adjustments, base *C.BsBase) (pixels, error) {
	tone, sharpen := toneOf(a), sharpenOf(a)
	if tone == nil && sharpen == nil && p.raw.bits == 8 {
		return p, nil
	}
	transfer.Do(fillTransfer)
	defer p.free()
	out, err := blank(int(p.raw.width), int(p.raw.height), int(p.raw.bands), 8)
	if err != nil {
		return out, err
	}
	if C.bs_finish(&p.raw, &out.raw, tone, base, sharpen) != 0 {
		out.free()
		return pixels{}, errMemory
	}
	return out, nil
}

func usesBase(a recipe.Adjustments) bool {
	return a.Highlights != 0 || a.Shadows != 0 || a.Clarity != 0
}

// toneOf is the tone of adjustments as the pass takes it, or nil where there is nothing to do.
func toneOf(a recipe.Adjustments) *C.BsTone {
	t := recipe.ToneOf(a)
	if t.Neutral() {
		return nil
	}
	out := &C.BsTone{clarity: C.float(t.Clarity), vignette: C.float(t.Vignette), saturation: C.float(t.Saturation),
		vibrance: C.float(t.Vibrance), mono: C.float(t.Mono)}
	copyTo(out.matrix[:], t.Matrix[:])
	copyTo(out.curve[:], t.Curve[:])
	copyTo(out.encode[:], recipe.EncodeTable[:])
	copyTo(out.local[:], t.Local[:])
	copyTo(out.mix[:], t.Mix[:])
	if usesBase(a) {
		out.uses_base = 1
	}
	return out
}

func copyTo(to []C.float, from []float32) {
	for i, n := range from {
		to[i] = C.float(n)
	}
}

func sharpenOf(a recipe.Adjustments) *C.BsSharpen {
	if a.Sharpen == 0 {
		return nil
	}
	return &C.BsSharpen{amount: C.float(sharpenReach * a.Sharpen / 100), sigma: C.float(a.Radius), threshold: C.float(a.Threshold / 255)}
}

// render makes what a recipe makes of a file, for one output: decoded once at the size that it needs, and rounded to 8 bits once, at the
// end.
func render(path string, r Request, facts Facts, o Output) (image, error) {
	file := geometry.Orientation(facts.Orientation).Size(geometry.Size{Width: facts.Width, Height: facts.Height})
	frame, cut, do := r.Recipe.Frame(file), r.Recipe.Cut(), r.Recipe.Effective()
	to := partOf(frame, o)
	size := cut.Orientation().Size(to.decodedSize(frame))
	p, err := decoded(path, r, size)
	if err != nil {
		return image{}, err
	}
	var base *C.BsBase
	if usesBase(do) {
		local, err := p.baseOf()
		defer C.bs_base_free(&local)
		if err != nil {
			p.free()
			return image{}, err
		}
		place(&local, frame, to)
		base = &local
	}
	if p, err = p.mended(r.Recipe.RedEyes); err != nil {
		return image{}, err
	}
	if p, err = p.denoised(do.Noise, do.ColourNoise); err != nil {
		return image{}, err
	}
	if p, err = p.turned(cut); err != nil {
		return image{}, err
	}
	if p, err = p.framed(cut, frame, to); err != nil {
		return image{}, err
	}
	if p, err = p.finished(do, base); err != nil {
		return image{}, err
	}
	return p.asPicture()
}

// sample is a small copy of a file as it is, with the noise of what it was made from.
func sample(r Request, facts Facts) (Response, error) {
	file := geometry.Orientation(facts.Orientation).Size(geometry.Size{Width: facts.Width, Height: facts.Height})
	side := max(lookSide, r.Sample)
	large := geometry.Fit(file, geometry.Size{Width: side, Height: side})
	p, err := decoded(r.Path, r, large)
	if err != nil {
		return Response{}, err
	}
	defer p.free()
	size := geometry.Fit(file, geometry.Size{Width: r.Sample, Height: r.Sample})
	rgb, err := p.image.rgb(size.Width, size.Height)
	return Response{Facts: facts, Sample: &recipe.Sample{Size: size, RGB: rgb, Noise: p.noise()}}, err
}
