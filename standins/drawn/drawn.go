// Package drawn draws the pictures that the simulated services have of their own.
package drawn

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"sync"
)

// kites are those that were drawn before.
var kites sync.Map

// Kite makes a JPEG of a kite in the sky; every number makes another one.
func Kite(n int) []byte {
	if made, is := kites.Load(n); is {
		return made.([]byte)
	}
	made := draw(n)
	kites.Store(n, made)
	return made
}

func draw(n int) []byte {
	const width, height = 1080, 720
	m := image.NewRGBA(image.Rect(0, 0, width, height))
	cx, cy, size := 260+n*139%560, 180+n*97%300, 90+n*23%120
	sail := color.RGBA{R: uint8(120 + n*53%130), G: uint8(40 + n*31%150), B: uint8(30 + n*71%190), A: 255}
	for y := range height {
		for x := range width {
			c := color.RGBA{R: uint8(150 + y*90/height - n*3), G: uint8(190 + y*50/height), B: uint8(225 - n*4), A: 255}
			if hill := height - 90 - (x*x/(4000+n*300))%60; y > hill {
				c = color.RGBA{R: uint8(60 + n*5), G: 100, B: 70, A: 255}
			}
			if dx, dy := abs(x-cx), y-cy; dx*3/2+abs(dy) < size {
				c = sail
				if (x-cx)*dy > 0 {
					c.R, c.G = c.R/2+100, c.G/2+90
				}
			}
			m.SetRGBA(x, y, c)
		}
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, m, &jpeg.Options{Quality: 84}); err != nil {
		panic(err) // of a picture that was just made
	}
	return out.Bytes()
}

func abs(n int) int { return max(n, -n) }
