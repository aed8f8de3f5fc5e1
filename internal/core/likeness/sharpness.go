package likeness

import (
	"cmp"
	"slices"

	"brightsatchel/internal/core/geometry"
)

// Focus says in one word how sharp a picture is.
type Focus string

// What Sharpness is said as. Pictures that people call sharp measure 1 to 3, frames of the same bursts that are out of focus 0.4; a
// blur of half a pixel takes half of it away.
const (
	Sharp   Focus = "sharp"
	Soft    Focus = "soft"
	Blurred Focus = "blurred"
)

const sharpFrom, softFrom = 0.8, 0.3

// FocusOf says a sharpness in a word.
func FocusOf(sharpness float64) Focus {
	switch {
	case sharpness >= sharpFrom:
		return Sharp
	case sharpness >= softFrom:
		return Soft
	}
	return Blurred
}

// block is the side, in pixels, of the squares that are measured; of them the share with the most contrast counts, since a plain sky
// says nothing about the lens.
const (
	block        = 32
	share        = 10 // one of so many
	fewestBlocks = 4
)

// Sharpness measures a grey picture, row by row of so many pixels, within some areas in pixels, or as a whole without any: the energy
// of its Laplacian by that of its gradient, over the blocks that have most gradient. The quotient does not change with brightness or
// contrast, which the variance of the Laplacian does (Pech-Pacheco et al., "Diatom autofocusing in brightfield microscopy", 2000); it
// compares between pictures that were brought to the same size. A plain surface has 0.
func Sharpness(grey []byte, width int, areas []geometry.Rect) float64 {
	if width < 3 || len(grey) < 3*width {
		return 0
	}
	height := len(grey) / width
	if len(areas) == 0 {
		areas = []geometry.Rect{{Width: width, Height: height}}
	}
	type measured struct{ gradient, laplacian float64 }
	var blocks []measured
	for _, a := range areas {
		for y := max(1, a.Y); y < min(height-1, a.Y+a.Height); y += block {
			for x := max(1, a.X); x < min(width-1, a.X+a.Width); x += block {
				g, l := energies(grey, width, geometry.Rect{X: x, Y: y, Width: min(block, width-1-x, a.X+a.Width-x),
					Height: min(block, height-1-y, a.Y+a.Height-y)})
				blocks = append(blocks, measured{g, l})
			}
		}
	}
	slices.SortFunc(blocks, func(a, b measured) int { return cmp.Compare(b.gradient, a.gradient) })
	var gradient, laplacian float64
	for _, b := range blocks[:min(len(blocks), max(fewestBlocks, len(blocks)/share))] {
		gradient, laplacian = gradient+b.gradient, laplacian+b.laplacian
	}
	if gradient == 0 {
		return 0
	}
	return laplacian / gradient
}

// energies sums the squares of forward differences, and of the Laplacian of four neighbours, over a part of a picture that keeps one
// pixel from its border.
func energies(grey []byte, width int, part geometry.Rect) (gradient, laplacian float64) {
	var g, l int
	for y := part.Y; y < part.Y+part.Height; y++ {
		for i := y*width + part.X; i < y*width+part.X+part.Width; i++ {
			c, right, below := int(grey[i]), int(grey[i+1]), int(grey[i+width])
			dx, dy := right-c, below-c
			d := 4*c - int(grey[i-1]) - right - int(grey[i-width]) - below
			g += dx*dx + dy*dy
			l += d * d
		}
	}
	return float64(g), float64(l)
}
