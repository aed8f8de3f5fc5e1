package sending

import (
	"fmt"
	"math"
	"slices"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
)

// Piece is a picture or clip that is to go into a post, as it is shown here.
type Piece struct {
	Kind    string
	Size    geometry.Size // pixels
	Seconds float64       // of a clip
	Alt     string
}

// What can be said of a post against the limits of a page.
const (
	TooMany       = "too_many"      // pictures in one post
	NotTaken      = "not_taken"     // clips, or files that are no pictures
	Mixed         = "mixed"         // clips beside pictures
	TooSmall      = "too_small"     // it would have to be enlarged
	TooNarrow     = "too_narrow"    // its proportions
	TooWide       = "too_wide"      // likewise
	TooLong       = "too_long"      // a clip, in seconds
	TooShort      = "too_short"     // likewise
	CaptionLong   = "caption_long"  // the caption
	ManyHashtags  = "many_hashtags" // in the caption
	AltLong       = "alt_long"      // an alternative text, which is shortened
	AltNotTaken   = "alt_not_taken" // the page takes none, so they are not told there
	Shrunk        = "shrunk"        // it is made smaller, which needs nobody
	NothingToSend = "nothing_to_send"
)

// The mends of what does not fit.
const (
	Crop     = "crop"      // to the nearest proportions that are taken, around the focal point
	Pad      = "pad"       // with a border in its own tint
	LeaveOut = "leave_out" // of this page
	Shorten  = "shorten"   // the caption
)

// Finding is something about a post: of the piece of a number from 0, or of the whole with -1. What hinders has to be mended.
type Finding struct {
	Piece   int
	What    string
	Said    string
	Hinders bool
	Mends   []string // the usual one first
}

// Fits says what a page would not take of a post as it is, and how that is mended. Mends are those that were chosen, by piece, -1 for the
// caption.
func Fits(pieces []Piece, caption string, l Limits, mends map[int]string) (out []Finding) {
	say := func(piece int, what, said string, hinders bool, mends ...string) {
		out = append(out, Finding{piece, what, said, hinders, mends})
	}
	left, clips := 0, 0
	for i, p := range pieces {
		if mends[i] == LeaveOut {
			continue
		}
		left++
		if p.Kind == "clip" {
			clips++
		}
		fitsPiece(i, p, l, mends[i], say)
	}
	if left == 0 {
		say(-1, NothingToSend, "Nothing is left to send there.", true)
	}
	if l.MostPictures > 0 && left > l.MostPictures {
		say(-1, TooMany, fmt.Sprintf("A post there has at most %d; these are %d.", l.MostPictures, left), true)
	}
	if clips > 0 && clips < left && !l.Mixed {
		say(-1, Mixed, "Clips and pictures do not go into one post there.", true)
	}
	if n := l.CaptionIn.Of(caption); l.Caption > 0 && n > l.Caption && mends[-1] != Shorten {
		said := fmt.Sprintf("The caption is %d too long: at most %d there, counted in %s.", n-l.Caption, l.Caption, l.CaptionIn.said())
		say(-1, CaptionLong, said, true, Shorten)
	}
	if n := Hashtags(caption); l.Hashtags > 0 && n > l.Hashtags {
		say(-1, ManyHashtags, fmt.Sprintf("At most %d hashtags there; these are %d.", l.Hashtags, n), true)
	}
	if l.Alt < 0 && slices.ContainsFunc(pieces, func(p Piece) bool { return p.Alt != "" }) {
		say(-1, AltNotTaken, "No alternative texts are taken there.", false)
	}
	return out
}

func fitsPiece(i int, p Piece, l Limits, mend string, say func(piece int, what, said string, hinders bool, mends ...string)) {
	if p.Kind == "file" || p.Size.Empty() || p.Kind == "clip" && !l.Clips {
		say(i, NotTaken, map[bool]string{true: "Clips are not taken there.", false: "It is no picture."}[p.Kind == "clip"], true, LeaveOut)
		return
	}
	ratio := float64(p.Size.Width) / float64(p.Size.Height)
	mended := mend == Crop || mend == Pad
	if l.Narrowest > 0 && ratio < l.Narrowest && !mended {
		say(i, TooNarrow, fmt.Sprintf("It is taller than is taken there (%s at most).", proportion(l.Narrowest)), true, Crop, Pad, LeaveOut)
	}
	if l.Widest > 0 && ratio > l.Widest && !mended {
		say(i, TooWide, fmt.Sprintf("It is wider than is taken there (%s at most).", proportion(l.Widest)), true, Crop, Pad, LeaveOut)
	}
	made := l.Made(p, mend).Size
	if short := min(made.Width, made.Height); l.LeastSide > 0 && short < l.LeastSide {
		say(i, TooSmall, fmt.Sprintf("Its shorter side has %d pixels, and %d are needed.", short, l.LeastSide), true, LeaveOut)
	}
	if long := max(p.Size.Width, p.Size.Height); l.MostSide > 0 && long > l.MostSide || l.MostWidth > 0 && p.Size.Width > l.MostWidth {
		say(i, Shrunk, fmt.Sprintf("It is made smaller: %d × %d.", made.Width, made.Height), false)
	}
	if p.Kind == "clip" && l.MostSeconds > 0 && p.Seconds > l.MostSeconds {
		say(i, TooLong, fmt.Sprintf("It is %.0f seconds long, and %.0f are taken. Trim it on Prepare.", p.Seconds, l.MostSeconds), true, LeaveOut)
	}
	if p.Kind == "clip" && p.Seconds < l.LeastSeconds {
		say(i, TooShort, fmt.Sprintf("It is %.0f seconds long, and %.0f are needed.", p.Seconds, l.LeastSeconds), true, LeaveOut)
	}
	if l.Alt > 0 && l.AltIn.Of(p.Alt) > l.Alt {
		say(i, AltLong, fmt.Sprintf("Its alternative text is shortened to %d.", l.Alt), false)
	}
}

func (u Unit) said() string {
	return map[Unit]string{Bytes: "bytes", UTF16: "UTF-16 units", CodePoints: "code points", Signs: "signs"}[u]
}

// proportion says a proportion as one would: 4:5, 16:9, or 1.91:1.
func proportion(ratio float64) string {
	for h := 1; h <= 16; h++ {
		if w := math.Round(ratio * float64(h)); w >= 1 && w <= 32 && math.Abs(w/float64(h)-ratio) < 0.002 {
			return fmt.Sprintf("%.0f:%d", w, h)
		}
	}
	return fmt.Sprintf("%.2f:1", ratio)
}

// Size is the output size that makes what a page takes of a piece.
func (l Limits) Size(p Piece, mend string) outputs.Size {
	out := outputs.Size{Name: "for a page", Fit: outputs.Inside, Format: "jpeg", Quality: 88, Metadata: outputs.StripPrivate,
		Width: l.MostSide, Height: l.MostSide, Budget: l.MostBytes, ClipSide: l.MostSide}
	if l.MostWidth > 0 {
		out.Width = l.MostWidth
	}
	if len(l.Formats) > 0 && !slices.Contains(l.Formats, "jpeg") {
		out.Format = l.Formats[0]
	}
	if out.Format == "png" {
		out.Budget = 0
	}
	if p.Kind == "clip" || mend != Crop && mend != Pad {
		return out
	}
	box := l.box(p.Size, mend == Pad)
	out.Width, out.Height, out.Fit = box.Width, box.Height, outputs.Fill
	if mend == Pad {
		out.Fit, out.Colour = outputs.Pad, outputs.Tint
	}
	return out
}

// box is what a picture is cut or padded to: of the nearest proportions that are taken, as large as it is and as may be.
func (l Limits) box(size geometry.Size, pad bool) geometry.Size {
	w, h := float64(size.Width), float64(size.Height)
	ratio := w / h
	target := ratio
	if l.Narrowest > 0 {
		target = max(target, l.Narrowest)
	}
	if l.Widest > 0 {
		target = min(target, l.Widest)
	}
	if narrower := target < ratio; narrower != pad { // less wide by cutting its width, or less wide by adding height; and the other way round
		w = h * target
	} else {
		h = w / target
	}
	if long := max(w, h); l.MostSide > 0 && long > float64(l.MostSide) {
		w, h = w*float64(l.MostSide)/long, h*float64(l.MostSide)/long
	}
	if l.MostWidth > 0 && w > float64(l.MostWidth) {
		w, h = float64(l.MostWidth), h*float64(l.MostWidth)/w
	}
	out := geometry.Size{Width: max(1, int(math.Round(w))), Height: max(1, int(math.Round(h)))}
	for l.Widest > 0 && float64(out.Width) > float64(out.Height)*l.Widest && out.Width > 1 { // rounding goes to the side that is taken
		out.Width--
	}
	for l.Narrowest > 0 && float64(out.Width) < float64(out.Height)*l.Narrowest && out.Height > 1 {
		out.Height--
	}
	return out
}

// Made is what the output size for a page makes of a piece.
func (l Limits) Made(p Piece, mend string) outputs.Plan {
	plan, err := outputs.Make(outputs.Source{Kind: p.Kind, Size: p.Size, Focal: geometry.Point{X: 0.5, Y: 0.5}}, l.Size(p, mend))
	if err != nil {
		return outputs.Plan{}
	}
	return plan
}
