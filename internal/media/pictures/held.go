package pictures

import "brightsatchel/internal/core/geometry"

// decoded is an upright file in memory at a size in pixels.
func decoded(path string, r Request, size geometry.Size) (pixels, error) {
	if r.Hold {
		return heldOrDecoded(path, r, size)
	}
	lazy, err := thumbnail(path, r.MediaType, size.Width, size.Height)
	if err != nil {
		return pixels{}, err
	}
	defer lazy.free()
	return lazy.asPixels()
}

// lastHeld is what this worker decoded for somebody who draws it again and again. Each worker does one job at a time.
var lastHeld struct {
	path string
	size geometry.Size
	pixels
}

// mostHeld is how many pixels are kept between jobs.
const mostHeld = 6_000_000

func heldOrDecoded(path string, r Request, size geometry.Size) (pixels, error) {
	if lastHeld.path == path && lastHeld.size == size {
		lastHeld.share()
		return lastHeld.pixels, nil
	}
	r.Hold = false
	p, err := decoded(path, r, size)
	if err != nil || size.Width*size.Height > mostHeld {
		return p, err
	}
	if lastHeld.path != "" {
		lastHeld.free()
	}
	lastHeld.path, lastHeld.size, lastHeld.pixels = path, size, p
	p.share()
	return p, nil
}
