package sending

import (
	"fmt"
	"math"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
)

// Picture is a picture as it was sent, or as it is out there.
type Picture struct {
	Size     geometry.Size // pixels
	Likeness likeness.Hash
	Bytes    int64
}

// Result is a post as it was sent, or as it is out there.
type Result struct {
	Caption  string
	Pictures []Picture
}

// How far a picture can differ before it is another one, or cut: bits of its likeness; and how far its proportions can, as a part.
const (
	otherPicture = 20
	proportions  = 0.02
	muchSmaller  = 0.35 // of the bytes, at the same size
)

// Compare says in words how a post that is out there differs from what was sent; nothing where it does not.
func Compare(sent, seen Result) (out []string) {
	say := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	if sent.Caption != seen.Caption {
		if seen.Caption == "" {
			say("The caption is missing there.")
		} else {
			say("The caption is another one there: “%s”", Shortened(seen.Caption, 120, Signs))
		}
	}
	if len(sent.Pictures) != len(seen.Pictures) {
		say("%d of %d pictures are there.", len(seen.Pictures), len(sent.Pictures))
		return out
	}
	at := order(sent.Pictures, seen.Pictures)
	moved := false
	for i, where := range at {
		moved = moved || where >= 0 && where != i
	}
	if moved {
		say("The pictures are in another order there.")
	}
	for i, p := range sent.Pictures {
		name := "The picture"
		if len(sent.Pictures) > 1 {
			name = fmt.Sprintf("Picture %d", i+1)
		}
		where := at[i]
		if where < 0 {
			where = i
		}
		for _, said := range differs(p, seen.Pictures[where], at[i] < 0) {
			say("%s %s", name, said)
		}
	}
	return out
}

// order says where each of the sent pictures is among those that are seen; -1 where none is like it.
func order(sent, seen []Picture) []int {
	at, taken := make([]int, len(sent)), make([]bool, len(seen))
	for i, p := range sent {
		at[i] = -1
		best := otherPicture + 1
		for j, q := range seen {
			d := likeness.Distance(p.Likeness, q.Likeness)
			if !taken[j] && (d < best || d == best && j == i) {
				at[i], best = j, d
			}
		}
		if at[i] >= 0 {
			taken[at[i]] = true
		}
	}
	return at
}

func differs(sent, seen Picture, unlike bool) (out []string) {
	switch {
	case sent.Size.Empty(): // a film, of which nothing is known
		return nil
	case seen.Size.Empty():
		return []string{"could not be looked at there."}
	}
	was, is := float64(sent.Size.Width)/float64(sent.Size.Height), float64(seen.Size.Width)/float64(seen.Size.Height)
	switch {
	case math.Abs(is/was-1) > proportions:
		out = append(out, fmt.Sprintf("was cut there: %d × %d instead of %d × %d.", seen.Size.Width, seen.Size.Height, sent.Size.Width,
			sent.Size.Height))
	case unlike:
		out = append(out, "is another one there.")
	case seen.Size != sent.Size:
		out = append(out, fmt.Sprintf("was resized there: %d × %d instead of %d × %d.", seen.Size.Width, seen.Size.Height, sent.Size.Width,
			sent.Size.Height))
	case sent.Bytes > 0 && float64(seen.Bytes) < muchSmaller*float64(sent.Bytes):
		out = append(out, fmt.Sprintf("is coarser there: %d %% of its bytes.", 100*seen.Bytes/sent.Bytes))
	}
	return out
}
