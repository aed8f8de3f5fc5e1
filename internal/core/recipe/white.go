package recipe

import "math"

// matrix is 3 × 3, by rows.
type matrix [9]float64

func (m matrix) times(n matrix) (out matrix) {
	for i := range 3 {
		for j := range 3 {
			for k := range 3 {
				out[3*i+j] += m[3*i+k] * n[3*k+j]
			}
		}
	}
	return out
}

func (m matrix) of(v [3]float64) (out [3]float64) {
	for i := range 3 {
		out[i] = m[3*i]*v[0] + m[3*i+1]*v[1] + m[3*i+2]*v[2]
	}
	return out
}

func (m matrix) inverse() matrix {
	a, b, c, d, e, f, g, h, i := m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8]
	det := a*(e*i-f*h) - b*(d*i-f*g) + c*(d*h-e*g)
	out := matrix{e*i - f*h, c*h - b*i, b*f - c*e, f*g - d*i, a*i - c*g, c*d - a*f, d*h - e*g, b*g - a*h, a*e - b*d}
	for k := range out {
		out[k] /= det
	}
	return out
}

var (
	// Linear sRGB to XYZ (IEC 61966-2-1).
	toXYZ = matrix{0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505}
	// XYZ to the cone responses of Bradford (Lam 1985, as in CIE 160).
	bradford = matrix{0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296}

	fromXYZ, fromBradford = toXYZ.inverse(), bradford.inverse()
)

const (
	daylight  = 6504.0 // K, of D65
	tintReach = 0.03   // of chromaticity y at 1
)

// daylightAt is the chromaticity of CIE daylight (CIE 15) of a temperature in kelvin, 4000 to 25000.
func daylightAt(kelvin float64) (x, y float64) {
	t := kelvin
	if t <= 7000 {
		x = -4.6070e9/(t*t*t) + 2.9678e6/(t*t) + 0.09911e3/t + 0.244063
	} else {
		x = -2.0064e9/(t*t*t) + 1.9018e6/(t*t) + 0.24748e3/t + 0.237040
	}
	return x, -3*x*x + 2.870*x - 0.275
}

// whiteBalance makes white as it is under another daylight, of 6504·2^(−warmth/2) kelvin, with the chromaticity y moved by the tint:
// more of it is more magenta. Both go from -1 to 1. The matrix is for linear sRGB; at 0 and 0 it is exactly the unit.
func whiteBalance(warmth, tint float64) matrix {
	if warmth == 0 && tint == 0 {
		return matrix{1, 0, 0, 0, 1, 0, 0, 0, 1}
	}
	white := func(kelvin, shift float64) [3]float64 {
		x, y := daylightAt(kelvin)
		y -= shift
		return [3]float64{x / y, 1, (1 - x - y) / y}
	}
	from := bradford.of(white(daylight, 0))
	to := bradford.of(white(daylight*math.Exp2(-warmth/2), tintReach*tint))
	scale := matrix{to[0] / from[0], 0, 0, 0, to[1] / from[1], 0, 0, 0, to[2] / from[2]}
	return fromXYZ.times(fromBradford).times(scale).times(bradford).times(toXYZ)
}

// Grey finds the warmth and tint, each from -100 to 100, that make an sRGB colour of 0 to 255 grey, or come nearest to it. It says false
// for what is too dark or too bright to tell.
func Grey(red, green, blue float64) (warmth, tint float64, ok bool) {
	if max(red, green, blue) < 16 || max(red, green, blue) > 254 {
		return 0, 0, false
	}
	colour := [3]float64{Decode(red / 255), Decode(green / 255), Decode(blue / 255)}
	cast := func(w, t float64) float64 {
		c := whiteBalance(w/100, t/100).of(colour)
		mean := (c[0] + c[1] + c[2]) / 3
		return math.Abs(c[0]-mean)/mean + math.Abs(c[1]-mean)/mean + math.Abs(c[2]-mean)/mean
	}
	for _, step := range []float64{20, 5, 1} { // each round around the best of the one before
		w, t, least := warmth, tint, math.Inf(1)
		for dw := -100.0; dw <= 100; dw += step {
			for dt := -100.0; dt <= 100; dt += step {
				if step < 20 && (math.Abs(dw-warmth) > 5*step || math.Abs(dt-tint) > 5*step) {
					continue
				}
				if c := cast(dw, dt); c < least {
					w, t, least = dw, dt, c
				}
			}
		}
		warmth, tint = w, t
	}
	return warmth, tint, true
}
