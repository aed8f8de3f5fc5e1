// Package mediatest makes files for tests: good ones of many kinds, and damaged and hostile ones. Nothing is shipped as
// a file that can be made.
package mediatest

import (
	"bytes"
	"compress/zlib"
	"crypto/sha256"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"
)

// JPEG is a picture whose upper left quarter is bright; shade makes its bytes differ from others.
func JPEG(t testing.TB, width, height int, shade uint8) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, picture(width, height, shade), &jpeg.Options{Quality: 88}))
	return out.Bytes()
}

func picture(width, height int, shade uint8) image.Image {
	m := image.NewNRGBA(image.Rect(0, 0, width, height))
	for y := range height {
		for x := range width {
			c := color.NRGBA{R: shade, G: uint8(x * 255 / width), B: uint8(y * 255 / height), A: 255}
			if x < width/2 && y < height/2 {
				c = color.NRGBA{R: 255, G: 240, B: shade, A: 255}
			}
			m.SetNRGBA(x, y, c)
		}
	}
	return m
}

// Truncated is the first half of a JPEG.
func Truncated(t testing.TB) []byte {
	data := JPEG(t, 800, 600, 7)
	return data[:len(data)/2]
}

// PNG is a picture of one colour with transparency around it.
func PNG(t testing.TB) []byte {
	t.Helper()
	m := image.NewNRGBA(image.Rect(0, 0, 200, 100))
	for y := 25; y < 75; y++ {
		for x := 50; x < 150; x++ {
			m.Set(x, y, color.NRGBA{R: 200, G: 30, B: 30, A: 255})
		}
	}
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, m))
	return out.Bytes()
}

// HugePNG claims to measure width × height pixels and holds almost none of them.
func HugePNG(width, height uint32) []byte {
	var out bytes.Buffer
	out.WriteString("\x89PNG\r\n\x1a\n")
	head := make([]byte, 13)
	binary.BigEndian.PutUint32(head, width)
	binary.BigEndian.PutUint32(head[4:], height)
	head[8], head[9] = 8, 2
	chunk(&out, "IHDR", head)
	var pixels bytes.Buffer
	z := zlib.NewWriter(&pixels)
	_, _ = z.Write(make([]byte, 1000))
	_ = z.Close()
	chunk(&out, "IDAT", pixels.Bytes())
	chunk(&out, "IEND", nil)
	return out.Bytes()
}

func chunk(out *bytes.Buffer, name string, data []byte) {
	_ = binary.Write(out, binary.BigEndian, uint32(len(data)))
	body := append([]byte(name), data...)
	out.Write(body)
	_ = binary.Write(out, binary.BigEndian, crc32.ChecksumIEEE(body))
}

// TextBomb is a small PNG with a compressed text (zTXt) that is so many bytes long when it is read.
func TextBomb(t testing.TB, length int) []byte {
	t.Helper()
	var packed bytes.Buffer
	packed.WriteString("Comment\x00\x00")
	w := zlib.NewWriter(&packed)
	line := bytes.Repeat([]byte("kite "), 1<<16)
	for left := length; left > 0; left -= len(line) {
		_, err := w.Write(line[:min(left, len(line))])
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	whole := PNG(t)
	const head = 8 + 25 // signature and IHDR
	var out bytes.Buffer
	out.Write(whole[:head])
	chunk(&out, "zTXt", packed.Bytes())
	out.Write(whole[head:])
	return out.Bytes()
}

// SlowDrawing is a small SVG that takes very long to draw.
func SlowDrawing() []byte {
	var out strings.Builder
	out.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" width="4000" height="4000"><filter id="f" x="0" y="0" width="1" height="1">`)
	for range 60 {
		out.WriteString(`<feTurbulence type="fractalNoise" baseFrequency="0.9" numOctaves="9"/><feGaussianBlur stdDeviation="90"/>`)
	}
	out.WriteString(`</filter><rect width="4000" height="4000" filter="url(#f)"/></svg>`)
	return []byte(out.String())
}

// Animation is a GIF of so many frames.
func Animation(t testing.TB, frames int) []byte {
	t.Helper()
	g := &gif.GIF{}
	for i := range frames {
		m := image.NewPaletted(image.Rect(0, 0, 40, 30), color.Palette{color.White, color.Black})
		m.SetColorIndex(i%40, 10, 1)
		g.Image, g.Delay = append(g.Image, m), append(g.Delay, 10)
	}
	var out bytes.Buffer
	require.NoError(t, gif.EncodeAll(&out, g))
	return out.Bytes()
}

// SVG is a drawing with a script and with references to the outside and to a file beside it.
func SVG(beside string) []byte {
	return fmt.Appendf(nil, `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="120" height="80">
<script>fetch("http://127.0.0.1:1/stolen")</script>
<image xlink:href="http://127.0.0.1:1/outside.png" width="10" height="10"/>
<image xlink:href="file://%s" width="120" height="80"/>
<rect width="60" height="80" fill="#17695F" onclick="alert(1)"/></svg>`, beside)
}

// EntityBomb is a drawing whose entities unfold to gigabytes.
func EntityBomb() []byte {
	var s strings.Builder
	s.WriteString(`<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaaaaaaaaaaaaaaaaaa">`)
	for c := 'b'; c < 'k'; c++ {
		fmt.Fprintf(&s, `<!ENTITY %c "%s">`, c, strings.Repeat(fmt.Sprintf("&%c;", c-1), 10))
	}
	s.WriteString(`]><svg xmlns="http://www.w3.org/2000/svg" width="100" height="100"><text y="20">&j;</text></svg>`)
	return []byte(s.String())
}

// Clip is a film of two seconds.
func Clip(t testing.TB, width, height int) []byte {
	t.Helper()
	path := filepath.Join(t.TempDir(), "clip.mp4")
	run(t, "ffmpeg", "-v", "error", "-f", "lavfi", "-i", fmt.Sprintf("testsrc2=size=%dx%d:rate=10:duration=2", width, height),
		"-pix_fmt", "yuv420p", path)
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	return data
}

// tagged are files that were made before: to start exiftool takes longer than most tests.
var tagged sync.Map

// Tagged writes metadata into a picture with exiftool's own arguments.
func Tagged(t testing.TB, data []byte, args ...string) []byte {
	t.Helper()
	same := fmt.Sprintf("%x %q", sha256.Sum256(data), args)
	if made, is := tagged.Load(same); is {
		return bytes.Clone(made.([]byte))
	}
	path := filepath.Join(t.TempDir(), "tagged.jpg")
	require.NoError(t, os.WriteFile(path, data, 0o600))
	run(t, "exiftool", append(append([]string{"-q", "-overwrite_original"}, args...), path)...)
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	tagged.Store(same, bytes.Clone(data))
	return data
}

func run(t testing.TB, name string, args ...string) {
	t.Helper()
	out, err := exec.Command(name, args...).CombinedOutput()
	require.NoError(t, err, "%s", out)
}

// File puts data into a file of the test.
func File(t testing.TB, name string, data []byte) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(path, data, 0o600))
	return path
}
