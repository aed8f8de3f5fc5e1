package mediatest

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// entry is a field of a TIFF directory: a tag, its type (3 short, 4 long, 1 byte, 2 text, 7 undefined) and its values.
type entry struct {
	tag, kind uint16
	values    []uint32
}

// directory lays out a TIFF directory at an offset, with values that do not fit behind it, and says where it ends.
func directory(at uint32, next uint32, entries []entry) []byte {
	size := map[uint16]uint32{1: 1, 2: 1, 3: 2, 4: 4, 7: 1}
	head := 2 + 12*uint32(len(entries)) + 4
	var out, more bytes.Buffer
	_ = binary.Write(&out, binary.LittleEndian, uint16(len(entries)))
	write := func(b *bytes.Buffer, kind uint16, v uint32) {
		switch size[kind] {
		case 1:
			b.WriteByte(byte(v))
		case 2:
			_ = binary.Write(b, binary.LittleEndian, uint16(v))
		default:
			_ = binary.Write(b, binary.LittleEndian, v)
		}
	}
	for _, e := range entries {
		_ = binary.Write(&out, binary.LittleEndian, []uint16{e.tag, e.kind})
		_ = binary.Write(&out, binary.LittleEndian, uint32(len(e.values)))
		var value bytes.Buffer
		for _, v := range e.values {
			write(&value, e.kind, v)
		}
		if value.Len() > 4 {
			_ = binary.Write(&out, binary.LittleEndian, at+head+uint32(more.Len()))
			more.Write(value.Bytes())
			continue
		}
		out.Write(append(value.Bytes(), 0, 0, 0, 0)[:4])
	}
	_ = binary.Write(&out, binary.LittleEndian, next)
	return append(out.Bytes(), more.Bytes()...)
}

// TIFF is an uncompressed picture of one colour: 3 channels are RGB, 4 are CMYK; bits is 8 or 16.
func TIFF(width, height, bits int, colour ...uint32) []byte {
	var pixels bytes.Buffer
	for range width * height {
		for _, c := range colour {
			if bits == 16 {
				_ = binary.Write(&pixels, binary.LittleEndian, uint16(c)<<8|uint16(c))
				continue
			}
			pixels.WriteByte(byte(c))
		}
	}
	photometric := uint32(2)
	if len(colour) == 4 {
		photometric = 5
	}
	depth := make([]uint32, len(colour))
	for i := range depth {
		depth[i] = uint32(bits)
	}
	start := uint32(8 + pixels.Len())
	out := append([]byte("II*\x00"), binary.LittleEndian.AppendUint32(nil, start)...)
	out = append(out, pixels.Bytes()...)
	return append(out, directory(start, 0, []entry{
		{256, 4, []uint32{uint32(width)}}, {257, 4, []uint32{uint32(height)}}, {258, 3, depth}, {259, 3, []uint32{1}},
		{262, 3, []uint32{photometric}},
		{273, 4, []uint32{8}}, {277, 3, []uint32{uint32(len(colour))}}, {278, 4, []uint32{uint32(height)}},
		{279, 4, []uint32{uint32(pixels.Len())}},
	})...)
}

// DNG is a camera raw file as cameras write them: a tiny thumbnail first, and the picture to show as a JPEG in a
// directory below.
func DNG(t testing.TB, width, height int, orientation uint32) []byte {
	t.Helper()
	preview := JPEG(t, width, height, 60)
	thumb := make([]byte, 8*8*3)
	previewAt := uint32(8 + len(thumb))
	mainAt := previewAt + uint32(len(preview))
	if mainAt%2 == 1 {
		preview = append(preview, 0)
		mainAt++
	}
	main := func(below uint32) []byte {
		return directory(mainAt, 0, []entry{
			{254, 4, []uint32{1}}, {256, 4, []uint32{8}}, {257, 4, []uint32{8}}, {258, 3, []uint32{8, 8, 8}}, {259, 3, []uint32{1}},
			{262, 3, []uint32{2}},
			{273, 4, []uint32{8}}, {274, 3, []uint32{orientation}}, {277, 3, []uint32{3}}, {278, 4, []uint32{8}},
			{279, 4, []uint32{uint32(len(thumb))}},
			{330, 4, []uint32{below}}, {50706, 1, []uint32{1, 4, 0, 0}},
		})
	}
	below := mainAt + uint32(len(main(0)))
	out := append([]byte("II*\x00"), binary.LittleEndian.AppendUint32(nil, mainAt)...)
	out = append(append(append(out, thumb...), preview...), main(below)...)
	return append(out, directory(below, 0, []entry{
		{254, 4, []uint32{1}}, {256, 4, []uint32{uint32(width)}}, {257, 4, []uint32{uint32(height)}}, {258, 3, []uint32{8, 8, 8}},
		{259, 3, []uint32{7}},
		{262, 3, []uint32{6}}, {273, 4, []uint32{previewAt}}, {277, 3, []uint32{3}}, {278, 4, []uint32{uint32(height)}},
		{279, 4, []uint32{uint32(len(preview))}},
	})...)
}

// text is the values of a field of text.
func text(s string) []uint32 {
	out := make([]uint32, 0, len(s)+1)
	for _, c := range []byte(s + "\x00") {
		out = append(out, uint32(c))
	}
	return out
}

// CR2 is a camera raw file that is told by its first bytes; its first directory is the picture to show.
func CR2(t testing.TB, width, height int) []byte {
	t.Helper()
	preview := JPEG(t, width, height, 61)
	const at = 16
	fields := func(previewAt uint32) []byte {
		return directory(at, 0, []entry{
			{256, 4, []uint32{uint32(width)}}, {257, 4, []uint32{uint32(height)}}, {259, 3, []uint32{6}}, {271, 2, text("Canon")},
			{272, 2, text("Made up")},
			{273, 4, []uint32{previewAt}}, {274, 3, []uint32{1}}, {279, 4, []uint32{uint32(len(preview))}},
		})
	}
	out := []byte("II*\x00\x10\x00\x00\x00CR\x02\x00\x00\x00\x00\x00")
	return append(append(out, fields(at+uint32(len(fields(0))))...), preview...)
}

// NEF is a camera raw file that is told by its maker and its compression; the picture to show is in a directory below,
// beside the raw one.
func NEF(t testing.TB, width, height int) []byte {
	t.Helper()
	preview := JPEG(t, width, height, 62)
	const at = 8
	shown := func(previewAt, start uint32) []byte {
		return directory(start, 0, []entry{{254, 4, []uint32{1}}, {259, 3, []uint32{6}}, {513, 4, []uint32{previewAt}},
			{514, 4, []uint32{uint32(len(preview))}}})
	}
	raw := func(start uint32) []byte {
		return directory(start, 0, []entry{{254, 4, []uint32{0}}, {256, 4, []uint32{8}}, {257, 4, []uint32{8}}, {258, 3, []uint32{14}},
			{259, 3, []uint32{34713}},
			{262, 3, []uint32{32803}}, {273, 4, []uint32{8}}, {277, 3, []uint32{1}}, {278, 4, []uint32{8}}, {279, 4, []uint32{8}}})
	}
	top := func(first, second uint32) []byte {
		return directory(at, 0, []entry{{254, 4, []uint32{1}}, {271, 2, text("NIKON CORPORATION")}, {272, 2, text("Made up")},
			{274, 3, []uint32{1}}, {330, 4, []uint32{first, second}}})
	}
	first := at + uint32(len(top(0, 0)))
	second := first + uint32(len(shown(0, 0)))
	previewAt := second + uint32(len(raw(0)))
	out := append([]byte("II*\x00"), binary.LittleEndian.AppendUint32(nil, at)...)
	for _, part := range [][]byte{top(first, second), shown(previewAt, first), raw(second), preview} {
		out = append(out, part...)
	}
	return out
}

// RAF is a camera raw file with a header of its own, that says where the picture to show is.
func RAF(t testing.TB, width, height int) []byte {
	t.Helper()
	preview := JPEG(t, width, height, 63)
	head := make([]byte, 160)
	copy(head, "FUJIFILMCCD-RAW 0201FF000000Made up")
	copy(head[60:], "0100")
	binary.BigEndian.PutUint32(head[84:], uint32(len(head)))
	binary.BigEndian.PutUint32(head[88:], uint32(len(preview)))
	return append(head, preview...)
}

// PDF is a document of so many pages, each with a bar that is further down than the last.
func PDF(pages int) []byte {
	var out bytes.Buffer
	var offsets []int
	object := func(format string, args ...any) {
		offsets = append(offsets, out.Len())
		fmt.Fprintf(&out, "%d 0 obj\n", len(offsets))
		fmt.Fprintf(&out, format, args...)
		out.WriteString("\nendobj\n")
	}
	out.WriteString("%PDF-1.4\n")
	object("<< /Type /Catalog /Pages 2 0 R >>")
	var kids bytes.Buffer
	for i := range pages {
		fmt.Fprintf(&kids, "%d 0 R ", 3+2*i)
	}
	object("<< /Type /Pages /Count %d /Kids [ %s] >>", pages, kids.String())
	for i := range pages {
		object("<< /Type /Page /Parent 2 0 R /MediaBox [0 0 300 400] /Contents %d 0 R >>", 4+2*i)
		bar := fmt.Sprintf("0.1 0.4 0.4 rg 0 %d 300 60 re f", 340-i*60)
		object("<< /Length %d >>\nstream\n%s\nendstream", len(bar), bar)
	}
	xref := out.Len()
	fmt.Fprintf(&out, "xref\n0 %d\n0000000000 65535 f \n", len(offsets)+1)
	for _, at := range offsets {
		fmt.Fprintf(&out, "%010d 00000 n \n", at)
	}
	fmt.Fprintf(&out, "trailer << /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n", len(offsets)+1, xref)
	return out.Bytes()
}

// Film is a clip of some seconds in a codec and container that ffmpeg writes, as "libvpx-vp9" in "webm".
func Film(t testing.TB, codec, container string, seconds int) []byte {
	t.Helper()
	path := filepath.Join(t.TempDir(), "film."+container)
	run(t, "ffmpeg", "-v", "error", "-f", "lavfi", "-i", fmt.Sprintf("testsrc2=size=160x120:rate=10:duration=%d", seconds), "-c:v",
		codec, "-pix_fmt", "yuv420p", path)
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	return data
}

// Sounding is a clip of so many seconds with a quiet tone, 320 × 240 at 10 frames a second, each of which differs from the others.
func Sounding(t testing.TB, seconds int) []byte {
	path := filepath.Join(t.TempDir(), "sounding.mp4")
	run(t, "ffmpeg", "-v", "error", "-f", "lavfi", "-i", fmt.Sprintf("testsrc2=size=320x240:rate=10:duration=%d", seconds), "-f", "lavfi",
		"-i", fmt.Sprintf("sine=frequency=700:duration=%d", seconds), "-af", "volume=0.05", "-c:v", "libx264", "-crf", "12", "-pix_fmt",
		"yuv420p", "-c:a", "aac", path)
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	return data
}

// Saved is a made-up picture as another program of the libvips family saves it, for kinds that Go does not write: the
// ending, with options, says which.
func Saved(t testing.TB, ending string) []byte {
	t.Helper()
	dir := t.TempDir()
	var data bytes.Buffer
	require.NoError(t, png.Encode(&data, picture(320, 240, 90)))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "in.png"), data.Bytes(), 0o600))
	run(t, "vips", "copy", filepath.Join(dir, "in.png"), filepath.Join(dir, "out")+ending)
	found, err := filepath.Glob(filepath.Join(dir, "out*"))
	require.NoError(t, err)
	require.Len(t, found, 1)
	out, err := os.ReadFile(found[0])
	require.NoError(t, err)
	return out
}

// Portrait is a softly shaded head that a face detector takes for one, in the left half of a plain picture.
func Portrait(t testing.TB) []byte {
	t.Helper()
	path, err := filepath.Abs("../../demo/media/team-portraits")
	require.NoError(t, err)
	found, err := filepath.Glob(filepath.Join(path, "*.JPG"))
	require.NoError(t, err)
	require.NotEmpty(t, found)
	data, err := os.ReadFile(found[0])
	require.NoError(t, err)
	return data
}
