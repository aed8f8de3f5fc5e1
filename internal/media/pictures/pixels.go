package pictures

// #include <stdlib.h>
// #include "vips.h"
// #include "draw.h"
import "C"

import (
	"errors"
	"unsafe"
)

// pixels is a picture in memory, as the passes of a recipe take it.
type pixels struct {
	image
	raw C.BsPixels
}

// asPixels puts a picture into memory in three bands of sRGB, or four with transparency.
func (i image) asPixels() (pixels, error) {
	srgb, err := call("converting its colours", func(out **C.VipsImage) C.int { return C.bs_srgb(i.ptr, out) })
	if err != nil {
		return pixels{}, err
	}
	defer srgb.free()
	held, err := srgb.inMemory()
	if err != nil {
		return pixels{}, err
	}
	return held.held(), nil
}

// held is a picture that is in memory already.
func (i image) held() pixels {
	bits := C.int(8)
	if i.ptr.BandFmt == C.VIPS_FORMAT_USHORT {
		bits = 16
	}
	return pixels{i, C.BsPixels{data: unsafe.Pointer(i.ptr.data), width: i.ptr.Xsize, height: i.ptr.Ysize, bands: i.ptr.Bands, bits: bits}}
}

// blank is a picture of a size in memory, not yet drawn.
func blank(width, height, bands, bits int) (pixels, error) {
	memory := C.malloc(C.size_t(width) * C.size_t(height) * C.size_t(bands) * C.size_t(bits/8))
	if memory == nil {
		return pixels{}, errMemory
	}
	return pixels{image{}, C.BsPixels{data: memory, width: C.int(width), height: C.int(height), bands: C.int(bands), bits: C.int(bits)}}, nil
}

var errMemory = errors.New("there is not enough memory for it")

// picture makes a picture of libvips of what was drawn, and frees that.
func (p pixels) picture() (image, error) {
	defer p.free()
	return call("drawing", func(out **C.VipsImage) C.int {
		return C.bs_from_memory(p.raw.data, p.raw.width, p.raw.height, p.raw.bands, p.raw.bits, out)
	})
}

func (p pixels) free() {
	if p.ptr != nil {
		p.image.free()
		return
	}
	C.free(p.raw.data)
}

// wide is the picture with 16 bits for each value. It frees the other.
func (p pixels) wide() (pixels, error) {
	if p.raw.bits == 16 {
		return p, nil
	}
	defer p.free()
	out, err := blank(int(p.raw.width), int(p.raw.height), int(p.raw.bands), 16)
	if err == nil {
		C.bs_widen(&p.raw, &out.raw)
	}
	return out, err
}

// asPicture is a picture of libvips, in the place of this one.
func (p pixels) asPicture() (image, error) {
	if p.ptr != nil {
		return p.image, nil
	}
	return p.picture()
}
