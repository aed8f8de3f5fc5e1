package metadata

import (
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"image"
	"image/jpeg"
	"os"
	"slices"
	"sync"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
)

// stamps are the segments of a JPEG (ITU-T T.81, B.2.4.6) that say something, by what is said: hundreds of files of a shoot say the same
// copyright and credit, and writing it into each by itself costs as much as making a small picture.
type stamps struct {
	mu    sync.Mutex
	known map[string][]byte
}

const mostStamps = 200

// Stamp is Say for a JPEG that says nothing yet, as one that was just made.
func (t *Tool) Stamp(ctx context.Context, path string, says outputs.Says) error {
	wanted := values(says, geometry.Size{}, true)
	if len(wanted) == 0 {
		return nil
	}
	key, err := json.Marshal(wanted)
	if err != nil {
		return err
	}
	t.stamps.mu.Lock()
	stamp, known := t.stamps.known[string(key)]
	t.stamps.mu.Unlock()
	if !known {
		if stamp, err = t.stampOf(ctx, wanted); err != nil {
			return err
		}
		t.stamps.mu.Lock()
		if t.stamps.known == nil || len(t.stamps.known) >= mostStamps {
			t.stamps.known = map[string][]byte{}
		}
		t.stamps.known[string(key)] = stamp
		t.stamps.mu.Unlock()
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return err
	}
	at, err := afterFirst(data)
	if err != nil {
		return err
	}
	return os.WriteFile(path, slices.Concat(data[:at], stamp, data[at:]), 0o600)
}

// stampOf has values written into a picture of one pixel, and takes out the segments that say them.
func (t *Tool) stampOf(ctx context.Context, wanted map[string]any) ([]byte, error) {
	file, err := os.CreateTemp("", "stamp-*.jpg")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.Remove(file.Name()) }()
	err = jpeg.Encode(file, image.NewGray(image.Rect(0, 0, 1, 1)), nil)
	if err = errors.Join(err, file.Close()); err != nil {
		return nil, err
	}
	if err := t.Write(ctx, file.Name(), wanted); err != nil {
		return nil, err
	}
	data, err := os.ReadFile(file.Name())
	if err != nil {
		return nil, err
	}
	var out []byte
	err = segments(data, func(marker byte, at, end int) bool {
		if marker == app1 || marker == app13 {
			out = append(out, data[at:end]...)
		}
		return true
	})
	return out, err
}

// The markers of segments that applications write, and of the first of a picture itself.
const (
	app0  = 0xe0
	app1  = 0xe1
	app13 = 0xed
	app15 = 0xef
)

var errNoJPEG = errors.New("that is no JPEG")

// segments goes through those that come before the picture itself, until see says false.
func segments(data []byte, see func(marker byte, at, end int) bool) error {
	if !bytes.HasPrefix(data, []byte{0xff, 0xd8}) {
		return errNoJPEG
	}
	for at := 2; ; {
		if at+4 > len(data) || data[at] != 0xff {
			return errNoJPEG
		}
		marker := data[at+1]
		if marker < app0 || marker > app15 {
			return nil
		}
		end := at + 2 + int(binary.BigEndian.Uint16(data[at+2:]))
		if end > len(data) {
			return errNoJPEG
		}
		if !see(marker, at, end) {
			return nil
		}
		at = end
	}
}

// afterFirst is where segments of EXIF and XMP go: first of all, but for the JFIF segment, which stays first.
func afterFirst(data []byte) (int, error) {
	place := 2
	err := segments(data, func(marker byte, _, end int) bool {
		if marker == app0 {
			place = end
		}
		return marker == app0
	})
	return place, err
}
