package likeness

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
)

// Lab is a colour as CIE 1976 L*a*b* for the white point D65, rounded: L from 0 to 100, A and B from -128 to 127. Equal steps look
// about equally large, so that distances can be compared.
type Lab struct{ L, A, B int32 }

// LabOf turns a colour of sRGB (IEC 61966-2-1), each part from 0 to 255, into L*a*b* (CIE 15:2004).
func LabOf(r, g, b byte) Lab {
	linear := func(c byte) float64 {
		v := float64(c) / 255
		if v <= 0.04045 {
			return v / 12.92
		}
		return math.Pow((v+0.055)/1.055, 2.4)
	}
	lr, lg, lb := linear(r), linear(g), linear(b)
	f := func(t float64) float64 {
		if t > 216.0/24389 {
			return math.Cbrt(t)
		}
		return (24389.0/27*t + 16) / 116
	}
	x := f((0.4124564*lr + 0.3575761*lg + 0.1804375*lb) / 0.95047)
	y := f(0.2126729*lr + 0.7151522*lg + 0.0721750*lb)
	z := f((0.0193339*lr + 0.1191920*lg + 0.9503041*lb) / 1.08883)
	round := func(v, low, high float64) int32 { return int32(math.Round(max(low, min(high, v)))) }
	return Lab{round(116*y-16, 0, 100), round(500*(x-y), -128, 127), round(200*(y-z), -128, 127)}
}

// ParseColour reads a colour as people write it in CSS: # and six hexadecimal digits.
func ParseColour(text string) (Lab, error) {
	digits, marked := strings.CutPrefix(text, "#")
	n, err := strconv.ParseUint(digits, 16, 32)
	if !marked || err != nil || len(digits) != 6 {
		return Lab{}, fmt.Errorf("%q is not a colour, as in #17695f", text)
	}
	return LabOf(byte(n>>16), byte(n>>8), byte(n)), nil
}

// square is the squared distance of two colours (CIE 1976 ΔE*ab).
func (c Lab) square(o Lab) int32 {
	l, a, b := c.L-o.L, c.A-o.A, c.B-o.B
	return l*l + a*a + b*b
}

// Reach is the distance up to which two colours are taken for the same one by name.
const Reach = 22

// Shade is a colour of a picture with its share in percent, in one number of 30 bits: L, A and B + 128, and the share.
type Shade int32

// NewShade puts a colour and its share, 0 to 100, together.
func NewShade(c Lab, share int32) Shade { return Shade(c.L<<23 | (c.A+128)<<15 | (c.B+128)<<7 | share) }

// Lab is the colour of a shade.
func (s Shade) Lab() Lab { return Lab{int32(s) >> 23, int32(s)>>15&255 - 128, int32(s)>>7&255 - 128} }

// Share is how much of the picture has the colour, in percent.
func (s Shade) Share() int32 { return int32(s) & 127 }

// Share is how much of a picture has a colour or one within Reach of it, in percent.
func Share(picture []Shade, c Lab) (percent int32) {
	for _, s := range picture {
		if s.Lab().square(c) <= Reach*Reach {
			percent += s.Share()
		}
	}
	return percent
}

// Overlap is how much of the colours of one picture another one has as well, in percent.
func Overlap(picture, other []Shade) (percent int32) {
	for _, s := range picture {
		percent += min(s.Share(), Share(other, s.Lab()))
	}
	return percent
}

// Two pictures are like each other from so much overlap of their colours on, or with hashes that differ in so few bits at most.
const (
	LikeOverlap = 60
	LikeBits    = 14
)

// Unlike is how little one picture is like another: 0 for the same, 164 at most. The bits in which their hashes differ count
// twice, where both hashes tell something; less is more alike.
func Unlike(hash Hash, picture []Shade, otherHash Hash, other []Shade) int32 {
	bits := int32(32)
	if hash.Tells() && otherHash.Tells() {
		bits = int32(Distance(hash, otherHash))
	}
	return 100 - Overlap(picture, other) + bits
}

// Limits of what is kept of a picture, and how far what is taken together lies apart.
const (
	mostShades  = 8
	fewestShare = 2 // percent
	together    = 14
)

// Shades are the colours that dominate a picture, the largest first: at most eight of at least two percent. Pixels are its red, green
// and blue one after the other. A histogram over L*a*b* in cells of 5×10×10 is gathered around its heaviest cells.
func Shades(pixels []byte) []Shade {
	type cell struct{ n, l, a, b int64 }
	cells := map[Lab]*cell{}
	total := int64(len(pixels) / 3)
	for i := 0; i+2 < len(pixels); i += 3 {
		c := LabOf(pixels[i], pixels[i+1], pixels[i+2])
		key := Lab{c.L / 5, (c.A + 128) / 10, (c.B + 128) / 10}
		at := cells[key]
		if at == nil {
			at = &cell{}
			cells[key] = at
		}
		at.n, at.l, at.a, at.b = at.n+1, at.l+int64(c.L), at.a+int64(c.A), at.b+int64(c.B)
	}
	mean := func(c *cell) Lab { return Lab{int32(c.l / c.n), int32(c.a / c.n), int32(c.b / c.n)} }
	left := make([]*cell, 0, len(cells))
	for _, c := range cells {
		left = append(left, c)
	}
	heavier := func(x, y *cell) int {
		a, b := mean(x), mean(y)
		switch {
		case x.n != y.n:
			return int(y.n - x.n)
		case a.L != b.L:
			return int(a.L - b.L)
		case a.A != b.A:
			return int(a.A - b.A)
		}
		return int(a.B - b.B)
	}
	slices.SortFunc(left, heavier)
	var gathered []*cell
	for len(left) > 0 && len(gathered) < 4*mostShades {
		middle, sum := mean(left[0]), &cell{}
		left = slices.DeleteFunc(left, func(c *cell) bool {
			if mean(c).square(middle) > together*together {
				return false
			}
			sum.n, sum.l, sum.a, sum.b = sum.n+c.n, sum.l+c.l, sum.a+c.a, sum.b+c.b
			return true
		})
		gathered = append(gathered, sum)
	}
	slices.SortFunc(gathered, heavier)
	out := []Shade{}
	for _, c := range gathered {
		if share := int32((c.n*200/total + 1) / 2); share >= fewestShare && len(out) < mostShades {
			out = append(out, NewShade(mean(c), share))
		}
	}
	return out
}

// Ints are shades as a database keeps them.
func Ints(shades []Shade) []int32 {
	out := make([]int32, len(shades))
	for i, s := range shades {
		out[i] = int32(s)
	}
	return out
}
