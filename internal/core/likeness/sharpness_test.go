package likeness

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"brightsatchel/internal/core/geometry"
)

const side = 320

// scene is a picture of squares on a plain ground, blurred so many times over three by three pixels, its brightness scaled.
func scene(blurs int, brightness float64) []byte {
	random := rand.New(rand.NewPCG(1, 2))
	grey := make([]float64, side*side)
	for i := range grey {
		grey[i] = 90
	}
	for range 60 {
		x, y, size, shade := random.IntN(side-40), random.IntN(side-40), 4+random.IntN(30), float64(20+random.IntN(200))
		for i := range size * size {
			grey[(y+i/size)*side+x+i%size] = shade
		}
	}
	for range blurs {
		next := make([]float64, len(grey))
		copy(next, grey)
		for i := side + 1; i < len(grey)-side-1; i++ {
			sum := 0.0
			for _, at := range []int{-side - 1, -side, -side + 1, -1, 0, 1, side - 1, side, side + 1} {
				sum += grey[i+at]
			}
			next[i] = sum / 9
		}
		grey = next
	}
	out := make([]byte, len(grey))
	for i, v := range grey {
		out[i] = byte(v*brightness + 0.5)
	}
	return out
}

func TestSharpness(t *testing.T) {
	sharp := Sharpness(scene(0, 1), side, nil)
	assert.InEpsilon(t, sharp, Sharpness(scene(0, 0.6), side, nil), 0.03, "darker is as sharp")
	once, often := Sharpness(scene(1, 1), side, nil), Sharpness(scene(8, 1), side, nil)
	assert.Less(t, once, sharp/2)
	assert.Less(t, often, once/2)
	assert.Equal(t, []Focus{Sharp, Blurred}, []Focus{FocusOf(sharp), FocusOf(often)})

	assert.Zero(t, Sharpness(make([]byte, 900), 30, nil), "a plain surface")
	assert.Zero(t, Sharpness(nil, 0, nil))
	assert.Zero(t, Sharpness(make([]byte, 4), 2, nil))
}

// TestSharpnessOfAFace looks at the face and not at the ground that is in focus behind it.
func TestSharpnessOfAFace(t *testing.T) {
	sharp, blurred := scene(0, 1), scene(8, 1)
	face := geometry.Rect{X: 100, Y: 100, Width: 120, Height: 120}
	both := append([]byte{}, sharp...)
	for y := face.Y; y < face.Y+face.Height; y++ {
		copy(both[y*side+face.X:y*side+face.X+face.Width], blurred[y*side+face.X:])
	}
	assert.Equal(t, Sharp, FocusOf(Sharpness(both, side, nil)))
	inside := geometry.Rect{X: 104, Y: 104, Width: 112, Height: 112}
	assert.Equal(t, Blurred, FocusOf(Sharpness(both, side, []geometry.Rect{inside})))
	beyond := geometry.Rect{X: -50, Y: 300, Width: 1000, Height: 1000}
	assert.NotPanics(t, func() { Sharpness(both, side, []geometry.Rect{beyond}) })
}
