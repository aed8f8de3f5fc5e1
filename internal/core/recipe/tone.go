package recipe

import (
	"math"
	"sort"
)

// Tone is everything that happens to the colour of a pixel, as numbers and tables, so that the worker and the browser do the same with
// it. Linear light has 1 for white; encoded values are those of sRGB (IEC 61966-2-1), 0 to 1. For a pixel with the linear colour l at a
// place where the base map gives base for the encoded luminance ly, and r is the distance from the middle in half diagonals:
//
//	d = ly − base, and d = d / (1 + 625·d²), since what is larger than a 25th is an edge and would get a halo
//	e = Local[base] + Vignette·r⁴ + Clarity·d·(1 − |2·base − 1| / 2)    in EV
//	v = Curve[Matrix · l · 2^e]
//	grey: v = v + Mono·(Y(v) + hues·Mix/2 − v), of the colour that v has
//	s = (max − min) / max
//	v = Y(v) + (v − Y(v)) · (1 + Saturation + Vibrance·(1 − s)²)
type Tone struct {
	Matrix     [9]float32         `json:"matrix"` // rows
	Curve      [CurveSize]float32 `json:"curve"`  // from linear to encoded; see CurveAt for where
	Local      [LocalSize]float32 `json:"local"`  // EV by base, from 0 to 1
	Clarity    float32            `json:"clarity"`
	Vignette   float32            `json:"vignette"`
	Saturation float32            `json:"saturation"`
	Vibrance   float32            `json:"vibrance"`
	Mono       float32            `json:"mono"`
	Mix        [6]float32         `json:"mix"` // red, yellow, green, cyan, blue, magenta
}

// The curve is kept at 64 places in each octave of linear light from 2^-12 to 2^4, with one for 0 before, so that the place follows from
// the bits of a 32-bit float.
const (
	curveOctaves = 16
	curvePlaces  = 64
	curveLowest  = -12
	CurveSize    = curveOctaves*curvePlaces + 2
	LocalSize    = 257
)

// CurveAt is the linear value of a place in the curve: 0, then 2^-12 · 2^octave · (1 + part/64).
func CurveAt(i int) float64 {
	if i == 0 {
		return 0
	}
	i--
	return math.Ldexp(1+float64(i%curvePlaces)/curvePlaces, curveLowest+i/curvePlaces)
}

// Encode is the sRGB transfer function (IEC 61966-2-1), also above 1.
func Encode(linear float64) float64 {
	if linear <= 0.0031308 {
		return 12.92 * max(0, linear)
	}
	return 1.055*math.Pow(linear, 1/2.4) - 0.055
}

// EncodeTable is Encode at the places of the curve.
var EncodeTable = func() (table [CurveSize]float32) {
	for i := range table {
		table[i] = float32(Encode(CurveAt(i)))
	}
	return table
}()

// Decode is the inverse of Encode.
func Decode(encoded float64) float64 {
	if encoded <= 0.04045 {
		return encoded / 12.92
	}
	return math.Pow((encoded+0.055)/1.055, 2.4)
}

// How far the sliders reach at 100.
const (
	highlightEV = 1.2
	shadowEV    = 1.5
	vignetteEV  = 2.0
	pointReach  = 0.25 // of the range, for white and black point
	clarityGain = 4.0  // EV for a difference of full brightness
)

// ToneOf works out the tone of adjustments.
func ToneOf(a Adjustments) Tone {
	a = a.normal()
	t := Tone{
		Clarity: float32(clarityGain * a.Clarity / 100), Vignette: float32(vignetteEV * a.Vignette / 100),
		Saturation: float32(a.Saturation / 100), Vibrance: float32(a.Vibrance / 100), Mono: float32(a.Mono / 100),
	}
	for i, n := range []float64{a.MonoRed, a.MonoYellow, a.MonoGreen, a.MonoCyan, a.MonoBlue, a.MonoMagenta} {
		t.Mix[i] = float32(n / 100)
	}
	gain := math.Exp2(a.Exposure)
	for i, m := range whiteBalance(a.Warmth/100, a.Tint/100) {
		t.Matrix[i] = float32(m * gain)
	}
	soft := shoulder(Encode(gain))
	curve := tones(a)
	for i := range t.Curve {
		t.Curve[i] = float32(curve(soft(Encode(CurveAt(i)))))
	}
	for i := range t.Local {
		base := soft(Encode(Decode(float64(i)/(LocalSize-1)) * gain))
		t.Local[i] = float32(highlightEV*a.Highlights/100*smoothstep(0.4, 1, base) + shadowEV*a.Shadows/100*(1-smoothstep(0, 0.6, base)))
	}
	return t
}

// Floats is the tone as numbers in a row, for whoever draws elsewhere: the matrix, clarity, vignette, saturation, vibrance, mono, the mix,
// the curve, the local table, and EncodeTable. web/src/preparing/shader.ts reads them.
func (t Tone) Floats() []float32 {
	out := append([]float32{}, t.Matrix[:]...)
	out = append(out, t.Clarity, t.Vignette, t.Saturation, t.Vibrance, t.Mono)
	out = append(append(append(out, t.Mix[:]...), t.Curve[:]...), t.Local[:]...)
	return append(out, EncodeTable[:]...)
}

// Neutral says whether the tone changes nothing.
func (t Tone) Neutral() bool { return t == neutralTone }

var neutralTone = ToneOf(Adjustments{})

// smoothstep rises from 0 at from to 1 at to, level at both.
func smoothstep(from, to, x float64) float64 {
	x = max(0, min(1, (x-from)/(to-from)))
	return x * x * (3 - 2*x)
}

// shoulder keeps what exposure lifted over white: encoded values above 0.75 are bent, with slope 1 there, so that the brightest, most,
// becomes 1. A rational function, monotone.
func shoulder(most float64) func(float64) float64 {
	const from = 0.75
	if most <= 1 {
		return func(x float64) float64 { return x }
	}
	c := 1/(1-from) - 1/(most-from)
	return func(x float64) float64 {
		if x <= from {
			return x
		}
		return from + (x-from)/(1+c*(x-from))
	}
}

// tones is what white and black point, contrast and the tone curve make of an encoded value.
func tones(a Adjustments) func(float64) float64 {
	black, white := pointReach*a.Black/100, pointReach*a.White/100
	contrast, bend := a.Contrast/100, spline(a.Curve)
	return func(x float64) float64 {
		x = (x - black) / (1 - black - white)
		x = max(0, min(1, x))
		x += contrast * (x*x*(3-2*x) - x)
		return max(0, min(1, bend(x)))
	}
}

// spline is the monotone cubic interpolation of Fritsch and Carlson (SIAM J. Numer. Anal. 17, 1980), in the variant of Steffen's slope
// limit (A&A 239, 1990), through points and the ends.
func spline(points []CurvePoint) func(float64) float64 {
	if len(points) == 0 {
		return func(x float64) float64 { return x }
	}
	p := append([]CurvePoint(nil), points...)
	if p[0][0] > 0 {
		p = append([]CurvePoint{{0, 0}}, p...)
	}
	if p[len(p)-1][0] < 1 {
		p = append(p, CurvePoint{1, 1})
	}
	n := len(p)
	width, slope := make([]float64, n-1), make([]float64, n-1)
	for i := range width {
		width[i] = p[i+1][0] - p[i][0]
		slope[i] = (p[i+1][1] - p[i][1]) / width[i]
	}
	tangent := make([]float64, n)
	tangent[0], tangent[n-1] = slope[0], slope[n-2]
	for i := 1; i < n-1; i++ {
		if slope[i-1]*slope[i] <= 0 {
			continue
		}
		mean := (slope[i-1]*width[i] + slope[i]*width[i-1]) / (width[i-1] + width[i])
		limit := 2 * min(math.Abs(slope[i-1]), math.Abs(slope[i]))
		tangent[i] = math.Copysign(min(math.Abs(mean), limit), mean)
	}
	return func(x float64) float64 {
		i := max(0, min(n-2, sort.Search(n, func(i int) bool { return p[i][0] > x })-1))
		h := width[i]
		t := max(0, min(1, (x-p[i][0])/h))
		return p[i][1]*(1+2*t)*(1-t)*(1-t) + tangent[i]*h*t*(1-t)*(1-t) + p[i+1][1]*t*t*(3-2*t) + tangent[i+1]*h*t*t*(t-1)
	}
}
