package sending

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/outputs"
)

// Piece is a picture or clip that is to go into a post, as it is shown here.
type Piece struct {
	Kind    string
	Size    geometry.Size // pixels
	Seconds float64       // of a clip
	Alt     string
	Focal   geometry.Point
	Focals  map[string]geometry.Point // for some proportions, by outputs.Proportion
	// Shown is the day since which it is on the page already, YYYY-MM-DD, or "".
	Shown string
	// Likeness tells near copies among the pieces of one post, where it is known.
	Likeness *likeness.Hash
	// Unready says that nothing is known of the file yet, or that it is not there.
	Unready, Missing bool
	// Format is that of its file (jpeg, png, heic…), where that is a picture, and Bytes how large that is.
	Format string
	Bytes  int64
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
	MadeAnew      = "made_anew"     // it is made smaller, of another format or of fewer bytes, which needs nobody
	NothingToSend = "nothing_to_send"
	ShownThere    = "shown_there" // it is on the page already
	NearCopy      = "near_copy"   // of another piece of the post
	NotReady      = "not_ready"   // its file is still being looked into, so that not all is known
	FileMissing   = "file_missing"
)

// The mends of what does not fit.
const (
	Crop     = "crop"      // to the nearest proportions that are taken, around the focal point
	Pad      = "pad"       // with a border in its own tint
	LeaveOut = "leave_out" // of this page
	Shorten  = "shorten"   // the caption
	Split    = "split"     // into several posts
	Trim     = "trim"      // a clip, to its beginning
)

// Mend is what was chosen for a piece: the way, and for a crop the point that stays in sight, where it is not the focal point.
type Mend struct {
	Way string
	At  *geometry.Point
}

// Chosen is how a post is mended: its pieces by their numbers, its caption, and how many posts it becomes.
type Chosen struct {
	Pieces         map[int]Mend
	Shorten, Split bool
}

// nearCopy is the most bits in which the likeness of near copies differs.
const nearCopy = 6

// Finding is something about a post: of the piece of a number from 0, or of the whole with -1. What hinders has to be mended.
type Finding struct {
	Piece   int
	What    string
	Said    string
	Hinders bool
	Mends   []string // the usual one first
}

// Fits says what a page would not take of a post as it is, and how that is mended; with what was chosen before.
func Fits(pieces []Piece, caption string, l Limits, chosen Chosen) (out []Finding) {
	say := func(piece int, what, said string, hinders bool, mends ...string) {
		out = append(out, Finding{piece, what, said, hinders, mends})
	}
	left, clips := 0, 0
	var before []int
	for i, p := range pieces {
		if chosen.Pieces[i].Way == LeaveOut {
			continue
		}
		left++
		if p.Kind == "clip" {
			clips++
		}
		fitsPiece(i, p, l, chosen.Pieces[i].Way, say)
		for _, other := range before {
			if alike(p.Likeness, pieces[other].Likeness) {
				say(i, NearCopy, fmt.Sprintf("It is nearly the same picture as number %d.", other+1), false, LeaveOut)
				break
			}
		}
		before = append(before, i)
	}
	if left == 0 {
		say(-1, NothingToSend, "Nothing is left to send there.", true)
	}
	if l.MostPictures > 0 && left > l.MostPictures && !chosen.Split {
		posts := (left + l.MostPictures - 1) / l.MostPictures
		say(-1, TooMany, fmt.Sprintf("A post there has at most %d; these are %d, so that %d posts are needed.", l.MostPictures, left, posts),
			true,
			Split)
	}
	if clips > 0 && clips < left && !l.Mixed {
		say(-1, Mixed, "Clips and pictures do not go into one post there.", true)
	}
	if n := l.CaptionIn.Of(caption); l.Caption > 0 && n > l.Caption && !chosen.Shorten {
		said := fmt.Sprintf("The caption is %d too long: at most %d there, counted in %s.", n-l.Caption, l.Caption, l.CaptionIn.said())
		say(-1, CaptionLong, said, true, Shorten)
	}
	if n := Hashtags(caption); l.Hashtags > 0 && n > l.Hashtags {
		say(-1, ManyHashtags, fmt.Sprintf("At most %d hashtags there; these are %d.", l.Hashtags, n), true)
	}
	if l.Alt < 0 && slices.ContainsFunc(pieces, func(p Piece) bool { return p.Alt != "" }) {
		say(-1, AltNotTaken, "No alt texts are taken there.", false)
	}
	return out
}

// alike says whether two pieces are near copies; of flat pictures that cannot be told.
func alike(a, b *likeness.Hash) bool {
	return a != nil && b != nil && a.Tells() && b.Tells() && likeness.Distance(*a, *b) <= nearCopy
}

func fitsPiece(i int, p Piece, l Limits, mend string, say func(piece int, what, said string, hinders bool, mends ...string)) {
	if p.Missing {
		say(i, FileMissing, "Its file is not there.", true, LeaveOut)
		return
	}
	if p.Unready {
		say(i, NotReady, "It is new, and still being looked into: whom it shows is not known yet.", false)
	}
	if p.Shown != "" {
		say(i, ShownThere, "It is on that page already, since "+p.Shown+".", false, LeaveOut)
	}
	if p.Kind == "file" || p.Size.Empty() || p.Kind == "clip" && !l.Clips {
		say(i, NotTaken, map[bool]string{true: "Clips are not taken there.", false: "It is no picture."}[p.Kind == "clip"], true, LeaveOut)
		return
	}
	ratio := float64(p.Size.Width) / float64(p.Size.Height)
	mended := p.Kind != "clip" && (mend == Crop || mend == Pad)
	ways, hint := []string{Crop, Pad, LeaveOut}, ""
	if p.Kind == "clip" { // which are cut where one sees what moves
		ways, hint = []string{LeaveOut}, " Crop it in Prepare first."
	}
	if l.Narrowest > 0 && ratio < l.Narrowest && !mended {
		say(i, TooNarrow, fmt.Sprintf("It is taller than is taken there (%s at most).%s", proportion(l.Narrowest), hint), true, ways...)
	}
	if l.Widest > 0 && ratio > l.Widest && !mended {
		say(i, TooWide, fmt.Sprintf("It is wider than is taken there (%s at most).%s", proportion(l.Widest), hint), true, ways...)
	}
	made := l.Made(p, mend).Size
	if short := min(made.Width, made.Height); l.LeastSide > 0 && short < l.LeastSide {
		say(i, TooSmall, fmt.Sprintf("Its shorter side has %d pixels, and %d are needed.", short, l.LeastSide), true, LeaveOut)
	}
	if said := l.anew(p, made, l.Size(p, mend)); said != "" {
		say(i, MadeAnew, said, false)
	}
	if p.Kind == "clip" && l.MostSeconds > 0 && p.Seconds > l.MostSeconds && mend != Trim {
		say(i, TooLong, fmt.Sprintf("It is %.0f seconds long, and %.0f are taken.", p.Seconds, l.MostSeconds), true, Trim, LeaveOut)
	}
	if p.Kind == "clip" && p.Seconds < l.LeastSeconds {
		say(i, TooShort, fmt.Sprintf("It is %.0f seconds long, and %.0f are needed.", p.Seconds, l.LeastSeconds), true, LeaveOut)
	}
	if l.Alt > 0 && l.AltIn.Of(p.Alt) > l.Alt {
		say(i, AltLong, fmt.Sprintf("Its alt text is shortened to %d.", l.Alt), false)
	}
}

// anew says what becomes of a piece besides being cut: its pixels, its format and its bytes, or "" where all that stays.
func (l Limits) anew(p Piece, made geometry.Size, by outputs.Size) string {
	var said []string
	if long := max(p.Size.Width, p.Size.Height); l.MostSide > 0 && long > l.MostSide || l.MostWidth > 0 && p.Size.Width > l.MostWidth {
		said = append(said, fmt.Sprintf("made smaller, %d × %d", made.Width, made.Height))
	}
	if p.Kind != "clip" && p.Format != "" && p.Format != by.Format {
		said = append(said, fmt.Sprintf("turned from %s into %s", strings.ToUpper(p.Format), strings.ToUpper(by.Format)))
	}
	if by.Budget > 0 && p.Bytes > by.Budget {
		said = append(said, fmt.Sprintf("brought from %s under %s", megabytes(p.Bytes), megabytes(by.Budget)))
	}
	if len(said) == 0 {
		return ""
	}
	return "It is " + strings.Join(said, ", ") + "."
}

// megabytes says bytes as a person would: 1.9 MB, or 400 kB where that is less than one.
func megabytes(n int64) string {
	if n < 1_000_000 {
		return fmt.Sprintf("%d kB", (n+999)/1000)
	}
	return fmt.Sprintf("%.1f MB", float64(n)/1e6)
}

func (u Unit) said() string {
	return map[Unit]string{Bytes: "bytes", UTF16: "characters", CodePoints: "characters", Signs: "characters"}[u]
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
	if mend == Trim {
		out.ClipSeconds = l.MostSeconds
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

// Bounds are the proportions between which a page takes pictures, in the smallest whole numbers; 0 × 0 where there is no bound.
func (l Limits) Bounds() (narrowest, widest geometry.Size) {
	return whole(l.Narrowest), whole(l.Widest)
}

// CutTo is the proportion that a picture of a size is cut to for the page, or 0 × 0 where it is taken as it is.
func (l Limits) CutTo(size geometry.Size) geometry.Size {
	ratio := float64(size.Width) / float64(size.Height)
	switch {
	case size.Empty():
		return geometry.Size{}
	case l.Narrowest > 0 && ratio < l.Narrowest:
		return whole(l.Narrowest)
	case l.Widest > 0 && ratio > l.Widest:
		return whole(l.Widest)
	}
	return geometry.Size{}
}

// whole is a proportion of width by height in whole numbers, the smallest that are meant: 4:5, 16:9 (also by 1.7778), and 191:100.
func whole(ratio float64) geometry.Size {
	if ratio <= 0 {
		return geometry.Size{}
	}
	for height := 1; height <= 16; height++ {
		if width := math.Round(ratio * float64(height)); width >= 1 && math.Abs(width/float64(height)/ratio-1) < 0.0002 {
			return geometry.Size{Width: int(width), Height: height}
		}
	}
	width, height := max(1, int(math.Round(ratio*1000))), 1000
	for _, by := range []int{2, 2, 2, 5, 5, 5} {
		if width%by == 0 && height%by == 0 {
			width, height = width/by, height/by
		}
	}
	return geometry.Size{Width: width, Height: height}
}

// Made is what the output size for a page makes of a piece.
func (l Limits) Made(p Piece, mend string) outputs.Plan {
	plan, err := outputs.Make(outputs.Source{Kind: p.Kind, Size: p.Size, Focal: p.Focal, Focals: p.Focals}, l.Size(p, mend))
	if err != nil {
		return outputs.Plan{}
	}
	return plan
}

// Cut is what is left of a piece when it is cut for the page, as a part of the whole (0 to 1), around a point that stays in sight.
func (l Limits) Cut(p Piece, at *geometry.Point) (x, y, width, height float64) {
	if at != nil {
		p.Focal, p.Focals = *at, nil
	}
	plan := l.Made(p, Crop)
	if plan.Crop == nil || p.Size.Empty() {
		return 0, 0, 1, 1
	}
	w, h := float64(p.Size.Width), float64(p.Size.Height)
	return float64(plan.Crop.X) / w, float64(plan.Crop.Y) / h, float64(plan.Crop.Width) / w, float64(plan.Crop.Height) / h
}

// Posts are the pieces of each post that a page gets, by their numbers, without those that are left out: one post, or as many as are
// needed.
func (l Limits) Posts(pieces int, chosen Chosen) (out [][]int) {
	var one []int
	for i := range pieces {
		if chosen.Pieces[i].Way == LeaveOut {
			continue
		}
		if chosen.Split && l.MostPictures > 0 && len(one) == l.MostPictures {
			out, one = append(out, one), nil
		}
		one = append(one, i)
	}
	if len(one) > 0 {
		out = append(out, one)
	}
	return out
}
