package sending_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/sending"
)

func TestWordsAreCountedAsEachPageDoes(t *testing.T) {
	for text, want := range map[string][4]int{ // signs, code points, UTF-16 units, bytes
		"":              {0, 0, 0, 0},
		"kite":          {4, 4, 4, 4},
		"Zoë":           {3, 3, 3, 4},
		"Zoe\u0308":     {3, 4, 4, 5},
		"🪁":             {1, 1, 2, 4},
		"👩‍👩‍👧":         {1, 5, 8, 18},
		"🇳🇱🇧🇪":          {2, 4, 8, 16},
		"क्षि":          {1, 4, 4, 12},
		"한국":            {2, 2, 2, 6},
		"مرحبا":         {5, 5, 5, 10},
		"a\r\nb":        {3, 4, 4, 4},
		"e\u0301\u20dd": {1, 3, 3, 6},
	} {
		got := [4]int{sending.Signs.Of(text), sending.CodePoints.Of(text), sending.UTF16.Of(text), sending.Bytes.Of(text)}
		assert.Equal(t, want, got, text)
	}
}

func TestAShortenedCaptionFitsAndCutsNoSign(t *testing.T) {
	assert.Equal(t, "Wind from the…", sending.Shortened("Wind from the sea, and everybody came.", 15, sending.Signs))
	assert.Equal(t, "Drachenfes…", sending.Shortened("Drachenfestivaleröffnung", 11, sending.Signs), "a long word is cut")
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.StringOf(rapid.RuneFrom([]rune("ab ë🪁\u0308\u200d👩한 क्\n"))).Draw(t, "text")
		unit := rapid.SampledFrom([]sending.Unit{sending.Signs, sending.CodePoints, sending.UTF16, sending.Bytes}).Draw(t, "unit")
		most := rapid.IntRange(0, 40).Draw(t, "most")
		short := sending.Shortened(text, most, unit)
		assert.LessOrEqual(t, unit.Of(short), most)
		assert.True(t, utf8.ValidString(short))
		if unit.Of(text) <= most {
			assert.Equal(t, text, short)
		}
	})
}

// taken says whether a size in pixels is within the proportions that are taken.
func taken(size geometry.Size, l sending.Limits) bool {
	ratio := float64(size.Width) / float64(size.Height)
	return (l.Narrowest == 0 || ratio >= l.Narrowest-1e-9) && (l.Widest == 0 || ratio <= l.Widest+1e-9)
}

func TestWhatIsMendedFits(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := sending.Limits{Narrowest: rapid.SampledFrom([]float64{0, 0.5625, 0.8, 1}).Draw(t, "narrowest"),
			Widest: rapid.SampledFrom([]float64{0, 1, 1.91, 2}).Draw(t, "widest"), MostSide: rapid.SampledFrom([]int{0, 1080, 2048}).Draw(t, "most"),
			MostPictures: 4}
		p := sending.Piece{Kind: "picture", Size: geometry.Size{Width: rapid.IntRange(400, 9000).Draw(t, "width"),
			Height: rapid.IntRange(400, 9000).Draw(t, "height")}}
		mend := rapid.SampledFrom([]string{sending.Crop, sending.Pad}).Draw(t, "mend")
		made := l.Made(p, mend).Size
		assert.True(t, taken(made, l), "%v of %v by %s", made, p.Size, mend)
		if l.MostSide > 0 {
			assert.LessOrEqual(t, max(made.Width, made.Height), l.MostSide)
		}
		for _, f := range sending.Fits([]sending.Piece{p}, "", l, sending.Chosen{Pieces: map[int]sending.Mend{0: {Way: mend}}}) {
			assert.False(t, f.Hinders, f.Said)
		}
		if taken(p.Size, l) && (l.MostSide == 0 || max(p.Size.Width, p.Size.Height) <= l.MostSide) {
			assert.InDelta(t, p.Size.Width, made.Width, 1, "what fits stays as it is")
			assert.InDelta(t, p.Size.Height, made.Height, 1)
		}
	})
}

func TestWhatAPageDoesNotTakeIsSaidWithItsMend(t *testing.T) {
	l := sending.Limits{Formats: []string{"jpeg"}, MostPictures: 2, LeastSide: 320, MostSide: 1440, Narrowest: 0.8, Widest: 1.91, Caption: 20,
		CaptionIn: sending.Signs, Hashtags: 2, Alt: 10, AltIn: sending.Signs}
	tall := sending.Piece{Kind: "picture", Size: geometry.Size{Width: 1000, Height: 3000}, Alt: "A very tall kite"}
	flat := sending.Piece{Kind: "picture", Size: geometry.Size{Width: 3000, Height: 1000}}
	small := sending.Piece{Kind: "picture", Size: geometry.Size{Width: 200, Height: 200}}
	clip := sending.Piece{Kind: "clip", Size: geometry.Size{Width: 1280, Height: 720}, Seconds: 9}
	said := func(first, caption string, pieces ...sending.Piece) (out []string) {
		chosen := sending.Chosen{Pieces: map[int]sending.Mend{0: {Way: first}}, Shorten: first == sending.Shorten, Split: first == sending.Split}
		for _, f := range sending.Fits(pieces, caption, l, chosen) {
			out = append(out, f.What)
			if f.Hinders && f.Piece >= 0 {
				assert.NotEmpty(t, f.Mends, f.Said)
			}
		}
		return out
	}
	assert.Equal(t, []string{sending.TooNarrow, sending.MadeAnew, sending.AltLong}, said("", "", tall))
	assert.Equal(t, []string{sending.MadeAnew, sending.AltLong}, said(sending.Crop, "", tall))
	assert.Equal(t, []string{sending.TooWide, sending.MadeAnew}, said("", "", flat))
	assert.Equal(t, []string{sending.TooSmall}, said("", "", small))
	assert.Equal(t, []string{sending.NotTaken}, said("", "", clip))
	large := sending.Piece{Kind: "picture", Size: geometry.Size{Width: 1000, Height: 1000}, Format: "png", Bytes: 5_400_000}
	budget := l
	budget.MostBytes = 900_000
	found := sending.Fits([]sending.Piece{large}, "", budget, sending.Chosen{})
	assert.Equal(t, "It is turned from PNG into JPEG, brought from 5.4 MB under 900 kB.", found[0].Said)
	clips := l
	clips.Clips, clips.MostSeconds = true, 5
	for mend, want := range map[string]bool{"": true, sending.Trim: false, sending.Crop: true} {
		found := sending.Fits([]sending.Piece{clip}, "", clips, sending.Chosen{Pieces: map[int]sending.Mend{0: {Way: mend}}})
		assert.Equal(t, want, slices.ContainsFunc(found, func(f sending.Finding) bool { return f.What == sending.TooLong }), mend)
	}
	assert.InDelta(t, 5, clips.Size(clip, sending.Trim).ClipSeconds, 0)
	tallest := clips
	tallest.Widest = 1
	found = sending.Fits([]sending.Piece{clip}, "", tallest, sending.Chosen{Pieces: map[int]sending.Mend{0: {Way: sending.Crop}}})
	assert.Equal(t, []string{sending.LeaveOut}, found[0].Mends, "a clip is cut on Prepare")
	assert.Equal(t, []string{sending.NothingToSend}, said(sending.LeaveOut, "", clip))
	assert.Contains(t, said("", "", flat, flat, flat), sending.TooMany)
	assert.NotContains(t, said(sending.Split, "", flat, flat, flat), sending.TooMany)
	assert.Equal(t, []string{sending.FileMissing}, said("", "", sending.Piece{Kind: "picture", Missing: true}))
	assert.Equal(t, []string{sending.NotReady}, said("", "", sending.Piece{Kind: "picture", Size: geometry.Size{Width: 500, Height: 500},
		Unready: true}))
	shown := sending.Piece{Kind: "picture", Size: geometry.Size{Width: 500, Height: 500}, Shown: "2026-11-03"}
	assert.Equal(t, []string{sending.ShownThere}, said("", "", shown))
	hash, near, far := likeness.Hash(0x0f0f_3c3c_5a5a_9696), likeness.Hash(0x0f0f_3c3c_5a5a_9690), likeness.Hash(0xf0f0_3c3c_a5a5_6969)
	like := func(h *likeness.Hash) sending.Piece {
		return sending.Piece{Kind: "picture", Size: geometry.Size{Width: 500, Height: 500}, Likeness: h}
	}
	assert.Equal(t, []string{sending.NearCopy}, said("", "", like(&hash), like(&near)))
	assert.Empty(t, said("", "", like(&hash), like(&far)))
	assert.Empty(t, said("", "", like(nil), like(nil)))
	assert.Contains(t, said("", strings.Repeat("x", 21), flat), sending.CaptionLong)
	assert.NotContains(t, said(sending.Shorten, strings.Repeat("x", 21), flat), sending.CaptionLong)
	assert.Contains(t, said("", "#a #b #c", flat), sending.ManyHashtags)
	assert.Equal(t, "The caption is 1 too long: at most 20 there, counted in characters.",
		sending.Fits([]sending.Piece{flat}, strings.Repeat("x", 21), l, sending.Chosen{})[2].Said)
}

// TestPostsHaveEachPieceOnce, in their order, and none has more than is taken.
func TestPostsHaveEachPieceOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := sending.Limits{MostPictures: rapid.IntRange(1, 6).Draw(t, "most")}
		n := rapid.IntRange(0, 20).Draw(t, "pieces")
		chosen := sending.Chosen{Split: true, Pieces: map[int]sending.Mend{}}
		var want, got []int
		for i := range n {
			if rapid.Bool().Draw(t, "left out") {
				chosen.Pieces[i] = sending.Mend{Way: sending.LeaveOut}
			} else {
				want = append(want, i)
			}
		}
		for _, post := range l.Posts(n, chosen) {
			assert.NotEmpty(t, post)
			assert.LessOrEqual(t, len(post), l.MostPictures)
			got = append(got, post...)
		}
		assert.Equal(t, want, got)
	})
}

// TestACutIsWhereThePointIs, as far as the picture goes, and always in it.
func TestACutIsWhereThePointIs(t *testing.T) {
	l := sending.Limits{Narrowest: 0.8, Widest: 1.25, MostSide: 1080, MostWidth: 800}
	rapid.Check(t, func(t *rapid.T) {
		p := sending.Piece{Kind: "picture", Size: geometry.Size{Width: rapid.IntRange(400, 9000).Draw(t, "width"),
			Height: rapid.IntRange(400, 9000).Draw(t, "height")}}
		at := geometry.Point{X: rapid.Float64Range(0, 1).Draw(t, "x"), Y: rapid.Float64Range(0, 1).Draw(t, "y")}
		x, y, w, h := l.Cut(p, &at)
		assert.GreaterOrEqual(t, min(x, y), 0.0)
		assert.LessOrEqual(t, max(x+w, y+h), 1.0001)
		assert.True(t, at.X >= x-0.01 && at.X <= x+w+0.01 && at.Y >= y-0.01 && at.Y <= y+h+0.01, "%v is in %v %v %v %v", at, x, y, w, h)
		made := l.Made(p, sending.Crop).Size
		assert.LessOrEqual(t, made.Width, 800)
	})
}

// TestWhatAPageCutsTo in whole numbers, and that what is cut so is taken.
func TestWhatAPageCutsTo(t *testing.T) {
	l := sending.Limits{Narrowest: 0.8, Widest: 1.91}
	box := func(width, height int) geometry.Size { return geometry.Size{Width: width, Height: height} }
	narrowest, widest := l.Bounds()
	assert.Equal(t, []geometry.Size{box(4, 5), box(191, 100)}, []geometry.Size{narrowest, widest})
	for _, c := range []struct{ is, to geometry.Size }{
		{box(1000, 1000), geometry.Size{}}, {box(800, 1000), geometry.Size{}}, {box(1910, 1000), geometry.Size{}},
		{box(799, 1000), box(4, 5)}, {box(1, 30_000), box(4, 5)}, {box(1911, 1000), widest}, {box(0, 0), geometry.Size{}},
	} {
		assert.Equal(t, c.to, l.CutTo(c.is), "%v", c.is)
	}
	assert.Zero(t, sending.Limits{}.CutTo(box(1, 9000)), "a page without bounds")
	rapid.Check(t, func(t *rapid.T) {
		l := sending.Limits{Narrowest: rapid.Float64Range(0.2, 1).Draw(t, "narrowest"), Widest: rapid.Float64Range(1, 5).Draw(t, "widest")}
		size := box(rapid.IntRange(1, 30_000).Draw(t, "width"), rapid.IntRange(1, 30_000).Draw(t, "height"))
		to := l.CutTo(size)
		ratio := float64(size.Width) / float64(size.Height)
		if assert.Equal(t, ratio < l.Narrowest || ratio > l.Widest, !to.Empty()); to.Empty() {
			return
		}
		got := float64(to.Width) / float64(to.Height)
		assert.InEpsilon(t, min(max(ratio, l.Narrowest), l.Widest), got, 0.003)
		assert.Equal(t, outputs.Proportion(to), fmt.Sprintf("%d:%d", to.Width, to.Height), "in the smallest whole numbers")
	})
}

// TestACropThatWasKeptIsCutThere, unless it is moved for this one post.
func TestACropThatWasKeptIsCutThere(t *testing.T) {
	l := sending.Limits{Narrowest: 0.8, Widest: 1, MostSide: 1080}
	p := sending.Piece{Kind: "picture", Size: geometry.Size{Width: 3001, Height: 1000}, Focal: geometry.Centre}
	at := func(point *geometry.Point) float64 {
		x, _, _, _ := l.Cut(p, point)
		return x
	}
	assert.InDelta(t, 1/3.0, at(nil), 0.01)
	p.Focals = map[string]geometry.Point{outputs.Proportion(l.CutTo(p.Size)): {X: 0, Y: 0.5}}
	assert.Zero(t, at(nil))
	assert.InDelta(t, 2/3.0, at(&geometry.Point{X: 1, Y: 0.5}), 0.01)
}
