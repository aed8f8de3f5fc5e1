package likeness

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

const kite = Hash(0x0f0f_3c3c_5a5a_9696)

func shot(second int, hash Hash, sharpness float64) Shot {
	return Shot{Taken: 1_779_012_000 + int64(second), Dated: true, Camera: "Ostrel M2", Hash: hash, Looked: true, Sharpness: sharpness}
}

// pileAt is the pictures that lie together with the one at a place of a row of pictures: each is in the same pile as its neighbour. It
// returns from where to before where they are.
func pileAt(row []Shot, at int) (from, to int) {
	from, to = at, at+1
	for from > 0 && SamePile(row[from-1], row[from]) {
		from--
	}
	for to < len(row) && SamePile(row[to-1], row[to]) {
		to++
	}
	return from, to
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
		"too late":       {shot(0, kite, 1), shot(3, kite, 1), false},
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
	from, to := pileAt(row, 2)
	assert.Equal(t, [2]int{1, 4}, [2]int{from, to}, "each within two seconds of its neighbour")
	from, to = pileAt(row, 4)
	assert.Equal(t, [2]int{4, 5}, [2]int{from, to})
}

// TestEveryShotIsInOnePile asks each of a row for its pile: all of one pile give the same.
func TestEveryShotIsInOnePile(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		row := make([]Shot, rapid.IntRange(1, 12).Draw(rt, "n"))
		at := 0
		for i := range row {
			at += rapid.SampledFrom([]int{0, 2, 5}).Draw(rt, "gap")
			row[i] = shot(at, rapid.SampledFrom([]Hash{kite, kite ^ 5, ^kite}).Draw(rt, "hash"), 1)
		}
		for i := range row {
			from, to := pileAt(row, i)
			for k := from; k < to; k++ {
				f, e := pileAt(row, k)
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

// TestWhatIsLaidTogether: every picture is shown or stands behind exactly one that is, in order, and what is unfolded is shown whole.
func TestWhatIsLaidTogether(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		row := make([]Shot, rapid.IntRange(0, 30).Draw(rt, "n"))
		at := 0
		for i := range row {
			at += rapid.SampledFrom([]int{0, 2, 5}).Draw(rt, "gap")
			row[i] = shot(at, rapid.SampledFrom([]Hash{kite, kite ^ 5, ^kite}).Draw(rt, "hash"), rapid.SampledFrom([]float64{-1, 0.4, 0.9}).
				Draw(rt, "sharpness"))
			row[i].ID = int64(i + 1)
		}
		open := rapid.SliceOfN(rapid.Int64Range(1, 30), 0, 4).Draw(rt, "unfolded")
		same := func(a, b int) bool { return SamePile(row[a], row[b]) }
		shown, piles := Lay(len(row), same, func(i int) Shot { return row[i] }, func(id int64) bool { return slices.Contains(open, id) })
		assert.True(rt, slices.IsSorted(shown))
		behind := 0
		for _, p := range piles {
			from, to := pileAt(row, p.From)
			assert.Equal(rt, [2]int{from, to}, [2]int{p.From, p.To})
			assert.True(rt, p.Front >= p.From && p.Front < p.To)
			unfolded := false
			for i := p.From; i < p.To; i++ {
				unfolded = unfolded || slices.Contains(open, row[i].ID)
				in := slices.Contains(shown, int32(i))
				assert.Equal(rt, p.Unfolded || i == p.Front, in)
				if !in {
					behind++
				}
			}
			assert.Equal(rt, unfolded, p.Unfolded)
		}
		assert.Equal(rt, len(row), len(shown)+behind)
	})
}
