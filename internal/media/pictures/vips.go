package pictures

// #cgo pkg-config: vips
// #cgo CFLAGS: -O3
// #include <stdlib.h>
// #include "vips.h"
import "C"

import (
	"errors"
	"fmt"
	"html"
	"os"
	"strings"
	"unsafe"
)

// image is a picture in libvips, which must be freed.
type image struct{ ptr *C.VipsImage }

func (i image) free() {
	if i.ptr != nil {
		C.g_object_unref(C.gpointer(i.ptr))
	}
}

// share makes the picture need one more free.
func (i image) share() { C.g_object_ref(C.gpointer(i.ptr)) }

func (i image) width() int  { return int(i.ptr.Xsize) }
func (i image) height() int { return int(i.ptr.Ysize) }

func start() error {
	if C.bs_init() != 0 {
		return vipsError("libvips does not start")
	}
	return nil
}

// vipsError takes the reason from libvips, which keeps one for the whole process: one job at a time here.
func vipsError(doing string) error {
	text := strings.TrimSpace(C.GoString(C.vips_error_buffer()))
	C.vips_error_clear()
	line, _, _ := strings.Cut(text, "\n")
	return fmt.Errorf("%s: %s", doing, line)
}

// call runs one operation that makes a picture.
func call(doing string, f func(out **C.VipsImage) C.int) (image, error) {
	var out *C.VipsImage
	if f(&out) != 0 {
		return image{}, vipsError(doing)
	}
	return image{out}, nil
}

// Vector drawings are loaded from memory: loaded by name, they may pull in files from their own folder.
func inMemory(mediaType string) bool { return mediaType == "image/svg+xml" }

func header(path, mediaType string) (image, error) {
	name := C.CString(path)
	defer C.free(unsafe.Pointer(name))
	memory := C.int(0)
	if inMemory(mediaType) {
		memory = 1
	}
	return call("reading the header", func(out **C.VipsImage) C.int { return C.bs_header(name, memory, out) })
}

// thumbnail loads a picture at exactly that size, upright and in sRGB, shrinking while it decodes.
func thumbnail(path, mediaType string, width, height int) (image, error) {
	if inMemory(mediaType) {
		data, err := os.ReadFile(path)
		if err != nil {
			return image{}, err
		}
		if len(data) == 0 {
			return image{}, errors.New("the file is empty")
		}
		memory := C.CBytes(data)
		defer C.free(memory)
		lazy, err := call("decoding", func(out **C.VipsImage) C.int {
			return C.bs_thumbnail_memory(memory, C.size_t(len(data)), C.int(width), C.int(height), out)
		})
		if err != nil {
			return image{}, err
		}
		defer lazy.free()
		return lazy.inMemory()
	}
	name := C.CString(path)
	defer C.free(unsafe.Pointer(name))
	return call("decoding", func(out **C.VipsImage) C.int { return C.bs_thumbnail(name, C.int(width), C.int(height), out) })
}

// inMemory computes all pixels now, so that several files can be made of them.
func (i image) inMemory() (image, error) {
	return call("decoding", func(out **C.VipsImage) C.int { return C.bs_copy_memory(i.ptr, out) })
}

func (i image) shrink(width, height int) (image, error) {
	return call("shrinking", func(out **C.VipsImage) C.int { return C.bs_shrink(i.ptr, C.int(width), C.int(height), out) })
}

func (i image) crop(x, y, width, height int) (image, error) {
	return call("cropping", func(out **C.VipsImage) C.int {
		return C.bs_crop(i.ptr, C.int(x), C.int(y), C.int(width), C.int(height), out)
	})
}

// turn turns a picture clockwise by 90, 180 or 270 degrees. It computes all pixels first, since a picture that is
// decoded line by line cannot be read from the side.
func (i image) turn(degrees int) (image, error) {
	pixels, err := i.inMemory()
	if err != nil {
		return image{}, err
	}
	defer pixels.free()
	return call("turning", func(out **C.VipsImage) C.int { return C.bs_turn(pixels.ptr, C.int(degrees), out) })
}

// grey returns the brightness of each pixel of a smaller copy, row by row.
func (i image) grey(width, height int) ([]byte, error) { return i.pixels(width, height, 1) }

// rgb returns red, green and blue of each pixel of a smaller copy, row by row.
func (i image) rgb(width, height int) ([]byte, error) { return i.pixels(width, height, 3) }

// pixels returns one value (brightness) or three (red, green, blue) of each pixel of a smaller copy.
func (i image) pixels(width, height, values int) ([]byte, error) {
	var data unsafe.Pointer
	var size C.size_t
	if C.bs_pixels(i.ptr, C.int(width), C.int(height), C.int(values-1), &data, &size) != 0 {
		return nil, vipsError("reading its pixels")
	}
	defer C.g_free(C.gpointer(data))
	if int(size) != values*width*height {
		return nil, fmt.Errorf("it has %d values instead of %d", size, values*width*height)
	}
	return C.GoBytes(data, C.int(size)), nil
}

// attention returns the upper left corner of the crop of that size which catches the eye most.
func (i image) attention(width, height int) (x, y int, err error) {
	crop, err := call("looking for its focal point", func(out **C.VipsImage) C.int {
		return C.bs_attention(i.ptr, C.int(width),
			C.int(height), out)
	})
	if err != nil {
		return 0, 0, err
	}
	defer crop.free()
	return -int(C.vips_image_get_xoffset(crop.ptr)), -int(C.vips_image_get_yoffset(crop.ptr)), nil
}

// flatten puts a picture with transparency onto white.
func (i image) flatten() (image, error) {
	return call("flattening", func(out **C.VipsImage) C.int { return C.bs_flatten(i.ptr, out) })
}

// pad puts a picture in the middle of a larger one of a colour, 0xRRGGBB.
func (i image) pad(width, height, colour int) (image, error) {
	rgb := [3]C.double{C.double(colour >> 16 & 255), C.double(colour >> 8 & 255), C.double(colour & 255)}
	return call("padding", func(out **C.VipsImage) C.int {
		return C.bs_pad(i.ptr, C.int(width), C.int(height), &rgb[0], out)
	})
}

// mark puts words, or the picture in a file, across a picture; strength is from 0 to 1.
func (i image) mark(words, file, place string, strength float64) (image, error) {
	at, known := map[string]C.int{"middle": C.BS_MIDDLE, "across": C.BS_ACROSS, "corner": C.BS_CORNER}[place]
	if !known {
		at = C.BS_MIDDLE
	}
	if file != "" {
		path := C.CString(file)
		defer C.free(unsafe.Pointer(path))
		return call("marking", func(out **C.VipsImage) C.int { return C.bs_mark_picture(i.ptr, path, at, C.double(strength), out) })
	}
	text := C.CString(html.EscapeString(words)) // it is read as markup
	defer C.free(unsafe.Pointer(text))
	return call("marking", func(out **C.VipsImage) C.int { return C.bs_mark(i.ptr, text, at, C.double(strength), out) })
}

// tint is the mean colour as 0xRRGGBB.
func (i image) tint() (int, error) {
	var rgb [3]C.double
	if C.bs_average(i.ptr, &rgb[0]) != 0 {
		return 0, vipsError("measuring the colour")
	}
	tint := 0
	for _, c := range rgb {
		tint = tint<<8 | max(0, min(255, int(c)))
	}
	return tint, nil
}

// save writes the picture without any metadata; what goes along is written afterwards.
func (i image) save(path, format string, quality int, quickly bool) error {
	name := C.CString(path)
	defer C.free(unsafe.Pointer(name))
	q := C.int(quality)
	var failed C.int
	switch format {
	case "jpeg":
		flat, err := i.flatten()
		if err != nil {
			return err
		}
		defer flat.free()
		optimise := C.int(1)
		if quickly { // a few per cent more bytes for a third of the time
			optimise = 0
		}
		failed = C.bs_save_jpeg(flat.ptr, name, q, optimise)
	case "png":
		failed = C.bs_save_png(i.ptr, name)
	case "webp":
		failed = C.bs_save_webp(i.ptr, name, q)
	case "avif":
		failed = C.bs_save_avif(i.ptr, name, q)
	default:
		return fmt.Errorf("%q is not a format that can be written", format)
	}
	if failed != 0 {
		return vipsError("writing " + format)
	}
	return nil
}

func (i image) facts() Facts {
	return Facts{
		Width:       i.width(),
		Height:      i.height(),
		Pages:       int(C.vips_image_get_n_pages(i.ptr)),
		Orientation: int(C.vips_image_get_orientation(i.ptr)),
		Alpha:       C.vips_image_hasalpha(i.ptr) != 0,
	}
}
