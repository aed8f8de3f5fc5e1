package likeness

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func hashes(t *rapid.T, label string) Hash { return Hash(rapid.Uint64().Draw(t, label)) }

func TestDistanceIsOne(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b, c := hashes(t, "a"), hashes(t, "b"), hashes(t, "c")
		assert.Zero(t, Distance(a, a))
		assert.Equal(t, Distance(a, b), Distance(b, a))
		assert.LessOrEqual(t, Distance(a, c), Distance(a, b)+Distance(b, c))
	})
}

func TestProbesFindEveryHashThatIsNear(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a := hashes(t, "a")
		b := a
		for _, bit := range rapid.SliceOfN(rapid.IntRange(0, 63), 0, Near).Draw(t, "flipped") {
			b ^= 1 << bit
		}
		bands := b.Bands()
		assert.True(t, slices.ContainsFunc(a.Probes(), func(p int32) bool { return slices.Contains(bands[:], p) }), "%x %x", a, b)
	})
}

func TestTheHashFollowsThePictureAndNotItsBrightness(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		grey := rapid.SliceOfN(rapid.ByteRange(0, 200), 72, 72).Draw(t, "grey")
		brighter := make([]byte, len(grey))
		for i, v := range grey {
			brighter[i] = v + 40
		}
		assert.Equal(t, Of(grey), Of(brighter))
	})
	assert.False(t, Of(make([]byte, 72)).Tells(), "a plain surface says nothing")
	assert.Panics(t, func() { Of(make([]byte, 64)) })
}

func TestDifferencesInWords(t *testing.T) {
	at := time.Date(2026, 5, 3, 9, 15, 0, 0, time.UTC)
	large := Picture{Width: 6000, Height: 4000, Bytes: 5_200_000, Taken: &at, MediaType: "image/jpeg"}
	small := Picture{Width: 1200, Height: 800, Bytes: 310_000, MediaType: "image/webp"}
	assert.Empty(t, Differences(large, large))
	assert.Equal(t, []string{"smaller: 1200 × 800 instead of 6000 × 4000 pixels", "smaller file: 310 kB instead of 5.2 MB",
		"saved as WEBP instead of JPEG", "does not say when it was taken"}, Differences(large, small))
	assert.Equal(t, "says when it was taken: 3 May 2026, 09:15:00", Differences(small, large)[3])
	nearly := large
	nearly.Bytes += 36
	assert.Equal(t, []string{"larger file, by 36 bytes"}, Differences(large, nearly), "the same when it is rounded")
	later := large
	moment := at.Add(time.Minute)
	later.Taken = &moment
	assert.Equal(t, []string{"taken 3 May 2026, 09:16:00 instead of 3 May 2026, 09:15:00"}, Differences(large, later))
}

func TestSavedAgain(t *testing.T) {
	at := time.Date(2026, 5, 3, 9, 15, 0, 0, time.UTC)
	later := at.Add(time.Second)
	original := Picture{Width: 6000, Height: 4000, Taken: &at}
	cases := []struct {
		name     string
		other    Picture
		distance int
		want     bool
	}{
		{"smaller", Picture{Width: 1200, Height: 800, Taken: &at}, 0, true},
		{"smaller and stripped", Picture{Width: 1200, Height: 800}, 2, true},
		{"slightly cropped", Picture{Width: 5700, Height: 4000}, 7, true},
		{"the next of a burst", Picture{Width: 6000, Height: 4000, Taken: &later}, 1, false},
		{"another picture", Picture{Width: 6000, Height: 4000}, 8, false},
		{"upright", Picture{Width: 4000, Height: 6000}, 0, false},
		{"without dimensions", Picture{}, 0, false},
	}
	for _, c := range cases {
		assert.Equal(t, c.want, SavedAgain(original, c.other, c.distance), c.name)
		assert.Equal(t, c.want, SavedAgain(c.other, original, c.distance), c.name)
	}
}
