package recipe

import (
	"math"
	"slices"

	"brightsatchel/internal/core/geometry"
)

// Sample is a small copy of a picture as its file has it, upright and before its recipe: red, green and blue of each pixel, row by row,
// encoded as sRGB. Noise is the standard deviation of the noise of its luma at the size that it was measured at, as a fraction of full
// brightness.
type Sample struct {
	Size  geometry.Size
	RGB   []byte
	Noise float64
}

func (s Sample) at(i int) (r, g, b float64) {
	return float64(s.RGB[3*i]), float64(s.RGB[3*i+1]), float64(s.RGB[3*i+2])
}

func (s Sample) pixels() int { return len(s.RGB) / 3 }

// Enhance proposes exposure, white balance, shadows, contrast and vibrance for a picture. They are sliders like any others: exposure
// brings the brightest of it, but for half a per cent, up to 0.92 of white, by 1.2 EV at most and hardly where it is bright already;
// white balance is taken from what is bright and nearly grey, and goes most of the way only.
func Enhance(s Sample) Adjustments {
	n := s.pixels()
	if n == 0 {
		return Adjustments{}
	}
	luma := make([]float64, n)
	var near [3]float64
	greys := 0
	for i := range n {
		r, g, b := s.at(i)
		lr, lg, lb := Decode(r/255), Decode(g/255), Decode(b/255)
		luma[i] = 0.2126*lr + 0.7152*lg + 0.0722*lb
		if most, least := max(r, g, b), min(r, g, b); luma[i] > 0.35 && most < 253 && most-least < 0.18*most {
			near[0], near[1], near[2] = near[0]+r, near[1]+g, near[2]+b
			greys++
		}
	}
	slices.Sort(luma)
	bright, middle, dark := luma[min(n-1, n*995/1000)], luma[n/2], luma[n/20]
	a := Adjustments{Vibrance: 12}
	most := 1.2
	if middle > 0.35 {
		most = 0.2
	}
	if bright > 0 {
		a.Exposure = max(0, min(most, math.Log2(0.92/bright)))
	}
	if greys > n/50 {
		if warmth, tint, ok := Grey(near[0]/float64(greys), near[1]/float64(greys), near[2]/float64(greys)); ok {
			const part = 0.6
			a.Warmth, a.Tint = limited(part*warmth, 25), limited(part*tint, 10)
		}
	}
	gain := math.Exp2(a.Exposure)
	if Encode(dark*gain) < 0.08 { // much of it is nearly black
		a.Shadows = 20
	}
	if Encode(dark*gain) > 0.2 { // nothing of it is dark
		a.Black = 12
	}
	return a.normal()
}

func limited(x, most float64) float64 { return max(-most, min(most, x)) }

// Denoise proposes how much noise to take out: none where it cannot be seen, and most of the reach where it is strong. Colour noise is
// the uglier and goes first.
func Denoise(s Sample) (noise, colour float64) {
	level := 255 * s.Noise
	return math.Round(max(0, min(80, (level-1.2)*14))), math.Round(max(0, min(100, (level-0.8)*25)))
}

// Level proposes an angle in degrees, clockwise, by which a picture becomes straight, from where its edges point: those within ten
// degrees of level or upright are counted by their strength, and the most common direction wins if it stands out. It says false where
// none does, or where nothing is to do.
func Level(s Sample) (degrees float64, sure bool) {
	const reach, per = 10.0, 4 // degrees each way, bins a degree
	bins := make([]float64, int(2*reach*per)+1)
	w, h := s.Size.Width, s.Size.Height
	if w < 32 || h < 32 || s.pixels() != w*h {
		return 0, false
	}
	luma := make([]float64, w*h)
	for i := range luma {
		r, g, b := s.at(i)
		luma[i] = 0.299*r + 0.587*g + 0.114*b
	}
	for range 3 { // a sharp edge climbs in steps of a pixel, which point along the axes
		luma = blurred(luma, w, h)
	}
	total := 0.0
	for y := 2; y < h-2; y++ {
		for x := 2; x < w-2; x++ {
			var gx, gy float64
			for k, weight := range [5]float64{1, 4, 6, 4, 1} {
				row, column := (y+k-2)*w+x, y*w+x+k-2
				gx += weight * (luma[row+2] + 2*luma[row+1] - 2*luma[row-1] - luma[row-2])
				gy += weight * (luma[column+2*w] + 2*luma[column+w] - 2*luma[column-w] - luma[column-2*w])
			}
			strength := math.Hypot(gx, gy)
			if strength < 350 {
				continue
			}
			angle := math.Atan2(gy, gx) * 180 / math.Pi // of the gradient; the edge is across it
			off := math.Mod(angle+360+45, 90) - 45      // from the nearest axis
			if math.Abs(off) > reach {
				continue
			}
			strength = min(strength, 2000)
			at := (off + reach) * per
			i := int(at)
			part := at - float64(i)
			bins[i] += strength * (1 - part)
			if i+1 < len(bins) {
				bins[i+1] += strength * part
			}
			total += strength
		}
	}
	if total == 0 {
		return 0, false
	}
	const wide = 6 // a degree and a half each way: what is around an edge bends its direction
	best, sum := 0, 0.0
	for i := wide; i < len(bins)-wide; i++ {
		near := 0.0
		for _, b := range bins[i-wide : i+wide+1] {
			near += b
		}
		if near > sum {
			best, sum = i, near
		}
	}
	if sum == 0 {
		return 0, false
	}
	moment := 0.0
	for i := best - wide; i <= best+wide; i++ {
		moment += float64(i) * bins[i]
	}
	degrees = -(moment/sum/per - reach)
	degrees = math.Round(degrees*10) / 10
	const standsOut = 0.45 // of all that was counted; by chance it would be a sixth
	return degrees, sum/total > standsOut && math.Abs(degrees) >= 0.2
}

// blurred smooths a plane with 1 4 6 4 1 both ways; at the edges it takes in what is beyond them.
func blurred(in []float64, w, h int) []float64 {
	pass := func(in []float64, step, from, to int) []float64 {
		out := slices.Clone(in)
		for i := from; i < to; i++ {
			out[i] = (in[i-2*step] + 4*in[i-step] + 6*in[i] + 4*in[i+step] + in[i+2*step]) / 16
		}
		return out
	}
	return pass(pass(in, 1, 2, w*h-2), w, 2*w, w*h-2*w)
}

// Alike proposes exposure and white balance for a picture so that it has the brightness and the white of another of the same burst:
// the median of its light, and the mean colour of what is neither dark nor burnt out.
func Alike(s, model Sample) (exposure, warmth, tint float64) {
	mine, theirs := s.median(), model.median()
	if mine <= 0 || theirs <= 0 {
		return 0, 0, 0
	}
	exposure = limited(math.Log2(theirs/mine), 2)
	a, b := s.mean(), model.mean()
	// Where the mean of the model would be grey at the same warmth, the difference is what is missing.
	ratio := [3]float64{}
	for i := range ratio {
		if a[i] <= 0 || b[i] <= 0 {
			return exposure, 0, 0
		}
		ratio[i] = a[i] / b[i]
	}
	scale := 0.5 / max(ratio[0], ratio[1], ratio[2])
	w, t, ok := Grey(255*Encode(ratio[0]*scale), 255*Encode(ratio[1]*scale), 255*Encode(ratio[2]*scale))
	if !ok {
		return exposure, 0, 0
	}
	return exposure, limited(w, 60), limited(t, 40)
}

func (s Sample) median() float64 {
	luma := make([]float64, s.pixels())
	for i := range luma {
		r, g, b := s.at(i)
		luma[i] = 0.2126*Decode(r/255) + 0.7152*Decode(g/255) + 0.0722*Decode(b/255)
	}
	if len(luma) == 0 {
		return 0
	}
	slices.Sort(luma)
	return luma[len(luma)/2]
}

func (s Sample) mean() (sum [3]float64) {
	n := 0.0
	for i := range s.pixels() {
		r, g, b := s.at(i)
		if most := max(r, g, b); most < 20 || most > 250 {
			continue
		}
		sum[0], sum[1], sum[2] = sum[0]+Decode(r/255), sum[1]+Decode(g/255), sum[2]+Decode(b/255)
		n++
	}
	if n > 0 {
		sum[0], sum[1], sum[2] = sum[0]/n, sum[1]/n, sum[2]/n
	}
	return sum
}
