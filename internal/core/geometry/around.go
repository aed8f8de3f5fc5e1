package geometry

import "math"

// Box is a part of the earth's surface between latitudes and longitudes, in degrees (WGS 84).
type Box struct{ South, North, West, East float64 }

// metresPerDegree is the length of a degree of latitude on a sphere of the earth's mean radius (6,371,008.8 m; IUGG 1980).
const metresPerDegree = 2 * math.Pi * 6371008.8 / 360

// Around is the box that holds every point within some metres of one. Next to a pole it goes all the way round; at the 180th
// meridian it ends, and what lies beyond is not in it.
func Around(latitude, longitude, metres float64) Box {
	height := metres / metresPerDegree
	box := Box{South: max(-90, latitude-height), North: min(90, latitude+height), West: -180, East: 180}
	if shrink := math.Cos(max(math.Abs(box.South), math.Abs(box.North)) * math.Pi / 180); shrink > height/180 {
		width := height / shrink
		box.West, box.East = max(-180, longitude-width), min(180, longitude+width)
	}
	return box
}
