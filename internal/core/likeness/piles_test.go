package likeness

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

const kite = Hash(0x0f0f_3c3c_5a5a_9696)

func shot(second float64, hash Hash, sharpness float64) Shot {
	at := time.Date(2026, 5, 17, 12, 0, 0, int(second*1e9), time.UTC)
	return Shot{Taken: &at, Camera: "Ostrel M2", Hash: hash, Looked: true, Sharpness: sharpness}
}

func TestWhatLiesInAPile(t *testing.T) {
	other := shot(1, kite, 1)
	other.Camera = "Pocket 4"
	undated := Shot{Hash: kite ^ 3, Looked: true}
	for name, test := range map[string]struct {
		a, b Shot
		same bool
	}{
		"a burst":        {shot(0, kite, 1), shot(2, kite^0x3ff, 1), true},
		"too late":       {shot(0, kite, 1), shot(2.5, kite, 1), false},
		"something else": {shot(0, kite, 1), shot(1, kite^0x7ff, 1), false},
		"another camera": {shot(0, kite, 1), other, false},
		"saved again":    {undated, Shot{Hash: kite, Looked: true}, true},
		"undated, plain": {Shot{Hash: 1, Looked: true}, Shot{Hash: 1, Looked: true}, false},
		"not looked at":  {shot(0, kite, 1), Shot{Hash: kite}, false},
		"a scan of it":   {shot(0, kite, 1), undated, true},
	} {
		assert.Equal(t, test.same, SamePile(test.a, test.b), name)
		assert.Equal(t, test.same, SamePile(test.b, test.a), name)
	}
	row := []Shot{shot(-9, kite, 1), shot(0, kite, 1), shot(2, kite, 1), shot(4, kite, 1), shot(9, kite, 1)}
	from, to := Pile(row, 2)
	assert.Equal(t, [2]int{1, 4}, [2]int{from, to}, "each within two seconds of its neighbour")
	from, to = Pile(row, 4)
	assert.Equal(t, [2]int{4, 5}, [2]int{from, to})
}

// TestEveryShotIsInOnePile asks each of a row for its pile: all of one pile give the same.
func TestEveryShotIsInOnePile(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		row := make([]Shot, rapid.IntRange(1, 12).Draw(rt, "n"))
		at := 0.0
		for i := range row {
			at += rapid.SampledFrom([]float64{0.5, 2, 5}).Draw(rt, "gap")
			row[i] = shot(at, rapid.SampledFrom([]Hash{kite, kite ^ 5, ^kite}).Draw(rt, "hash"), 1)
		}
		for i := range row {
			from, to := Pile(row, i)
			for k := from; k < to; k++ {
				f, e := Pile(row, k)
				assert.Equal(rt, [2]int{from, to}, [2]int{f, e})
			}
		}
	})
}

func TestTheBestOfAPile(t *testing.T) {
	best, why := Best([]Shot{shot(0, kite, 0.4), shot(1, kite, 0.93), shot(2, kite, 0.08)})
	assert.Equal(t, 1, best)
	assert.Equal(t, "the sharpest: 0.93, the next one 0.40", why)
	for name, pile := range map[string][]Shot{"nothing": {}, "one": {shot(0, kite, 1)}, "alike": {shot(0, kite, 1), shot(1, kite, 0.9)},
		"not known": {shot(0, kite, -1), shot(1, kite, -1)}, "known of one": {shot(0, kite, 0.9), shot(1, kite, -1)}} {
		best, _ := Best(pile)
		assert.Equal(t, -1, best, name)
	}
}
