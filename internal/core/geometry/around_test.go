package geometry

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// between is the distance of two points in metres on a sphere, by the haversine formula.
func between(latitude1, longitude1, latitude2, longitude2 float64) float64 {
	const radians = math.Pi / 180
	half := func(a float64) float64 { s := math.Sin(a * radians / 2); return s * s }
	h := half(latitude2-latitude1) + math.Cos(latitude1*radians)*math.Cos(latitude2*radians)*half(longitude2-longitude1)
	return 2 * 6371008.8 * math.Asin(math.Sqrt(h))
}

func TestTheBoxAroundAPoint(t *testing.T) {
	box := Around(52.5, 13.4, 200)
	assert.InDelta(t, 400, between(box.South, 13.4, box.North, 13.4), 0.01)
	assert.InDelta(t, 400, between(52.5, box.West, 52.5, box.East), 0.1)
	assert.Equal(t, Box{South: 90 - 200/metresPerDegree, North: 90, West: -180, East: 180}, Around(90, 7, 200), "all the way round the pole")
	rapid.Check(t, func(t *rapid.T) {
		latitude, longitude := rapid.Float64Range(-90, 90).Draw(t, "latitude"), rapid.Float64Range(-180, 180).Draw(t, "longitude")
		metres := rapid.Float64Range(1, 5000).Draw(t, "metres")
		b := Around(latitude, longitude, metres)
		north, east := rapid.Float64Range(-90, 90).Draw(t, "north"), rapid.Float64Range(-180, 180).Draw(t, "east")
		if rapid.Bool().Draw(t, "near") {
			north = max(-90, min(90, latitude+(north/90)*1.2*(b.North-b.South)/2))
			east = max(-180, min(180, longitude+(east/180)*1.2*(b.East-b.West)/2))
		}
		inside := north >= b.South && north <= b.North && east >= b.West && east <= b.East
		if between(latitude, longitude, north, east) <= metres && math.Abs(east-longitude) < 180 {
			require.True(t, inside, "whatever is near is in the box")
		}
	})
}
