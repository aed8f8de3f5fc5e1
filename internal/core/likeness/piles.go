package likeness

import (
	"fmt"
	"iter"
)

// Shot is a picture as piles are made of it. Taken is the wall time of capture in seconds since 1970, if it is dated. A sharpness below
// 0 is not known.
type Shot struct {
	ID        int64
	Taken     int64
	Dated     bool
	Camera    string
	Hash      Hash
	Looked    bool // whether the hash is known
	Sharpness float64
}

// Frames of a burst follow each other within a few seconds and look alike, though something moves.
const (
	burstGap  = 2  // seconds
	burstNear = 10 // bits
)

// SamePile says whether two pictures are frames of a burst by one camera, or nearly the same picture saved again.
func SamePile(a, b Shot) bool {
	if !a.Looked || !b.Looked {
		return false
	}
	distance := Distance(a.Hash, b.Hash)
	if !a.Dated || !b.Dated {
		return distance <= Near && a.Hash.Tells() && b.Hash.Tells()
	}
	return !FarApart(a.Taken, b.Taken) && distance <= burstNear && a.Camera == b.Camera
}

// FarApart says of two dated pictures, by the seconds of their capture, that they are in no pile together whatever they look like.
func FarApart(a, b int64) bool { return max(a, b)-min(a, b) > burstGap }

// Piles are the runs of at least two in a row of n pictures in which each is in the same pile as its neighbour: from where to before
// where. Same says that of the pictures at two places.
func Piles(n int, same func(a, b int) bool) iter.Seq2[int, int] {
	return func(yield func(from, to int) bool) {
		for from := 0; from < n; {
			to := from + 1
			for to < n && same(to-1, to) {
				to++
			}
			if to-from > 1 && !yield(from, to) {
				return
			}
			from = to
		}
	}
}

// clearly is how much sharper, as a factor, a picture must be before it is proposed for that: storing it in another size changes
// sharpness by up to 13 %.
const clearly = 1.15

// Best proposes one of a pile, with the reason in words: the sharpest, where it is clearly that. It returns -1 when there is no reason.
func Best(pile []Shot) (best int, why string) {
	best, second := -1, -1.0
	for i, s := range pile {
		switch {
		case best < 0 || s.Sharpness > pile[best].Sharpness:
			if best >= 0 {
				second = max(second, pile[best].Sharpness)
			}
			best = i
		default:
			second = max(second, s.Sharpness)
		}
	}
	if best < 0 || second < 0 || pile[best].Sharpness < clearly*second {
		return -1, ""
	}
	return best, fmt.Sprintf("the sharpest: %.2f, the next one %.2f", pile[best].Sharpness, second)
}
