package recipe

import (
	"fmt"
	"math"

	"brightsatchel/internal/core/fault"
)

// Film is what is done to a clip beside what is done to its pictures. The zero value does nothing.
type Film struct {
	// From and To are what remains, in seconds from the beginning of the file; a To of 0 is its end.
	From float64 `json:"from,omitempty"`
	To   float64 `json:"to,omitempty"`
	// Mute leaves the sound out.
	Mute bool `json:"mute,omitempty"`
	// Level brings the sound to Loudness.
	Level bool `json:"level,omitempty"`
	// Poster is the moment that stands for the clip, in seconds from the beginning of the file; 0 lets it be chosen.
	Poster float64 `json:"poster,omitempty"`
}

const (
	// Loudness is what sound is brought to, in LUFS (EBU R 128), which is usual on the web.
	Loudness = -14
	// ShortestClip is what trimming leaves at least, in seconds.
	ShortestClip = 0.2
	longestClip  = 24 * 60 * 60 // seconds
	frameOnly    = "It is a clip: %s can only be done to pictures."
)

func (f Film) check() error {
	switch {
	case !within(f.From, 0, longestClip) || !within(f.To, 0, longestClip) || !within(f.Poster, 0, longestClip):
		return fault.Invalidf("film", "The moments of a clip are seconds from its beginning, up to a day.")
	case f.To != 0 && f.To-f.From < ShortestClip-1e-9:
		return fault.Invalidf("film", "What remains of a clip ends at least %g seconds after it begins.", ShortestClip)
	}
	return nil
}

func (f Film) normal() *Film {
	hundredth := func(n float64) float64 { return math.Round(n*100)/100 + 0 }
	f.From, f.To, f.Poster = hundredth(f.From), hundredth(f.To), hundredth(f.Poster)
	if f.Mute {
		f.Level = false
	}
	if f == (Film{}) {
		return nil
	}
	return &f
}

// FilmOf is what a recipe does to a clip beside its pictures.
func (r Recipe) FilmOf() Film {
	if r.Film == nil {
		return Film{}
	}
	return *r.Film
}

// Span is what remains of a clip of so many seconds: its beginning and end in seconds of the file.
func (r Recipe) Span(seconds float64) (from, to float64) {
	f := r.FilmOf()
	from, to = min(f.From, max(0, seconds-ShortestClip)), seconds
	if f.To > 0 {
		to = min(seconds, f.To)
	}
	return from, max(to, min(seconds, from+ShortestClip))
}

// Long is how long a clip of so many seconds is then, in seconds.
func (r Recipe) Long(seconds float64) float64 {
	from, to := r.Span(seconds)
	return to - from
}

// PosterAt is the moment that stands for a clip of so many seconds, in seconds of the file: the one that was chosen, if it remains, or
// one from a third into what remains, at most 3 seconds in.
func (r Recipe) PosterAt(seconds float64) float64 {
	from, to := r.Span(seconds)
	if at := r.FilmOf().Poster; at > 0 && at >= from && at < to {
		return at
	}
	return from + min(3, (to-from)/3)
}

// Moving is what the film of a clip is made by: the recipe without what is for its poster only.
func (r Recipe) Moving() Recipe {
	if r.Film != nil {
		f := *r.Film
		f.Poster = 0
		r.Film = f.normal()
	}
	return r
}

// Beginning takes the first seconds of what remains of a clip that is so long, where that is longer; 0 is all of it.
func (r Recipe) Beginning(long, seconds float64) Recipe {
	if seconds <= 0 || r.Long(long) <= seconds {
		return r
	}
	f := r.FilmOf()
	f.From, _ = r.Span(long)
	f.To = f.From + max(seconds, ShortestClip)
	r.Film = f.normal()
	return r
}

// OnFilm says whether a control can be set for clips: what depends on a pixel's own colour, and on nothing around it.
func (c Control) OnFilm() bool {
	return c.Group == "colour" || c.Group == "brightness" && c.Name != "shadows" && c.Name != "highlights"
}

// For is as much of a recipe as suits a kind of item. Clips are not straightened, and keep what is done to a colour by itself; the rest of
// the kinds have no recipe.
func (r Recipe) For(kind string) Recipe {
	switch kind {
	case "picture":
		r.Film = nil
	case "clip":
		r.Sensor, r.RedEyes, r.Straighten = false, nil, 0
		r.Adjustments = r.Adjustments.onFilm()
		if r.Look != nil {
			l := *r.Look
			l.Values = l.Values.onFilm()
			r.Look = &l
		}
	default:
		r = Recipe{}
	}
	return r.Normal()
}

func (a Adjustments) onFilm() Adjustments {
	for _, c := range Controls {
		if !c.OnFilm() {
			*c.of(&a) = 0
		}
	}
	return a.normal()
}

// CheckFor says what of a recipe does not suit a kind of item, in a fault.Invalid that names the field.
func (r Recipe) CheckFor(kind string) error {
	if r.Normal().Same(r.For(kind)) {
		return nil
	}
	switch kind {
	case "picture":
		return fault.Invalidf("film", "It is a picture: only clips can be trimmed or muted.")
	case "clip":
	default:
		return fault.Invalidf("recipe", "Only pictures and clips can be prepared; this is a %s.", kind)
	}
	for _, c := range Controls {
		if !c.OnFilm() && *c.of(&r.Adjustments) != 0 {
			return fault.Invalidf(c.Name, frameOnly, c.Words)
		}
	}
	return fault.Invalidf("straighten", frameOnly, "straightening and red eyes")
}

// filmWords says what becomes different for a clip.
func filmWords(from, to Film) (out []string) {
	say := func(is bool, on, off string) {
		out = append(out, map[bool]string{true: on, false: off}[is])
	}
	if from.From != to.From || from.To != to.To {
		switch {
		case to.From == 0 && to.To == 0:
			out = append(out, "Trimming put back")
		case to.To == 0:
			out = append(out, "Trimmed from "+moment(to.From))
		default:
			out = append(out, fmt.Sprintf("Trimmed to %s–%s", moment(to.From), moment(to.To)))
		}
	}
	if from.Mute != to.Mute {
		say(to.Mute, "Muted", "Sound put back")
	}
	if from.Level != to.Level && !to.Mute {
		say(to.Level, fmt.Sprintf("Sound levelled to −%d LUFS", -Loudness), "Levelling put back")
	}
	if from.Poster != to.Poster {
		say(to.Poster > 0, "Poster from "+moment(to.Poster), "Poster put back")
	}
	return out
}

// moment is a moment in a clip: "0:07.5".
func moment(seconds float64) string {
	minutes := math.Floor(seconds / 60)
	rest := fmt.Sprintf("%05.2f", seconds-60*minutes)
	for rest[len(rest)-1] == '0' && len(rest) > 4 {
		rest = rest[:len(rest)-1]
	}
	if len(rest) == 4 && rest[3] == '0' {
		rest = rest[:2]
	}
	return fmt.Sprintf("%.0f:%s", minutes, rest)
}
