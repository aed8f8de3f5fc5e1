package pictures

import (
	goimage "image"
	"image/color"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// marked is a picture of one colour with words across it.
func marked(t *testing.T, ground color.NRGBA, width, height int, words, place string, strength int) *goimage.NRGBA {
	t.Helper()
	plain := goimage.NewNRGBA(goimage.Rect(0, 0, width, height))
	for i := range plain.Pix {
		plain.Pix[i] = []uint8{ground.R, ground.G, ground.B, ground.A}[i%4]
	}
	target := filepath.Join(t.TempDir(), "marked.png")
	_, err := do(Request{Path: asPNG(t, plain), MediaType: "image/png", Outputs: []Output{{Path: target, Width: width, Height: height,
		Format: "png", Mark: words, MarkPlace: place, MarkStrength: strength}}})
	require.NoError(t, err)
	return readPNG(t, target)
}

// changed are how many of the pixels of a part of a picture differ from its ground, and by how much at most.
func changed(picture *goimage.NRGBA, part goimage.Rectangle, ground color.NRGBA) (share float64, most int) {
	n := 0
	for y := part.Min.Y; y < part.Max.Y; y++ {
		for x := part.Min.X; x < part.Max.X; x++ {
			at := picture.NRGBAAt(x, y)
			by := max(abs(int(at.R)-int(ground.R)), abs(int(at.G)-int(ground.G)))
			if most = max(most, by); by > 2 {
				n++
			}
		}
	}
	return float64(n) / float64(part.Dx()*part.Dy()), most
}

func abs(v int) int { return max(v, -v) }

func TestAMarkIsWhereItWasChosen(t *testing.T) {
	ground := color.NRGBA{R: 120, G: 120, B: 120, A: 255}
	parts := map[string]goimage.Rectangle{"middle": goimage.Rect(100, 150, 500, 250), "corner": goimage.Rect(420, 360, 600, 400),
		"away": goimage.Rect(0, 0, 600, 60)}
	for place, wanted := range map[string]map[string]bool{"middle": {"middle": true}, "corner": {"corner": true},
		"across": {"middle": true, "corner": true, "away": true}} {
		picture := marked(t, ground, 600, 400, "Tansyloft <Kites> & Co", place, 60)
		for name, part := range parts {
			share, _ := changed(picture, part, ground)
			assert.Equal(t, wanted[name], share > 0.01, "%s: %s is changed by %.3f", place, name, share)
		}
	}
}

func TestAMarkIsAsStrongAsItWasChosen(t *testing.T) {
	whole := goimage.Rect(0, 0, 400, 300)
	for _, ground := range []color.NRGBA{{R: 255, G: 255, B: 255, A: 255}, {A: 255}} { // seen on white, and on black
		_, weak := changed(marked(t, ground, 400, 300, "Proof", "middle", 15), whole, ground)
		_, strong := changed(marked(t, ground, 400, 300, "Proof", "middle", 90), whole, ground)
		assert.Greater(t, weak, 10)
		assert.Greater(t, strong, 2*weak)
	}
}

func TestPicturesOfEveryShapeAreMarked(t *testing.T) {
	ground := color.NRGBA{R: 90, G: 90, B: 90, A: 255}
	for _, size := range []goimage.Point{{X: 1, Y: 1}, {X: 3, Y: 800}, {X: 800, Y: 3}, {X: 48, Y: 900}, {X: 900, Y: 48}, {X: 64, Y: 64}} {
		for _, place := range []string{"middle", "across", "corner"} {
			for _, words := range []string{"x", "A rather long text that nobody reads, with an end, and more", "風の凧", "<b>", "&amp"} {
				picture := marked(t, ground, size.X, size.Y, words, place, 100)
				assert.Equal(t, size, picture.Bounds().Size())
			}
		}
	}
}

// TestAPictureIsAMark draws a logo with a clear ground across others: only where it is drawn is anything changed.
func TestAPictureIsAMark(t *testing.T) {
	logo := goimage.NewNRGBA(goimage.Rect(0, 0, 80, 40))
	for y := range 40 {
		for x := range 80 {
			if x < 40 { // the right half is clear
				logo.SetNRGBA(x, y, color.NRGBA{R: 255, A: 255})
			}
		}
	}
	file := asPNG(t, logo)
	ground := color.NRGBA{R: 120, G: 120, B: 120, A: 255}
	plain := goimage.NewNRGBA(goimage.Rect(0, 0, 600, 400))
	for i := range plain.Pix {
		plain.Pix[i] = []uint8{ground.R, ground.G, ground.B, ground.A}[i%4]
	}
	from := asPNG(t, plain)
	for place, part := range map[string]struct{ drawn, clear goimage.Rectangle }{
		"middle": {goimage.Rect(160, 140, 290, 260), goimage.Rect(310, 0, 600, 400)},
		"corner": {goimage.Rect(475, 340, 525, 385), goimage.Rect(0, 0, 400, 300)},
		"across": {goimage.Rect(0, 0, 600, 400), goimage.Rect(0, 0, 15, 10)},
	} {
		target := filepath.Join(t.TempDir(), "marked.png")
		_, err := do(Request{Path: from, MediaType: "image/png", Outputs: []Output{{Path: target, Width: 600, Height: 400, Format: "png",
			MarkFile: file, MarkPlace: place, MarkStrength: 50}}})
		require.NoError(t, err)
		picture := readPNG(t, target)
		share, most := changed(picture, part.drawn, ground)
		assert.Greater(t, share, 0.1, place)
		assert.InDelta(t, 67, most, 4, "half as strong: %s", place) // from 120 half-way to 255 in red, and to 0 in green
		share, _ = changed(picture, part.clear, ground)
		assert.Zero(t, share, place)
	}
}
