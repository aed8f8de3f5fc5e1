package pictures

import (
	"fmt"
	goimage "image"
	"image/color"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
)

func TestMain(m *testing.M) {
	RunIfWorker()
	if err := start(); err != nil {
		panic(err)
	}
	os.Exit(m.Run())
}

// scene is a made-up picture with a ramp, patches of colour, edges and fine texture.
func scene(width, height int) *goimage.NRGBA {
	out := goimage.NewNRGBA(goimage.Rect(0, 0, width, height))
	for y := range height {
		for x := range width {
			u, v := float64(x)/float64(width), float64(y)/float64(height)
			c := color.NRGBA{A: 255}
			switch {
			case v < 0.25: // from black to white
				c.R, c.G, c.B = uint8(255*u), uint8(255*u), uint8(255*u)
			case v < 0.6: // hues, paler to the bottom
				pale := (v - 0.25) / 0.35
				for i, channel := range []*uint8{&c.R, &c.G, &c.B} {
					wave := 0.5 + 0.5*math.Cos(2*math.Pi*(u-float64(i)/3))
					*channel = uint8(255 * (wave*(1-0.7*pale) + 0.7*pale*0.6))
				}
			default: // steps and a fine weave
				step := uint8(64 + 126*(int(6*u)%2))
				weave := uint8(12 * ((x + y) % 2))
				c.R, c.G, c.B = step+weave, step, step-weave/2
			}
			out.SetNRGBA(x, y, c)
		}
	}
	return out
}

func asPNG(t testing.TB, picture goimage.Image) string {
	path := filepath.Join(t.TempDir(), "in.png")
	file, err := os.Create(path)
	require.NoError(t, err)
	require.NoError(t, png.Encode(file, picture))
	require.NoError(t, file.Close())
	return path
}

func readPNG(t testing.TB, path string) *goimage.NRGBA {
	file, err := os.Open(path)
	require.NoError(t, err)
	defer func() { require.NoError(t, file.Close()) }()
	decoded, err := png.Decode(file)
	require.NoError(t, err)
	out := goimage.NewNRGBA(decoded.Bounds())
	for y := range out.Rect.Dy() {
		for x := range out.Rect.Dx() {
			out.Set(x, y, decoded.At(x, y))
		}
	}
	return out
}

// made draws a recipe on a file in full size, or so that what is shown has a width.
func made(t testing.TB, path string, by recipe.Recipe, width int) *goimage.NRGBA {
	t.Helper()
	head, err := do(Request{Path: path})
	require.NoError(t, err)
	file := geometry.Orientation(head.Facts.Orientation).Size(geometry.Size{Width: head.Facts.Width, Height: head.Facts.Height})
	size := geometry.Fit(by.Size(file), geometry.Size{Width: width})
	target := filepath.Join(t.TempDir(), "out.png")
	_, err = do(Request{Path: path, Recipe: by, Outputs: []Output{{Path: target, Width: size.Width, Height: size.Height, Format: "png"}}})
	require.NoError(t, err)
	out := readPNG(t, target)
	require.Equal(t, goimage.Pt(size.Width, size.Height), out.Rect.Size())
	return out
}

// apart is how far two pictures are from each other: at most, and on average, in levels.
func apart(t testing.TB, a, b *goimage.NRGBA) (most int, mean float64) {
	t.Helper()
	require.Equal(t, a.Rect.Size(), b.Rect.Size())
	sum := 0
	for i := range a.Pix {
		d := int(a.Pix[i]) - int(b.Pix[i])
		most = max(most, d, -d)
		sum += max(d, -d)
	}
	return most, float64(sum) / float64(len(a.Pix))
}

func adjusted(name string, value float64) recipe.Recipe {
	return recipe.Recipe{Adjustments: recipe.Adjustments{}.Set(name, value)}
}

// everyOperation is a recipe for each thing that can be done.
func everyOperation() map[string]recipe.Recipe {
	all := map[string]recipe.Recipe{
		"turn":       {Turn: 90},
		"flip":       {Turn: 180, Flip: true},
		"straighten": {Straighten: 7.5},
		"crop":       {Crop: &recipe.Crop{X: 0.25, Y: 0.1, Width: 0.5, Height: 0.8}},
		"framing":    {Turn: 270, Flip: true, Straighten: -3, Crop: &recipe.Crop{X: 0.2, Y: 0.3, Width: 0.6, Height: 0.5}},
		"eyes":       {RedEyes: []recipe.RedEye{{X: 0.02, Y: 0.3, Radius: 0.06}}},
		"curve":      {Adjustments: recipe.Adjustments{Curve: []recipe.CurvePoint{{0, 0.1}, {0.4, 0.3}, {1, 0.9}}}},
	}
	for _, c := range recipe.Controls {
		if c.With == "" {
			all[c.Name] = adjusted(c.Name, c.To*0.6)
			if c.From < 0 {
				all[c.Name+" less"] = adjusted(c.Name, c.From*0.6)
			}
		}
	}
	mix := adjusted("mono", 100)
	mix.MonoRed, mix.MonoBlue, mix.MonoYellow = 80, -60, 20
	all["mono mix"] = mix
	everything := recipe.Recipe{Straighten: 2}
	everything.Adjustments = recipe.Adjustments{Exposure: 0.5, Shadows: 30, Warmth: 15, Clarity: 20, Sharpen: 40, Noise: 20}
	all["everything"] = everything
	return all
}

// TestOldRecipesGiveTheSamePixelsForEver compares with pictures that were kept. Where SATCHEL_KEEP_GOLDEN is set they are made anew:
// look at them before they are committed.
func TestOldRecipesGiveTheSamePixelsForEver(t *testing.T) {
	path := asPNG(t, scene(96, 64))
	original := readPNG(t, path)
	for name, by := range everyOperation() {
		t.Run(name, func(t *testing.T) {
			out := made(t, path, by, 0)
			golden := filepath.Join("testdata", "golden", name+".png")
			if os.Getenv("SATCHEL_KEEP_GOLDEN") != "" {
				file, err := os.Create(golden)
				require.NoError(t, err)
				require.NoError(t, png.Encode(file, out))
				require.NoError(t, file.Close())
			}
			most, _ := apart(t, readPNG(t, golden), out)
			assert.LessOrEqual(t, most, 1)
			if out.Rect == original.Rect {
				most, _ = apart(t, original, out)
				assert.NotZero(t, most, "it does something")
			}
		})
	}
}

func TestANeutralRecipeChangesNoPixel(t *testing.T) {
	path := asPNG(t, scene(300, 200))
	most, _ := apart(t, scene(300, 200), made(t, path, recipe.Recipe{}, 0))
	assert.Zero(t, most)
	// Also where the passes run: with something far away, or so small that it rounds to nothing.
	eye := recipe.Recipe{RedEyes: []recipe.RedEye{{X: 0.9, Y: 0.9, Radius: 0.01}}}
	most, _ = apart(t, scene(300, 200), made(t, path, eye, 0))
	assert.Zero(t, most, "16 bits and back")
	flat := recipe.Recipe{Adjustments: recipe.Adjustments{Curve: []recipe.CurvePoint{{0.5, 0.5}, {0.6, 0.6005}}}}
	most, _ = apart(t, scene(300, 200), made(t, path, flat, 0))
	assert.LessOrEqual(t, most, 1, "to linear light and back")
}

// TestThePassDoesWhatItsTablesSay computes the tone of pixels slowly, in double precision, from the same tables.
func TestThePassDoesWhatItsTablesSay(t *testing.T) {
	in := scene(96, 64)
	path := asPNG(t, in)
	a := recipe.Adjustments{Exposure: 0.6, Contrast: 20, White: 10, Black: 5, Warmth: 30, Tint: -10, Saturation: -20, Vibrance: 40,
		Vignette: -50, Mono: 30, MonoRed: 50, MonoCyan: -40, Curve: []recipe.CurvePoint{{0.3, 0.25}}}
	out := made(t, path, recipe.Recipe{Adjustments: a}, 0)
	tone := recipe.ToneOf(a)
	curve := func(x float64) float64 {
		for i := range recipe.CurveSize - 1 {
			if from, to := recipe.CurveAt(i), recipe.CurveAt(i+1); x < to {
				return float64(tone.Curve[i]) + float64(tone.Curve[i+1]-tone.Curve[i])*(x-from)/(to-from)
			}
		}
		return 1
	}
	luma := func(c [3]float64) float64 { return 0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2] }
	hues := [6]float64{}
	for i, m := range tone.Mix {
		hues[i] = float64(m)
	}
	for y := range 64 {
		for x := range 96 {
			p := in.NRGBAAt(x, y)
			l := [3]float64{recipe.Decode(float64(p.R) / 255), recipe.Decode(float64(p.G) / 255), recipe.Decode(float64(p.B) / 255)}
			dx, dy := float64(x)+0.5-48, float64(y)+0.5-32
			far := (dx*dx + dy*dy) / (48*48 + 32*32)
			gain := math.Exp2(float64(tone.Vignette) * far * far)
			var v [3]float64
			for i := range 3 {
				m := tone.Matrix[3*i : 3*i+3]
				v[i] = curve(gain * (float64(m[0])*l[0] + float64(m[1])*l[1] + float64(m[2])*l[2]))
			}
			most, least := max(v[0], v[1], v[2]), min(v[0], v[1], v[2])
			middle := v[0] + v[1] + v[2] - most - least
			first, second := hues[4], hues[5]
			if v[0] == most {
				first = hues[0]
			} else if v[1] == most {
				first = hues[2]
			}
			if v[2] == least {
				second = hues[1]
			} else if v[0] == least {
				second = hues[3]
			}
			grey := luma(v) + 0.5*((most-middle)*first+(middle-least)*second)
			for i := range v {
				v[i] = max(0, min(1, v[i]+float64(tone.Mono)*(grey-v[i])))
			}
			most, least = max(v[0], v[1], v[2]), min(v[0], v[1], v[2])
			s := 0.0
			if most > 0 {
				s = (most - least) / most
			}
			k := 1 + float64(tone.Saturation) + float64(tone.Vibrance)*(1-s)*(1-s)
			Y := luma(v)
			got := out.NRGBAAt(x, y)
			for i, g := range []uint8{got.R, got.G, got.B} {
				want := 255 * max(0, min(1, Y+(v[i]-Y)*k))
				require.InDelta(t, want, float64(g), 0.51+0.02, "pixel %d, %d: %v", x, y, got)
			}
		}
	}
}

// TestClarityMakesNoHalo looks at both sides of a step from 64 to 190.
func TestClarityMakesNoHalo(t *testing.T) {
	step := goimage.NewNRGBA(goimage.Rect(0, 0, 1200, 800))
	for y := range 800 {
		for x := range 1200 {
			v := uint8(64)
			if x >= 600 {
				v = 190
			}
			step.SetNRGBA(x, y, color.NRGBA{v, v, v, 255})
		}
	}
	out := made(t, asPNG(t, step), adjusted("clarity", 100), 0)
	least, most := 255, 0
	for x := range 1200 {
		v := int(out.NRGBAAt(x, 400).R)
		least, most = min(least, v), max(most, v)
	}
	t.Logf("from %d to %d", least, most)
	assert.GreaterOrEqual(t, least, 64-5)
	assert.LessOrEqual(t, most, 190+5)
}

func TestCropThenTurnIsTurnThenTurnedCrop(t *testing.T) {
	path := asPNG(t, scene(240, 160))
	cropped := recipe.Recipe{Crop: &recipe.Crop{X: 0.25, Y: 0.125, Width: 0.5, Height: 0.5}}
	first := made(t, asPNG(t, made(t, path, cropped, 0)), recipe.Recipe{Turn: 90}, 0)
	then := made(t, path, cropped.Turned(90), 0)
	most, _ := apart(t, first, then)
	assert.Zero(t, most)
	first = made(t, asPNG(t, made(t, path, cropped, 0)), recipe.Recipe{Flip: true}, 0)
	most, _ = apart(t, first, made(t, path, cropped.Flipped(), 0))
	assert.Zero(t, most)
}

func TestPicturesOfEveryShapeAreDrawn(t *testing.T) {
	everything := everyOperation()["everything"]
	everything.Crop = &recipe.Crop{X: 0.1, Y: 0.1, Width: 0.7, Height: 0.7}
	for _, size := range [][2]int{{1, 1}, {2, 1}, {3, 500}, {3000, 20}, {7, 7}, {600, 401}} {
		t.Run(fmt.Sprint(size), func(t *testing.T) {
			path := asPNG(t, scene(size[0], size[1]))
			for _, width := range []int{0, 1, max(1, size[0]/3)} {
				out := made(t, path, everything, width)
				for i := 3; i < len(out.Pix); i += 4 {
					require.EqualValues(t, 255, out.Pix[i])
				}
			}
		})
	}
	clear := goimage.NewNRGBA(goimage.Rect(0, 0, 60, 40))
	for i := range clear.Pix {
		clear.Pix[i] = uint8(i * 7 % 256)
	}
	out := made(t, asPNG(t, clear), adjusted("exposure", 1), 0)
	for i := 3; i < len(out.Pix); i += 4 {
		require.Equal(t, clear.Pix[i], out.Pix[i], "what is transparent stays so")
	}
}

// TestNoiseIsTakenOutOfWhatACameraMade makes noise before the colours of the sensor are interpolated, as a camera does.
func TestNoiseIsTakenOutOfWhatACameraMade(t *testing.T) {
	clean := landscape(768, 512)
	noisy := demosaiced(clean, 0.015, 0.00015)
	path := asPNG(t, noisy)
	before := psnr(clean, noisy)
	strengths := []float64{25, 50, 75}
	var gains []float64
	for _, s := range strengths {
		by := adjusted("noise", s)
		by.ColourNoise = s
		gains = append(gains, psnr(clean, made(t, path, by, 0))-before)
	}
	t.Logf("luma PSNR %.1f dB; with noise reduction of %v: %+.1f dB", before, strengths, gains)
	assert.GreaterOrEqual(t, gains[1], 3.0)
}

// landscape is hills with grass: smooth parts, edges, and texture that is no noise.
func landscape(width, height int) *goimage.NRGBA {
	random := rand.New(rand.NewPCG(1, 2))
	grass := make([]float64, width*height)
	for range width * height / 30 { // blades
		x, y, lean, bright := random.IntN(width), random.IntN(height), random.Float64()-0.5, random.Float64()-0.5
		for k := range 14 {
			px, py := x+int(lean*float64(k)), y-k
			if px >= 0 && px < width && py >= 0 {
				grass[py*width+px] += bright * 0.25
			}
		}
	}
	out := goimage.NewNRGBA(goimage.Rect(0, 0, width, height))
	through := func(x, y int) (sum float64) { // no lens shows single pixels
		for dy := -1; dy <= 1; dy++ {
			for dx := -1; dx <= 1; dx++ {
				if px, py := x+dx, y+dy; px >= 0 && px < width && py >= 0 && py < height {
					sum += grass[py*width+px] * float64((2-dx*dx)*(2-dy*dy)) / 16
				}
			}
		}
		return sum
	}
	for y := range height {
		for x := range width {
			u, v := float64(x)/float64(width), float64(y)/float64(height)
			hill := 0.45 + 0.1*math.Sin(5*u) + 0.04*math.Sin(17*u)
			c := [3]float64{0.45 + 0.3*v, 0.6 + 0.2*v, 0.85}
			if v > hill {
				g := through(x, y)
				c = [3]float64{0.3 + g*0.8, 0.42 + g, 0.2 + g*0.5}
			}
			if (u-0.7)*(u-0.7)*2.25+(v-0.3)*(v-0.3) < 0.02 {
				c = [3]float64{0.8, 0.25, 0.2}
			}
			out.SetNRGBA(x, y, color.NRGBA{level(c[0]), level(c[1]), level(c[2]), 255})
		}
	}
	return out
}

func level(v float64) uint8 { return uint8(max(0, min(255, math.Round(v*255)))) }

// demosaiced is a picture as a sensor with a Bayer pattern sees it, with noise of a variance of read + shot · light, its colours
// interpolated bilinearly.
func demosaiced(in *goimage.NRGBA, shot, read float64) *goimage.NRGBA {
	random := rand.New(rand.NewPCG(3, 4))
	width, height := in.Rect.Dx(), in.Rect.Dy()
	mosaic := make([]float64, width*height)
	channel := func(x, y int) int { return []int{0, 1, 1, 2}[y%2*2+x%2] }
	for y := range height {
		for x := range width {
			light := recipe.Decode(float64(in.Pix[in.PixOffset(x, y)+channel(x, y)]) / 255)
			mosaic[y*width+x] = light + random.NormFloat64()*math.Sqrt(read+shot*light)
		}
	}
	out := goimage.NewNRGBA(in.Rect)
	for y := range height {
		for x := range width {
			var sum, n [3]float64
			for dy := -1; dy <= 1; dy++ {
				for dx := -1; dx <= 1; dx++ {
					px, py := x+dx, y+dy
					if px < 0 || py < 0 || px >= width || py >= height {
						continue
					}
					c := channel(px, py)
					if dx == 0 && dy == 0 {
						sum[c], n[c] = 1e6*mosaic[py*width+px], 1e6
					} else if n[c] < 1e6 {
						sum[c] += mosaic[py*width+px]
						n[c]++
					}
				}
			}
			out.SetNRGBA(x, y, color.NRGBA{level(recipe.Encode(sum[0] / n[0])), level(recipe.Encode(sum[1] / n[1])),
				level(recipe.Encode(sum[2] / n[2])), 255})
		}
	}
	return out
}

// psnr compares the luma of two pictures, in dB.
func psnr(a, b *goimage.NRGBA) float64 {
	sum, n := 0.0, 0
	for i := 0; i < len(a.Pix); i += 4 {
		y := func(p []uint8) float64 { return 0.299*float64(p[0]) + 0.587*float64(p[1]) + 0.114*float64(p[2]) }
		d := y(a.Pix[i:]) - y(b.Pix[i:])
		sum += d * d
		n++
	}
	return 10 * math.Log10(255*255*float64(n)/sum)
}
