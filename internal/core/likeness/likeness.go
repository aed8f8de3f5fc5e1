// Package likeness tells how alike two pictures are, and how sharp one is, from few numbers.
package likeness

import (
	"fmt"
	"math/bits"
	"strings"
	"time"

	"brightsatchel/internal/core/arrival"
)

// Hash is a difference hash: bit r×8+c is set when, in a grey thumbnail of 9×8 pixels, the pixel in row r and column c
// is brighter than its right neighbour. Resizing and recompressing leave it as it is; brightness changes and slight
// crops change a few bits (N. Krawetz, "Kind of Like That", 2013).
type Hash uint64

// Of computes the hash of a grey thumbnail, 9 pixels wide and 8 high, row by row. It panics for another length.
func Of(grey []byte) Hash {
	if len(grey) != 72 {
		panic("likeness: a thumbnail has 9×8 pixels")
	}
	var h Hash
	for row := range 8 {
		for column := range 8 {
			if grey[row*9+column] > grey[row*9+column+1] {
				h |= 1 << (row*8 + column)
			}
		}
	}
	return h
}

// Distance is the number of bits, 0 to 64, in which two hashes differ.
func Distance(a, b Hash) int { return bits.OnesCount64(uint64(a ^ b)) }

// Near is the largest distance at which two pictures are shown as possible duplicates. Different pictures are 20 to 40 apart.
// With 7 bits spread over four bands at least one band differs in at most one bit, which is what Probes relies on.
const Near = 7

// Tells says whether a hash says enough about its picture: of a plain surface or a smooth ramp nearly all bits are equal,
// and any two such pictures would look alike.
func (h Hash) Tells() bool {
	n := bits.OnesCount64(uint64(h))
	return n >= 6 && n <= 58
}

// Bands are the four 16-bit parts of a hash, each marked with its place, as they are kept in the database's index.
func (h Hash) Bands() [4]int32 {
	var out [4]int32
	for i := range out {
		out[i] = int32(i)<<16 | int32(h>>(16*i)&0xffff)
	}
	return out
}

// Probes are all values of bands, 68 in number, of which a hash within Near of this one has at least one.
func (h Hash) Probes() []int32 {
	out := make([]int32, 0, 68)
	for _, band := range h.Bands() {
		out = append(out, band)
		for bit := range 16 {
			out = append(out, band^1<<bit)
		}
	}
	return out
}

// Picture is what two possible duplicates are compared by. Taken is the local time of capture, if the file says.
type Picture struct {
	Width, Height int
	Bytes         int64
	Taken         *time.Time
	MediaType     string
}

// SavedAgain says whether two pictures whose hashes are so many bits apart may be one photograph that was saved again: in
// another size or quality, or slightly cropped. Two moments of capture mean two photographs, as in a burst.
func SavedAgain(a, b Picture, distance int) bool {
	if distance > Near || a.Taken != nil && b.Taken != nil && !a.Taken.Equal(*b.Taken) {
		return false
	}
	if a.Width < 1 || a.Height < 1 || b.Width < 1 || b.Height < 1 {
		return false
	}
	// More than a slight crop explains makes another aspect ratio.
	ratio := float64(a.Width) / float64(a.Height) * float64(b.Height) / float64(b.Width)
	return ratio < 1.15 && ratio > 1/1.15
}

// Differences says in words how the second of two pictures differs from the first; nothing is said of what is equal.
func Differences(first, second Picture) []string {
	var out []string
	if first.Width != second.Width || first.Height != second.Height {
		word := "smaller"
		if second.Width*second.Height > first.Width*first.Height {
			word = "larger"
		}
		out = append(out, fmt.Sprintf("%s: %d × %d instead of %d × %d pixels", word, second.Width, second.Height, first.Width,
			first.Height))
	}
	if first.Bytes != second.Bytes {
		word := "smaller file"
		if second.Bytes > first.Bytes {
			word = "larger file"
		}
		if was, is := arrival.Bytes(first.Bytes), arrival.Bytes(second.Bytes); was != is {
			out = append(out, fmt.Sprintf("%s: %s instead of %s", word, is, was))
		} else {
			out = append(out, fmt.Sprintf("%s, by %d bytes", word, max(first.Bytes-second.Bytes, second.Bytes-first.Bytes)))
		}
	}
	if first.MediaType != second.MediaType {
		out = append(out, fmt.Sprintf("saved as %s instead of %s", format(second.MediaType), format(first.MediaType)))
	}
	switch {
	case first.Taken == nil && second.Taken != nil:
		out = append(out, "says when it was taken: "+second.Taken.Format("2 January 2006, 15:04:05"))
	case first.Taken != nil && second.Taken == nil:
		out = append(out, "does not say when it was taken")
	case first.Taken != nil && !first.Taken.Equal(*second.Taken):
		out = append(out, fmt.Sprintf("taken %s instead of %s", second.Taken.Format("2 January 2006, 15:04:05"),
			first.Taken.Format("2 January 2006, 15:04:05")))
	}
	return out
}

func format(mediaType string) string {
	_, name, _ := strings.Cut(mediaType, "/")
	return strings.ToUpper(strings.TrimSuffix(strings.TrimPrefix(name, "x-"), "+xml"))
}
