// Package replacing says what it means that one file takes the place of another.
package replacing

import (
	"fmt"
	"math"
	"strings"

	"brightsatchel/internal/core/geometry"
)

// File is what is known of a file that comes or goes. Size is upright, in pixels; empty where it has none.
type File struct {
	Kind, MediaType string
	Size            geometry.Size
	Seconds         float64
	Same            bool // the bytes are those of the other one
}

// Stays is what an item keeps although its file becomes another one; the rest is found anew.
type Stays struct {
	Recipe bool `json:"recipe"`
	Focal  bool `json:"focal"`
}

// Nothing is why a file that is the same changes nothing.
const Nothing = "It is the same file, so nothing would change"

// steady is by how much proportions may differ without being seen.
const steady = 0.01

// OtherProportions says whether both have proportions, and not the same ones.
func OtherProportions(was, is File) bool {
	if was.Size.Empty() || is.Size.Empty() {
		return false
	}
	ratio := func(s geometry.Size) float64 { return float64(s.Width) / float64(s.Height) }
	return math.Abs(ratio(was.Size)/ratio(is.Size)-1) > steady
}

// Differences says in sentences what will be different, what matters most first. There are none for two files that differ in their bytes
// only.
func Differences(was, is File) []string {
	var out []string
	if is.Same {
		return []string{Nothing}
	}
	if was.Kind != is.Kind {
		out = append(out, fmt.Sprintf("A %s becomes a %s", kindWord(was.Kind), kindWord(is.Kind)))
	}
	if OtherProportions(was, is) {
		out = append(out, fmt.Sprintf("Other proportions: %s becomes %s", proportion(was.Size), proportion(is.Size)))
	}
	if !was.Size.Empty() && !is.Size.Empty() && was.Size != is.Size {
		word := "Larger"
		if is.Size.Width*is.Size.Height < was.Size.Width*was.Size.Height {
			word = "Smaller"
		}
		out = append(out, fmt.Sprintf("%s: %d × %d becomes %d × %d pixels", word, was.Size.Width, was.Size.Height, is.Size.Width, is.Size.Height))
	}
	if was.MediaType != is.MediaType {
		out = append(out, fmt.Sprintf("%s becomes %s", format(was.MediaType), format(is.MediaType)))
	}
	if was.Seconds > 0 && is.Seconds > 0 && math.Abs(was.Seconds-is.Seconds) >= 0.1 {
		out = append(out, fmt.Sprintf("%.1f seconds become %.1f", was.Seconds, is.Seconds))
	}
	return out
}

func kindWord(kind string) string {
	if kind == "file" {
		return "file that cannot be shown here"
	}
	return kind
}

func format(mediaType string) string {
	_, name, _ := strings.Cut(mediaType, "/")
	name, _, _ = strings.Cut(strings.TrimPrefix(name, "x-"), "+")
	return strings.ToUpper(name)
}

// proportion is a proportion as people say it: in whole numbers up to 20 where it is one, else to two places.
func proportion(s geometry.Size) string {
	ratio := float64(s.Width) / float64(s.Height)
	for height := 1; height <= 20; height++ {
		width := math.Round(ratio * float64(height))
		if width >= 1 && width <= 20 && math.Abs(width/float64(height)/ratio-1) < steady/2 {
			return fmt.Sprintf("%.0f : %d", width, height)
		}
	}
	return fmt.Sprintf("%.2f : 1", ratio)
}
