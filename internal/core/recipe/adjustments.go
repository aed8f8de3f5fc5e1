package recipe

import (
	"math"

	"brightsatchel/internal/core/fault"
)

// Adjustments are what is done to brightness, colour and texture. The zero value does nothing. Controls lists the numbers with their
// units and ranges.
type Adjustments struct {
	Exposure   float64 `json:"exposure,omitempty"`
	Contrast   float64 `json:"contrast,omitempty"`
	Highlights float64 `json:"highlights,omitempty"`
	Shadows    float64 `json:"shadows,omitempty"`
	White      float64 `json:"white,omitempty"`
	Black      float64 `json:"black,omitempty"`
	// Curve is the tone curve by points: what goes in and what comes out, as fractions of full brightness as it is stored, in the order
	// of what goes in. Where none is at an end, the end stays as it is.
	Curve []CurvePoint `json:"curve,omitempty"`

	Warmth     float64 `json:"warmth,omitempty"`
	Tint       float64 `json:"tint,omitempty"`
	Saturation float64 `json:"saturation,omitempty"`
	Vibrance   float64 `json:"vibrance,omitempty"`
	Mono       float64 `json:"mono,omitempty"`
	// What the colours add to brightness in black and white; without Mono they do nothing.
	MonoRed     float64 `json:"mono_red,omitempty"`
	MonoYellow  float64 `json:"mono_yellow,omitempty"`
	MonoGreen   float64 `json:"mono_green,omitempty"`
	MonoCyan    float64 `json:"mono_cyan,omitempty"`
	MonoBlue    float64 `json:"mono_blue,omitempty"`
	MonoMagenta float64 `json:"mono_magenta,omitempty"`

	Clarity     float64 `json:"clarity,omitempty"`
	Sharpen     float64 `json:"sharpen,omitempty"`
	Radius      float64 `json:"radius,omitempty"`
	Threshold   float64 `json:"threshold,omitempty"`
	Noise       float64 `json:"noise,omitempty"`
	ColourNoise float64 `json:"colour_noise,omitempty"`

	Vignette float64 `json:"vignette,omitempty"`
}

// CurvePoint is what goes in and what comes out of the tone curve.
type CurvePoint [2]float64

// Control is a number that can be set. It goes From … To in steps of Step, and does nothing at Neutral. Group is one of Groups.
type Control struct {
	Name, Words, Group, Unit string
	From, To, Step, Neutral  float64
	With                     string // the control without which it does nothing
	of                       func(*Adjustments) *float64
}

// Groups are the parts of the adjustments that a look can hold and that can be carried to others, in the order of the work.
var Groups = []string{"brightness", "colour", "texture", "edges"}

// Controls are all numbers of the adjustments in the order of the work.
var Controls = []Control{
	{"exposure", "Exposure", "brightness", "EV", -4, 4, 0.05, 0, "", func(a *Adjustments) *float64 { return &a.Exposure }},
	{"white", "White point", "brightness", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.White }},
	{"black", "Black point", "brightness", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Black }},
	{"shadows", "Shadows", "brightness", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Shadows }},
	{"highlights", "Highlights", "brightness", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Highlights }},
	{"contrast", "Contrast", "brightness", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Contrast }},
	{"warmth", "Warmth", "colour", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Warmth }},
	{"tint", "Tint", "colour", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Tint }},
	{"saturation", "Saturation", "colour", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Saturation }},
	{"vibrance", "Vibrance", "colour", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Vibrance }},
	{"mono", "Black and white", "colour", "%", 0, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Mono }},
	{"mono_red", "Reds", "colour", "", -100, 100, 1, 0, "mono", func(a *Adjustments) *float64 { return &a.MonoRed }},
	{"mono_yellow", "Yellows", "colour", "", -100, 100, 1, 0, "mono", func(a *Adjustments) *float64 { return &a.MonoYellow }},
	{"mono_green", "Greens", "colour", "", -100, 100, 1, 0, "mono", func(a *Adjustments) *float64 { return &a.MonoGreen }},
	{"mono_cyan", "Cyans", "colour", "", -100, 100, 1, 0, "mono", func(a *Adjustments) *float64 { return &a.MonoCyan }},
	{"mono_blue", "Blues", "colour", "", -100, 100, 1, 0, "mono", func(a *Adjustments) *float64 { return &a.MonoBlue }},
	{"mono_magenta", "Magentas", "colour", "", -100, 100, 1, 0, "mono", func(a *Adjustments) *float64 { return &a.MonoMagenta }},
	{"clarity", "Clarity", "texture", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Clarity }},
	{"sharpen", "Sharpening", "texture", "", 0, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Sharpen }},
	{"radius", "Radius", "texture", "px", 0.5, 3, 0.1, 1, "sharpen", func(a *Adjustments) *float64 { return &a.Radius }},
	{"threshold", "Threshold", "texture", "levels", 0, 20, 1, 0, "sharpen", func(a *Adjustments) *float64 { return &a.Threshold }},
	{"noise", "Noise", "texture", "", 0, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Noise }},
	{"colour_noise", "Colour noise", "texture", "", 0, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.ColourNoise }},
	{"vignette", "Vignette", "edges", "", -100, 100, 1, 0, "", func(a *Adjustments) *float64 { return &a.Vignette }},
}

// control finds a control by its name.
func control(name string) Control {
	for _, c := range Controls {
		if c.Name == name {
			return c
		}
	}
	panic("there is no control " + name)
}

// At is the value of the control in some adjustments.
func (c Control) At(a Adjustments) float64 {
	n := *c.of(&a)
	if n == 0 && c.From > 0 { // left out
		return c.Neutral
	}
	return n
}

// idle says that what the control belongs to does nothing, and so it does nothing either.
func (c Control) idle(a Adjustments) bool { return c.With != "" && *control(c.With).of(&a) == 0 }

func (a Adjustments) check() error {
	for _, c := range Controls {
		n := *c.of(&a)
		if !within(n, c.From, c.To) && !(n == 0 && c.From > 0) {
			return fault.Invalidf(c.Name, "%s goes from %g to %g%s.", c.Words, c.From, c.To, unit(c.Unit))
		}
	}
	if len(a.Curve) > mostPoints {
		return fault.Invalidf("curve", "A tone curve has at most %d points.", mostPoints)
	}
	for i, p := range a.Curve {
		if !within(p[0], 0, 1) || !within(p[1], 0, 1) || i > 0 && !(p[0]-a.Curve[i-1][0] >= 1e-3) {
			return fault.Invalidf("curve", "The points of a tone curve lie between 0 and 1, from dark to bright.")
		}
	}
	return nil
}

func unit(u string) string {
	if u == "" || u == "%" {
		return u
	}
	return " " + u
}

// normal rounds to steps and leaves out what does nothing.
func (a Adjustments) normal() Adjustments {
	for _, c := range Controls {
		n := c.of(&a)
		if c.idle(a) {
			*n = 0
			continue
		}
		if *n == 0 && c.From > 0 {
			*n = c.Neutral
		}
		per := math.Round(1 / c.Step) // steps are whole, tenths, twentieths: dividing by their number is exact
		*n = math.Round(*n*per)/per + 0
	}
	var curve []CurvePoint
	straight := true
	for _, p := range a.Curve {
		p = CurvePoint{math.Round(p[0]*1e3) / 1e3, math.Round(p[1]*1e3) / 1e3}
		straight = straight && p[0] == p[1]
		curve = append(curve, p)
	}
	if a.Curve = curve; straight {
		a.Curve = nil
	}
	return a
}

// Neutral says whether they do nothing.
func (a Adjustments) Neutral() bool {
	n := a.normal()
	if n.Curve != nil {
		return false
	}
	for _, c := range Controls {
		if *c.of(&n) != 0 {
			return false
		}
	}
	return true
}

// scaled says whether a control is scaled with the strength of a look. How wide or from where something is done is not.
func (c Control) scaled() bool { return c.With == "" }

// Times is how they are at a strength from 0 (nothing) to 1 (as they are).
func (a Adjustments) Times(strength float64) Adjustments {
	for _, c := range Controls {
		if n := c.of(&a); c.scaled() {
			*n *= strength
		}
	}
	curve := make([]CurvePoint, 0, len(a.Curve))
	for _, p := range a.Curve {
		curve = append(curve, CurvePoint{p[0], p[0] + (p[1]-p[0])*strength})
	}
	a.Curve = curve
	return a.normal()
}

// plus adds what a look adds. Numbers are added and stay in their range; what goes with them comes from whoever has more of it; of two
// tone curves the look's is applied after the own.
func (a Adjustments) plus(look Adjustments) Adjustments {
	out := a
	for _, c := range Controls {
		if c.With != "" {
			owner := control(c.With)
			if *owner.of(&look) > *owner.of(&a) {
				*c.of(&out) = *c.of(&look)
			}
			continue
		}
		*c.of(&out) = max(c.From, min(c.To, *c.of(&a)+*c.of(&look)))
	}
	switch {
	case len(look.Curve) == 0:
	case len(a.Curve) == 0:
		out.Curve = look.Curve
	default:
		first, then := spline(a.Curve), spline(look.Curve)
		out.Curve = nil
		for i := range mostPoints {
			x := float64(i) / (mostPoints - 1)
			out.Curve = append(out.Curve, CurvePoint{x, then(first(x))})
		}
	}
	return out
}

// Only keeps the groups that are named.
func (a Adjustments) Only(groups []string) Adjustments { return Adjustments{}.With(a, groups) }

// With takes the named groups over from other adjustments.
func (a Adjustments) With(other Adjustments, groups []string) Adjustments {
	for _, g := range groups {
		for _, c := range Controls {
			if c.Group == g {
				*c.of(&a) = *c.of(&other)
			}
		}
		if g == "brightness" {
			a.Curve = other.Curve
		}
	}
	return a.normal()
}

// SetWithin gives a control, by its name, a value, or the nearest that it can have.
func (a Adjustments) SetWithin(name string, value float64) Adjustments {
	c := control(name)
	return a.Set(name, max(c.From, min(c.To, value)))
}

// Set gives a control, by its name, a value. It panics where there is none of that name.
func (a Adjustments) Set(name string, value float64) Adjustments {
	*control(name).of(&a) = value
	return a
}
