package recipe

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"brightsatchel/internal/core/wording"
)

// number writes a number with its sign and a true minus: "+0.7", "−12".
func number(n float64) string {
	text := strconv.FormatFloat(math.Abs(n), 'f', -1, 64)
	if n < 0 {
		return "−" + text
	}
	return "+" + text
}

// say is a control at a value: "Exposure +0.7 EV".
func (c Control) say(n float64) string {
	if c.From >= 0 {
		return fmt.Sprintf("%s %s%s", c.Words, strings.TrimPrefix(number(n), "+"), unit(c.Unit))
	}
	return fmt.Sprintf("%s %s%s", c.Words, number(n), unit(c.Unit))
}

// Words says what a recipe does, in the order of the board: "Turned 90°", "Cropped", "Exposure +0.7 EV". It is empty for one that does
// nothing.
func Words(r Recipe) []string { return Changes(Recipe{}, r) }

// Changes says what becomes different from one recipe to another, one part after the other. What is put back says so: "Exposure put
// back".
func Changes(from, to Recipe) (out []string) {
	from, to = from.Normal(), to.Normal()
	out = append(out, filmWords(from.FilmOf(), to.FilmOf())...)
	out = append(out, framing(from, to)...)
	out = append(out, changed(from.Adjustments, to.Adjustments)...)
	was, is := from.Look, to.Look
	switch {
	case is == nil && was != nil:
		out = append(out, "Look taken off")
	case is != nil && (was == nil || was.ID != is.ID || !slices.Equal(changed(was.Values, is.Values), nil)):
		out = append(out, fmt.Sprintf("Look at %.0f %%", is.Strength))
	case is != nil && was.Strength != is.Strength:
		out = append(out, fmt.Sprintf("Look now at %.0f %%", is.Strength))
	}
	return out
}

func framing(from, to Recipe) (out []string) {
	if from.Sensor != to.Sensor {
		out = append(out, map[bool]string{true: "From the sensor", false: "From the camera’s picture"}[to.Sensor])
	}
	if !slices.Equal(from.RedEyes, to.RedEyes) {
		out = append(out, map[bool]string{true: wording.Count(len(to.RedEyes), "red eye mended", "red eyes mended"),
			false: "Red eyes put back"}[len(to.RedEyes) > 0])
	}
	switch turn := (to.Turn - from.Turn + 360) % 360; {
	case turn == 90:
		out = append(out, "Turned right")
	case turn == 270:
		out = append(out, "Turned left")
	case turn == 180:
		out = append(out, "Turned upside down")
	}
	if from.Flip != to.Flip {
		out = append(out, map[bool]string{true: "Mirrored", false: "Mirrored back"}[to.Flip])
	}
	if from.Straighten != to.Straighten && from.Straighten != -to.Straighten || from.Straighten != to.Straighten && from.Flip == to.Flip {
		if to.Straighten == 0 {
			out = append(out, "Straightening put back")
		} else {
			out = append(out, "Straightened "+number(to.Straighten)+"°")
		}
	}
	return append(out, cropping(from, to)...)
}

// cropping tells a crop from one that only turned with the picture.
func cropping(from, to Recipe) []string {
	carried := from
	if from.Flip != to.Flip {
		carried = carried.Flipped()
	}
	for range 4 {
		if carried.Turn == to.Turn {
			break
		}
		carried = carried.Turned(90)
	}
	switch carried = carried.Normal(); {
	case to.Crop == nil && from.Crop != nil:
		return []string{"Crop put back"}
	case to.Crop != nil && (carried.Crop == nil || *carried.Crop != *to.Crop):
		return []string{"Cropped"}
	}
	return nil
}

func changed(from, to Adjustments) (out []string) {
	for _, c := range Controls {
		was, is := c.At(from), c.At(to)
		switch {
		case was == is || c.idle(to) && is == c.Neutral:
		case is == c.Neutral:
			out = append(out, c.Words+" put back")
		default:
			out = append(out, c.say(is))
		}
		if c.Name == "contrast" && !slices.Equal(from.Curve, to.Curve) {
			out = append(out, map[bool]string{true: "Tone curve", false: "Tone curve put back"}[len(to.Curve) > 0])
		}
	}
	return out
}

// Say puts changes into one line for the trail: the first three, and how many more.
func Say(changes []string) string {
	const most = 3
	if len(changes) == 0 {
		return "nothing"
	}
	shown := changes
	more := ""
	if len(changes) > most {
		shown = changes[:most]
		more = fmt.Sprintf(" and %d more", len(changes)-most)
	}
	out := strings.Join(shown, ", ")
	if len(changes) <= most && len(changes) > 1 {
		out = strings.Join(shown[:len(shown)-1], ", ") + " and " + shown[len(shown)-1]
	}
	return out + more
}
